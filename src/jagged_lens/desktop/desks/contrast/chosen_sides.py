# SPDX-License-Identifier: GPL-3.0-or-later
"""The two sides compared: two values of a label, one of them against the rest, or picks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, Choice
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.project import Shown

PICKS = "picks"
NOW = "the current pick"
REST = "all others"
_MOST_VALUES = 500


@dataclass(frozen=True, eq=False)
class Sides:
    """left, right: bool, n, of the documents of the lens. names: of both. both: how many were on both sides, and are on neither now."""

    left: NDArray[np.bool_]
    right: NDArray[np.bool_]
    names: tuple[str, str]
    both: int


class ChosenSides(QWidget):
    """changed(): other sides were chosen."""

    changed = pyqtSignal()

    def __init__(self, bench: Shown) -> None:
        super().__init__()
        self._bench = bench
        self._now: frozenset[int] = (
            frozenset()
        )  # the pick as it was when it was chosen: what is clicked later changes no side
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.by = Choice()
        self.by.setAccessibleName("What defines the sides: a label, or picks")
        self.left, self.right = Choice(), Choice()
        self.left.setAccessibleName("Left side")
        self.right.setAccessibleName("Right side")
        row.addWidget(muted("By"))
        row.addWidget(self.by)
        row.addWidget(self.left)
        row.addWidget(muted("against"))
        row.addWidget(self.right)
        row.addStretch(1)
        self.turn = Action("Swap sides")
        set_tip(self.turn, "Exchange the left and the right side")
        self.turn.clicked.connect(self._turn)
        row.addWidget(self.turn)
        self.by.activated.connect(lambda _: self._by_chosen())
        self.left.activated.connect(lambda _: self._chosen())
        self.right.activated.connect(lambda _: self._chosen())

    def offer(self) -> None:
        """Offer the labels and picks that there are now; what was chosen stays, where it still is."""
        labels = [label.name for label in self._bench.documents.labels()]
        first = not self.by.count()
        _fill(self.by, [*labels, PICKS])
        if first and not labels:
            self.by.setCurrentText(PICKS)
        self._offer_values()

    def _values(self) -> list[str]:
        if self.by.currentText() == PICKS:
            return [NOW, *(one.name for one in self._bench.state.kept)]
        label = next((one for one in self._bench.documents.labels() if one.name == self.by.currentText()), None)
        if label is None:
            return []
        counts = np.bincount(label.codes[self._bench.documents.lens_rows()], minlength=len(label.values))
        order = np.argsort(-counts, kind="stable")[:_MOST_VALUES]
        return [label.values[int(code)] for code in order if counts[code] and label.values[int(code)]]

    def _offer_values(self) -> None:
        values = self._values()
        _fill(self.left, values)
        _fill(self.right, [REST, *values])

    def _by_chosen(self) -> None:
        self._offer_values()
        self.left.setCurrentIndex(0)
        self.right.setCurrentIndex(0)
        self._chosen()

    def _chosen(self) -> None:
        self._now = frozenset(self._bench.pick.rows)
        self.changed.emit()

    def choose(self, by: str, left: str, right: str = REST) -> None:
        """Choose two sides."""
        self.by.setCurrentText(by)
        self._offer_values()
        self.left.setCurrentText(left)
        self.right.setCurrentText(right)
        self._chosen()

    def _turn(self) -> None:
        left, right = self.left.currentText(), self.right.currentText()
        if right == REST:
            return
        self.left.setCurrentText(right)
        self.right.setCurrentText(left)
        self.changed.emit()

    def sides(self) -> Sides | None:
        """The sides as they are chosen; None where there is nothing to choose from."""
        self.turn.setEnabled(self.right.currentText() != REST)
        left, right = self.left.currentText(), self.right.currentText()
        if not left or not right:
            return None
        one = self._inside(left)
        other = ~one if right == REST else self._inside(right)
        both = one & other
        named = f"not {left}" if self.by.currentText() != PICKS and right == REST else right
        return Sides(one & ~both, other & ~both, (left, named), int(both.sum()))

    def _inside(self, name: str) -> NDArray[np.bool_]:
        documents, rows = self._bench.documents, self._bench.documents.lens_rows()
        if self.by.currentText() == PICKS:
            kept = next((one.keys for one in self._bench.state.kept if one.name == name), frozenset())
            return np.isin(rows, list(self._now) if name == NOW else documents.rows_of(kept))
        label = next(one for one in documents.labels() if one.name == self.by.currentText())
        code = next((at for at, value in enumerate(label.values) if value == name), -1)
        return np.asarray(label.codes[rows] == code)


def _fill(box: Choice, names: list[str]) -> None:
    chosen = box.currentText()
    if [box.itemText(at) for at in range(box.count())] != names:
        box.blockSignals(True)
        box.clear()
        box.addItems(names)
        box.setCurrentIndex(max(box.findText(chosen), 0))
        box.blockSignals(False)
