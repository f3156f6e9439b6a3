# SPDX-License-Identifier: GPL-3.0-or-later
"""Links: documents joined where they are alike, and those that have nobody near."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from jagged_lens.compare import LONELY, loners
from jagged_lens.desktop.desks.by_group import by_group
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look.cards import heading, muted_line
from jagged_lens.desktop.look.controls import Action, Switch
from jagged_lens.desktop.look.number_boxes import DecimalBox
from jagged_lens.desktop.look.plain import set_tip, show_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.saving import Piece, one_kind
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.export import write_links
from jagged_lens.lens import CORPUS, GROUPING, LINKS, NEIGHBOURS, PAIRS, SPACE, Part
from jagged_lens.map import Links

_TITLED = 400


class LinksFace(Face):
    """pair_wanted(first, second): both are to be read in full width."""

    name = "Links"
    needs = (CORPUS, SPACE, GROUPING, NEIGHBOURS, PAIRS)
    also = (LINKS,)
    pair_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self._shown: object = None
        self._loners = np.zeros(0, np.int64)
        row = QHBoxLayout()
        self.about = muted_line()
        row.addWidget(self.about, 1)
        self.state = PartState(self.bench, LINKS, "the network")
        row.addWidget(self.state)
        self.titles = Switch("Titles")
        set_tip(self.titles, "Show as many titles as there is room for")
        self.titles.toggled.connect(self._show_titles)
        row.addWidget(self.titles)
        self.fit = Action("Show all")
        self.fit.clicked.connect(lambda: self.canvas.fit())
        row.addWidget(self.fit)
        self.body.addLayout(row)
        split = QSplitter(Qt.Orientation.Horizontal)
        self.canvas = MapCanvas()
        self.canvas.setAccessibleName("Network of similar documents")
        self.canvas.picked.connect(self._picked)
        self.canvas.hovered.connect(self._hovered)
        self.canvas.read_wanted.connect(self._read)
        split.addWidget(self.canvas)
        lists = QWidget()
        column = QVBoxLayout(lists)
        column.setContentsMargins(6, 0, 0, 0)
        column.addWidget(heading("Connected components"))
        self.parts = TableView("Connected components of the network")
        self.parts.row_changed.connect(self._pick_part)
        self.parts.read_wanted.connect(lambda _: self.read())
        column.addWidget(self.parts, 1)
        head = QHBoxLayout()
        head.addWidget(heading("Loners"))
        self.alone = muted_line()
        head.addWidget(self.alone, 1)
        self.below = DecimalBox()
        self.below.setRange(0.01, 1.0)
        self.below.setSingleStep(0.01)
        self.below.setValue(LONELY)
        self.below.setPrefix("below ")
        self.below.setAccessibleName("Loners: similarity to the nearest below")
        self.below.valueChanged.connect(self._list_loners)
        head.addWidget(self.below)
        self.pick_loners = Action("Pick")
        set_tip(self.pick_loners, "Pick all loners")
        self.pick_loners.clicked.connect(
            lambda: self.bench.pick.set(self.bench.results[SPACE].terms.rows[self._loners].tolist())
        )
        head.addWidget(self.pick_loners)
        column.addLayout(head)
        self.loners = TableView("Loners")
        self.loners.setProperty(PICKS, True)
        self.loners.row_changed.connect(self._pick_loner)
        self.loners.read_wanted.connect(lambda _: self.read())
        column.addWidget(self.loners, 1)
        split.addWidget(lists)
        split.setSizes([340, 330])
        split.setChildrenCollapsible(False)
        self.body.addWidget(split, 1)
        self.bench.pick.changed.subscribe(self._show_pick)

    def take_focus(self) -> None:
        """Give the keyboard to the picture."""
        self.canvas.setFocus(Qt.FocusReason.OtherFocusReason)

    def refresh(self) -> None:
        self._list_loners()
        self._draw(self.bench.results.get(LINKS) if self.bench.results.has(LINKS) else None, anew=True)

    def draw_part(self, part: Part[Any]) -> None:
        self.state.show_state()
        if not self.bench.results.has(*self.needs):
            return
        so_far = self.bench.results.growing.get(LINKS)
        self._draw(so_far or (self.bench.results.get(LINKS) if self.bench.results.has(LINKS) else None))

    def filter(self, words: str) -> None:
        self.loners.listed.filter(words)

    def _links(self) -> Links | None:
        return self._shown if isinstance(self._shown, Links) else None

    def _draw(self, links: Links | None, anew: bool = False) -> None:
        if links is None or (links is self._shown and not anew):
            return
        self._shown = links
        results = self.bench.results
        group, categories = by_group(self.bench, len(results[SPACE].empty))
        ones = np.ones(len(links), np.float32)
        self.canvas.show_names = False
        self.canvas.show_points(links.positions, ones, group[links.rows], categories)
        similarity = results[PAIRS].similarity[links.pair]
        low = float(similarity.min(initial=1.0))
        strength = (similarity - low) / max(1 - low, 1e-6)
        self.canvas.show_links(np.column_stack((links.first, links.second)), strength)
        self.canvas.fit()
        self._show_titles()
        fewer = f" of {links.of:,}, of the most similar pairs" if links.of > len(links) else ""
        self.about.setText(
            f"{amount(len(links), 'document')}{fewer} · {amount(len(links.pair), 'link')}; the thicker, the more similar"
            if len(links)
            else "No pair is this similar. Lower the limit for pairs."
        )
        self._list_parts(links)
        self._show_pick()

    def _list_parts(self, links: Links) -> None:
        corpus, rows = self.bench.results[CORPUS], self.bench.results[SPACE].terms.rows
        count = int(links.part.max(initial=-1)) + 1
        sizes = np.bincount(links.part, minlength=count)
        inside = np.bincount(links.part[links.first], minlength=count) if len(links.first) else np.zeros(count, int)
        first = np.searchsorted(np.sort(links.part), np.arange(count))
        member = links.rows[np.argsort(links.part, kind="stable")][first] if count else links.rows
        self.parts.show_rows(
            [
                Column("Documents", lambda at: f"{sizes[at]:,}", sizes, right=True),
                Column("Links", lambda at: f"{inside[at]:,}", inside, right=True),
                Column("One of them", lambda at: corpus.titles[int(rows[member[at]])], searched=True),
            ],
            count,
            2,
        )

    def _list_loners(self) -> None:
        if not self.bench.results.has(*self.needs):
            return
        results = self.bench.results
        corpus, rows, near = results[CORPUS], results[SPACE].terms.rows, results[NEIGHBOURS]
        self._loners = alone = loners(near, results[SPACE].empty, self.below.value())
        nearest = near.similarity[alone, 0] if near.similarity.shape[1] else np.zeros(len(alone), np.float32)
        self.alone.setText(f"{len(alone):,}")
        self.loners.show_rows(
            [
                Column("Document", lambda at: corpus.titles[int(rows[alone[at]])], searched=True),
                Column("Nearest", lambda at: f"{nearest[at]:.3f}", nearest, right=True),
            ],
            len(alone),
            0,
        )

    def _pick_part(self, part: int) -> None:
        links = self._links()
        if links is not None:
            self.bench.pick.set(self._corpus_rows(np.flatnonzero(links.part == part)))

    def _pick_loner(self, at: int) -> None:
        if at < len(self._loners):
            self.bench.pick.set([int(self.bench.results[SPACE].terms.rows[self._loners[at]])])
            self.reader.wanted.emit(False)

    def _corpus_rows(self, places: np.ndarray) -> list[int]:
        links = self._links()
        return self.bench.results[SPACE].terms.rows[links.rows[places]].tolist() if links is not None else []

    def _picked(self, places: np.ndarray, add: bool) -> None:
        chosen = self._corpus_rows(np.asarray(places))
        self.bench.pick.set([*self.bench.pick.rows, *chosen] if add else chosen, chosen[0] if len(chosen) == 1 else -1)

    def _show_pick(self) -> None:
        links = self._links()
        if links is None or not self.isVisible() or SPACE not in self.bench.results:
            return
        rows = self.bench.results[SPACE].terms.rows
        if len(links) and int(links.rows.max()) < len(rows):
            self.canvas.show_pick(*self.bench.pick.among(rows[links.rows]))

    def _hovered(self, place: int, at: QPointF) -> None:
        links = self._links()
        if links is not None and 0 <= place < len(links):
            title = self.bench.results[CORPUS].titles[self._corpus_rows(np.array([place]))[0]]
            degree = int((links.first == place).sum() + (links.second == place).sum())
            show_tip(self.canvas.mapToGlobal(at.toPoint()), f"{title}: {amount(degree, 'link')}", self.canvas)

    def _read(self, place: int) -> None:
        """Read a document with the most similar of those it is linked to."""
        links = self._links()
        if links is None:
            return
        own = np.flatnonzero((links.first == place) | (links.second == place))
        if len(own):
            best = int(own[self.bench.results[PAIRS].similarity[links.pair[own]].argmax()])
            self.pair_wanted.emit(int(links.rows[links.first[best]]), int(links.rows[links.second[best]]))

    def _show_titles(self) -> None:
        links = self._links()
        if links is None:
            return
        corpus = self.bench.results[CORPUS]
        degree = np.bincount(np.concatenate((links.first, links.second)), minlength=len(links))
        most = np.argsort(-degree, kind="stable")[:_TITLED] if self.titles.isChecked() else np.zeros(0, np.int64)
        rows = self._corpus_rows(most)
        self.canvas.show_titles([(int(at), corpus.titles[row]) for at, row in zip(most, rows, strict=True)])

    def own_pieces(self) -> list[Piece]:
        if not self.bench.results.has(*self.needs):
            return []
        results, bench = self.bench.results, self.bench

        def write(path: Path) -> None:
            group, _ = by_group(bench, len(results[SPACE].empty))
            labels = bench.documents.labels()
            corpus, rows, pairs = results[CORPUS], results[SPACE].terms.rows, results[PAIRS]
            write_links(path, corpus, rows, pairs, group, labels)

        return [Piece("The network of all listed pairs", "links", one_kind("GraphML (.graphml)", ".graphml", write))]
