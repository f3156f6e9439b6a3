# SPDX-License-Identifier: GPL-3.0-or-later
"""A row of tabs that bring up one of several leaves; it wraps where it is narrow."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QButtonGroup, QStackedWidget, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Button, Tab
from jagged_lens.desktop.look.flow import Flow


class LeafRow(QWidget):
    """A tab a leaf, a line below them, and behind them whatever else is added; `words` says something of the leaf in front."""

    shown = pyqtSignal(int)

    def __init__(self, names: Sequence[str], small: bool = False) -> None:
        """small: they are pictures within a picture."""
        super().__init__()
        self.leaves = QStackedWidget()
        self._row = Flow()
        self.setLayout(self._row)
        policy = self.sizePolicy()
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.buttons: dict[str, Button] = {}
        group = QButtonGroup(self)
        for place, name in enumerate(names):
            button = Tab(name, small)
            button.clicked.connect(partial(self.show_leaf, place))
            group.addButton(button)
            self._row.addWidget(button)
            self.buttons[name] = button
        self.words = muted()
        self.words.setMinimumHeight(next(iter(self.buttons.values())).sizeHint().height())
        self._row.addWidget(self.words)
        next(iter(self.buttons.values())).setChecked(True)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(0, self.height() - 1, self.width(), 1, theme.colour("hairline"))

    def add(self, widget: QWidget) -> None:
        """Put something behind the buttons."""
        self._row.addWidget(widget)

    def show_leaf(self, place: int) -> None:
        """Bring a leaf up."""
        list(self.buttons.values())[place].setChecked(True)
        self.leaves.setCurrentIndex(place)
        self.shown.emit(place)

    def offer(self, place: int, offered: bool) -> None:
        """Offer a leaf, or hide its tab."""
        list(self.buttons.values())[place].setVisible(offered)

    @property
    def front(self) -> int:
        """The leaf in front."""
        return self.leaves.currentIndex()
