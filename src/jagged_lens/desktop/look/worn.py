# SPDX-License-Identifier: GPL-3.0-or-later
"""Parts of windows that wear the look. Qt takes about a millisecond to dress a widget, and all desks have thousands: a part is dressed when
it is shown, and when the look changes those in sight are dressed one after the other, with a turn for the window between them."""

from __future__ import annotations

import weakref

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtWidgets import QStackedWidget, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.sheet import sheet

_HOLDS_PARTS = "holds-parts"


class _Worn(QObject):
    """Keeps one part in the look."""

    def __init__(self, part: QWidget) -> None:
        super().__init__(part)
        self._part = part
        self._look = ""
        part.installEventFilter(self)
        theme.changed.connect(self._look_changed)
        if part.isVisible():
            self.dress()

    def dress(self) -> None:
        """Put the look on, if it is another one by now."""
        if self._look != theme.now.paper:
            self._look = theme.now.paper
            self._part.setStyleSheet(sheet(theme.now))

    def eventFilter(self, of: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Show:
            self.dress()
        return False

    def _look_changed(self) -> None:
        if self._part.isVisible():
            _due.add(self)


class _Due(QObject):
    """The parts in sight that are still to be dressed, one a turn of the event loop."""

    def __init__(self) -> None:
        super().__init__()
        self._parts: list[weakref.ref[_Worn]] = []
        self._turn = QTimer()
        self._turn.setInterval(0)
        self._turn.timeout.connect(self._next)

    def add(self, part: _Worn) -> None:
        self._parts.append(weakref.ref(part))
        self._turn.start()

    @property
    def waiting(self) -> int:
        """The number of them."""
        return len(self._parts)

    def _next(self) -> None:
        if not self._parts:
            self._turn.stop()
            return
        part = self._parts.pop(0)()
        if part is not None:
            try:
                part.dress()
            except RuntimeError:  # it is gone meanwhile
                return


_due = _Due()


def wear(part: QWidget) -> None:
    """Have a part of a window, or a window, wear the look from now on, with all that is inside it."""
    _Worn(part)


def wear_in_parts(whole: QWidget) -> None:
    """Have a window, or what was put into one, wear the look: each page of what is turned over as a part of its own."""
    if whole.findChild(_Worn, options=Qt.FindChildOption.FindDirectChildrenOnly) is not None:
        return
    if (
        whole.isWindow()
        or isinstance(whole, QStackedWidget)
        or whole.property(_HOLDS_PARTS)
        or whole.findChild(QStackedWidget) is not None
    ):
        for child in whole.children():
            if isinstance(child, QWidget) and not child.isWindow():
                wear_in_parts(child)
    else:
        wear(whole)


def holds_parts(whole: QWidget) -> None:
    """Say of a widget that it is no part itself: those inside it are, as they come."""
    whole.setProperty(_HOLDS_PARTS, True)


def dressed() -> bool:
    """True if all that is in sight wears the look."""
    return not _due.waiting
