# SPDX-License-Identifier: GPL-3.0-or-later
"""Rules that the collection suggests, each with its reason; they are taken over or refused."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QModelIndex
from PyQt6.QtWidgets import QHBoxLayout

from jagged_lens.clean import Suggestion, suggestions
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import TOKENS


class Suggested(Face):
    name = "Suggested"
    needs = (TOKENS,)

    def build(self) -> None:
        self.suggested: list[Suggestion] = []
        self.ticked: set[str] = set()
        self.table = TableView("Suggested rules")
        self.table.clicked.connect(self._clicked)
        self.table.read_wanted.connect(self.tick)
        self.body.addWidget(self.table, 1)
        row = QHBoxLayout()
        self.take = Action("Add rules")
        set_tip(self.take, "Add the ticked rules to the lens's own rules in one step; undo removes them")
        self.take.clicked.connect(self.take_ticked)
        self.refuse = Action("Dismiss")
        set_tip(self.refuse, "Do not suggest the ticked rules again in this project; undo restores them")
        self.refuse.clicked.connect(self.refuse_ticked)
        self.tick_all = Action("Tick all")
        self.tick_all.clicked.connect(self._tick_all)
        for button in (self.take, self.refuse, self.tick_all):
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
        self.ticked &= {one.rule for one in shown}
        columns = [
            Column("Tick", lambda row: "☑" if shown[row].rule in self.ticked else "☐", tip="Click, or press Space"),
            Column("Rule", lambda row: shown[row].rule, searched=True),
            Column("Why", lambda row: shown[row].why, searched=True),
            Column("Documents", lambda row: f"{documents[row]:,}", documents, right=True),
        ]
        self.table.show_rows(columns, len(shown), 2)
        if shown:
            self.table.go_to(0)
        self._say_ticked()

    # Ticking.

    def tick(self, place: int) -> None:
        """Tick a suggestion, or tick it no more."""
        if 0 <= place < len(self.suggested):
            self.ticked ^= {self.suggested[place].rule}
            self._say_ticked()

    def _clicked(self, index: QModelIndex) -> None:
        if index.column() == 0:
            self.tick(self.table.current_row())

    def _tick_all(self) -> None:
        every = {one.rule for one in self.suggested}
        self.ticked = set() if self.ticked == every else every
        self._say_ticked()

    def _say_ticked(self) -> None:
        count = len(self.ticked)
        self.take.setText(f"Add {count:,}" if count else "Add rules")
        for button in (self.take, self.refuse):
            button.setEnabled(count > 0)
        self.tick_all.setVisible(bool(self.suggested))
        self.table.viewport().update()  # type: ignore[union-attr]
        self.say()

    def _in_order(self) -> list[str]:
        return [one.rule for one in self.suggested if one.rule in self.ticked]

    def take_ticked(self) -> None:
        """Make the ticked suggestions rules of the lens, in one step."""
        rules = self._in_order()
        if rules:
            self.bench.set("clean", "own-rules", [*self.bench.recipe.clean.own_rules, *rules])

    def refuse_ticked(self) -> None:
        """Do not suggest the ticked ones again."""
        state = self.bench.state
        for rule in self._in_order():
            state = state.with_refused(rule)
        if state is not self.bench.state:
            self.bench.change(state, f"refuse {amount(len(self.ticked), 'suggestion')}")
