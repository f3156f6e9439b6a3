# SPDX-License-Identifier: GPL-3.0-or-later
"""The text on the map of documents: regions with their terms, and titles."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, LAYOUT, SPACE, TERMS
from jagged_lens.map import Region, regions, term_places
from jagged_lens.project import Shown

_LONGEST = 60
_MOST = 600
_MOST_TERMS = 120


class Writing(QObject):
    """Asks for regions whenever the picture rests, and chooses which titles are worth writing first.

    rows_wanted(rows of the lens, add): they are to be picked.
    """

    TITLES = ("none", "as room allows", "only for the pick")
    rows_wanted = pyqtSignal(object, bool)

    def __init__(self, bench: Shown, asker: Asker, canvas: MapCanvas) -> None:
        super().__init__(canvas)
        self._bench, self._asker, self._canvas = bench, asker, canvas
        self._regions: list[Region] = []
        self._on, self._terms, self._titles, self._whole = True, False, self.TITLES[0], True
        canvas.rested.connect(self._rested)
        canvas.rested.connect(self._titles_moved)
        bench.pick.terms_changed.subscribe(self._write_terms)

    def draw(self, whole: bool) -> None:
        """The points have changed. whole: whether it is a map, on which crowded places mean something."""
        self._whole = whole
        self._rested()
        self._write_titles()
        self._write_terms()

    def set_terms(self, on: bool) -> None:
        """Lay terms in where their documents lie, or do not."""
        self._terms = on
        self._write_terms()

    def _write_terms(self) -> None:
        bench = self._bench
        if not self._terms or not self._whole or not bench.results.has(TERMS, SPACE, KEY_TERMS, LAYOUT):
            self._canvas.show_laid_in(())
            return
        space, positions = bench.results[SPACE], self._canvas.positions
        terms, picked = bench.results[TERMS], set(bench.pick.terms)
        telling = bench.results[KEY_TERMS].terms.T.ravel()

        def find() -> list[tuple[str, float, float]]:
            places = term_places(space, positions)
            own = np.isin(terms.kept, np.array(sorted(terms.vocabulary.terms.rows_of(picked).values()), np.int64))
            # Those that are picked, then those that tell groups: what stands everywhere lies in the middle and says nothing.
            wanted = np.concatenate((np.flatnonzero(own), telling[telling >= 0]))
            _, first = np.unique(wanted, return_index=True)
            order = wanted[np.sort(first)][:_MOST_TERMS] if terms.column is None else np.zeros(0, np.int64)
            order = order[~np.isnan(places[order, 0])]
            return [(terms.shown[int(at)], float(places[at, 0]), float(places[at, 1])) for at in order]

        def show(found: list[tuple[str, float, float]]) -> None:
            if self._terms and self._whole and positions is self._canvas.positions:
                self._canvas.show_laid_in(found)

        self._asker.ask("terms laid in", find, show)

    def set_regions(self, on: bool) -> None:
        """Name regions, or do not."""
        self._on = on
        self._rested()

    def set_titles(self, which: str) -> None:
        """The titles to write: one of TITLES."""
        self._titles = which
        self._write_titles()

    def pick_changed(self) -> None:
        """Other documents are picked."""
        if self._titles == self.TITLES[2]:
            self._write_titles()

    def pick_region(self, number: int) -> None:
        """Pick the documents of a region."""
        if number < len(self._regions):
            self.rows_wanted.emit(self._regions[number].rows, False)

    def _rested(self) -> None:
        bench = self._bench
        if not self._on or not self._whole or not bench.results.has(TERMS, LAYOUT):
            self._regions = []
            self._canvas.show_regions(())
            return
        terms, positions, seen = bench.results[TERMS], self._canvas.positions, self._canvas.seen()

        def show(found: list[Region]) -> None:
            if self._on and self._whole and positions is self._canvas.positions:
                self._regions = found
                self._canvas.show_regions(
                    [(" · ".join(terms.shown[column] for column in one.columns), *one.middle) for one in found]
                )

        self._asker.ask("regions", lambda: regions(positions, seen, terms), show)

    def _titles_moved(self) -> None:
        if self._titles != self.TITLES[0]:
            self._write_titles()

    def _write_titles(self) -> None:
        bench = self._bench
        if self._titles == self.TITLES[0] or not bench.results.has(CORPUS, TERMS, GROUPING):
            self._canvas.show_titles(())
            return
        rows, corpus = bench.results[TERMS].rows, bench.results[CORPUS]
        # The most typical of their groups first: they say most about what lies around them.
        order = np.argsort(-bench.results[GROUPING].closeness, kind="stable")
        picked = np.isin(rows, np.array(bench.pick.rows, np.int64))
        order = order[picked[order]] if self._titles == self.TITLES[2] else order
        order = np.concatenate((order[picked[order]], order[~picked[order]]))
        self._canvas.show_titles(
            [(int(row), corpus.titles[int(rows[row])][:_LONGEST]) for row in self._in_sight(order)]
        )

    def _in_sight(self, order: np.ndarray) -> list[int]:  # type: ignore[type-arg]
        left, low, width, height = self._canvas.seen()
        x, y = self._canvas.positions[order].T
        inside = (x >= left) & (x <= left + width) & (y >= low) & (y <= low + height)
        return [int(row) for row in order[inside][:_MOST]]
