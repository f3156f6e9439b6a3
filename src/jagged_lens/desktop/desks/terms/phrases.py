# SPDX-License-Identifier: GPL-3.0-or-later
"""Phrases: words that stand together more often than by chance; they can be made one word."""

from __future__ import annotations

from functools import partial

import numpy as np
from PyQt6.QtCore import Qt

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.term_asking import TermAsker
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import LENS_ROWS, TOKENS
from jagged_lens.terms import Phrase, phrases, written_forms


class Phrases(Face):
    """places: asks the index of terms, which the desk shares."""

    name = "Phrases"
    needs = (TOKENS, LENS_ROWS)
    places: TermAsker

    def build(self) -> None:
        self.found: list[Phrase] = []
        self.table = TableView("Phrases")
        self.body.addWidget(self.table, 1)
        self.join = Action("Join")
        set_tip(self.join, "Join the current phrase into one word (an own rule of Clean)")
        self.join.clicked.connect(self.join_phrase)
        self.body.addWidget(self.join, 0, Qt.AlignmentFlag.AlignLeft)

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    def refresh(self) -> None:
        self.places.ask("phrases", phrases, self._list_phrases)

    def _list_phrases(self, found: list[Phrase]) -> None:
        self.found = found
        times = np.array([one.times for one in found], np.int64)
        ratio = np.array([one.ratio for one in found])
        columns = [
            Column("Phrase", lambda row: found[row].shown, searched=True),
            Column("Times", lambda row: f"{times[row]:,}", times, right=True),
            Column(
                "G²",
                lambda row: f"{ratio[row]:,.1f}",
                ratio,
                right=True,
                tip="Log-likelihood ratio: distance from chance",
            ),
        ]
        self.table.show_rows(columns, len(found), 0)
        if found:
            self.table.go_to(0)

    def join_phrase(self) -> None:
        """Make the phrase under the cursor one word, by an own rule of Clean."""
        place = self.table.current_row()
        if not 0 <= place < len(self.found):
            return
        words = " ".join(self.found[place].words)
        self.places.ask("actions on a phrase", lambda index: written_forms(index, words), partial(self._join, words))

    def _join(self, words: str, ways: list[tuple[str, int]]) -> None:
        own = list(self.bench.recipe.clean.own_rules)
        own += [rule for way, _ in ways or [(words, 0)] if (rule := f"join: {way.replace('_', ' ')}") not in own]
        self.bench.set("clean", "own-rules", own)
