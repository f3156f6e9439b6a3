# SPDX-License-Identifier: GPL-3.0-or-later
"""Leaves of the themes that add up: the shares that make up each document, and how many themes there might be."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look.cards import heading, muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.small_curve import SmallCurve
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import SharesCell
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import THEME_NUMBERS
from jagged_lens.project import Shown
from jagged_lens.strings import Strings
from jagged_lens.weigh import ThemeNumbers, Themes

_STABLE, _PARTLY = 0.8, 0.6
_BAR = 26  # letters that the bar of a document is wide


class DocumentShares(QWidget):
    """Each document as a bar of its themes' shares, with the share that no theme explains."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.table = TableView("Documents by their shares of themes")
        self._cell = SharesCell(self.table)
        self.table.setItemDelegateForColumn(1, self._cell)
        column.addWidget(self.table)

    def show_documents(self, titles: Strings, found: Themes, left: NDArray[np.float64], called: list[str]) -> None:
        """titles: of the documents of the lens. left: float64, n, of each. called: a name for each theme."""
        shares = found.document_shares
        whole = shares.sum(axis=1)
        strongest, top = shares.argmax(axis=1), shares.max(axis=1, initial=0)
        self.table.show_rows(
            [
                Column("Document", lambda at: titles[at], searched=True, texts=titles),
                Column(
                    "Shares of its themes",
                    lambda at: ", ".join(
                        f"{one + 1}: {shares[at, one]:.0%}"
                        for one in np.argsort(-shares[at])[:5]
                        if shares[at, one] > 0
                    ),
                    mark=lambda at: tuple(shares[at].tolist()),
                    wide=_BAR,
                    tip="The shares of the themes in each document, in the colors of the themes",
                ),
                Column(
                    "Strongest theme",
                    lambda at: f"{called[strongest[at]]} {top[at]:.0%}" if whole[at] > 0 else "none",
                    searched=True,
                ),
                Column(
                    "Unexplained",
                    lambda at: f"{left[at]:.0%}" if whole[at] > 0 else "",
                    left,
                    right=True,
                    tip="Share of its squared weights that its themes leave",
                ),
            ],
            len(titles),
            0,
        )


class NumbersLeaf(QWidget):
    """How much different numbers of themes leave, and how stable they are. number_set(number): to be used."""

    number_set = pyqtSignal(int)

    def __init__(self, bench: Shown) -> None:
        super().__init__()
        self._found = ThemeNumbers.none()
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        head = QHBoxLayout()
        self.told = muted(
            "Stability: themes of one half of the documents compared with those of the other, as a mean cosine.", 0.92
        )
        self.told.setWordWrap(True)
        head.addWidget(self.told, 1)
        self.state = PartState(bench, THEME_NUMBERS, "the numbers of themes")
        head.addWidget(self.state)
        self.use = Action("Use this number")
        set_tip(self.use, "Let the later steps work on the chosen number of themes")
        self.use.clicked.connect(self._use)
        head.addWidget(self.use)
        whole.addLayout(head)
        row = QHBoxLayout()
        self.table = TableView("Numbers of themes")
        row.addWidget(self.table, 1)
        curves = QVBoxLayout()
        self.left, self.stable = (
            SmallCurve("Unexplained, by number of themes"),
            SmallCurve("Stability, by number of themes"),
        )
        for words, curve in (("Unexplained", self.left), ("Stability", self.stable)):
            curves.addWidget(heading(words, 0.92))
            curves.addWidget(curve)
        curves.addStretch(1)
        row.addLayout(curves, 1)
        whole.addLayout(row, 1)

    def show_numbers(self, found: ThemeNumbers | None) -> None:
        """Show what was found; None while it is not there."""
        self.state.show_state()
        if found is None or found is self._found:
            return
        self._found = found
        self.table.show_rows(
            [
                Column("Themes", lambda at: f"{found.numbers[at]}", found.numbers, right=True),
                Column("Unexplained", lambda at: f"{found.left[at]:.1%}", found.left, right=True),
                Column("Stability", lambda at: f"{found.stable[at]:.2f}", found.stable, right=True),
            ],
            len(found.numbers),
            0,
        )
        numbers = found.numbers.astype(np.float64)
        self.left.show_curve(numbers, found.left, "themes")
        self.stable.show_curve(numbers, found.stable, "themes")

    def _use(self) -> None:
        at = self.table.current_row()
        if 0 <= at < len(self._found.numbers):
            self.number_set.emit(int(self._found.numbers[at]))


def stability_words(value: float) -> str:
    """The stability of a theme in words."""
    return "stable" if value >= _STABLE else "partly" if value >= _PARTLY else "not stable"
