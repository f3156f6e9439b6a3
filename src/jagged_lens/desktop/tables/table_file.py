# SPDX-License-Identifier: GPL-3.0-or-later
"""A table as it is shown, as rows of text: for the clipboard and for a file."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.desktop.tables.arrangement import Column, apart, text_rows
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.export import Known, columns_of
from jagged_lens.project import Rows
from jagged_lens.text_cells import guarded, is_number

MOST_ROWS = 30


def shown_columns(table: TableView) -> list[Column]:
    """The columns that are not hidden, from left to right; two for one that holds two texts."""
    across = table.horizontalHeader()
    assert across is not None
    places = [across.logicalIndex(at) for at in range(across.count())]
    return apart([table.listed.columns[at] for at in places if not across.isSectionHidden(at)])


def as_lines(table: TableView, heads: bool = True) -> str:
    """The rows that are shown, with or without titles, tab separated, in their order."""
    lines = ["\t".join(cells) for cells in text_rows(shown_columns(table), table.listed.order.tolist())]
    return "\n".join(lines if heads else lines[1:])


def rows_of(table: TableView, chosen: bool = False) -> Rows:
    """Rows of a table as a finding keeps them: the chosen ones where there are several, else the first; thirty at most. chosen: the chosen
    one also where it is a single row."""
    columns = shown_columns(table)
    own = table.chosen_count() > (0 if chosen else 1)
    places = table.chosen_rows()[:MOST_ROWS] if own else table.listed.order[:MOST_ROWS].tolist()
    heads, *cells = (tuple(row) for row in text_rows(columns, places))
    return Rows(table.accessibleName(), heads, tuple(cells), len(table.listed.order))


def table_of(table: TableView) -> tuple[list[Column], NDArray[np.int64]]:
    """The columns that are shown, and the rows in their order: from them it is written in any thread, whatever is shown by then."""
    return shown_columns(table), table.listed.order


def write_shown(path: Path, columns: Sequence[Column], order: NDArray[np.int64]) -> None:
    """Write rows as they are shown, as CSV (RFC 4180, UTF-8)."""
    with path.open("w", encoding="utf-8", newline="") as file:
        csv.writer(file, lineterminator="\r\n").writerows(_guarded(text_rows(columns, order.tolist())))


def known_of(columns: Sequence[Column], order: NDArray[np.int64]) -> list[Known]:
    """Rows as they are shown, as the columns of a table in another format."""
    heads, *rows = text_rows(columns, order.tolist())
    return columns_of(heads, rows)


def _guarded(rows: Iterable[list[str]]) -> Iterator[list[str]]:
    for row in rows:
        yield [cell if is_number(cell) else guarded(cell) for cell in row]
