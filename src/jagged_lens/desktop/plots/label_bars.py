# SPDX-License-Identifier: GPL-3.0-or-later
"""A choice among the labels, and the values of the one chosen as bars."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.label_choice import LabelChoice
from jagged_lens.desktop.plots.value_bars import ValueBars
from jagged_lens.gather import Label

_MOST_VALUES = 400


class LabelBars(QWidget):
    """The values of a label by falling count; whoever shows them counts them. A click on a bar says which value it is."""

    chosen = pyqtSignal(int, bool)
    label_changed = pyqtSignal()

    def __init__(self, choice: str, bars: str) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        head = QHBoxLayout()
        self.choice = LabelChoice(choice)
        self.choice.activated.connect(self._choose)
        head.addWidget(self.choice)
        head.addStretch(1)
        self._words = muted()
        head.addWidget(self._words)
        column.addLayout(head)
        self.bars = ValueBars()
        self.bars.setAccessibleName(bars)
        self.bars.chosen.connect(lambda place, add: self.chosen.emit(int(self._values[place]), add))
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self.bars)
        column.addWidget(area, 1)
        self._values: NDArray[np.int64] = np.zeros(0, np.int64)
        self._counted: Callable[[Label], NDArray[np.integer]] | None = None

    @property
    def label(self) -> Label | None:
        """The label that is chosen; None where there is none."""
        return self.choice.label

    def show_labels(self, labels: Sequence[Label], counted: Callable[[Label], NDArray[np.integer]]) -> None:
        """Show labels; the one that was chosen stays if it is there. counted: how much of each value of a label there is."""
        self._counted = counted
        self.choice.offer(labels)
        self._draw()

    def show_picked(self, rows: NDArray[np.int64]) -> None:
        """Mark how many of some corpus rows each value has."""
        if self.label is not None:
            picked = np.bincount(self.label.codes[rows], minlength=len(self.label.values))
            self.bars.show_picked(picked[self._values].tolist())

    def _choose(self) -> None:
        self._draw()
        self.label_changed.emit()

    def _draw(self) -> None:
        label = self.label
        if label is None or self._counted is None:
            self.bars.show_values([])
            return
        counts = np.asarray(self._counted(label)).astype(np.int64)
        order = np.argsort(-counts, kind="stable")
        self._values = order[counts[order] > 0][:_MOST_VALUES]
        self.bars.show_values([(label.values[int(at)], int(counts[at])) for at in self._values])
        self._words.setText(amount(len(label.values), "value"))
