# SPDX-License-Identifier: GPL-3.0-or-later
"""Only these, without these: a menu wherever documents are picked by a click."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QContextMenuEvent, QMouseEvent
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from jagged_lens.desktop.look.worn import wear
from jagged_lens.desktop.plots.keyed import PICKS, KeyedPicture
from jagged_lens.project import Bench


def narrowing_menu(
    window: QWidget, event: QContextMenuEvent, bench: Bench, actions: Sequence[tuple[str, Callable[[], object]]]
) -> QMenu | None:
    """Pick what is under the mouse, as a click would, and offer what may become of it. None where a click there picks no document."""
    under = window.childAt(event.pos())
    owner = under
    while owner is not None and not (isinstance(owner, KeyedPicture) or owner.property(PICKS)):
        owner = owner.parentWidget()
    if under is None or owner is None:
        return None
    before = bench.pick.rows
    place = QPointF(under.mapFrom(window, event.pos()))
    left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
    for kind, held in ((QEvent.Type.MouseButtonPress, left), (QEvent.Type.MouseButtonRelease, none)):
        click = QMouseEvent(kind, place, QPointF(event.globalPos()), left, held, Qt.KeyboardModifier.NoModifier)
        QApplication.sendEvent(under, click)
    if not bench.pick.rows or (bench.pick.rows == before and not owner.property(PICKS)):
        return None
    menu = QMenu(window)
    wear(menu)
    for words, does in actions:
        menu.addAction(words, does)
    menu.popup(event.globalPos())
    return menu
