# SPDX-License-Identifier: GPL-3.0-or-later
"""Two sides of one collection: terms, groups and themes, the nearest across, the map."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.contrast import EACH, Across, TwoSides, groups_by_side, nearest_across, themes_by_side, two_sides
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.by_group import group_title
from jagged_lens.desktop.desks.contrast.chosen_sides import ChosenSides, Sides
from jagged_lens.desktop.desks.contrast.side_terms import SideTerms
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.desks.term_asking import TermAsker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import heading, muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.plots.map_canvas import Category, MapCanvas
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import PairOfBars, ShareCell, side_colours
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.group import letter
from jagged_lens.lens import (
    CORPUS,
    GROUPING,
    KEY_TERMS,
    LAYOUT,
    LENS_ROWS,
    SPACE,
    TERMS,
    THEMES,
    THEMES_AHEAD,
    TOKENS,
    Part,
)
from jagged_lens.progress import Progress
from jagged_lens.project import strongest, theme_names
from jagged_lens.weigh import Themes, in_themes

_THEMES = 20


class SidesFace(Face):
    """pair_wanted(first, second): two documents of the lens (their rows there) are to be read in full width."""

    name = "Two sides"
    reads_itself = True
    needs = (CORPUS, TOKENS, LENS_ROWS, TERMS, SPACE, THEMES, GROUPING, KEY_TERMS, LAYOUT)
    also = (THEMES_AHEAD,)
    pair_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self._sides: Sides | None = None
        self._across: Across | None = None
        self._asked_across = False
        self._words = ""
        self._places = TermAsker(self.bench, self.asker)
        self._long = Asker(self)  # comparing all with all keeps no other question waiting
        self._long.failed.connect(self.asker.failed)
        self.sides = ChosenSides(self.bench)
        self.sides.changed.connect(self._compare)
        self.body.addWidget(self.sides)
        self.figures = muted("", 1.0)
        self.figures.setWordWrap(True)
        self.leaf_row = LeafRow(["Terms", "Groups and themes", "Nearest across", "Map"], small=True)
        self.terms = SideTerms()
        self.terms.context_chosen.connect(self._read_context)
        self.terms.documents_wanted.connect(self._pick_documents)
        self.map = MapCanvas()
        self.map.setAccessibleName("Map of the two sides")
        self.map.picked.connect(self._pick_points)
        self.map.read_wanted.connect(lambda at: self.read_document(int(self._rows()[at])))
        for leaf in (self.terms, self._groups_leaf(), self._across_leaf(), self._map_leaf()):
            self.leaf_row.leaves.addWidget(leaf)
        self.leaf_row.shown.connect(lambda _: self._ask_across())
        self.body.addWidget(self.leaf_row)
        self.body.addWidget(self.leaf_row.leaves, 1)
        self.body.addWidget(self.figures)
        self.body.addStretch(0)
        self.bench.pick.changed.subscribe(self._show_pick)
        self.bench.state_changed.subscribe(self._labels_changed)
        theme.changed.connect(self.look_again)

    def _groups_leaf(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        self.groups = TableView("Groups by side")
        self.groups.setItemDelegateForColumn(1, PairOfBars(self.groups))
        self.groups.clicked.connect(lambda _: self._pick_group(self.groups.current_row()))
        self.groups.read_wanted.connect(self._pick_group)
        column.addWidget(heading("Groups", 0.95))
        column.addWidget(self.groups, 3)
        self.themes_head = heading("Themes", 0.95)
        column.addWidget(self.themes_head)
        self.themes = TableView("Themes by side")
        self.themes.setItemDelegateForColumn(1, ShareCell(self.themes))
        column.addWidget(self.themes, 2)
        return page

    def _across_leaf(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.across_said = muted()
        self.across_said.setWordWrap(True)
        row.addWidget(self.across_said, 1)
        self.stop = Action("Stop")
        self.stop.clicked.connect(self._stop_across)
        self.stop.hide()
        row.addWidget(self.stop)
        column.addLayout(row)
        self.across = TableView("Nearest across the sides")
        self.across.setProperty(PICKS, True)
        self.across.setItemDelegateForColumn(1, ShareCell(self.across))
        self.across.opens = True
        self.across.open_wanted.connect(self._open_across)
        self.across.row_changed.connect(self._choose_across)
        self.across.read_wanted.connect(lambda _: self.read())
        column.addWidget(self.across, 1)
        return page

    def _map_leaf(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        self.map_said = muted()
        self.map_said.setWordWrap(True)
        column.addWidget(self.map_said)
        column.addWidget(self.map, 1)
        return page

    # What is compared.

    def _labels_changed(self) -> None:
        if self.is_made and self.bench.results.has(*self.needs):
            self.sides.offer()

    def refresh(self) -> None:
        self.sides.offer()
        self._compare()

    def _compare(self) -> None:
        if not self.bench.results.has(*self.needs):
            return
        sides = self._sides = self.sides.sides()
        self._across, self._asked_across = None, False
        if sides is None:
            self.figures.setText("Nothing defines two sides yet. Give documents a label, or pick some.")
            return
        sizes = int(sides.left.sum()), int(sides.right.sum())
        both = f" {amount(sides.both, 'document')} on both sides were left out of both." if sides.both else ""
        nothing = " Pick documents on any desk, then choose it again." if not min(sizes) else ""
        self.figures.setText(
            f"{sides.names[0]}: {amount(sizes[0], 'document')} · {sides.names[1]}: {sizes[1]:,}.{both}{nothing}"
        )
        counts = self.bench.results[TERMS].counts
        self.asker.ask(
            "two sides", lambda: two_sides(counts, sides.left, sides.right), lambda found: self._show(sides, found)
        )

    def _show(self, sides: Sides, found: TwoSides) -> None:
        if sides is not self._sides or not self.bench.results.has(*self.needs):
            return
        results = self.bench.results
        rows = self._rows().astype(np.int64)
        written = self.bench.results.recipe.clean.tokens != "characters"
        self.terms.show_terms(
            found,
            results[TERMS],
            results[CORPUS],
            (rows[sides.left], rows[sides.right]),
            sides.names,
            self._places if written else None,
        )
        self.terms.filter(self._words)
        self._show_groups(sides)
        self._show_themes()
        self._show_map(sides)
        self._ask_across()

    def _rows(self) -> NDArray[np.int32]:
        return self.bench.results[SPACE].terms.rows

    def filter(self, words: str) -> None:
        self._words = words
        self.terms.filter(words)
        for table in (self.groups, self.themes, self.across):
            table.listed.filter(words)

    def _show_groups(self, sides: Sides) -> None:
        grouping = self.bench.results[GROUPING]
        counts = groups_by_side(grouping.group, len(grouping), sides.left, sides.right)
        shares = counts / np.maximum(np.array([sides.left.sum(), sides.right.sum()]), 1)
        titles = [f"{letter(group)}  {group_title(self.bench, group)}" for group in range(len(grouping))]
        columns = [
            Column("Group", lambda at: titles[at], np.arange(len(grouping)), searched=True),
            Column(
                "Left · right",
                lambda at: f"{shares[at, 0]:.0%} · {shares[at, 1]:.0%}",
                shares[:, 0] - shares[:, 1],
                mark=lambda at: (float(shares[at, 0]), float(shares[at, 1])),
                wide=20,
                tip="Share of the documents of each side that are in the group, sorted by the difference",
            ),
            Column(sides.names[0], lambda at: f"{counts[at, 0]:,}", counts[:, 0], right=True),
            Column(sides.names[1], lambda at: f"{counts[at, 1]:,}", counts[:, 1], right=True),
        ]
        self.groups.show_rows(columns, len(grouping), 0)

    def draw_part(self, part: Part[Any]) -> None:
        if self.is_made and self._sides is not None and self.bench.results.has(*self.needs):
            self._show_themes()

    def _show_themes(self) -> None:
        results, sides = self.bench.results, self._sides
        found: Themes | None = results[THEMES]
        if not results[THEMES].named:
            found = results[THEMES_AHEAD] if self.bench.results.has(THEMES_AHEAD) else None
        if found is None or sides is None or not len(found):
            self.themes_head.setText("Computing the themes" if found is None else "There are no themes")
            self.themes.show_rows([], 0)
            return
        count = min(len(found), _THEMES)
        documents = found.documents[:, :count]
        self.asker.ask(
            "themes by side",
            lambda: themes_by_side(documents, sides.left, sides.right),
            lambda shares: self._list_themes(sides, found, shares),
        )

    def _list_themes(self, sides: Sides, found: Themes, shares: NDArray[np.float64]) -> None:
        if sides is not self._sides or not self.bench.results.has(*self.needs):
            return
        shown, count = self.bench.results[TERMS].shown, len(shares)
        named = theme_names(found, shown, self.bench.state.themes)
        titles = [
            f"{theme + 1}  {named.get(theme) or ' · '.join(strongest(found, theme, shown, 4))}"
            for theme in range(count)
        ]
        self.themes_head.setText("Themes")
        columns = [
            Column("Theme", lambda at: titles[at], np.arange(count), searched=True),
            Column(
                "Left side higher",
                lambda at: f"{shares[at]:.2f}",
                np.abs(shares - 0.5),
                right=True,
                share=lambda at: float(shares[at]),
                tip=f"Chance that a document of {sides.names[0]} has a higher loading than one of {sides.names[1]}; .5: no difference",
            ),
        ]
        self.themes.show_rows(columns, count, 0)

    def _show_map(self, sides: Sides) -> None:
        layout = self.bench.results[LAYOUT]
        category = np.where(sides.left, 1, np.where(sides.right, 2, 0)).astype(np.int64)
        colours = side_colours()
        categories = [
            Category("", "", theme.colour("quiet")),
            Category("", sides.names[0], colours[0]),
            Category("", sides.names[1], colours[1], "square"),
        ]
        self.map.show_points(layout.positions, layout.trust, category, categories, stay=True)
        rest = int((category == 0).sum())
        others = f" · {amount(rest, 'document')} on neither side" if rest else ""
        self.map_said.setText(f"● {sides.names[0]} · ■ {sides.names[1]}{others}")
        self._show_pick()

    # The nearest across.

    def _ask_across(self) -> None:
        sides = self._sides
        if self.leaf_row.front != 2 or sides is None or self._asked_across or not self.bench.results.has(*self.needs):
            return
        self._asked_across = True
        space = in_themes(self.bench.results[SPACE], self.bench.results[THEMES])
        measure = self.bench.results.recipe.compare.measure
        self.across.show_rows([], 0)
        self.across_said.setText("Searching for the nearest documents across the sides.")
        self.stop.show()

        def work(progress: Progress) -> Across:
            return nearest_across(space, measure, sides.left, sides.right, EACH, progress)

        self._long.ask_stoppable("nearest across", work, lambda found: self._show_across(sides, found))

    def _stop_across(self) -> None:
        self._long.forget("nearest across")
        self.stop.hide()
        self._asked_across = False
        self.across_said.setText("Stopped. Open this face again to start over.")

    def _show_across(self, sides: Sides, found: Across) -> None:
        if sides is not self._sides or not self.bench.results.has(*self.needs):
            return
        self.stop.hide()
        self._across = found
        small = sides.names[0] if sides.left.sum() <= sides.right.sum() else sides.names[1]
        self.across_said.setText(
            f"For each document of {small}, its {EACH} nearest on the other side: {amount(len(found.left), 'pair')}. Return opens both."
        )
        corpus, rows = self.bench.results[CORPUS], self._rows()
        first, second = corpus.titles.take(rows[found.left]), corpus.titles.take(rows[found.right])
        columns = [
            Column(
                f"{sides.names[0]}, and below it {sides.names[1]}",
                lambda at: first[at],
                searched=True,
                below=lambda at: second[at],
                names=sides.names,
            ),
            Column(
                "Similarity",
                lambda at: f"{found.similarity[at]:.3f}",
                found.similarity,
                right=True,
                share=lambda at: float(found.similarity[at]),
            ),
        ]
        self.across.show_rows(columns, len(found.left), 0)

    def _open_across(self, at: int) -> None:
        if self._across is not None:
            self.pair_wanted.emit(int(self._across.left[at]), int(self._across.right[at]))

    def _choose_across(self, at: int) -> None:
        if self._across is not None and at < len(self._across.left):
            rows = self._rows()
            pair = [int(rows[self._across.left[at]]), int(rows[self._across.right[at]])]
            self.bench.pick.set(pair, pair[0])

    # The pick.

    def _read_context(self, row: int, start: int, end: int) -> None:
        self.read_document(row)
        self.reader.show_place(start, end)

    def _pick_documents(self, column: int) -> None:
        sides = self._sides
        if sides is None:
            return
        holders = self.bench.results[TERMS].holders(column)
        self.bench.pick.set(self._rows()[holders[(sides.left | sides.right)[holders]]].tolist())
        self.read()

    def _pick_group(self, group: int) -> None:
        sides = self._sides
        if sides is not None and self.bench.results.has(*self.needs):
            inside = (self.bench.results[GROUPING].group == group) & (sides.left | sides.right)
            self.bench.pick.set(self._rows()[inside].tolist())

    def _pick_points(self, rows: NDArray[np.int64], add: bool) -> None:
        chosen = self._rows()[rows].tolist()
        pick = self.bench.pick
        pick.set({*pick.rows, *chosen} if add else chosen, chosen[0] if len(chosen) == 1 else -1)

    def _show_pick(self) -> None:
        if self.is_made and self.isVisible() and self.bench.results.has(*self.needs):
            rows = self._rows()
            places = np.flatnonzero(np.isin(rows, list(self.bench.pick.rows)))
            at = np.flatnonzero(rows == self.bench.pick.reading)
            self.map.show_pick(places, int(at[0]) if len(at) else -1)

    def take_focus(self) -> None:
        if self.is_made:
            self.terms.tables[0].setFocus()
