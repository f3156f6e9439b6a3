"""Rules that the collection suggests, each with its reason; they are taken over or refused."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QPushButton

from jagged_lens.clean import Suggestion, suggestions
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import TOKENS


class Suggested(Face):
    name = "Suggested"
    needs = (TOKENS,)

    def build(self) -> None:
        self.suggested: list[Suggestion] = []
        self.table = TableView("Suggested rules")
        self.body.addWidget(self.table, 1)
        row = QHBoxLayout()
        self.take = QPushButton("Take it over")
        self.take.setToolTip("Add this rule to the own rules of the lens; undo takes it back")
        self.take.clicked.connect(self.take_suggestion)
        self.refuse = QPushButton("Not this one")
        self.refuse.setToolTip("Do not suggest this rule again in this project; undo brings it back")
        self.refuse.clicked.connect(self.refuse_suggestion)
        for button in (self.take, self.refuse):
            row.addWidget(button)
        row.addStretch(1)
        self.body.addLayout(row)
        self.bench.state_changed.subscribe(self.look_again)

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    def summary(self) -> str:
        return amount(len(self.suggested), "suggestion")

    def refresh(self) -> None:
        tokens = self.bench.results[TOKENS]
        self.asker.ask("suggested rules", lambda: suggestions(tokens), self._list_suggestions)
        self.say()

    def _list_suggestions(self, found: list[Suggestion]) -> None:
        refused, own = self.bench.state.refused, set(self.bench.recipe.clean.own_rules)
        self.suggested = shown = [one for one in found if one.rule not in refused and one.rule not in own]
        documents = np.array([one.documents for one in shown], np.int64)
        columns = [
            Column("Rule", lambda row: shown[row].rule, searched=True),
            Column("Why", lambda row: shown[row].why, searched=True),
            Column("Documents", lambda row: f"{documents[row]:,}", documents, right=True),
        ]
        self.table.show_rows(columns, len(shown), [30, 50, 12], 1)
        if shown:
            self.table.go_to(0)
        self.say()

    def _chosen(self) -> Suggestion | None:
        place = self.table.current_row()
        return self.suggested[place] if 0 <= place < len(self.suggested) else None

    def take_suggestion(self) -> None:
        """Make the suggestion under the cursor a rule of the lens."""
        chosen = self._chosen()
        if chosen is not None:
            self.bench.set("clean", "own-rules", [*self.bench.recipe.clean.own_rules, chosen.rule])

    def refuse_suggestion(self) -> None:
        """Do not suggest this again."""
        chosen = self._chosen()
        if chosen is not None:
            self.bench.change(self.bench.state.with_refused(chosen.rule), f"refuse {chosen.rule}")
