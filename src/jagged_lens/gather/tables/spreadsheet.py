# SPDX-License-Identifier: GPL-3.0-or-later
"""Spreadsheets: .xlsx (ISO/IEC 29500) and .ods (ISO/IEC 26300). What a formula last gave is read; none is worked out."""

from __future__ import annotations

import itertools
import zipfile
import zlib
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

from jagged_lens.errors import SourceError
from jagged_lens.gather.readers.opendocument import plain_paragraph
from jagged_lens.gather.readers.piece import Unreadable
from jagged_lens.gather.readers.zip_limits import guarded
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables.hidden_links import links_of, with_links
from jagged_lens.gather.tables.table import MOST_COLUMNS, Table, cell_text, has_header, named
from jagged_lens.named_file import open_plain

_MOST_ROWS = 1_048_576  # of a sheet
_MOST_CELLS = 1_000_000  # that one row gives by being repeated
_MOST_REPEATED = 10_000  # cells or rows that an .ods says to repeat: beyond this it is the empty rest of the sheet


def open_xlsx(path: Path, name: str, source: Source) -> Table:
    """The table in one sheet of an .xlsx file (ISO/IEC 29500)."""
    import openpyxl

    _check(path, name)
    try:
        book = openpyxl.load_workbook(path, read_only=True, data_only=True, keep_links=False)
        sheets = list(book.worksheets)
        chosen = _chosen(source, [sheet.title for sheet in sheets], name)
        order = [sheets[chosen]] if source.sheet else sheets
        for sheet in order:
            sheet.reset_dimensions()  # what the file says of its own size is not to be relied on
            # A row beyond what the format allows is no row: a file can claim a thousand million of them.
            cells = itertools.islice(sheet.iter_rows(values_only=True), _MOST_ROWS)
            rows: Iterator[Sequence[str]] = (tuple(map(cell_text, row)) for row in cells)
            if links := links_of(path, str(sheet._worksheet_path)):
                rows = with_links(rows, links)
            first = list(itertools.islice((row for row in rows if any(row)), 30))
            if first:
                break
    except SourceError:
        raise
    except Exception as error:  # the library lets through whatever a broken part makes it stumble over
        raise SourceError("the spreadsheet is damaged", name) from error
    table = _table(first, _careful(rows, name), source, name)
    table.settings["sheet"] = sheet.title
    table.choices["sheet"] = [one.title for one in sheets]
    table.close = book.close
    return table


def open_ods(path: Path, name: str, source: Source) -> Table:
    """The table in one sheet of an .ods file (ISO/IEC 26300)."""
    from odf import opendocument
    from odf.table import Table as Sheet

    _check(path, name)
    try:
        book = opendocument.load(str(path))
        sheets = book.spreadsheet.getElementsByType(Sheet)
        titles = [str(sheet.getAttribute("name")) for sheet in sheets]
        chosen = _chosen(source, titles, name)
        for place in [chosen] if source.sheet else range(len(sheets)):
            rows = _ods_rows(sheets[place])
            first = list(itertools.islice((row for row in rows if any(row)), 30))
            if first:
                break
    except SourceError:
        raise
    except Exception as error:
        raise SourceError("the spreadsheet is damaged", name) from error
    table = _table(first, _careful(rows, name), source, name)
    table.settings["sheet"] = titles[place]
    table.choices["sheet"] = titles
    return table


def _ods_rows(sheet: Any) -> Iterator[Sequence[str]]:
    from odf.namespaces import OFFICENS, TABLENS
    from odf.table import CoveredTableCell, TableCell, TableRow
    from odf.text import P

    for row in sheet.getElementsByType(TableRow):
        cells: list[str] = []
        for cell in row.childNodes:
            if cell.qname not in (TableCell().qname, CoveredTableCell().qname):
                continue
            kind = cell.getAttrNS(OFFICENS, "value-type")
            if kind == "float":
                text = cell_text(float(cell.getAttrNS(OFFICENS, "value")))
            elif kind == "date":
                text = str(cell.getAttrNS(OFFICENS, "date-value")).replace("T00:00:00", "")
            else:
                text = "\n".join(plain_paragraph(part) for part in cell.getElementsByType(P))
            repeated = min(int(cell.getAttrNS(TABLENS, "number-columns-repeated") or 1), _MOST_REPEATED)
            cells += [text] * (repeated if text or repeated < 100 else 1)
            if len(cells) > MOST_COLUMNS:
                raise SourceError(f"a row has more than {MOST_COLUMNS:,} cells", "the spreadsheet")
        times = int(row.getAttrNS(TABLENS, "number-rows-repeated") or 1)
        for _ in range(min(times, _MOST_REPEATED, max(_MOST_CELLS // len(cells), 1)) if any(cells) else 1):
            yield cells


def _check(path: Path, name: str) -> None:
    try:
        with zipfile.ZipFile(path) as archive:
            guarded(archive)
            names = archive.namelist()
            locked = "META-INF/manifest.xml" in names and b"encryption-data" in archive.read("META-INF/manifest.xml")
    except Unreadable as error:
        raise SourceError(str(error), name) from error
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, ValueError) as error:
        with open_plain(path) as file:
            locked = file.read(4) == b"\xd0\xcf\x11\xe0"
        if not locked:
            raise SourceError("the spreadsheet is damaged or cut off", name) from error
    if locked:
        raise SourceError("it is protected by a password, or in an older format", name, "Save it again without one.")


def _chosen(source: Source, titles: list[str], name: str) -> int:
    if not titles:
        raise SourceError("the spreadsheet has no sheet", name)
    if source.sheet and source.sheet not in titles:
        raise SourceError(f'there is no sheet "{source.sheet}"', name, f"Its sheets are: {', '.join(titles)}.")
    return titles.index(source.sheet) if source.sheet else 0


def _careful(rows: Iterator[Sequence[str]], name: str) -> Iterator[Sequence[str]]:
    try:
        for row in rows:
            if any(row):
                yield row
    except SourceError:
        raise
    except Exception as error:
        raise SourceError("the spreadsheet is damaged", name) from error


def _table(first: Sequence[Sequence[str]], rows: Iterator[Sequence[str]], source: Source, name: str) -> Table:
    if not first:
        raise SourceError("the spreadsheet is empty", name)
    header = source.header == "yes" or (source.header == "guess" and has_header(first))
    width = max(len(row) for row in first)
    names = list(first[0]) + [""] * (width - len(first[0])) if header else [""] * width
    while (
        header and names and not names[-1] and not any(len(row) >= len(names) and row[len(names) - 1] for row in first)
    ):
        names.pop()
    table = Table(named(names), itertools.chain(first[header:], rows))
    table.settings = {"header": "yes" if header else "no"}
    return table
