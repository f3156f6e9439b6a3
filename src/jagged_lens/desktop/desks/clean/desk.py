# SPDX-License-Identifier: GPL-3.0-or-later
"""The Clean desk: what each rule took, switched on and off there; below it what became of every word, and more rules."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout

from jagged_lens.clean import DETECTED, Reason
from jagged_lens.desktop.desks.clean.hits import Hits
from jagged_lens.desktop.desks.clean.suggested import Suggested
from jagged_lens.desktop.desks.clean.trying import Trying
from jagged_lens.desktop.desks.clean.words import Words
from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.look.cards import card, muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.words import RULES, amount
from jagged_lens.desktop.plots.rule_bars import RuleBars, RuleLine
from jagged_lens.desktop.saving import Kind, Order, Piece, table_kinds
from jagged_lens.export import Known, cleaned_texts, write_texts
from jagged_lens.lens import CORPUS, LENS_ROWS, TOKENS

_TAKE_OUT = {
    Reason.MARKUP: "markup",
    Reason.WEB_ADDRESS: "web-addresses",
    Reason.MAIL_ADDRESS: "mail-addresses",
    Reason.SYMBOL: "symbols",
    Reason.RECURRING_LINE: "recurring-lines",
    Reason.RECURRING_SENTENCE: "recurring-sentences",
}
_ON_TEXT = {**_TAKE_OUT, Reason.PATTERN: "pattern"}


class CleanDesk(Desk):
    step = "clean"
    needs = (CORPUS, TOKENS)
    faces = (Words, Hits, Suggested, Trying)

    def build(self) -> None:
        self.tools.addWidget(self.filter_field("Filter this list ( / )"))
        frame, column = card()
        column.setContentsMargins(12, 8, 12, 6)
        self.bars = RuleBars()
        self.bars.switched.connect(self._switch)
        self.bars.chosen.connect(self._show_hits)
        column.addWidget(self.bars)
        row = QHBoxLayout()
        self.lost = muted()
        self.lost.setWordWrap(True)
        row.addWidget(self.lost, 1)
        self.pick_empty = Action("Pick them")
        self.pick_empty.clicked.connect(self._pick_empty)
        row.addWidget(self.pick_empty)
        column.addLayout(row)
        self.body.addWidget(frame)
        self.body.addWidget(self.leaf_row)
        self.body.addWidget(self.leaf_row.leaves, 1)
        self.table = self.face(Words).table
        self.keys = [
            ("Up, Down", "in the rules: choose a rule and see what it removed"),
            ("Space", "in the rules: switch it on or off"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def own_pieces(self) -> list[Piece]:
        results = self.bench.results
        if not results.has(CORPUS, TOKENS, LENS_ROWS):
            return []
        rows = results[LENS_ROWS]

        def folder(path: Path, order: Order) -> None:
            write_texts(path, list(results[CORPUS].keys.take(rows)), cleaned_texts(results, rows), order.progress)

        def columns() -> list[Known]:
            keys = Known("key", list(results[CORPUS].keys.take(rows)))
            return [keys, Known("cleaned", cleaned_texts(results, rows))]

        kinds = (Kind("Text files in a folder, one a document", "", folder), *table_kinds(columns))
        return [Piece("The cleaned texts", "cleaned", kinds)]

    # Rules.

    def _switch(self, name: str) -> None:
        """Switch a rule on or off."""
        reason, c = Reason[name], self.bench.recipe.clean
        if reason in _TAKE_OUT:
            rule = _TAKE_OUT[reason]
            rules = [one for one in c.take_out if one != rule] if rule in c.take_out else [*c.take_out, rule]
            self.bench.set("clean", "take-out", rules)
        elif reason == Reason.NUMBER:
            self.bench.set("clean", "numbers", "keep" if c.numbers == "drop" else "drop")
        elif reason == Reason.SHORT:
            self.bench.set("clean", "shortest", 1 if c.shortest > 1 else self._before("shortest", 2))
        elif reason == Reason.STOP_WORD:
            self.bench.set("clean", "stop-words", [] if c.stop_words else self._before("stop_words", [DETECTED]))
        elif reason == Reason.NEGATION:
            self.bench.set("clean", "negations", "keep" if c.negations == "drop" else "drop")

    def _before(self, name: str, usual: Any) -> Any:
        """The entry that a rule had before it was switched off: the newest one that undo can reach, else the usual one."""
        off = getattr(self.bench.recipe.clean, name)
        lens = self.bench.state.lens.name
        for state in reversed(self.bench.history.past()):
            for one in state.lenses:
                if one.name == lens and (value := getattr(one.recipe.clean, name)) != off:
                    return list(value) if isinstance(value, tuple) else value
        return usual

    def _lines(self) -> list[RuleLine]:
        tokens, c = self.bench.results[TOKENS], self.bench.recipe.clean
        taken = {loss.rule: loss.taken for loss in tokens.account}
        hits = dict(tokens.hits)
        replaced = sum(count for name, count in tokens.hits if name.startswith("replace "))
        on: dict[Reason, bool | None] = {reason: rule in c.take_out for reason, rule in _TAKE_OUT.items()}
        on |= {
            Reason.NUMBER: c.numbers == "drop",
            Reason.SHORT: c.shortest > 1,
            Reason.LONG: None,
            Reason.STOP_WORD: bool(c.stop_words),
            Reason.NEGATION: c.negations == "drop",
        }
        left = tokens.account[0].left
        lines = [RuleLine("KEPT", RULES["KEPT"], None, 0, left)]
        for reason in Reason:
            if reason == Reason.KEPT:
                continue
            count = taken.get(reason, 0)
            number = hits.get(reason.name.lower().replace("_", "-"), 0) if reason in _ON_TEXT else None
            if reason == Reason.PATTERN and number is not None:
                number += replaced
            if on.get(reason) is None and not count and not number:
                continue
            left -= count
            lines.append(RuleLine(reason.name, RULES[reason.name], on.get(reason), count, left, number))
        return lines

    def _show_hits(self, name: str) -> None:
        """Bring up what a rule took."""
        self.face(Hits).show_rule(Reason[name])
        self.bring_up(Hits)

    # Documents that keep no word.

    def _count_empty(self) -> None:
        tokens = self.bench.results[TOKENS]

        def show(documents: int) -> None:
            if self.bench.results.get(TOKENS) is tokens:
                self._say_empty(documents)

        self.asker.ask("documents without a word", lambda: int((tokens.kept_by_row() == 0).sum()), show)

    def _say_empty(self, documents: int) -> None:
        self.lost.setText(
            f"{amount(documents, 'document')} without any words left: no place in the space."
            if documents
            else "Every document has words left."
        )
        self.pick_empty.setVisible(documents > 0)

    def _pick_empty(self) -> None:
        tokens = self.bench.results[TOKENS]
        self.bench.pick.set(np.flatnonzero(tokens.kept_by_row() == 0).tolist())
        self.read()

    def refresh(self) -> None:
        losses = self.bench.results[TOKENS].account
        self.figures.setText(f"{amount(losses[0].left, 'token')} · {losses[-1].left:,} kept")
        self.bars.show_lines(self._lines(), self.face(Hits).rule.name)
        self._count_empty()
