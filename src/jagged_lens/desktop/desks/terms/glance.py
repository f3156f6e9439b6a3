# SPDX-License-Identifier: GPL-3.0-or-later
"""The kept terms at a glance: a strip of the most frequent ones for each length."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QScrollArea

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.term_strips import TermStrips
from jagged_lens.lens import TERMS

_EACH = 100


class Glance(Face):
    """term_chosen: a row of the vocabulary."""

    name = "At a glance"
    needs = (TERMS,)
    term_chosen = pyqtSignal(int)

    def build(self) -> None:
        self.strips = TermStrips()
        self.strips.chosen.connect(self.term_chosen)
        self.strips.picked.connect(self._pick_terms)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(self.strips)
        self.body.addWidget(area)

    def _pick_terms(self, frequency: int) -> None:
        """Choose every term at or above a frequency in the vocabulary."""
        terms = self.bench.results[TERMS]
        rows = terms.kept[terms.vocabulary.times[terms.kept] >= frequency] if frequency else np.zeros(0, np.int64)
        self.bench.pick.set_terms(terms.vocabulary.terms.at_rows(rows))
        self.said.emit(f"{amount(len(rows), 'term')} with {frequency:,} occurrences or more" if frequency else "")

    def refresh(self) -> None:
        terms = self.bench.results[TERMS]
        strips = []
        lengths = terms.vocabulary.lengths[terms.kept]
        for length in np.unique(lengths).tolist():
            at = np.flatnonzero(lengths == length)[:_EACH]  # the vocabulary is in order of times
            title = f"{length} {'word' if length == 1 else 'words'}"
            entries = [
                (terms.shown[int(c)], int(terms.vocabulary.times[terms.kept[c]]), int(terms.kept[c])) for c in at
            ]
            strips.append((title, entries))
        self.strips.show_strips(strips)
