# SPDX-License-Identifier: GPL-3.0-or-later
"""A row of buttons that bring up one of several leaves; it wraps where it is narrow."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QPushButton, QStackedWidget, QWidget

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.flow import Flow


class LeafRow(QWidget):
    """A button a leaf, and behind them whatever else is added; `words` says something of the leaf in front."""

    shown = pyqtSignal(int)

    def __init__(self, names: Sequence[str]) -> None:
        super().__init__()
        self.leaves = QStackedWidget()
        self._row = Flow()
        self.setLayout(self._row)
        policy = self.sizePolicy()
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.buttons: dict[str, QPushButton] = {}
        group = QButtonGroup(self)
        for place, name in enumerate(names):
            button = QPushButton(name)
            button.setCheckable(True)
            button.clicked.connect(partial(self.show_leaf, place))
            group.addButton(button)
            self._row.addWidget(button)
            self.buttons[name] = button
        self.words = muted()
        self.words.setMinimumHeight(next(iter(self.buttons.values())).sizeHint().height())
        self._row.addWidget(self.words)
        next(iter(self.buttons.values())).setChecked(True)

    def add(self, widget: QWidget) -> None:
        """Put something behind the buttons."""
        self._row.addWidget(widget)

    def show_leaf(self, place: int) -> None:
        """Bring a leaf up."""
        list(self.buttons.values())[place].setChecked(True)
        self.leaves.setCurrentIndex(place)
        self.shown.emit(place)

    @property
    def front(self) -> int:
        """Which leaf is in front."""
        return self.leaves.currentIndex()
