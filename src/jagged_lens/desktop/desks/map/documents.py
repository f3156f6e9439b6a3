# SPDX-License-Identifier: GPL-3.0-or-later
"""The documents as points: coloured, named, linked, and laid anew round one of them."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QApplication, QLineEdit

from jagged_lens.compare import LONELY, Kind, Pairs, loners, one_against_all
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.map.colouring import GROUP, LIKE, Colouring, choices, colouring
from jagged_lens.desktop.desks.map.forming import Forming
from jagged_lens.desktop.desks.map.hover_card import HoverCard
from jagged_lens.desktop.desks.map.legend import MapLegend
from jagged_lens.desktop.desks.map.picture import picture_piece
from jagged_lens.desktop.desks.map.tools import MapTools
from jagged_lens.desktop.desks.map.writing import Writing
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.plots.map_piles import Piles
from jagged_lens.desktop.reading.document_view import meta
from jagged_lens.desktop.saving import Piece
from jagged_lens.lens import (
    CORPUS,
    GROUPING,
    KEY_TERMS,
    LAID,
    LAYOUT,
    NEIGHBOURS,
    PAIRS,
    SPACE,
    TERMS,
    THEMES,
    TOKENS,
    Part,
)
from jagged_lens.map import rings
from jagged_lens.weigh import in_themes

_CIRCLES = (0.25, 0.5, 0.75, 1.0)
_HINT = "Drag around points to pick · click to read · wheel zooms · right drag moves · 0 shows all"


class DocumentMap(Face):
    name = "Documents"
    needs = (CORPUS, TOKENS, TERMS, SPACE, THEMES, GROUPING, KEY_TERMS, LAYOUT, NEIGHBOURS)
    also = (LAID, PAIRS)
    previews_over = (CORPUS, TERMS)

    def build(self) -> None:
        self._colour_by = GROUP
        self._labels_shown: list[str] = []
        self._likeness: NDArray[np.float32] | None = None
        self._seen_once = self._forms = False
        self._formed_of: tuple[object, ...] = ()  # the map on its way that is drawn, and its groups
        self.loners = 0  # that are marked
        self._piled: Pairs | None = None  # of which the piles are made
        self._piles = Piles()
        self._round = -1  # the row of the lens that the others are laid round; -1: none
        self._round_of = -1  # the same as a row of the corpus, which stays when the lens changes
        self._colouring = Colouring(np.zeros(0, np.int64), ())
        self.canvas = MapCanvas()
        self.legend = MapLegend(self.bench, self.asker)
        self.writing = Writing(self.bench, self.asker, self.canvas)
        self.forming = Forming(self.bench, LAID)
        self.tools = MapTools(Writing.TITLES)
        self.body.addWidget(self.tools)
        self.body.addWidget(self.forming)
        self.body.addWidget(self.canvas, 1)
        self.hint = muted(_HINT, 0.88)
        self.hint.setMinimumWidth(20)
        self.body.addWidget(self.hint)
        self.hover_card = HoverCard(self.canvas)
        self.canvas.picked.connect(self._picked)
        self.canvas.hovered.connect(self._hovered)
        self.canvas.read_wanted.connect(lambda row: self.read_document(int(self._rows()[row])))
        self.canvas.region_picked.connect(self.writing.pick_region)
        self.writing.rows_wanted.connect(self._picked)
        self.legend.rows_wanted.connect(self._pick)
        self.legend.legend.chosen.connect(
            lambda number, add: self._pick(np.flatnonzero(self._colouring.category == number), add)
        )
        self.legend.legend.fade_wanted.connect(self._fade)
        self.legend.legend.lit.connect(self.canvas.light)
        self._connect_tools()
        self.bench.pick.changed.subscribe(self._pick_changed)
        theme.changed.connect(self.look_again)
        self.bench.state_changed.subscribe(self._labels_changed)
        self.keys = [
            ("← ↑ → ↓", "go to the nearest point in that direction; with Shift, extend the pick"),
            ("Space", "read the point"),
            ("+  −  0", "zoom in, zoom out, show all"),
            ("Shift", "while clicking or drawing, add to the pick"),
            ("F, in the legend", "fade a colour, or restore it"),
        ]

    def _connect_tools(self) -> None:
        tools = self.tools
        tools.names_action.toggled.connect(self._show_names)
        tools.terms_action.toggled.connect(self.writing.set_terms)
        tools.titles_chosen.connect(self.writing.set_titles)
        tools.colour_chosen.connect(self.colour_by)
        tools.regions_button.toggled.connect(self.writing.set_regions)
        tools.trust_button.toggled.connect(self._show_rings)
        tools.links_button.toggled.connect(self._show_pairs)
        tools.rings_button.toggled.connect(self._lay_round)
        tools.loners_button.toggled.connect(self._show_loners)
        tools.fit_button.clicked.connect(self.canvas.fit)

    def own_pieces(self) -> list[Piece]:
        return [picture_piece(lambda: (self.canvas, self._legend_lines(), self._caption()))]

    def _unveil(self) -> None:
        focused = self.hasFocus() or not self._seen_once
        self._seen_once = True
        super()._unveil()
        if focused and not isinstance(QApplication.focusWidget(), QLineEdit):
            self.canvas.setFocus()

    # What is shown.

    def refresh(self) -> None:
        self._labels_shown = [label.name for label in self.bench.documents.labels()]
        self.tools.offer_colours(choices(self.bench), self._colour_by)
        self._likeness, self._forms = None, False
        if self._round >= 0:  # other results: the same document, where it is still here
            found = np.flatnonzero(self._rows() == self._round_of)
            self._round = int(found[0]) if len(found) else -1
            self.tools.rings_button.setChecked(self._round >= 0)
        if self._round >= 0 or self._colour_by == LIKE:
            self._ask_likeness()
        self._draw()
        self.legend.show_labels(self.bench.documents.labels())
        self.say()

    def summary(self) -> str:
        laid = self.bench.results[LAYOUT].laid
        placed = ~np.isnan(laid.positions[:, 0])
        words = [amount(int(placed.sum()), "document")]
        if not placed.all():
            words.append(f"{int((~placed).sum()):,} without a place")
        rim = int(laid.rim.sum())
        if rim:
            words.append(f"{amount(rim, 'loner')} at the rim")
        if self.tools.loners_button.isChecked():
            words.append(amount(self.loners, "loner") if self.loners else "no loner")
        piles = self._pile_count()
        if piles:
            words.append(amount(piles, "pile") + " of copies")
        return " · ".join(words)

    def _pile_count(self) -> int:
        return len(self.canvas.piles.together(self.canvas.screen_positions())) if self._round < 0 else 0

    def _caption(self) -> str:
        """The caption of a picture: what it shows, its trust, and the meaning of its marks."""
        said = [f"{self.summary()} · coloured by {self._colour_by}."]
        layout = self.bench.results[LAYOUT]
        if self._round >= 0:
            said.append("Distances from the middle are exact.")
        elif layout.overall == layout.overall:
            said.append(f"{layout.overall:.0%} of nearest neighbours kept. {self._way()}")
            if self.canvas.show_rings and self.canvas.rings:
                said.append("Ring: fewer than a quarter of its nearest neighbours are near it on the map.")
        if self._pile_count():
            said.append("Larger point: a pile of copies.")
        return " ".join(said)

    def _legend_lines(self) -> list[tuple[Any, int]]:
        found = self._colouring
        counts = np.bincount(found.category[found.category >= 0], minlength=len(found.categories))
        return [(one, int(counts[number])) for number, one in enumerate(found.categories)]

    def draw_part(self, part: Part[Any]) -> None:
        """The map on its way, or the pairs of which links and piles are made."""
        if part is PAIRS:
            self._show_pairs()
            return
        laid = self.bench.results.growing.get(LAID) if self.bench.grows(LAID) else None
        self.forming.show_state(laid, self.bench.results[LAID] if self.bench.results.has(LAID) else None)
        if laid is None:
            self._forget_forming()
            return
        if not self.bench.results.has(CORPUS, TERMS) or self._round >= 0:
            return
        n = len(laid.positions)
        if n != len(self._rows()):
            return
        grouping = self.bench.results.get(GROUPING)
        if self._forms and self._formed_of == (laid, grouping):  # no more than the share that is done is new
            return
        self._formed_of = (laid, grouping)
        self._unveil()
        self._forms = True
        category, categories = np.full(n, -1, np.int64), self._colouring.categories
        if self.bench.results.has(GROUPING, KEY_TERMS):
            found = colouring(self.bench, GROUP, None)
            category, categories = found.category, found.categories
        self.canvas.circles = ()
        self.legend.show_forming()
        self.canvas.show_piles(Piles())
        self.canvas.show_regions(())
        self.canvas.show_titles(())
        self.canvas.show_points(laid.positions, np.ones(n, np.float32), category, categories, stay=True)
        self._show_pick()

    def _forget_forming(self) -> None:
        """A map that was on its way came to nothing: the one that was there before is drawn again."""
        if self._forms and not self.bench.working and not self.bench.results.has(LAYOUT):
            self._forms = False
            if self.before_preview.has(*self.needs):
                self.bench.show(self.before_preview)
                self._draw()

    def _draw(self) -> None:
        layout, neighbours = self.bench.results[LAYOUT], self.bench.results[NEIGHBOURS]
        if self._colour_by not in [name for name, _ in choices(self.bench)]:
            self._colour_by = GROUP
        self._colouring = found = colouring(self.bench, self._colour_by, self._likeness)
        self.tools.colour_button.setText(f"Colour: {self._colour_by}")
        positions, trust = layout.positions, layout.trust
        exact = self._round >= 0 and self._likeness is not None
        if exact and self._likeness is not None:
            positions = rings(self._likeness, self.bench.results[GROUPING].group, self._round)
            trust = np.ones(len(positions), np.float32)
        # The shades of an amount lie everywhere: a name in the middle of one would say nothing.
        self.canvas.show_names = self.tools.names_action.isChecked() and not found.amounts
        self.canvas.circles = [(radius, f"{1 - radius:.2f} alike") for radius in _CIRCLES] if exact else ()
        self.canvas.show_points(positions, trust, found.category, found.categories, stay=True)
        self.canvas.neighbours_of = lambda row: neighbours.row[row, :12]
        self._show_pairs()
        self._show_loners()
        self._show_pick()
        placed = ~np.isnan(layout.positions[:, 0])
        head = "Groups" if self._colour_by == GROUP else self._colour_by[:1].upper() + self._colour_by[1:]
        empty = "Read a document: click a point." if self._colour_by == LIKE else ""
        self.legend.show_legend(head, found.category, found.categories, placed, empty)
        if exact:
            corpus = self.bench.results[CORPUS]
            self.legend.show_exact(
                f"The distance from “{corpus.titles[int(self._rows()[self._round])]}” is 1 − similarity. Directions only "
                "separate the groups."
            )
        else:
            self.legend.show_trust(layout, self.canvas.rings if self.tools.trust_button.isChecked() else 0, self._way())
        self.writing.draw(self._round < 0)

    def _way(self) -> str:
        layout = self.bench.results[LAYOUT]
        laid, by = layout.laid, self.bench.results.recipe.map.by
        if by == "t-sne":
            after = f", stopped after {laid.rounds} of {laid.of} rounds" if laid.stopped else ""
            recall = self.bench.results[NEIGHBOURS].recall
            found = f" Approximate neighbours: {recall:.1%} of the true ones found." if recall < 1 else ""
            return f"t-SNE{after}. Near documents lie together; large distances mean little.{found}"
        if by == "scaling":
            return f"Scaling: distances match those in the space as closely as possible; stress {laid.stress:.2f}."
        share = sum(layout.projection.explained)
        unsettled = (
            ""
            if layout.projection.settled
            else " The search has not fully converged: other directions could account for slightly more."
        )
        return f"The two directions account for {share:.1%} of the variance.{unsettled}"

    def colour_by(self, name: str) -> None:
        """Colour by what one of the `choices` names."""
        self._colour_by = name
        self.canvas.faded = set()
        self.legend.legend.show_faded(set())
        if name == LIKE:
            self._ask_likeness()
        if self.bench.results.has(*self.needs):
            self._draw()

    def _labels_changed(self) -> None:
        """Labels of the user's own can be coloured by like those that came with the data."""
        own = [label.name for label in self.bench.state.labels]
        if [label.name for label in self.bench.documents.labels()] != self._labels_shown or self._colour_by in own:
            self.look_again()

    def _show_names(self, shown: bool) -> None:
        self.canvas.show_names = shown and not self._colouring.amounts
        self.canvas.write_anew()

    def _show_rings(self, shown: bool) -> None:
        self.canvas.set_rings(shown)
        if self.bench.results.has(LAYOUT) and self._round < 0:
            self.legend.show_trust(self.bench.results[LAYOUT], self.canvas.rings, self._way())

    def _fade(self, number: int) -> None:
        self.canvas.fade(number)
        self.legend.legend.show_faded(self.canvas.faded)

    def _show_loners(self, _: bool = False) -> None:
        results = self.bench.results
        alone = np.zeros(0, np.int64)
        if self.tools.loners_button.isChecked() and results.has(NEIGHBOURS, SPACE):
            alone = loners(results[NEIGHBOURS], results[SPACE].empty, LONELY)
        self.canvas.show_marked(alone)
        self.loners = len(alone)
        self.say()

    def _show_pairs(self, _: bool = False) -> None:
        pairs: Pairs | None = self.bench.results.get(PAIRS)
        if pairs is None or not self.bench.results.has(PAIRS, TERMS) or pairs.documents != len(self.canvas.positions):
            self.canvas.show_links(np.zeros((0, 2), np.int64))
            self.canvas.show_piles(Piles())
            return
        on = self.tools.links_button.isChecked()
        self.canvas.show_links(np.column_stack((pairs.first, pairs.second)) if on else np.zeros((0, 2), np.int64))
        if pairs is self._piled:
            self.canvas.show_piles(self._piles)
            return

        def show(piles: Piles) -> None:
            self._piled, self._piles = pairs, piles
            if pairs.documents == len(self.canvas.positions):
                self.canvas.show_piles(piles)
                if self.bench.results.has(*self.needs):
                    self.say()

        self.asker.ask("piles", lambda: _piles_of(pairs), show)

    # Round one document.

    def _lay_round(self, on: bool) -> None:
        self._round = -1
        if on:
            row = self._read_row()
            if row < 0:
                self.tools.rings_button.setChecked(False)
                self.forming.say("Read a document first: click a point, then turn on rings around it.")
                return
            self._round, self._round_of = row, int(self._rows()[row])
            self._ask_likeness()
        elif self.bench.results.has(*self.needs):
            self._draw()

    def _read_row(self) -> int:
        """The lens row of the document that is read; -1 where none is."""
        pick = self.bench.pick
        reading = pick.reading if pick.reading >= 0 else (pick.rows[0] if len(pick.rows) == 1 else -1)
        found = np.flatnonzero(self._rows() == reading)
        return int(found[0]) if len(found) else -1

    def _ask_likeness(self) -> None:
        """Find out how alike all documents are to the one that is read."""
        row = self._round if self._round >= 0 else self._read_row()
        if row < 0 or not self.bench.results.has(*self.needs):
            self._likeness = None
            return
        results, measure = self.bench.results, self.bench.results.recipe.compare.measure
        space, themes = results[SPACE], results[THEMES]

        def show(likeness: NDArray[np.float32]) -> None:
            if len(likeness) == len(self._rows()):
                self._likeness = likeness
                self._draw()

        self.asker.ask("likeness", lambda: one_against_all(in_themes(space, themes), measure, row), show)

    # The hand.

    def _rows(self) -> NDArray[np.int32]:
        return self.bench.results[TERMS].rows

    def _pick_changed(self) -> None:
        self._show_pick()
        self.writing.pick_changed()
        if self._colour_by == LIKE and self._round < 0 and self.isVisible():
            self._ask_likeness()

    def _show_pick(self) -> None:
        if TERMS not in self.bench.results:
            return
        rows = self._rows()
        if len(rows) == len(self.canvas.positions):
            self.canvas.show_pick(*self.bench.pick.among(rows))

    def _picked(self, rows: NDArray[np.int64], add: bool) -> None:
        """Points were picked on the map: the reader comes up."""
        self._pick(rows, add)
        if len(rows):
            self.reader.wanted.emit(False)

    def _pick(self, rows: NDArray[np.int64], add: bool) -> None:
        """Pick documents, and leave the leaf beside the map as it is: the next click may be on it, too."""
        own = self._rows()
        documents = own[rows[rows < len(own)]].tolist()
        reading = documents[0] if len(documents) == 1 else -1
        if add:
            self.bench.pick.set((*self.bench.pick.rows, *documents), reading)
        else:
            self.bench.pick.set(documents, reading)

    def _hovered(self, row: int, place: QPointF) -> None:
        if row < 0 or row >= len(self._rows()) or not self.bench.results.has(CORPUS):
            self.hover_card.hide()
            return
        corpus = self.bench.results[CORPUS]
        document = int(self._rows()[row])
        self.hover_card.tell(
            corpus.titles[document], meta(self.bench, document), corpus.texts[document][:600], place, self.canvas.size()
        )


def _piles_of(pairs: Pairs) -> Piles:
    """The families of documents that are the same or were edited."""
    copies = (pairs.family >= 0) & (pairs.kind != Kind.HOLDS)
    ends = np.concatenate((pairs.first[copies], pairs.second[copies])).astype(np.int64)
    family = np.tile(pairs.family[copies], 2).astype(np.int64)
    cells = np.unique(family * max(pairs.documents, 1) + ends)
    return Piles(cells % max(pairs.documents, 1), cells // max(pairs.documents, 1))
