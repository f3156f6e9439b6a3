# SPDX-License-Identifier: GPL-3.0-or-later
"""The area of the desks: one in front, and optionally a second beside it, both on the same pick."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.scrolled import Floor, scrolled
from jagged_lens.desktop.look.words import TITLES


class DeskArea(QSplitter):
    """A stack of desks, and room for one of them beside it."""

    def __init__(self, desks: dict[str, Desk], parent: QWidget | None = None) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self._order = list(desks)
        self._front = next(iter(desks))
        self._beside = ""
        self.stack = QStackedWidget()
        self._scrolled = {step: scrolled(Floor(desk), both_ways=True) for step, desk in desks.items()}
        for area in self._scrolled.values():
            self.stack.addWidget(area)
        self.addWidget(self.stack)
        self._frame = QFrame()
        column = QVBoxLayout(self._frame)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(0)
        row = QHBoxLayout()
        row.addStretch(1)
        self.close_button = Action("Close second desk")
        set_tip(self.close_button, "Close the second desk (Ctrl+\\)")
        self.close_button.clicked.connect(lambda: self.put_beside(""))
        row.addWidget(self.close_button)
        column.addLayout(row)
        self._column = column
        self.addWidget(self._frame)
        self._frame.hide()
        self.setHandleWidth(1)
        self.setChildrenCollapsible(False)

    @property
    def front(self) -> str:
        """The step whose desk is in front."""
        return self._front

    @property
    def beside(self) -> str:
        """The step whose desk stands beside; "" where there is none."""
        return self._beside

    def show_step(self, step: str) -> None:
        """Bring a desk to the front; if it stands beside, the two change places."""
        if step == self._beside:
            self.put_beside(self._front)
        self._front = step
        self.stack.setCurrentWidget(self._scrolled[step])

    def put_beside(self, step: str) -> None:
        """Put the desk of a step beside the one in front; "" puts it back."""
        if self._beside:
            area = self._scrolled[self._beside]
            self._column.removeWidget(area)
            self.stack.addWidget(area)
            self._beside = ""
        self._frame.setVisible(bool(step))
        if step:
            area = self._scrolled[step]
            self.stack.removeWidget(area)
            self._column.addWidget(area, 1)
            area.show()
            self._frame.setAccessibleName(f"{TITLES[step]}, beside")
            self._beside = step
            half = self.width() // 2
            self.setSizes([half, half])
