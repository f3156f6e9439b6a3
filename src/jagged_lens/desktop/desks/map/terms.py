# SPDX-License-Identifier: GPL-3.0-or-later
"""Terms as points: near each other where the same documents hold them."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.map.forming import Forming
from jagged_lens.desktop.desks.map.hover_card import HoverCard
from jagged_lens.desktop.desks.map.legend import MapLegend
from jagged_lens.desktop.desks.map.picture import picture_piece
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, Switch
from jagged_lens.desktop.look.flow import Flow
from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.map_canvas import Category, MapCanvas
from jagged_lens.desktop.saving import Piece
from jagged_lens.group import letter
from jagged_lens.lens import TERM_POINTS, TERMS, Part
from jagged_lens.map import TermPoints as Points
from jagged_lens.terms import TermCounts

_NAMED = 3
_MOST_TITLES = 600


class TermPoints(Face):
    """Terms are picked here as on the desk Terms: it is one pick."""

    name = "Terms"
    needs = (TERMS,)
    also = (TERM_POINTS,)

    def own_pieces(self) -> list[Piece]:
        return [picture_piece(lambda: (self.canvas, self._lines, self.summary()))]

    def build(self) -> None:
        self.canvas = MapCanvas()
        self.canvas.setAccessibleName("Map of the terms")
        self.legend = MapLegend(self.bench, self.asker)
        self.legend.separation_card.hide()
        self.legend.legend.chosen.connect(self._pick_group)
        self.legend.legend.lit.connect(self.canvas.light)
        self.legend.legend.fade_wanted.connect(self._fade)
        tools = QWidget()
        row = Flow()
        tools.setLayout(row)
        self.names_button = Switch("Names")
        self.names_button.setChecked(True)
        set_tip(self.names_button, "Name each group of terms. A click on a name picks its terms")
        self.titles_button = Switch("Titles")
        self.titles_button.setChecked(True)
        set_tip(self.titles_button, "Show as many terms as there is room for, the most frequent first")
        self.fit_button = Action("Show all")
        set_tip(self.fit_button, "Show the whole map (0)")
        self.fit_button.clicked.connect(self.canvas.fit)
        self.state = PartState(self.bench, TERM_POINTS, "the map of terms")
        for widget in (self.names_button, self.titles_button, self.fit_button, self.state):
            row.addWidget(widget)
        self.body.addWidget(tools)
        self.forming = Forming(self.bench, TERM_POINTS)
        self.body.addWidget(self.forming)
        self.body.addWidget(self.canvas, 1)
        self.hint = muted("", 0.88)
        self.hint.setMinimumWidth(20)
        self.body.addWidget(self.hint)
        self.hover_card = HoverCard(self.canvas)
        self._points: Points | None = None
        self._terms: TermCounts | None = None  # of which the points are made
        self._lines: list[tuple[Category, int]] = []
        self.canvas.picked.connect(self._picked)
        self.canvas.hovered.connect(self._hovered)
        self.canvas.read_wanted.connect(lambda row: self._picked(np.array([row]), False))
        self.names_button.toggled.connect(self._show_names)
        self.titles_button.toggled.connect(lambda _: self._write_titles())
        self.bench.pick.terms_changed.subscribe(self._show_pick)
        theme.changed.connect(self.look_again)

    def refresh(self) -> None:
        self._points = None

    def draw_part(self, part: Part[Any]) -> None:
        self.state.show_state()
        growing = self.bench.results.growing.get(TERM_POINTS)
        there = self.bench.results[TERM_POINTS].layout.laid if self.bench.results.has(TERM_POINTS) else None
        self.forming.show_state(growing.layout.laid if growing is not None else None, there)
        if growing is not None:
            self.state.hide()
        points = growing or (self.bench.results.get(TERM_POINTS) if self.bench.results.has(TERM_POINTS) else None)
        if points is None or points is self._points or not self.bench.results.has(TERMS):
            return
        self._points = points
        by_meaning = self.bench.results.recipe.weigh.space == "learned"
        near = "they are used alike" if by_meaning else "the same documents contain them"
        self.hint.setText(f"Terms are close if {near} · drag or click to pick terms")
        terms, grouping = self.bench.results[TERMS], points.grouping
        self._terms = terms
        documents = terms.vocabulary.documents[terms.kept[points.columns]]
        categories = []
        self._lines = []
        for group in range(len(grouping)):
            members = np.flatnonzero(grouping.group == group)
            # The terms nearest to the middle that are not rare: of two as near the one in more documents says more.
            worth = grouping.closeness[members] * np.log1p(documents[members])
            best = members[np.argsort(-worth, kind="stable")[:_NAMED]]
            name = " · ".join(terms.shown[int(points.columns[at])] for at in best)
            categories.append(Category(letter(group), name, group_colour(group)))
            self._lines.append((categories[-1], len(members)))
        self.canvas.show_points(
            points.layout.positions, points.layout.trust, grouping.group.astype(np.int64), categories, stay=True
        )
        placed = ~np.isnan(points.layout.positions[:, 0])
        self.legend.show_legend("Groups of terms", grouping.group.astype(np.int64), categories, placed)
        self.legend.show_trust(
            points.layout,
            self.canvas.rings,
            "Terms that are used alike lie together." if by_meaning else "Terms in the same documents lie together.",
        )
        neighbours = points.neighbours
        self.canvas.neighbours_of = lambda row: neighbours.row[row, :12]
        self._write_titles() if growing is None else self.canvas.show_titles(())
        self._show_pick()
        self.say()

    def summary(self) -> str:
        points = self._points
        if points is None:
            return ""
        overall = points.layout.overall
        words = f"{amount(len(points.columns), 'term')} in {amount(len(points.grouping), 'group')}"
        return words + (f" · {overall:.0%} neighbours kept" if overall == overall else "")

    def _write_titles(self) -> None:
        points, terms = self._points, self._terms
        if points is None or terms is None or not self.titles_button.isChecked():
            self.canvas.show_titles(())
            return
        documents = terms.vocabulary.documents[terms.kept[points.columns]]
        order = np.argsort(-documents, kind="stable")[:_MOST_TITLES]
        self.canvas.show_titles([(int(row), terms.shown[int(points.columns[row])]) for row in order])

    def _show_names(self, shown: bool) -> None:
        self.canvas.show_names = shown
        self.canvas.write_anew()

    def _counted(self, rows: NDArray[np.int64]) -> list[str]:
        """Terms at some rows, as they are counted."""
        points, terms = self._points, self._terms
        assert points is not None
        assert terms is not None
        return list(terms.vocabulary.terms.take(terms.kept[points.columns[rows]]))

    def _picked(self, rows: NDArray[np.int64], add: bool) -> None:
        if self._points is not None:
            before = self.bench.pick.terms if add else ()
            self.bench.pick.set_terms((*before, *self._counted(rows)))

    def _pick_group(self, number: int, add: bool) -> None:
        if self._points is not None:
            self._picked(np.flatnonzero(self._points.grouping.group == number), add)

    def _fade(self, number: int) -> None:
        self.canvas.fade(number)
        self.legend.legend.show_faded(self.canvas.faded)

    def _show_pick(self) -> None:
        points, terms = self._points, self._terms
        if points is None or terms is None:
            return
        found = terms.vocabulary.terms.rows_of(set(self.bench.pick.terms))
        picked = np.isin(terms.kept[points.columns], np.array(sorted(found.values()), np.int64))
        rows = np.flatnonzero(picked)
        self.canvas.show_pick(rows, int(rows[0]) if len(rows) == 1 else -1)

    def _hovered(self, row: int, place: QPointF) -> None:
        points, terms = self._points, self._terms
        if row < 0 or points is None or terms is None:
            self.hover_card.hide()
            return
        at = int(terms.kept[points.columns[row]])
        times, documents = int(terms.vocabulary.times[at]), int(terms.vocabulary.documents[at])
        near = [terms.shown[int(points.columns[other])] for other in points.neighbours.row[row, :8] if other >= 0]
        self.hover_card.tell(
            terms.shown[int(points.columns[row])],
            f"{times:,} times in {amount(documents, 'document')}",
            f"Nearest: {', '.join(near)}" if near else "It shares no document with another term.",
            place,
            self.canvas.size(),
        )
