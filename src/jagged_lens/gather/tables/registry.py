"""Which reader takes which table, by its ending."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables.json_lines import open_json_lines
from jagged_lens.gather.tables.parquet import open_parquet
from jagged_lens.gather.tables.separated import open_separated
from jagged_lens.gather.tables.spreadsheet import open_ods, open_xlsx
from jagged_lens.gather.tables.table import Table, checked_width
from jagged_lens.named_file import plain_file

TABLES: dict[str, Callable[..., Table]] = {
    ".csv": open_separated,
    ".tsv": open_separated,
    ".tab": open_separated,
    ".xlsx": open_xlsx,
    ".ods": open_ods,
    ".jsonl": open_json_lines,
    ".ndjson": open_json_lines,
    ".parquet": open_parquet,
}


def open_table(path: Path, name: str, source: Source, likely: Mapping[str, float] | None = None) -> Table:
    """The table in a file. SourceError where it cannot be read as one. likely: what other files of the source say for encodings."""
    plain_file(path)
    with path.open("rb") as file:
        start = file.read(4)
    opener = TABLES[path.suffix.lower()]
    if start == b"PAR1":
        opener = open_parquet
    elif start == b"PK\x03\x04" and opener is not open_ods:
        opener = open_xlsx
    elif not start:
        raise SourceError("the file is empty", name)
    by_text = opener in (open_separated, open_json_lines)
    table = opener(path, name, source, likely) if by_text else opener(path, name, source)
    try:
        checked_width(table.columns, name)
    except SourceError:
        table.close()
        raise
    return table


def is_hard(path: Path) -> bool:
    """Whether the library behind a table could be made to hang or to eat memory, so that it is read where it can be killed."""
    if path.suffix.lower() not in TABLES:
        return False
    try:
        with path.open("rb") as file:
            start = file.read(4)
    except OSError:
        return False
    return TABLES[path.suffix.lower()] in (open_xlsx, open_ods, open_parquet) or start in (b"PAR1", b"PK\x03\x04")
