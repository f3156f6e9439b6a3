# SPDX-License-Identifier: GPL-3.0-or-later
"""The picked terms, grouped and mapped like documents: by which documents hold them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.group.term_sweep import TermSweep
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.look.cards import card, muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.number_boxes import WholeBox
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.label_choice import NameChoice
from jagged_lens.desktop.plots.ridge import RidgeCanvas
from jagged_lens.desktop.plots.ridge_view import Bay
from jagged_lens.desktop.plots.term_map import PlacedTerm, TermMap
from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.group import Grouping, GroupSettings, Ridge, from_tree, ids_of, k_means, letter, ridge_of, tree_of
from jagged_lens.lens import CORPUS, SPACE, TERMS, THEMES
from jagged_lens.map import Projection, pca
from jagged_lens.parallel import steady_blas
from jagged_lens.terms import TermCounts
from jagged_lens.weigh import VectorSpace, term_rows

MOST = 2000
"""So many terms are grouped at most."""
_USUAL = 60
_FEWEST = 3  # terms in a group on the average, at least: fewer say nothing


@dataclass(frozen=True, eq=False)
class _Answer:
    columns: NDArray[np.int64]
    terms: TermCounts
    items: VectorSpace
    settings: GroupSettings
    grouping: Grouping
    ridge: Ridge
    projection: Projection


K_MEANS = "k-means"
_WAYS = (K_MEANS, "single", "complete", "average", "ward")


class TermGroups(Face):
    """A list of the picked terms by group. Their map, their tree as a ridge, and how many groups there are. chosen(row): a term was gone
    to, by its row in the vocabulary. Wanted(row): it is to be shown among all terms."""

    name = "Terms"
    needs = (CORPUS, TERMS, SPACE, THEMES)
    chosen = pyqtSignal(int)
    wanted = pyqtSignal(int)

    def build(self) -> None:
        self._answer: _Answer | None = None
        self._asked: tuple[object, ...] = ()
        self._own_pick: tuple[str, ...] = ()  # terms that were picked here, out of those that are grouped:
        self._grouped: tuple[str, ...] = ()
        column = self.body
        column.setSpacing(4)
        row = QHBoxLayout()
        self.count = WholeBox()
        self.count.setRange(1, 50)
        self.count.setValue(8)
        self.count.setSuffix(" groups")
        self.count.setKeyboardTracking(False)
        self.count.setMinimumHeight(int(self.fontMetrics().height() * 1.7))
        self.count.setAccessibleName("Groups of terms")
        set_tip(self.count, "Number of groups of terms")
        self.count.valueChanged.connect(self.ask)
        row.addWidget(self.count)
        self.way = NameChoice("Method for grouping terms")
        self.way.offer_names(_WAYS)
        set_tip(self.way, "k-means, or a tree with this linkage; the ridge shows the tree")
        self.way.activated.connect(self.ask)
        row.addWidget(self.way)
        self.pick_group = Action("Pick its group")
        set_tip(self.pick_group, "Pick the terms of the current group")
        self.pick_group.clicked.connect(self._pick_group)
        row.addWidget(self.pick_group)
        self.words = muted()
        self.words.setMinimumWidth(20)
        row.addWidget(self.words, 1)
        column.addLayout(row)
        split = QSplitter(Qt.Orientation.Horizontal)
        self.table = TableView("Groups of terms")
        self.table.row_changed.connect(self._choose)
        self.table.read_wanted.connect(lambda row: self.wanted.emit(self._vocabulary_row(row)))
        split.addWidget(self.table)
        self.map = TermMap()
        self.map.chosen.connect(self.table.go_to)
        right = QWidget()
        leaves = QVBoxLayout(right)
        leaves.setContentsMargins(0, 0, 0, 0)
        leaves.setSpacing(4)
        self.leaves = LeafRow(["Map", "Ridge", "How many"], small=True)
        leaves.addWidget(self.leaves)
        leaves.addWidget(self.leaves.leaves, 1)
        self.ridge = RidgeCanvas()
        self.ridge.chosen.connect(self._pick_branch)
        self.ridge.cut_set.connect(self._cut)
        self.ridge.cut_moved.connect(lambda _: self._name_bays())
        self.sweep = TermSweep()
        self.sweep.taken.connect(self.count.setValue)
        for picture in (self.map, self.ridge):
            frame, inside = card()
            inside.setContentsMargins(2, 2, 2, 2)
            inside.addWidget(picture)
            self.leaves.leaves.addWidget(frame)
        self.leaves.leaves.addWidget(self.sweep)
        split.addWidget(right)
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
        if not bench.results.has(*self.needs):
            return  # it is asked again as soon as they are
        terms, space, keys = bench.results[TERMS], bench.results[SPACE], bench.results[CORPUS].keys
        if terms.column is not None:
            self._show_nothing("Terms share hashed columns here. Set Columns to 0 to group them.")
            return
        picked = bench.pick.terms
        if picked and picked == self._own_pick and self._answer is not None and self._answer.terms is terms:
            picked = self._grouped  # what is picked here is a part of what is grouped, and that stays
        rows = sorted(terms.terms.rows_of(set(picked)).values()) if picked else range(min(len(terms.kept), _USUAL))
        columns = np.array(list(rows)[:MOST], np.int64)
        if len(columns) < 2:
            self._show_nothing(
                "Fewer than two of the picked terms are kept. Pick more in the vocabulary or at a glance."
            )
            return
        way = self.way.currentText()
        groups = min(self.count.value(), -(-len(columns) // _FEWEST))
        by = {} if way == K_MEANS else {"by": "tree", "linkage": way}
        settings = GroupSettings(groups=groups, **by)  # type: ignore[arg-type]
        asked = (*bench.results.keys_of((SPACE, THEMES)), tuple(columns.tolist()), settings)
        if asked == self._asked:
            return
        self._asked = asked
        documents, themes = keys.take(terms.rows), bench.results[THEMES]
        ids = ids_of(terms.terms.take(columns))

        def work() -> _Answer:
            items = term_rows(space, columns, documents, themes)
            with steady_blas():
                tree = tree_of(items, settings.linkage)
                grouping = (
                    from_tree(items, tree, settings, ids)
                    if settings.by == "tree"
                    else k_means(items, settings, ids=ids)
                )
                return _Answer(columns, terms, items, settings, grouping, ridge_of(tree), pca(items, settings.seed))

        self.asker.ask("groups of terms", work, self._show)

    def _show_nothing(self, text: str) -> None:
        self.asker.forget("groups of terms")
        self._answer, self._asked = None, ()
        self.words.setText(text)
        self.table.show_rows([], 0)
        self.map.show_terms([], np.zeros((0, 2)))
        self.sweep.show_items(None, None, 0)
        self.leaves.setVisible(False)
        self.leaves.leaves.setVisible(False)

    def _show(self, answer: _Answer) -> None:
        self._answer = answer
        terms, grouping = answer.terms, answer.grouping
        rows = terms.kept[answer.columns]
        times, documents = terms.vocabulary.times[rows], terms.vocabulary.documents[rows]
        names = [terms.shown[int(column)] for column in answer.columns]
        group = grouping.group
        explained = sum(answer.projection.explained)
        by = " by meaning" if self.bench.results[THEMES].learned else ""
        whose = "picked" if self.bench.pick.terms else "most frequent"
        self.words.setText(
            f"{len(rows):,} {whose} terms in {amount(len(grouping), 'group')}{by} · the map shows {explained:.0%} of the variance"
        )
        set_tip(
            self.words,
            "Terms are close if the same documents contain them: k-means and principal components of the transposed "
            "weights, each term scaled to length 1.",
        )
        self.map.show_terms(self._placed(names, group, times, documents), answer.projection.positions)
        columns = [
            Column("Group", lambda row: letter(int(group[row])) if group[row] >= 0 else "", group),
            Column("Term", lambda row: names[row], searched=True, cut=Cut.NEVER, texts=names),
            Column("Times", lambda row: f"{times[row]:,}", times, right=True),
            Column(
                "Closeness",
                lambda row: f"{grouping.closeness[row]:.2f}",
                grouping.closeness,
                right=True,
                tip="Cosine to the centroid of its group",
            ),
        ]
        self.table.show_rows(columns, len(rows), 1)
        self.leaves.setVisible(True)
        self.leaves.leaves.setVisible(True)
        order = answer.ridge.tree.rows[answer.ridge.tree.order]
        by_tree = answer.settings.by == "tree"
        self.ridge.show_ridge(
            answer.ridge, lambda place: names[int(order[place])], group[order].astype(np.int64), len(grouping), by_tree
        )
        self._name_bays()
        ids = ids_of(terms.terms.take(answer.columns))
        self.sweep.show_items(answer.items, answer.settings, len(grouping), ids)
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
            self.chosen.emit(self._vocabulary_row(row))

    def _vocabulary_row(self, row: int) -> int:
        assert self._answer is not None
        return int(self._answer.terms.kept[self._answer.columns[row]])

    def _name_bays(self) -> None:
        """Name the parts of the cut by the terms that stand in most documents."""
        answer = self._answer
        if answer is None:
            return
        ridge, terms = answer.ridge, answer.terms
        starts, number = ridge.parts(self.ridge.groups)
        if not len(starts):
            return
        bays = []
        for group, inside in zip(number.tolist(), np.split(ridge.tree.order, starts[1:]), strict=True):
            columns = answer.columns[ridge.tree.rows[inside]]
            documents = terms.vocabulary.documents[terms.kept[columns]]
            names = [terms.shown[int(at)] for at in columns[np.argsort(-documents, kind="stable")][:3]]
            bays.append(Bay(group, " · ".join(names), amount(len(inside), "term")))
        self.ridge.show_bays(bays)

    def _pick_branch(self, node: int) -> None:
        answer = self._answer
        if answer is None:
            return
        rows = answer.ridge.leaves(node)
        if len(rows) == 1:
            self.table.go_to(int(rows[0]))
        else:
            self._pick(answer.columns[rows])

    def _pick(self, columns: NDArray[np.int64]) -> None:
        """Pick some of the terms that are grouped; these stay grouped."""
        assert self._answer is not None
        terms = self._answer.terms.terms
        self._grouped = tuple(terms[int(column)] for column in self._answer.columns)
        self._own_pick = tuple(terms[int(column)] for column in columns)
        self.bench.pick.set_terms(self._own_pick)

    def _cut(self, groups: int) -> None:
        """The line was let go: the terms are grouped by the tree."""
        if self.way.currentText() == K_MEANS:
            self.way.setCurrentText(self._answer.settings.linkage if self._answer is not None else "average")
        if self.count.value() == groups:
            self.ask()
        else:
            self.count.setValue(groups)

    def _pick_group(self) -> None:
        row = self.table.current_row()
        if self._answer is not None and row >= 0:
            group = self._answer.grouping.group
            self._pick(self._answer.columns[group == group[row]])
