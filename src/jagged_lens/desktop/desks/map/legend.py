# SPDX-License-Identifier: GPL-3.0-or-later
"""The leaf beside the map: how far to believe it, whether labels lie together, and what its colours stand for."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look.cards import heading, muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.scrolled import scrolled
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.label_choice import LabelChoice
from jagged_lens.desktop.plots.legend_list import LegendList
from jagged_lens.desktop.plots.map_sprites import Category
from jagged_lens.desktop.plots.separation_bars import SeparationBars
from jagged_lens.desktop.plots.trust_bar import TrustBar
from jagged_lens.gather import Label
from jagged_lens.lens import LAYOUT, NEIGHBOURS, TERMS
from jagged_lens.map import MapLayout, Separation, separation, strangers
from jagged_lens.project import Shown

_MOST_LINES = 40


class MapLegend(QWidget):
    """The panel beside the map. rows_wanted(rows of the lens, add): they are to be picked."""

    rows_wanted = pyqtSignal(object, bool)

    def __init__(self, bench: Shown, asker: Asker) -> None:
        super().__init__()
        self._bench, self._asker = bench, asker
        self._found: Separation | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        page = QWidget()
        outer.addWidget(scrolled(page))
        column = QVBoxLayout(page)
        column.setContentsMargins(16, 8, 14, 12)
        column.setSpacing(4)
        self._build_trust(column)
        column.addSpacing(14)
        self._build_separation(column)
        column.addSpacing(14)
        self.legend_head = heading("Groups")
        column.addWidget(self.legend_head)
        self.legend = LegendList()
        set_tip(self.legend, "Click: pick · right click or F: fade · hover: highlight")
        column.addWidget(self.legend)
        self.legend_rest = muted("", 0.85)
        self.legend_rest.setWordWrap(True)
        column.addWidget(self.legend_rest)
        column.addStretch(1)

    def _build_trust(self, column: QVBoxLayout) -> None:
        column.addWidget(heading("Trust of the map"))
        self.overall = PlainLabel()
        self.overall.setWordWrap(True)
        column.addWidget(self.overall)
        self.rings = muted("", 0.88)
        self.rings.setWordWrap(True)
        column.addWidget(self.rings)
        self.bar = TrustBar()
        column.addWidget(self.bar)
        self.way = muted("", 0.85)
        self.way.setWordWrap(True)
        column.addWidget(self.way)

    def _build_separation(self, column: QVBoxLayout) -> None:
        self.separation_card = QWidget()
        column.addWidget(self.separation_card)
        inside = QVBoxLayout(self.separation_card)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(3)
        head = QHBoxLayout()
        head.addWidget(heading("Do labels lie together?"))
        head.addStretch(1)
        self.choice = LabelChoice("Label to examine")
        self.choice.activated.connect(lambda _: self._measure())
        head.addWidget(self.choice)
        inside.addLayout(head)
        inside.addWidget(muted("Nearest neighbours with the same value, %", 0.85))
        self.bars = SeparationBars()
        self.bars.chosen.connect(self._pick_value)
        inside.addWidget(self.bars)
        row = QHBoxLayout()
        self.strangers = muted("", 0.92)
        self.strangers.setWordWrap(True)
        row.addWidget(self.strangers, 1)
        self.pick_strangers = Action("Pick them")
        set_tip(self.pick_strangers, "Pick the documents none of whose 12 nearest neighbours share their value")
        self.pick_strangers.clicked.connect(self._pick_strangers)
        row.addWidget(self.pick_strangers)
        inside.addLayout(row)

    def show_trust(self, layout: MapLayout, rings: int, way: str) -> None:
        """Say how far a layout can be believed. rings: points below a quarter. way: how it was made, in words."""
        placed = int((~np.isnan(layout.positions[:, 0])).sum())
        known = layout.overall == layout.overall
        self.overall.setText(
            f"{layout.overall:.0%} of nearest neighbours kept." if known else "Too few points to tell."
        )
        few = (
            f"{rings / placed:.0%} of points are rings: read them before you trust their place."
            if rings and placed
            else ""
        )
        self.rings.setText(few)
        self.rings.setVisible(bool(few))
        self.bar.setVisible(known)
        same = layout.laid.positions is layout.projection.positions
        self.bar.show_shares(layout.overall, float("nan") if same else layout.components)
        self.way.setText(way)

    def show_forming(self) -> None:
        """Say that the map is on its way."""
        self.overall.setText("The map is forming.")
        for widget in (self.rings, self.bar, self.separation_card):
            widget.hide()
        self.way.setText("Its trust is measured once it has settled.")

    def show_exact(self, words: str) -> None:
        """Say that the picture is exact, and what it shows."""
        self.overall.setText("This picture is exact.")
        self.rings.setText(words)
        self.rings.setVisible(True)
        self.bar.hide()
        self.way.setText("")

    def show_labels(self, labels: Sequence[Label]) -> None:
        """Measure how well a label separates; the one that was chosen stays if it is there."""
        self.choice.offer(labels)
        self.separation_card.setVisible(bool(labels))
        self._measure()

    def _measure(self) -> None:
        label = self.choice.label
        results = self._bench.results
        if label is None or not self._bench.results.has(NEIGHBOURS, LAYOUT, TERMS):
            return
        codes, neighbours, layout = label.codes[results[TERMS].rows], results[NEIGHBOURS], results[LAYOUT]

        def show(found: Separation) -> None:
            self._found = found
            values = found.values[: _MOST_LINES - 1].tolist()
            lines = [("all", found.all_space, found.all_map, found.all_chance)]
            lines += [
                (label.values[value], float(found.space[at]), float(found.on_map[at]), float(found.chance[at]))
                for at, value in enumerate(values)
            ]
            self.bars.show_lines(lines)
            count = len(strangers(found))
            self.strangers.setText(
                f"{amount(count, 'document')} without a neighbour of the same value"
                if count
                else "Every document has a neighbour of the same value."
            )
            self.pick_strangers.setVisible(count > 0)

        self._asker.ask("separation", lambda: separation(codes, label.none, neighbours, layout), show)

    def _pick_value(self, line: int, add: bool) -> None:
        """The documents of a value that stand among strangers: of the first line, those of all."""
        label = self.choice.label
        if self._found is None or label is None:
            return
        rows = strangers(self._found)
        if line > 0:
            codes = label.codes[self._bench.results[TERMS].rows]
            rows = rows[codes[rows] == self._found.values[line - 1]]
        self.rows_wanted.emit(rows, add)

    def _pick_strangers(self) -> None:
        if self._found is not None:
            self.rows_wanted.emit(strangers(self._found), False)

    def show_legend(
        self,
        head: str,
        category: NDArray[np.int64],
        categories: Sequence[Category],
        placed: NDArray[np.bool_],
        empty: str = "",
    ) -> None:
        """Show what the colours stand for. head: what they are, in a word. placed: bool, n, whose documents are on the map.
        empty: what is said where nothing has a colour.
        """
        counts = np.bincount(category[placed & (category >= 0)], minlength=len(categories))
        self.legend_head.setText(head)
        lines = [(one, number, int(counts[number])) for number, one in enumerate(categories)]
        self.legend.show_lines([line for line in lines if line[2]])
        rest = int((placed & (category < 0)).sum())
        self.legend_rest.setText((f"{rest:,} without a colour" if lines else empty) if rest else "")
        self.legend_rest.setVisible(bool(rest))
