# SPDX-License-Identifier: GPL-3.0-or-later
"""A table as it is shown, as rows of text: for the clipboard and for a file."""

from __future__ import annotations

import csv
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

from jagged_lens.desktop.tables.arrangement import Column, apart, text_rows
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.project import Rows
from jagged_lens.text_cells import guarded

MOST_ROWS = 30


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


def rows_of(table: TableView, chosen: bool = False) -> Rows:
    """Rows of a table as a finding keeps them: the chosen ones where there are several, else the first; thirty at most. chosen: the chosen
    one also where it is a single row."""
    columns = shown_columns(table)
    own = table.chosen_count() > (0 if chosen else 1)
    places = table.chosen_rows()[:MOST_ROWS] if own else table.listed.order[:MOST_ROWS].tolist()
    heads, *cells = (tuple(row) for row in text_rows(columns, places))
    return Rows(table.accessibleName(), heads, tuple(cells), len(table.listed.order))


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
