# SPDX-License-Identifier: GPL-3.0-or-later
"""The tables and the picture in front, pinned, copied or saved by the same three buttons on every desk."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import QPoint, QSizeF, pyqtSignal
from PyQt6.QtGui import QPainter, QRegion
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QWidget

from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.drawing_file import Painting
from jagged_lens.desktop.saving import Piece, picture_kinds, table_kinds
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.desktop.tables.table_file import as_lines, known_of, table_of, write_shown


def tables_in(shown: QWidget) -> list[Piece]:
    """The tables that are seen within a widget, that with the keyboard first."""
    return [table_piece(table) for table in tables_seen(shown)]


def tables_seen(shown: QWidget) -> list[TableView]:
    """The tables with rows that are seen within a widget, that with the keyboard first."""
    tables = [table for table in shown.findChildren(TableView) if table.isVisibleTo(shown) and len(table.listed.order)]
    tables.sort(key=lambda table: not table.hasFocus())
    return tables


def table_piece(table: TableView) -> Piece:
    """A table as it is shown."""
    columns, order = table_of(table)
    return Piece(
        f"{table.accessibleName()}, {amount(len(order), 'row')}",
        "-".join(table.accessibleName().lower().split()),
        table_kinds(partial(known_of, columns, order), lambda path: write_shown(path, columns, order)),
        partial(copy_table, table),
    )


def copy_table(table: TableView) -> str:
    """Copy the chosen rows where there are several, else all that are shown; what is said of it."""
    if table.chosen_count() > 1:
        table.copy()
        return f"{table.chosen_count():,} chosen rows copied."
    return copy_all(table)


def copy_all(table: TableView, heads: bool = True) -> str:
    """Copy all rows that are shown, with the columns that are shown; what is said of it. heads: with the titles of the columns."""
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.setText(as_lines(table, heads))
    return f"{len(table.listed.order):,} rows copied."


def picture_of(shown: QWidget, name: str) -> Piece:
    """A widget as it is seen."""

    def painting() -> Painting:
        return Painting(QSizeF(shown.size()), partial(_paint, shown), name)

    return Piece(
        "This picture",
        name,
        picture_kinds(painting),
        partial(_copy_picture, shown),
        painting,
        own=False,
    )


def _paint(shown: QWidget, painter: QPainter, shapes: bool) -> None:
    shown.render(
        painter, QPoint(), QRegion(), QWidget.RenderFlag.DrawWindowBackground | QWidget.RenderFlag.DrawChildren
    )


def _copy_picture(shown: QWidget) -> str:
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.setPixmap(shown.grab())
    return "The picture was copied."


class GoingOut(QWidget):
    """Pin, Copy and Save, at the same place on each desk. pin_wanted: what is seen is to be kept; save_wanted: saved. said: what was
    copied."""

    pin_wanted = pyqtSignal()
    save_wanted = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, pieces: Callable[[], Sequence[Piece]]) -> None:
        super().__init__()
        self._pieces = pieces
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self.pin = Action("Pin")
        set_tip(self.pin, "Keep this view as a finding for the report, with the way back to it (P)")
        self.pin.clicked.connect(self.pin_wanted)
        row.addWidget(self.pin)
        self.copy = Action("Copy")
        set_tip(
            self.copy,
            "Copy the table in use, or its chosen rows; without a table, the picture",
        )
        self.copy.clicked.connect(self._copy)
        row.addWidget(self.copy)
        self.save = Action("Save…")
        set_tip(self.save, "Save a table, the picture or figures of this view, in the format that you choose")
        self.save.clicked.connect(self.save_wanted)
        row.addWidget(self.save)

    def _copy(self) -> None:
        copy = next((piece.copy for piece in self._pieces() if piece.copy is not None), None)
        if copy is not None:
            self.said.emit(copy())
