# SPDX-License-Identifier: GPL-3.0-or-later
"""The menu of what is under the mouse: rows of a table are copied, saved and read; documents that a click picks narrow the lens."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QContextMenuEvent, QMouseEvent
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from jagged_lens.desktop.desks.going_out import copy_all
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.look.worn import wear
from jagged_lens.desktop.plots.keyed import PICKS, KeyedPicture
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.project import Bench


def context_menu(
    window: QWidget,
    event: QContextMenuEvent,
    bench: Bench,
    actions: Sequence[tuple[str, Callable[[], object]]],
    pin_rows: Callable[[TableView], object],
    save_table: Callable[[TableView], object],
) -> QMenu | None:
    """The menu of a table, or of a picture whose documents are picked by a click. actions: what may become of the pick. pin_rows, save_table:
    keep and save rows of a table. None where there is nothing to offer."""
    under = window.childAt(event.pos())
    table = _owner(under, lambda one: isinstance(one, TableView))
    owner = _owner(under, lambda one: isinstance(one, KeyedPicture) or bool(one.property(PICKS)))
    if under is None or (table is None and owner is None):
        return None
    before = bench.pick.rows
    on_row = isinstance(table, TableView) and table.is_chosen_at(under.mapFrom(window, event.pos()))
    if owner is not None and not on_row:
        _click(under, under.mapFrom(window, event.pos()), event)
    picks = owner is not None and bool(bench.pick.rows) and (bench.pick.rows != before or bool(owner.property(PICKS)))
    menu = QMenu(window)
    wear(menu)
    if isinstance(table, TableView):
        _offer_rows(menu, table, (("Save this table…", save_table), ("Pin these rows", pin_rows)))
    if picks:
        menu.addSeparator()
        for words, does in actions:
            menu.addAction(words, does)
    if menu.isEmpty():
        return None
    menu.popup(event.globalPos())
    return menu


def _owner(under: QWidget | None, fits: Callable[[QWidget], bool]) -> QWidget | None:
    """The innermost widget that fits, with what is inside it under the mouse."""
    while under is not None and not fits(under):
        under = under.parentWidget()
    return under


def _click(under: QWidget, at: QPoint, event: QContextMenuEvent) -> None:
    """Pick what is under the mouse, as a click would."""
    left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
    for kind, held in ((QEvent.Type.MouseButtonPress, left), (QEvent.Type.MouseButtonRelease, none)):
        click = QMouseEvent(kind, QPointF(at), QPointF(event.globalPos()), left, held, Qt.KeyboardModifier.NoModifier)
        QApplication.sendEvent(under, click)


def _offer_rows(menu: QMenu, table: TableView, more: Sequence[tuple[str, Callable[[TableView], object]]]) -> None:
    """Copy and read the rows of a table, and do more with them."""
    if not len(table.listed.order):
        return
    count = table.chosen_count()
    if count:
        menu.addAction(f"Copy {amount(count, 'row')}", table.copy)
    menu.addAction("Copy all rows", lambda: copy_all(table))
    menu.addAction("Copy without heads", lambda: copy_all(table, heads=False))
    for words, does in more:
        menu.addAction(words, partial(does, table))
    if table.current_row() >= 0 and table.receivers(table.read_wanted):
        menu.addSeparator()
        menu.addAction("Read", lambda: table.read_wanted.emit(table.current_row()))
    if table.opens and table.current_row() >= 0:
        menu.addAction("Open in full width", lambda: table.open_wanted.emit(table.current_row()))
