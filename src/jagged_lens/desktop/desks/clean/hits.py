# SPDX-License-Identifier: GPL-3.0-or-later
"""The text that a rule removed, in its context."""

from __future__ import annotations

from PyQt6.QtCore import Qt

from jagged_lens.clean import Reason
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look.words import RULES, amount
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.explain import Hit, rule_hits
from jagged_lens.lens import CORPUS, TOKENS

_BEFORE = 32  # characters


class Hits(Face):
    name = "Hits"
    needs = (CORPUS, TOKENS)

    def build(self) -> None:
        self.rule = Reason.KEPT
        self.found: list[Hit] = []
        self.table = TableView("What the rule removed")
        self.table.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.table.row_changed.connect(self._read)
        self.table.read_wanted.connect(self._read)
        self.body.addWidget(self.table)

    def show_rule(self, rule: Reason) -> None:
        """Show what a rule took."""
        self.rule = rule
        if rule == Reason.KEPT:
            if self.found:
                self._list_hits([])
        elif self.bench.results.has(*self.needs):
            corpus, tokens = self.bench.results[CORPUS], self.bench.results[TOKENS]
            self.asker.ask("hits of a rule", lambda: rule_hits(corpus, tokens, rule), self._list_hits)

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    def summary(self) -> str:
        if self.rule == Reason.KEPT:
            return "Choose a rule above"
        return f"{RULES[self.rule.name]}: {amount(len(self.found), 'example')}"

    def refresh(self) -> None:
        self.show_rule(self.rule)
        self.say()

    def _list_hits(self, found: list[Hit]) -> None:
        self.found = found
        corpus = self.bench.results[CORPUS]
        columns = [
            Column("Before", lambda row: "…" + found[row].before[-_BEFORE:], right=True, searched=True),
            Column("Removed", lambda row: found[row].taken, searched=True, ink=lambda row: "madder"),
            Column("After", lambda row: found[row].after, searched=True),
            Column("Document", lambda row: corpus.titles[found[row].row], searched=True),
        ]
        self.table.show_rows(columns, len(found), 2)
        self.say()

    def _read(self, place: int) -> None:
        if 0 <= place < len(self.found):
            self.read_document(self.found[place].row)
