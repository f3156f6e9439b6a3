# SPDX-License-Identifier: GPL-3.0-or-later
"""A table as a file: CSV, a spreadsheet (.xlsx, .ods), Parquet or JSON Lines, by its ending."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator, Sequence
from itertools import chain
from pathlib import Path

from jagged_lens.export.cells import apart, write_csv
from jagged_lens.export.known import Known
from jagged_lens.progress import Progress, unheard
from jagged_lens.text_cells import guarded
from jagged_lens.xml_text import xml_text

MOST_IN_A_CELL = 32_767
"""The most characters of a cell of a spreadsheet (ISO/IEC 29500); what is longer is cut there."""
_WHOLE = re.compile(r"[+-]?\d{1,18}")
_NUMBER = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?%?")
_AT_ONCE = 500
"""Rows between two words of progress."""


def write_known(path: Path, columns: Sequence[Known], progress: Progress = unheard) -> None:
    """Write a table in the format of its ending; CSV where that is none of FORMATS. progress: told of the share that is done."""
    FORMATS.get(path.suffix.lower(), _csv)(path, columns, progress)


def columns_of(heads: Sequence[str], rows: Sequence[Sequence[str]]) -> list[Known]:
    """Columns from cells of text as they are shown: one in which all cells that are not empty are numbers becomes one of numbers."""
    texts = list(zip(*rows, strict=True)) if rows else [() for _ in heads]
    return [Known(head, _numbers(cells)) for head, cells in zip(apart(heads), texts, strict=True)]


def _numbers(cells: Sequence[str]) -> Sequence[str | int | float | None]:
    found: list[int | float | None] = []
    for cell in cells:
        own = cell.strip().replace(",", "").replace("\N{MINUS SIGN}", "-")
        if not own:
            found.append(None)
        elif _WHOLE.fullmatch(own):
            found.append(int(own))
        elif _NUMBER.fullmatch(own):
            found.append(float(own.removesuffix("%")) / (100 if own.endswith("%") else 1))
        else:
            return list(cells)
    if all(one is None for one in found):
        return list(cells)
    return [one if one is None else float(one) for one in found] if any(isinstance(o, float) for o in found) else found


def _rows(columns: Sequence[Known], progress: Progress) -> Iterator[tuple[str | int | float | None, ...]]:
    """The rows of a table, of which progress is told."""
    count = len(columns[0].values) if columns else 0
    for at, row in enumerate(zip(*(one.values for one in columns), strict=True)):
        if at % _AT_ONCE == 0:
            progress(at / count)
        yield row


def _csv(path: Path, columns: Sequence[Known], progress: Progress) -> None:
    def cells() -> Iterator[list[str]]:
        for row in _rows(columns, progress):
            yield ["" if one is None else guarded(one) if isinstance(one, str) else str(one) for one in row]

    write_csv(path, chain([[guarded(one.name) for one in columns]], cells()))


def _xlsx(path: Path, columns: Sequence[Known], progress: Progress) -> None:
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell

    book = Workbook(write_only=True)
    sheet = book.create_sheet("Table")

    def cell(value: str | int | float | None) -> object:
        if not isinstance(value, str):
            return value
        found = WriteOnlyCell(sheet, xml_text(value)[:MOST_IN_A_CELL])
        found.data_type = "s"  # a text, whatever it begins with
        return found

    sheet.append([cell(one.name) for one in columns])
    for row in _rows(columns, progress):
        sheet.append([cell(value) for value in row])
    book.save(path)


def _ods(path: Path, columns: Sequence[Known], progress: Progress) -> None:
    from odf.opendocument import OpenDocumentSpreadsheet
    from odf.table import Table, TableCell, TableRow
    from odf.text import P

    book = OpenDocumentSpreadsheet()
    sheet = Table(name="Table")
    for row in chain([tuple(one.name for one in columns)], _rows(columns, progress)):
        made = TableRow()
        for value in row:
            if value is None:
                made.addElement(TableCell(), check_grammar=False)
                continue
            if isinstance(value, str):
                cell = TableCell(valuetype="string")
                for line in xml_text(value)[:MOST_IN_A_CELL].splitlines() or [""]:
                    cell.addElement(P(text=line), check_grammar=False)
            else:
                cell = TableCell(valuetype="float", value=str(value))
                cell.addElement(P(text=str(value)), check_grammar=False)
            made.addElement(cell, check_grammar=False)
        sheet.addElement(made, check_grammar=False)
    book.spreadsheet.addElement(sheet)
    book.save(str(path))


def _parquet(path: Path, columns: Sequence[Known], progress: Progress) -> None:
    import pyarrow
    import pyarrow.parquet

    pyarrow.parquet.write_table(pyarrow.table({one.name: pyarrow.array(one.values) for one in columns}), path)


def _lines(path: Path, columns: Sequence[Known], progress: Progress) -> None:
    names = [one.name for one in columns]
    with path.open("w", encoding="utf-8", newline="\n") as file:
        for row in _rows(columns, progress):
            file.write(json.dumps(dict(zip(names, row, strict=True)), ensure_ascii=False) + "\n")


FORMATS: dict[str, Callable[[Path, Sequence[Known], Progress], None]] = {
    ".csv": _csv,
    ".xlsx": _xlsx,
    ".ods": _ods,
    ".parquet": _parquet,
    ".jsonl": _lines,
}
"""How a table is written, by the ending of its file."""
