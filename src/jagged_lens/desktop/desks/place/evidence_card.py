# SPDX-License-Identifier: GPL-3.0-or-later
"""The evidence in one document for a value and against another, term by term."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QVBoxLayout

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.plots.end_bars import EndBars
from jagged_lens.lens import CORPUS, SPACE, SUGGESTIONS, TERMS, THEMES
from jagged_lens.place import Evidence, Suggestions, evidence
from jagged_lens.project import Shown

_SIDES = 9


class EvidenceCard(QFrame):
    """term_wanted(row, column): how the weight of a term in a document of the lens comes about."""

    term_wanted = pyqtSignal(int, int)

    def __init__(self, bench: Shown, asker: Asker) -> None:
        super().__init__()
        self.setObjectName("card")
        self._bench = bench
        self._asker = asker
        self._place = -1
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 7, 10, 8)
        column.setSpacing(3)
        self.document = ElidedLabel()
        self.document.setFont(theme.ui_font(0.95, bold=True))
        column.addWidget(self.document)
        self.words = muted()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.bars = EndBars("Terms for the value, and for the other")
        self.bars.chosen.connect(lambda term, _: self.term_wanted.emit(self._place, term))
        column.addWidget(self.bars)
        column.addStretch(1)
        self.say_nothing()

    def say_nothing(self) -> None:
        """No document is read."""
        self._place = -1
        self.document.setText("")
        self.bars.hide()
        self.words.setText("Choose a document to see the terms for either value.")

    def show_document(self, place: int, value: int, other: int) -> None:
        """Tell what speaks for a value, and what for another, in a document of the lens (its row there)."""
        bench = self._bench
        if not bench.results.has(CORPUS, SPACE, THEMES, TERMS, SUGGESTIONS) or min(value, other) < 0:
            self.say_nothing()
            return
        results = bench.results
        found, space, themes = results[SUGGESTIONS], results[SPACE], results[THEMES]
        self._place = place
        self.document.setText(results[CORPUS].titles[int(space.terms.rows[place])])
        self._asker.ask(
            "evidence",
            lambda: evidence(found, space, themes, place, value, other),
            lambda told: self._show(found, told),
        )

    def _show(self, found: Suggestions, told: Evidence) -> None:
        if not self._bench.results.has(SUGGESTIONS, TERMS) or self._bench.results[SUGGESTIONS] is not found:
            return
        one, other = found.values[told.value], found.values[told.other]
        times = float(np.exp(min(abs(told.lead), 50)))
        likelier, less = (one, other) if told.lead >= 0 else (other, one)
        often = f"{times:,.1f}" if times < 100 else f"{times:,.0f}" if times < 1e6 else "over a million"
        terms = (
            f"Its vector adds {told.vector:+.2f}, which cannot be split into terms; with"
            if told.vector
            else f"Right: for {one}; left: for {other}. The terms, and"
        )
        self.words.setText(
            f"{likelier} is {often} times as likely as {less}. {terms} {told.intercept:+.2f} for the frequency of both values, "
            f"{'that makes' if told.vector else 'add up to'} {told.lead:+.2f}."
        )
        shown = self._bench.results[TERMS].shown
        values = told.values
        first = [at for at in range(min(_SIDES, len(values))) if values[at] > 0]
        last = [at for at in range(max(len(values) - _SIDES, len(first)), len(values)) if values[at] < 0]
        things = [(int(told.columns[at]), shown[int(told.columns[at])], float(values[at])) for at in first + last]
        self.bars.show_things(things)
        self.bars.show()
