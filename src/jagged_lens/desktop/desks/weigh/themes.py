# SPDX-License-Identifier: GPL-3.0-or-later
"""Themes: how much each holds, what stands at its ends, and how many the later steps work on."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QScrollArea, QSpinBox, QSplitter, QVBoxLayout, QWidget

from jagged_lens.desktop.desks.by_group import by_group
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.desks.weigh.theme_shares import DocumentShares, NumbersLeaf, stability_words
from jagged_lens.desktop.look.cards import heading, muted, muted_line
from jagged_lens.desktop.look.controls import Choice
from jagged_lens.desktop.look.number_boxes import WholeBox
from jagged_lens.desktop.look.words import amount, space_words
from jagged_lens.desktop.plots.end_bars import EndBars
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.plots.scree import ScreePlot
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import CORPUS, SPACE, THEME_NUMBERS, THEMES_AHEAD, Part, shown_settings_of
from jagged_lens.project import strongest, theme_names
from jagged_lens.weigh import Themes, left_by_document

_ENDS = 9  # terms or documents at either end
_LOADINGS = 18
_NEXT_TO_NOTHING = 0.005  # of the largest: what has less stands at no end
_DOCUMENTS, _HOW_MANY = 3, 4  # leaves
_FIRST = "The weights are not centred: the first theme is mostly what all documents have in common."


class ThemesFace(Face):
    name = "Themes"
    needs = (CORPUS, SPACE)
    also = (THEMES_AHEAD, THEME_NUMBERS)

    def build(self) -> None:
        self._shown: object = None
        self._shares_of: object = None
        self._theme = 0
        head = QHBoxLayout()
        head.addWidget(heading("Themes"))
        self.made_by = Choice()
        self.made_by.setAccessibleName("Kind of themes")
        for value, words in (("svd", "with two ends"), ("adding", "that add up")):
            self.made_by.addItem(words, value)
        self.made_by.activated.connect(lambda _: self.bench.set("weigh", "themes-by", str(self.made_by.currentData())))
        head.addWidget(self.made_by)
        self.about = muted_line()
        head.addWidget(self.about, 1)
        self.state = PartState(self.bench, THEMES_AHEAD, "the themes")
        head.addWidget(self.state)
        self.body.addLayout(head)
        self.scree = ScreePlot()
        self.scree.number_set.connect(self._keep)
        self.scree.chosen.connect(lambda number: self.table.go_to(number))
        self.body.addWidget(self.scree)
        self.first = muted(_FIRST, 0.9)
        self.first.setWordWrap(True)
        self.body.addWidget(self.first)
        split = QSplitter(Qt.Orientation.Vertical)
        self.table = TableView("Themes")
        self.table.row_changed.connect(self._show_theme)
        split.addWidget(self.table)
        split.addWidget(self._build_leaves())
        split.setSizes([170, 300])
        split.setChildrenCollapsible(False)
        self.body.addWidget(split, 1)
        self.bench.pick.changed.subscribe(self._pick_changed)
        self.bench.pick.terms_changed.subscribe(self._show_loadings)
        self.bench.state_changed.subscribe(self._names_changed)

    def _build_leaves(self) -> QWidget:
        page = QWidget()
        whole = QVBoxLayout(page)
        whole.setContentsMargins(0, 4, 0, 0)
        self.leaves = LeafRow(["Its ends", "Two themes", "Loads on", "Documents", "How many"], small=True)
        whole.addWidget(self.leaves)
        whole.addWidget(self.leaves.leaves, 1)
        one = QWidget()
        column = QVBoxLayout(one)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(muted("Called"))
        self.called = QLineEdit()
        self.called.setPlaceholderText("your own name")
        self.called.setAccessibleName("Name of the theme")
        self.called.setMaximumWidth(240)
        self.called.editingFinished.connect(self._name)
        row.addWidget(self.called)
        self.which = muted_line()
        row.addWidget(self.which, 1)
        column.addLayout(row)
        ends = QHBoxLayout()
        self.terms, self.documents = EndBars("Terms at both ends"), EndBars("Documents at both ends")
        self.terms.chosen.connect(self._pick_term)
        self.documents.chosen.connect(lambda place, add: self._pick_document(place))
        for bars in (self.terms, self.documents):
            ends.addWidget(_scrolled(bars), 1)
        column.addLayout(ends, 1)
        self.leaves.leaves.addWidget(one)
        self.leaves.leaves.addWidget(self._build_scatter())
        self.loadings = EndBars("Loadings of a document or term")
        self.loadings.chosen.connect(lambda number, add: self.table.go_to(number))
        loads = QWidget()
        column = QVBoxLayout(loads)
        self.loader = muted_line("Pick a document or a term to see its loadings on the themes.")
        column.addWidget(self.loader)
        column.addWidget(_scrolled(self.loadings), 1)
        column.setContentsMargins(0, 0, 0, 0)
        self.leaves.leaves.addWidget(loads)
        self.shares = DocumentShares()
        self.shares.table.read_wanted.connect(lambda at: self.read_document(self._row(at)))
        self.shares.table.open_wanted.connect(lambda at: self.read_document(self._row(at)))
        self.leaves.leaves.addWidget(self.shares)
        self.numbers = NumbersLeaf(self.bench)
        self.numbers.number_set.connect(self._keep)
        self.leaves.leaves.addWidget(self.numbers)
        self.leaves.shown.connect(self._leaf_shown)
        return page

    def _leaf_shown(self, leaf: int) -> None:
        self._draw_scatter()
        self._draw_shares()
        self.look()  # how many there might be is computed while it is seen

    def seen(self) -> tuple[Part[Any], ...]:
        wanted = self.is_made and self.leaves.front == _HOW_MANY  # it takes the time of a hundred themes and more
        return tuple(part for part in super().seen() if part is not THEME_NUMBERS or wanted)

    def _keep(self, number: int) -> None:
        """Let the later steps work on some of the themes that are shown; 0: on none."""
        found = self.themes()
        by = "adding" if found is not None and found.adding else "svd"
        recipe = self.bench.recipe.with_settings("weigh", {"vectors": "", "themes": number, "themes-by": by})
        self.bench.change(self.bench.state.with_recipe(recipe), "weigh: themes")

    def _build_scatter(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        row = QHBoxLayout()
        self.axes: list[QSpinBox] = []
        for words, value in (("Across", 2), ("Upward", 3)):
            row.addWidget(muted(words))
            box = WholeBox()
            box.setRange(1, 1)
            box.setPrefix("theme ")
            box.setProperty("wanted", value)
            box.setAccessibleName(f"{words}: theme")
            box.valueChanged.connect(self._draw_scatter)
            row.addWidget(box)
            self.axes.append(box)
        row.addStretch(1)
        row.addWidget(muted("Drag around documents to pick them", 0.9))
        column.addLayout(row)
        self.canvas = MapCanvas()
        self.canvas.setAccessibleName("Documents by two themes")
        self.canvas.picked.connect(self._picked)
        self.canvas.read_wanted.connect(lambda place: self.read_document(self._row(place)))
        column.addWidget(self.canvas, 1)
        return page

    def take_focus(self) -> None:
        """Give the keyboard to the scree plot."""
        self.scree.setFocus()

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    @property
    def _instead(self) -> str:
        """The space of the later steps where it is none of themes."""
        recipe = self.bench.recipe
        return space_words(recipe) if recipe.weigh.vectors else shown_settings_of("weigh")["space"].said["terms"]

    def summary(self) -> str:
        if self.bench.recipe.weigh.vectors:
            return f"the later steps work on {self._instead}"
        kept = self.bench.recipe.weigh.themes
        return f"the later steps work on {amount(kept, 'theme')}" if kept else "the later steps work on the terms"

    def refresh(self) -> None:
        self._shown = None
        self.made_by.setCurrentIndex(self.made_by.findData(self.bench.recipe.weigh.themes_by))
        self._draw()

    def draw_part(self, part: Part[Any]) -> None:
        if part is THEME_NUMBERS:
            self.numbers.state.show_state()
            if self.bench.ready(THEME_NUMBERS):
                self._list()
            self._draw_shares()
            return
        self.state.show_state()
        self._draw()

    def themes(self) -> Themes | None:
        """The themes that are shown; None before they are there."""
        found = self.bench.results.get(THEMES_AHEAD)
        return found if found is not None and self.bench.results.has(*self.needs, THEMES_AHEAD) else None

    def _kept(self, found: Themes) -> int:
        """The number of themes that the later steps work on."""
        weigh = self.bench.recipe.weigh
        return 0 if weigh.vectors else min(weigh.themes, len(found))

    def _draw(self) -> None:
        found = self.themes()
        if found is None or found is self._shown:
            if found is not None:
                self.scree.show_shares(found.shares, found.elbow, self._kept(found), self._instead)
                self.say()
            return
        self._shown = found
        shares = found.shares
        self.scree.show_shares(shares, found.elbow, self._kept(found), self._instead)
        self.about.setText(
            f"{len(found)} themes that add up leave {found.left:.1%} of all squared weights · {found.rounds} rounds"
            if found.adding
            else f"the first {len(found)} account for {shares.sum():.0%} of all squared weights"
        )
        self.first.setVisible(not found.adding)
        for box in self.axes:
            box.blockSignals(True)
            box.setRange(1, max(len(found), 1))
            box.setValue(min(int(box.property("wanted")), max(len(found), 1)))
            box.blockSignals(False)
        self._theme = min(self._theme, max(len(found) - 1, 0))
        self._list()
        if len(found):
            self.table.go_to(self._theme)
            self._show_theme(self._theme)
        self._show_loadings()
        self._draw_scatter()
        self._draw_shares()
        self.say()

    def _draw_shares(self) -> None:
        """Draw the leaves of themes that add up, where one of them is in front."""
        found, results = self.themes(), self.bench.results
        adding = found is not None and found.adding
        self.leaves.offer(_DOCUMENTS, adding)
        self.leaves.offer(_HOW_MANY, adding)
        if found is None or not adding:
            if self.leaves.front in (_DOCUMENTS, _HOW_MANY):
                self.leaves.show_leaf(0)
            return
        if self.leaves.front == _HOW_MANY:
            self.numbers.show_numbers(
                results[THEME_NUMBERS] if self.bench.ready(THEME_NUMBERS) and results.has(THEME_NUMBERS) else None
            )
        elif self.leaves.front == _DOCUMENTS and self._shares_of is not found:
            self._shares_of = found
            space, corpus = results[SPACE], results[CORPUS]
            named = theme_names(found, space.terms.terms, self.bench.state.themes)
            called = [
                f"{at + 1} {named.get(at) or ' · '.join(strongest(found, at, space.terms.shown, 2))}"
                for at in range(len(found))
            ]
            rows = space.terms.rows
            self.shares.show_documents(corpus.titles.take(rows), found, left_by_document(space, found), called)

    def _list(self) -> None:
        found = self.themes()
        if found is None:
            return
        shown = self.bench.results[SPACE].terms.shown
        shares, whole = found.shares, np.cumsum(found.shares)
        named = theme_names(found, self.bench.results[SPACE].terms.terms, self.bench.state.themes)

        @cache
        def end(theme: int, low: bool) -> str:
            words = strongest(found, theme, shown, 5, low)
            return " · ".join(words) or "none"

        ends = [
            Column("Together", lambda at: f"{whole[at]:.1%}", whole, right=True),
            Column("High end", lambda at: end(at, False), searched=True),
            Column("Low end", lambda at: end(at, True), searched=True),
        ]
        if found.adding:
            ends = [Column("Strongest terms", lambda at: end(at, False), searched=True)]
            if self.bench.ready(THEME_NUMBERS) and self.bench.results.has(THEME_NUMBERS):
                own = self.bench.results[THEME_NUMBERS].own
                if len(own) == len(found):
                    tip = "Mean cosine with the matching theme of either half of the documents"
                    words = [f"{value:.2f}  {stability_words(value)}" for value in own.tolist()]
                    ends.insert(0, Column("Stability", lambda at: words[at], own, tip=tip))
        self.table.show_rows(
            [
                Column("Theme", lambda at: f"{at + 1}", np.arange(len(found)), right=True),
                Column("Name", lambda at: named.get(at, ""), searched=True),
                Column("Share", lambda at: f"{shares[at]:.2%}", shares, right=True, tip="Share of all squared weights"),
                *ends,
            ],
            len(found),
            2 + len(ends) if found.adding else 4,
        )

    def _show_theme(self, theme: int) -> None:
        found = self.themes()
        if found is None or theme >= len(found):
            return
        self._theme = theme
        self.scree.show_current(theme)
        self.first.setVisible(theme == 0 and not found.adding)
        space, corpus = self.bench.results[SPACE], self.bench.results[CORPUS]
        named = theme_names(found, space.terms.terms, self.bench.state.themes)
        self.called.setText(named.get(theme, ""))
        self.which.setText(
            f"Theme {theme + 1}: {'strongest terms and documents' if found.adding else 'terms and documents at both ends'}"
        )

        def ends(column: np.ndarray) -> list[int]:
            order = np.argsort(-column, kind="stable")
            least = _NEXT_TO_NOTHING * float(np.abs(column).max(initial=0.0))
            high = [int(at) for at in order[:_ENDS] if column[at] > least]
            low = [int(at) for at in order[::-1][:_ENDS] if column[at] < -least]
            return [*high, *low[::-1]]

        terms, documents = found.terms[:, theme], found.shown[:, theme]
        self.terms.show_things([(at, space.terms.shown[at], float(terms[at])) for at in ends(terms)])
        self.documents.show_things(
            [(at, corpus.titles[int(space.terms.rows[at])], float(documents[at])) for at in ends(documents)]
        )

    def _name(self) -> None:
        found = self.themes()
        if found is None or self._theme >= len(found):
            return
        bench, terms = self.bench, self.bench.results[SPACE].terms.terms
        name = " ".join(self.called.text().split())
        named = theme_names(found, terms, bench.state.themes)
        if named.get(self._theme, "") == name:
            return
        # What was called so before gives the name up: it hangs on other terms of the same theme.
        state, own = bench.state, set(strongest(found, self._theme, terms))
        for old, called in state.themes:
            if called == named.get(self._theme) and own & set(old):
                state = state.with_theme_named(old, "")
        bench.change(
            state.with_theme_named(strongest(found, self._theme, terms), name), f"name theme {self._theme + 1}"
        )

    def _names_changed(self) -> None:
        if self.themes() is not None and self.isVisible():
            self._list()
            self._show_theme(self._theme)

    # Documents and terms.

    def _row(self, place: int) -> int:
        return int(self.bench.results[SPACE].terms.rows[place])

    def _pick_document(self, place: int) -> None:
        self.bench.pick.set([self._row(place)])
        self.reader.wanted.emit(False)

    def _pick_term(self, column: int, add: bool) -> None:
        term = self.bench.results[SPACE].terms.terms[column]
        self.bench.pick.set_terms([*self.bench.pick.terms, term] if add else [term])

    def _picked(self, places: np.ndarray, add: bool) -> None:
        chosen = self.bench.results[SPACE].terms.rows[np.asarray(places)].tolist()
        self.bench.pick.set([*self.bench.pick.rows, *chosen] if add else chosen, chosen[0] if len(chosen) == 1 else -1)

    def _pick_changed(self) -> None:
        self._show_loadings()
        self._mark_pick()

    def _show_loadings(self) -> None:
        """The themes on which the picked term, or the document that is read, loads most."""
        found = self.themes()
        if found is None or not self.isVisible():
            return
        bench, space = self.bench, self.bench.results[SPACE]
        values, name = None, ""
        if bench.pick.terms:
            row = space.terms.terms.rows_of({bench.pick.terms[-1]}).get(bench.pick.terms[-1])
            if row is not None:
                values, name = found.terms[row], f"The term “{space.terms.shown[row]}”"
        elif bench.pick.rows:
            at = bench.documents.place_of(bench.pick.one)
            if at >= 0:
                values, name = found.shown[at], bench.results[CORPUS].titles[bench.pick.one]
        if values is None:
            self.loader.setText("Pick a document or a term to see its loadings on the themes.")
            self.loadings.show_things([])
            return
        named = theme_names(found, space.terms.terms, bench.state.themes)
        order = np.argsort(-np.abs(values), kind="stable")[:_LOADINGS]
        self.loader.setText(f"{name} loads on")

        def called(theme: int) -> str:
            words = named.get(theme) or " · ".join(strongest(found, theme, space.terms.shown, 3))
            return f"{theme + 1}  {words}"

        self.loadings.show_things([(int(at), called(int(at)), float(values[at])) for at in order])

    def _draw_scatter(self) -> None:
        found = self.themes()
        if found is None or self.leaves.front != 1 or len(found) < 1:
            return
        for box in self.axes:
            box.setProperty("wanted", box.value())
        across, up = (box.value() - 1 for box in self.axes)
        results = self.bench.results
        n = len(results[SPACE].empty)
        places = np.column_stack((found.shown[:, across], found.shown[:, up])).astype(np.float32)
        places[results[SPACE].empty] = np.nan
        category, categories = by_group(self.bench, n)
        self.canvas.show_names = False
        self.canvas.show_points(places, np.ones(n, np.float32), category, categories, stay=True)
        self._mark_pick()

    def _mark_pick(self) -> None:
        rows = self.bench.results[SPACE].terms.rows if SPACE in self.bench.results else np.zeros(0, np.int32)
        if len(rows) == len(self.canvas.positions):
            self.canvas.show_pick(*self.bench.pick.among(rows))


def _scrolled(widget: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setWidget(widget)
    area.setAccessibleName(widget.accessibleName())
    return area
