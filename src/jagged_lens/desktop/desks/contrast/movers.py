# SPDX-License-Identifier: GPL-3.0-or-later
"""Movers: documents by how many of their nearest changed, with the neighbours and the terms that came and went."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QSplitter, QVBoxLayout, QWidget

from jagged_lens.contrast import TermShift, TwoLenses, term_shift
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look.cards import heading, muted
from jagged_lens.desktop.look.scrolled import scrolled
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import ShareCell
from jagged_lens.desktop.tables.row_names import by_key
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.gather import Corpus
from jagged_lens.group import letter
from jagged_lens.lens import GROUPING, NEIGHBOURS, SPACE, Results
from jagged_lens.map import NEAREST

_TOLD = 8
_LEAST = 0.005  # share of a document from which a change of a term is told


@dataclass(frozen=True)
class _Near:
    """A neighbour in either lens; -1: it is none there."""

    row: int
    here: float
    there: float


class Movers(QWidget):
    """chosen(row): a corpus row is to be read; pair_wanted(first, second): two corpus rows."""

    chosen = pyqtSignal(int)
    read_wanted = pyqtSignal()
    pair_wanted = pyqtSignal(int, int)

    def __init__(self, asker: Asker) -> None:
        super().__init__()
        self._asker = asker
        self._found: TwoLenses | None = None
        self._near: list[_Near] = []
        self._row = -1
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        down = QSplitter(Qt.Orientation.Vertical)
        down.setChildrenCollapsible(False)
        self.table = TableView("Movers")
        self.table.setProperty(PICKS, True)
        self.table.setItemDelegateForColumn(1, ShareCell(self.table))
        self.table.row_changed.connect(self._show)
        self.table.read_wanted.connect(lambda _: self.read_wanted.emit())
        down.addWidget(self.table)
        lower = QWidget()
        row = QVBoxLayout(lower)
        row.setContentsMargins(0, 2, 0, 0)
        self.title = heading("", 1.0)
        self.title.setWordWrap(True)
        row.addWidget(self.title)
        across = QSplitter(Qt.Orientation.Horizontal)
        across.setChildrenCollapsible(False)
        self.near = TableView("Nearest in each lens")
        self.near.opens = True
        self.near.open_wanted.connect(self._open)
        self.near.read_wanted.connect(self._read_near)
        across.addWidget(self.near)
        page = QWidget()
        self.terms = QVBoxLayout(page)
        self.terms.setContentsMargins(4, 0, 4, 0)
        self.came, self.went = muted("", 1.0), muted("", 1.0)
        for one in (self.came, self.went):
            one.setWordWrap(True)
            self.terms.addWidget(one)
        self.terms.addStretch(1)
        across.addWidget(scrolled(page))
        across.setSizes([390, 270])
        row.addWidget(across, 1)
        down.addWidget(lower)
        down.setSizes([290, 260])
        column.addWidget(down, 1)

    def show_movers(self, found: TwoLenses, corpus: Corpus, here: Results, there: Results) -> None:
        """Show the documents whose neighbours changed, most first."""
        self._found, self._corpus, self._here, self._there = found, corpus, here, there
        moved = found.moved
        titles = corpus.titles.take(found.rows[moved])
        own = here[GROUPING].group[found.at_first[moved]]
        other = there[GROUPING].group[found.at_second[moved]]

        def group(of: int) -> str:
            return letter(of) if of >= 0 else "none"

        columns = [
            Column(
                "Document",
                lambda at: titles[at],
                searched=True,
                texts=titles,
                below=lambda at: f"{group(int(own[at]))} here, {group(int(other[at]))} there",
                names=("Document", "Groups"),
            ),
            Column(
                "Kept",
                lambda at: f"{found.kept[moved[at]]:.0%}",
                found.kept[moved],
                right=True,
                share=lambda at: float(found.kept[moved[at]]),
                tip="Share of its 12 nearest neighbours that both lenses have in common",
            ),
            Column("Group here", lambda at: group(int(own[at])), own),
            Column("Group there", lambda at: group(int(other[at])), other),
            Column(
                "Goes",
                lambda at: (
                    "—"
                    if min(own[at], other[at]) < 0
                    else "elsewhere"
                    if found.elsewhere[moved[at]]
                    else "with its group"
                ),
                found.elsewhere[moved],
                tip="Whether it moved with its group of its group or elsewhere",
            ),
        ]
        self.table.show_rows(columns, len(moved), 0, by_key(self._corpus.keys, found.rows[moved]))
        self._moved = moved
        if len(moved) and self.table.current_row() < 0:
            self.title.setText("Choose a document to see which neighbours it gained and lost")
        elif not len(moved):
            self.title.setText("No document moved: all have the same nearest neighbours in both lenses.")
            self.near.show_rows([], 0)
            self.came.setText("")
            self.went.setText("")

    def filter(self, words: str) -> None:
        """Show only documents that have these words in their titles."""
        self.table.listed.filter(words)

    def _show(self, at: int) -> None:
        found = self._found
        if found is None or at >= len(self._moved):
            return
        place = int(self._moved[at])
        self._row = int(found.rows[place])
        self.title.setText(self._corpus.titles[self._row])
        self.chosen.emit(self._row)
        here, there = (
            self._nearest(results, int(own))
            for results, own in ((self._here, found.at_first[place]), (self._there, found.at_second[place]))
        )
        rows = [*here, *(row for row in there if row not in here)]
        self._near = [_Near(row, here.get(row, -1.0), there.get(row, -1.0)) for row in rows]
        near, titles = self._near, self._corpus.titles
        state = ["stays" if one.here >= 0 and one.there >= 0 else "came" if one.there >= 0 else "went" for one in near]

        def said(value: float) -> str:
            return f"{value:.3f}" if value >= 0 else "—"

        columns = [
            Column("Nearest", lambda at: titles[near[at].row], searched=True),
            Column("", lambda at: state[at], ink=lambda at: {"came": "verdigris", "went": "madder"}.get(state[at])),
            Column("Here", lambda at: said(near[at].here), np.array([one.here for one in near]), right=True),
            Column("There", lambda at: said(near[at].there), np.array([one.there for one in near]), right=True),
        ]
        self.near.show_rows(columns, len(near), 0)
        spaces = self._here[SPACE], self._there[SPACE]
        places = int(found.at_first[place]), int(found.at_second[place])
        self._asker.ask(
            "terms of a mover",
            lambda: term_shift(spaces[0], places[0], spaces[1], places[1]),
            self._show_terms,
        )

    @staticmethod
    def _nearest(results: Results, place: int) -> dict[int, float]:
        """The corpus rows of the nearest of a document of the lens, with their similarity."""
        rows, near = results[SPACE].terms.rows, results[NEIGHBOURS]
        return {
            int(rows[row]): float(alike)
            for row, alike in zip(
                near.row[place, :NEAREST].tolist(), near.similarity[place, :NEAREST].tolist(), strict=True
            )
            if row >= 0
        }

    def _show_terms(self, shift: TermShift) -> None:
        change = shift.after - shift.before
        count = len(change)
        came = [at for at in range(min(_TOLD, count)) if change[at] >= _LEAST]
        went = [at for at in range(count - 1, max(count - 1 - _TOLD, -1), -1) if change[at] <= -_LEAST]

        def told(some: list[int]) -> str:
            return " · ".join(f"{shift.terms[at]} {shift.before[at]:.0%} → {shift.after[at]:.0%}" for at in some)

        self.came.setText(
            f"Greater share of its weights there: {told(came)}"
            if came
            else "No term has a greater share of its weights there."
        )
        self.went.setText(
            f"Smaller share there: {told(went)}" if went else "No term has a smaller share of its weights there."
        )

    def _open(self, at: int) -> None:
        if self._row >= 0:
            self.pair_wanted.emit(self._row, self._near[at].row)

    def _read_near(self, at: int) -> None:
        self.chosen.emit(self._near[at].row)
        self.read_wanted.emit()
