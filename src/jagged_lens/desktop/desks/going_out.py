# SPDX-License-Identifier: GPL-3.0-or-later
"""The tables and the picture in front, copied or saved by the same two buttons on every desk."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QPoint, QSizeF, pyqtSignal
from PyQt6.QtGui import QPainter, QRegion
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMenu, QWidget

from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import plain_entry, set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.drawing_file import Painting, save_drawing
from jagged_lens.desktop.saving import drawing_path, save_drawn, save_to, table_path
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.desktop.tables.table_file import as_lines, table_writer

_SHARP = 2  # pixels of a picture that is saved, for each that is seen


@dataclass(frozen=True)
class Piece:
    """Something that can leave the window.

    words: what it is called in the menu; save: asks for a file and writes it; copy: puts it on the clipboard and gives what is said
    of that, where it can be copied; painting: where it is what is drawn in front, so that no other picture of it is offered;
    own: False where that is no more than the widgets as they are seen.
    """

    words: str
    save: Callable[[], object]
    copy: Callable[[], str] | None = None
    painting: Callable[[], Painting] | None = None
    own: bool = True


def tables_in(shown: QWidget, folder: Path) -> list[Piece]:
    """The tables that are seen within a widget, that with the keyboard first."""
    return [table_piece(table, folder) for table in tables_seen(shown)]


def tables_seen(shown: QWidget) -> list[TableView]:
    """The tables with rows that are seen within a widget, that with the keyboard first."""
    tables = [table for table in shown.findChildren(TableView) if table.isVisibleTo(shown) and len(table.listed.order)]
    tables.sort(key=lambda table: not table.hasFocus())
    return tables


def table_piece(table: TableView, folder: Path) -> Piece:
    """A table as it is shown."""
    return Piece(
        f"{table.accessibleName()} ({amount(len(table.listed.order), 'row')}, CSV)",
        partial(save_table, table, folder),
        partial(copy_table, table),
    )


def save_table(table: TableView, folder: Path) -> None:
    """Ask for a file, and write the table as it is shown."""
    name = "-".join(table.accessibleName().lower().split())
    path = table_path(table, str(folder / f"{name}.csv"))
    if path is not None:
        save_to(table, path, table_writer(table))


def copy_table(table: TableView) -> str:
    """Copy the chosen rows where there are several, else all that are shown; what is said of it."""
    if table.chosen_count() > 1:
        table.copy()
        return f"{table.chosen_count():,} chosen rows copied."
    return copy_all(table)


def copy_all(table: TableView) -> str:
    """Copy all rows that are shown, with the columns that are shown; what is said of it."""
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.setText(as_lines(table))
    return f"{len(table.listed.order):,} rows copied."


def picture_of(shown: QWidget, name: str, folder: Path) -> Piece:
    """A widget as it is seen."""
    return Piece(
        "This picture (PNG, SVG, PDF)",
        partial(_save_picture, shown, name, folder),
        partial(_copy_picture, shown),
        lambda: Painting(QSizeF(shown.size()), partial(_paint, shown), name),
        own=False,
    )


def _save_picture(shown: QWidget, name: str, folder: Path) -> None:
    path = drawing_path(shown, str(folder / f"{name}.png"))
    if path is not None:
        size = QSizeF(shown.size())
        save_drawn(
            shown,
            path,
            lambda beside: save_drawing(beside, size, round(_SHARP * size.width()), name, partial(_paint, shown)),
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
    """Pin, Copy and Save, at the same place on each desk. pin_wanted: what is seen is to be kept. said: what was copied."""

    pin_wanted = pyqtSignal()
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
        self.save = Action("Save")
        set_tip(self.save, "Save a table or the picture in front")
        menu = QMenu(self.save)
        menu.aboutToShow.connect(self._fill)
        self.save.setMenu(menu)
        row.addWidget(self.save)

    @property
    def menu(self) -> QMenu:
        """The menu of what can be saved now."""
        menu = self.save.menu()
        assert menu is not None
        return menu

    def _fill(self) -> None:
        self.menu.clear()
        for piece in self._pieces():
            self.menu.addAction(plain_entry(f"{piece.words}…"), piece.save)

    def _copy(self) -> None:
        copy = next((piece.copy for piece in self._pieces() if piece.copy is not None), None)
        if copy is not None:
            self.said.emit(copy())
