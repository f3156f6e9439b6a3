# SPDX-License-Identifier: GPL-3.0-or-later
"""Three columns of terms: those that tell the left side, those that are common, those that tell the right; and their contexts below."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QModelIndex, Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from jagged_lens.contrast import TwoSides
from jagged_lens.desktop.desks.term_asking import TermAsker
from jagged_lens.desktop.look.cards import heading, muted_line
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.context_lines import ContextLines
from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.cells import PairOfBars
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.gather import Corpus
from jagged_lens.terms import Context, TermCounts, contexts

_MOST = 300
_CONTEXTS = 400


class SideTerms(QWidget):
    """context_chosen(row, start, end): a context was clicked. documents_wanted(column): of a term of the space, on either side."""

    context_chosen = pyqtSignal(int, int, int)
    documents_wanted = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self._column = -1
        self._places: TermAsker | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        down = QSplitter(Qt.Orientation.Vertical)
        down.setChildrenCollapsible(False)
        upper = QWidget()
        row = QHBoxLayout(upper)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        self.heads, self.tables = [], []
        for name in ("Terms typical of the left side", "Terms common to both sides", "Terms typical of the right side"):
            part = QVBoxLayout()
            part.setSpacing(3)
            head = heading("", 0.95)
            set_tip(
                head,
                f"{name}, by G² (log-likelihood ratio of document counts; above 15.1, by chance 1 in 10,000)"
                if "tell" in name
                else f"{name}: in at least a tenth of each side, sorted by the smaller share",
            )
            part.addWidget(head)
            table = TableView(name)
            table.setItemDelegateForColumn(1, PairOfBars(table))
            table.row_changed.connect(lambda at, table=table: self._show(table, at))
            table.read_wanted.connect(lambda at, table=table: self._want_documents(table, at))
            part.addWidget(table, 1)
            row.addLayout(part, 1)
            self.heads.append(head)
            self.tables.append(table)
        down.addWidget(upper)
        lower = QWidget()
        below = QVBoxLayout(lower)
        below.setContentsMargins(0, 0, 0, 0)
        below.setSpacing(3)
        line = QHBoxLayout()
        self.said = muted_line("Choose a term to see its contexts on both sides")
        line.addWidget(self.said, 1)
        self.pick = Action("Pick its documents")
        set_tip(self.pick, "Pick the documents of both sides that contain the term (Space)")
        self.pick.clicked.connect(lambda: self.documents_wanted.emit(self._column) if self._column >= 0 else None)
        line.addWidget(self.pick)
        below.addLayout(line)
        both = QHBoxLayout()
        self.lines = (ContextLines(), ContextLines())
        for side, one in enumerate(self.lines):
            one.setAccessibleName(("Contexts on the left side", "Contexts on the right side")[side])
            one.clicked.connect(lambda index, side=side: self._choose(side, index))
            one.activated.connect(lambda index, side=side: self._choose(side, index))
            both.addWidget(one, 1)
        below.addLayout(both, 1)
        down.addWidget(lower)
        down.setSizes([330, 190])
        column.addWidget(down, 1)

    def show_terms(
        self,
        found: TwoSides,
        terms: TermCounts,
        corpus: Corpus,
        sides: tuple[NDArray[np.int64], NDArray[np.int64]],
        names: tuple[str, str],
        places: TermAsker | None,
    ) -> None:
        """Show the terms of two sides. sides: int64, the corpus rows of either. places: where terms stand; None where that is not known."""
        self._terms, self._corpus, self._sides, self._names, self._places = terms, corpus, sides, names, places
        self._found = found
        heads = (f"typical of {names[0]}", "common to both", f"typical of {names[1]}")
        self._columns = [one[:_MOST] for one in (found.tells_left, found.common, found.tells_right)]
        left, right = found.share_left, found.share_right
        for head, words, table, own in zip(self.heads, heads, self.tables, self._columns, strict=True):
            head.setText(words)
            shares = self._shares(own, left, right)
            columns = [
                Column("Term", self._term_of(own), searched=True, cut=Cut.NEVER),
                Column(
                    "Left · right",
                    lambda at, shares=shares: "{:.0%} · {:.0%}".format(*shares(at)),  # type: ignore[misc]
                    np.minimum(left[own], right[own])
                    if words == "common to both"
                    else np.maximum(left[own], right[own]),
                    mark=shares,
                    wide=14,
                    tip="Share of the documents of each side that contain it; the upper bar is the left side",
                ),
            ]
            table.show_rows(columns, len(own), 0)
        if self._column >= 0:
            self._forget()

    def _forget(self) -> None:
        self._column = -1
        self.said.setText("Choose a term to see its contexts on both sides")
        for one in self.lines:
            one.show_contexts([])

    @staticmethod
    def _shares(
        own: NDArray[np.int64], left: NDArray[np.float64], right: NDArray[np.float64]
    ) -> Callable[[int], tuple[float, float]]:
        return lambda at: (float(left[own[at]]), float(right[own[at]]))

    def _term_of(self, own: NDArray[np.int64]) -> Callable[[int], str]:
        shown = self._terms.shown
        return lambda at: shown[int(own[at])]

    def filter(self, words: str) -> None:
        """Show only terms that have these words."""
        for table in self.tables:
            table.listed.filter(words)

    def _show(self, table: TableView, at: int) -> None:
        own = self._columns[self.tables.index(table)]
        if at >= len(own):
            return
        for other in self.tables:
            if other is not table:
                other.clearSelection()
        self._column = column = int(own[at])
        found = self._found
        self.said.setText(
            f"{self._terms.shown[column]}: in {amount(int(found.left[column]), 'document')} of {self._names[0]} ({found.share_left[column]:.0%}), "
            f"{int(found.right[column]):,} of {self._names[1]} ({found.share_right[column]:.0%}), G² {found.ratio[column]:.1f}"
        )
        if self._places is None:
            return
        term, corpus, sides = self._terms.terms[column], self._corpus, self._sides

        def show(answer: list[list[Context]]) -> None:
            if self._column == column:
                for one, some in zip(self.lines, answer, strict=True):
                    one.show_contexts(some)

        def split(some: list[Context]) -> list[list[Context]]:
            inside = [np.isin([one.row for one in some], side) for side in sides]
            return [[one for one, there in zip(some, own, strict=True) if there][:_CONTEXTS] for own in inside]

        self._places.ask(
            "contexts of a term of two sides", lambda index: split(contexts(corpus, index, term, 4_000)), show
        )

    def _want_documents(self, table: TableView, at: int) -> None:
        self.documents_wanted.emit(int(self._columns[self.tables.index(table)][at]))

    def _choose(self, side: int, index: QModelIndex) -> None:
        one = self.lines[side].lines.contexts[index.row()]
        self.context_chosen.emit(one.row, one.start, one.end)
