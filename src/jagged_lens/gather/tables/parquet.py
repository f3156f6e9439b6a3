# SPDX-License-Identifier: GPL-3.0-or-later
"""Apache Parquet, read by row groups."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

from jagged_lens.errors import SourceError
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables.table import Table, cell_text, named

_ROWS = 2000


def open_parquet(path: Path, name: str, source: Source) -> Table:
    """The table in a Parquet file."""
    import pyarrow
    import pyarrow.parquet

    try:
        file = pyarrow.parquet.ParquetFile(path)
        total = max(file.metadata.num_rows, 1)
        columns = list(file.schema_arrow.names)
    except (pyarrow.ArrowException, OSError, ValueError) as error:
        raise SourceError("this is not a Parquet file, or it is damaged", name) from error
    read, lost = [0], [0]
    table = Table(named(columns), iter(()), lambda: read[0] / total, close=file.close)

    def rows() -> Iterator[Sequence[str]]:
        try:
            for batch in file.iter_batches(_ROWS, use_threads=False):
                cells = [_cells(column, lost) for column in batch.columns]
                read[0] += batch.num_rows
                yield from zip(*cells, strict=True)
        except (pyarrow.ArrowException, OSError, UnicodeDecodeError) as error:
            raise SourceError("the Parquet file is damaged", name) from error
        if lost[0]:
            table.notices.append(f"{name}: {lost[0]:,} cells could not be written as text and were left empty.")

    table.rows = rows()
    return table


def _cells(column: Any, lost: list[int]) -> list[str]:
    """The cells of a column as texts. Times of any age and fineness are told by the library itself, since Python's do not
    reach as far."""
    import pyarrow
    from pyarrow import types

    try:
        if types.is_timestamp(column.type) or types.is_date(column.type):
            return [_day(text, lost) for text in column.cast(pyarrow.string()).to_pylist()]
        return list(map(cell_text, column.to_pylist()))
    except (pyarrow.ArrowException, ValueError, OverflowError):
        return [_cell(value, lost) for value in column]


def _cell(value: Any, lost: list[int]) -> str:
    import pyarrow

    try:
        return cell_text(value.as_py())
    except (pyarrow.ArrowException, ValueError, OverflowError):
        lost[0] += 1
        return ""


def _day(text: str | None, lost: list[int]) -> str:
    """A time without the parts of it that are nothing."""
    if text is None:
        return ""
    if text.startswith("<"):  # the library's words for a time that it cannot tell either
        lost[0] += 1
        return ""
    day, space, time = text.partition(" ")
    whole, _, fraction = time.rstrip("Z").partition(".")
    if whole == "00:00:00" and not fraction.strip("0"):
        return day
    return f"{day}{space}{whole}" + (f".{fraction}" if fraction.strip("0") else "")
