# SPDX-License-Identifier: GPL-3.0-or-later
"""A table of documents as a file: CSV, a spreadsheet (.xlsx), Parquet or JSON Lines, by its ending."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterable, Sequence
from itertools import chain
from pathlib import Path

from jagged_lens.export.cells import write_csv
from jagged_lens.export.known import Known
from jagged_lens.text_cells import guarded

MOST_IN_A_CELL = 32_767
"""The most characters of a cell of a spreadsheet (ISO/IEC 29500); what is longer is cut there."""
_NOT_IN_XML = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def write_known(path: Path, columns: Sequence[Known]) -> None:
    """Write a table in the format of its ending; CSV where that is none of FORMATS."""
    FORMATS.get(path.suffix.lower(), _csv)(path, columns)


def _csv(path: Path, columns: Sequence[Known]) -> None:
    def cells(column: Known) -> Iterable[str]:
        return ("" if one is None else guarded(one) if isinstance(one, str) else str(one) for one in column.values)

    rows = zip(*map(cells, columns), strict=True) if columns else iter(())
    write_csv(path, chain([[guarded(one.name) for one in columns]], map(list, rows)))


def _xlsx(path: Path, columns: Sequence[Known]) -> None:
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell

    book = Workbook(write_only=True)
    sheet = book.create_sheet("Documents")

    def cell(value: str | int | float | None) -> object:
        if not isinstance(value, str):
            return value
        found = WriteOnlyCell(sheet, _NOT_IN_XML.sub("\ufffd", value)[:MOST_IN_A_CELL])
        found.data_type = "s"  # a text, whatever it begins with
        return found

    sheet.append([cell(one.name) for one in columns])
    for row in zip(*(one.values for one in columns), strict=True):
        sheet.append([cell(value) for value in row])
    book.save(path)


def _parquet(path: Path, columns: Sequence[Known]) -> None:
    import pyarrow
    import pyarrow.parquet

    pyarrow.parquet.write_table(pyarrow.table({one.name: pyarrow.array(one.values) for one in columns}), path)


def _lines(path: Path, columns: Sequence[Known]) -> None:
    names = [one.name for one in columns]
    with path.open("w", encoding="utf-8", newline="\n") as file:
        for row in zip(*(one.values for one in columns), strict=True):
            file.write(json.dumps(dict(zip(names, row, strict=True)), ensure_ascii=False) + "\n")


FORMATS: dict[str, Callable[[Path, Sequence[Known]], None]] = {
    ".csv": _csv,
    ".xlsx": _xlsx,
    ".parquet": _parquet,
    ".jsonl": _lines,
}
"""How a table is written, by the ending of its file."""
