"""The picked terms, grouped and mapped like documents: by which documents hold them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSpinBox, QSplitter

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look.cards import card, muted
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.term_map import PlacedTerm, TermMap
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.group import Grouping, GroupSettings, k_means, letter
from jagged_lens.lens import CORPUS, SPACE, TERMS
from jagged_lens.map import Projection, pca
from jagged_lens.parallel import steady_blas
from jagged_lens.terms import TermCounts
from jagged_lens.weigh import term_rows

MOST = 2000
"""So many terms are grouped at most."""
_USUAL = 60
_FEWEST = 3  # terms in a group on the average, at least: fewer say nothing


@dataclass(frozen=True, eq=False)
class _Answer:
    columns: NDArray[np.int64]
    terms: TermCounts
    grouping: Grouping
    projection: Projection


class TermGroups(Face):
    """A list of the picked terms by group, and their map. A term that is chosen in either is told with its row in the
    vocabulary."""

    name = "Groups"
    needs = (CORPUS, TERMS, SPACE)
    chosen = pyqtSignal(int)

    def build(self) -> None:
        self._answer: _Answer | None = None
        self._asked: tuple[object, ...] = ()
        column = self.body
        column.setSpacing(4)
        row = QHBoxLayout()
        self.count = QSpinBox()
        self.count.setRange(1, 50)
        self.count.setValue(8)
        self.count.setSuffix(" groups")
        self.count.setKeyboardTracking(False)
        self.count.setMinimumHeight(int(self.fontMetrics().height() * 1.7))
        self.count.setAccessibleName("Groups of terms")
        self.count.setToolTip("So many groups are made of the terms")
        self.count.valueChanged.connect(self.ask)
        row.addWidget(self.count)
        self.pick_group = QPushButton("Pick its group")
        self.pick_group.setProperty("flat", "true")
        self.pick_group.setToolTip("The terms of the group under the cursor become the pick of terms")
        self.pick_group.clicked.connect(self._pick_group)
        row.addWidget(self.pick_group)
        self.words = muted()
        self.words.setMinimumWidth(20)
        row.addWidget(self.words, 1)
        column.addLayout(row)
        split = QSplitter(Qt.Orientation.Horizontal)
        self.table = TableView("Groups of terms")
        self.table.row_changed.connect(self._choose)
        split.addWidget(self.table)
        self.map = TermMap()
        self.map.chosen.connect(self.table.go_to)
        frame, inside = card()
        inside.setContentsMargins(2, 2, 2, 2)
        inside.addWidget(self.map)
        split.addWidget(frame)
        self.table.setMinimumWidth(int(self.fontMetrics().averageCharWidth() * 26))
        split.setSizes([370, 380])
        split.setStretchFactor(0, 2)
        split.setStretchFactor(1, 3)
        split.setChildrenCollapsible(False)
        column.addWidget(split, 1)
        self.bench.pick.terms_changed.subscribe(self.look_again)

    def refresh(self) -> None:
        self.ask()

    def ask(self) -> None:
        """Group and map the picked terms; where none are picked, the most frequent ones that are kept."""
        bench = self.bench
        if not bench.ready(*self.needs):
            return  # it is asked again as soon as they are
        terms, space, keys = bench.results[TERMS], bench.results[SPACE], bench.results[CORPUS].keys
        if terms.column is not None:
            self._show_nothing("Terms share hashed columns here. Set Columns to 0 to group them.")
            return
        picked = bench.pick.terms
        rows = sorted(terms.terms.rows_of(set(picked)).values()) if picked else range(min(len(terms.kept), _USUAL))
        columns = np.array(list(rows)[:MOST], np.int64)
        if len(columns) < 2:
            self._show_nothing(
                "Fewer than two of the picked terms are kept. Pick some in the vocabulary or at a glance."
            )
            return
        settings = GroupSettings(groups=min(self.count.value(), -(-len(columns) // _FEWEST)))
        asked = (id(space), tuple(columns.tolist()), settings.groups)
        if asked == self._asked:
            return
        self._asked = asked
        documents = keys.take(terms.rows)

        def work() -> _Answer:
            items = term_rows(space, columns, documents)
            with steady_blas():
                return _Answer(columns, terms, k_means(items, settings), pca(items, settings.seed))

        self.asker.ask("groups of terms", work, self._show)

    def _show_nothing(self, text: str) -> None:
        self.asker.forget("groups of terms")
        self._answer, self._asked = None, ()
        self.words.setText(text)
        self.table.show_rows([], 0)
        self.map.show_terms([], np.zeros((0, 2)))

    def _show(self, answer: _Answer) -> None:
        self._answer = answer
        terms, grouping = answer.terms, answer.grouping
        rows = terms.kept[answer.columns]
        times, documents = terms.vocabulary.times[rows], terms.vocabulary.documents[rows]
        names = [terms.shown[int(column)] for column in answer.columns]
        group = grouping.group
        explained = sum(answer.projection.explained)
        whose = "picked" if self.bench.pick.terms else "most frequent kept"
        self.words.setText(
            f"{len(rows):,} {whose} terms in {amount(len(grouping), 'group')} · "
            f"the map shows {explained:.0%} of how they differ"
        )
        self.words.setToolTip(
            "Terms are near each other where the same documents hold them: k-means and principal components of the "
            "transposed weights, each term of length 1."
        )
        self.map.show_terms(self._placed(names, group, times, documents), answer.projection.positions)
        columns = [
            Column("Group", lambda row: letter(int(group[row])) if group[row] >= 0 else "", group),
            Column("Term", lambda row: names[row], searched=True, texts=names),
            Column("Times", lambda row: f"{times[row]:,}", times, right=True),
            Column(
                "Closeness",
                lambda row: f"{grouping.closeness[row]:.2f}",
                grouping.closeness,
                right=True,
                tip="Cosine to the middle of its group",
            ),
        ]
        self.table.show_rows(columns, len(rows), [6, 13, 6, 10], 1)
        if self.table.listed.unsorted:
            self.table.sortByColumn(0, Qt.SortOrder.AscendingOrder)

    @staticmethod
    def _placed(
        names: Sequence[str], group: NDArray[np.int32], times: NDArray[np.int32], documents: NDArray[np.int32]
    ) -> list[PlacedTerm]:
        return [
            PlacedTerm(
                name,
                int(group[at]),
                f"{amount(int(times[at]), 'time')} in {amount(int(documents[at]), 'document')}",
            )
            for at, name in enumerate(names)
        ]

    def _choose(self, row: int) -> None:
        if self._answer is not None:
            self.map.go_to(row)
            self.chosen.emit(int(self._answer.terms.kept[self._answer.columns[row]]))

    def _pick_group(self) -> None:
        row = self.table.current_row()
        if self._answer is not None and row >= 0:
            group = self._answer.grouping.group
            columns = self._answer.columns[group == group[row]]
            self.bench.pick.set_terms(self._answer.terms.terms[int(column)] for column in columns)
