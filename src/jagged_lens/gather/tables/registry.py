# SPDX-License-Identifier: GPL-3.0-or-later
"""The reader of each table, by its ending."""

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
from jagged_lens.named_file import open_plain

_OF_TEXT: dict[str, Callable[[Path, str, Source, Mapping[str, float] | None], Table]] = {
    ".csv": open_separated,
    ".tsv": open_separated,
    ".tab": open_separated,
    ".jsonl": open_json_lines,
    ".ndjson": open_json_lines,
}
_OF_BYTES: dict[str, Callable[[Path, str, Source], Table]] = {
    ".xlsx": open_xlsx,
    ".ods": open_ods,
    ".parquet": open_parquet,
}
TABLES = (*_OF_TEXT, *_OF_BYTES)
"""The endings of files that hold tables."""


def open_table(path: Path, name: str, source: Source, likely: Mapping[str, float] | None = None) -> Table:
    """The table in a file. SourceError where it cannot be read as one. likely: what other files of the source say for encodings."""
    with open_plain(path) as file:
        start = file.read(4)
    ending = path.suffix.lower()
    if start == b"PAR1":
        ending = ".parquet"
    elif start == b"PK\x03\x04" and ending != ".ods":
        ending = ".xlsx"
    elif not start:
        raise SourceError("the file is empty", name)
    of_text = ending in _OF_TEXT
    table = _OF_TEXT[ending](path, name, source, likely) if of_text else _OF_BYTES[ending](path, name, source)
    try:
        checked_width(table.columns, name)
    except SourceError:
        table.close()
        raise
    return table


def is_hard(path: Path) -> bool:
    """True if the library for a table could hang or exhaust memory, so that it is read in a separate process."""
    if path.suffix.lower() not in TABLES:
        return False
    try:
        with open_plain(path) as file:
            start = file.read(4)
    except OSError:
        return False
    return path.suffix.lower() in _OF_BYTES or start in (b"PAR1", b"PK\x03\x04")
