# SPDX-License-Identifier: GPL-3.0-or-later
"""A table as it is shown, as rows of text: for the clipboard and for a file."""

from __future__ import annotations

import csv
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

from jagged_lens.desktop.tables.arrangement import Column, apart, text_rows
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.text_cells import guarded


def shown_columns(table: TableView) -> list[Column]:
    """The columns that are not hidden, from left to right; two for one that holds two texts."""
    across = table.horizontalHeader()
    assert across is not None
    places = [across.logicalIndex(at) for at in range(across.count())]
    return apart([table.listed.columns[at] for at in places if not across.isSectionHidden(at)])


def as_lines(table: TableView) -> str:
    """The rows that are shown, with titles, tab separated, in their order."""
    columns = shown_columns(table)
    return "\n".join("\t".join(cells) for cells in text_rows(columns, table.listed.order.tolist()))


def first_rows(table: TableView, most: int) -> tuple[tuple[str, ...], tuple[tuple[str, ...], ...]]:
    """The titles of the columns that are shown, and some rows: the chosen ones where there are several, else the first. most: rows."""
    columns = shown_columns(table)
    chosen = table.chosen_count() > 1
    rows = table.chosen_rows()[:most] if chosen else table.listed.order[:most].tolist()
    heads, *cells = (tuple(row) for row in text_rows(columns, rows))
    return heads, tuple(cells)


def table_writer(table: TableView) -> Callable[[Path], None]:
    """Writes the rows that are shown now, in their order, as CSV (RFC 4180, UTF-8); it can be called in any thread."""
    columns, order = shown_columns(table), table.listed.order

    def write(path: Path) -> None:
        with path.open("w", encoding="utf-8", newline="") as file:
            csv.writer(file, lineterminator="\r\n").writerows(_guarded(text_rows(columns, order.tolist())))

    return write


def _guarded(rows: Iterable[list[str]]) -> Iterator[list[str]]:
    for row in rows:
        yield [cell if _is_number(cell) else guarded(cell) for cell in row]


def _is_number(cell: str) -> bool:
    """True if a cell is a number as it stands, so that its sign needs no guard."""
    try:
        float(cell.replace(",", "").removesuffix("%"))
    except ValueError:
        return False
    return True
