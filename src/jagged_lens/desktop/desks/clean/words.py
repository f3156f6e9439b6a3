# SPDX-License-Identifier: GPL-3.0-or-later
"""The fate of every written word: how often it occurs, how often it is kept, and otherwise why it is removed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt

from jagged_lens.clean import Reason, Tokens
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look.controls import Action, Button
from jagged_lens.desktop.look.flow import flowing
from jagged_lens.desktop.look.plain import ask_line, set_tip
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import TERMS, TOKENS
from jagged_lens.strings import Strings

_TAKEN_AS = {
    Reason.KEPT: "",
    Reason.MARKUP: "markup",
    Reason.WEB_ADDRESS: "web address",
    Reason.MAIL_ADDRESS: "mail address",
    Reason.SYMBOL: "symbol",
    Reason.RECURRING_LINE: "recurring line",
    Reason.RECURRING_SENTENCE: "recurring sentence",
    Reason.NEGATION: "negation",
    Reason.PATTERN: "own pattern",
    Reason.NUMBER: "number",
    Reason.SHORT: "too short",
    Reason.LONG: "too long",
    Reason.JOINED: "part of a phrase",
    Reason.NEVER: "dropped by rule",
    Reason.STOP_WORD: "stop word",
}


@dataclass(frozen=True, eq=False)
class _Counts:
    """For each written word how often it occurs, how often it is kept and why else it is taken (a Reason)."""

    times: NDArray[np.int64]
    kept: NDArray[np.int64]
    reasons: NDArray[np.uint8]


def _counts(tokens: Tokens) -> _Counts:
    words = len(tokens.written)
    kept = np.bincount(tokens.form, tokens.kept, minlength=words).astype(np.int64)
    reasons = np.zeros(words, np.uint8)
    reasons[tokens.form] = tokens.reason
    return _Counts(np.bincount(tokens.form, minlength=words), kept, reasons)


def _all_become(tokens: Tokens) -> Strings:
    """The form under which each written word is counted; a dash if it is removed."""
    words = Strings.joined([tokens.words, Strings.of(["–"])])
    return words.take(np.where(tokens.word >= 0, tokens.word, len(tokens.words)))


class Words(Face):
    name = "Words"
    needs = (TOKENS,)

    def build(self) -> None:
        self.table = TableView("Words")
        self.body.addWidget(self.table, 1)
        self.never = self._action("Drop it everywhere", "Remove this word from every document", self.never_use)
        self.holding = self._action(
            "… and terms that contain it",
            "Remove this word, and drop every term that contains it",
            self.drop_terms,
        )
        self.same = self._action("Same as…", "Count this word as another", self.same_as)
        self.written = self._action("As written", "Do not stem or lemmatize this word", self.as_written)
        self.body.addWidget(flowing(self.never, self.holding, self.same, self.written))
        self.table.row_changed.connect(lambda _: self._offer())
        self._offer()

    def _action(self, words: str, tip: str, does: Callable[[], None]) -> Button:
        button = Action(words)
        set_tip(button, f"{tip}; undo reverts it")
        button.clicked.connect(does)
        return button

    # Rules from the row.

    def word(self) -> str:
        """The word under the cursor, as it is written; "" where there is none."""
        tokens, place = self.bench.results.get(TOKENS), self.table.current_row()
        return tokens.written[place] if tokens is not None and 0 <= place < len(tokens.written) else ""

    def _offer(self) -> None:
        there = bool(self.word())
        form = self.bench.recipe.clean.word_form
        for button in (self.never, self.holding, self.same, self.written):
            button.setEnabled(there and (button is not self.written or form != "written"))

    def _add_rule(self, rule: str) -> None:
        rules = self.bench.recipe.clean.own_rules
        if rule not in rules:
            self.bench.set("clean", "own-rules", [*rules, rule])

    def never_use(self) -> None:
        """Never use the word under the cursor."""
        if word := self.word():
            self._add_rule(f"never: {word.lower()}")

    def drop_terms(self) -> None:
        """Drop the word under the cursor, and every kept term that holds it: one setting of Terms, so that n-grams are not joined over
        the gap."""
        tokens, terms = self.bench.results.get(TOKENS), self.bench.results.get(TERMS)
        place = self.table.current_row()
        if tokens is None or terms is None or not self.word() or tokens.word[place] < 0:
            self.never_use()
            return
        word = tokens.words[int(tokens.word[place])]
        holding = [term for term in terms.terms if word in term.split(" ")]
        kept = [term for term in self.bench.recipe.terms.always_drop if term not in holding]
        recipe = self.bench.recipe.with_setting("terms", "always-drop", [*kept, *holding])
        self.bench.change(self.bench.state.with_recipe(recipe), f"drop {word} and {len(holding):,} terms")

    def same_as(self) -> None:
        """Count the word under the cursor as another."""
        if word := self.word():
            other, taken = ask_line(self, "Same as…", f"Count “{word}” as")
            if taken and other.strip():
                self._add_rule(f"{word.lower()} = {other.strip()}")

    def as_written(self) -> None:
        """Keep the form in which the word under the cursor is written."""
        if word := self.word():
            self._add_rule(f"as written: {word.lower()}")

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    def summary(self) -> str:
        tokens = self.bench.results.get(TOKENS)
        return f"{len(tokens.words):,} different" if tokens is not None else ""

    def refresh(self) -> None:
        tokens = self.bench.results[TOKENS]

        def show(counts: _Counts) -> None:
            if self.bench.results.get(TOKENS) is tokens:
                self._list_words(tokens, counts)

        self.asker.ask("counts of the words", partial(_counts, tokens), show)
        self.say()

    def _list_words(self, tokens: Tokens, counts: _Counts) -> None:
        times, kept, reasons = counts.times, counts.kept, counts.reasons

        def becomes(row: int) -> str:
            word = int(tokens.word[row])
            return tokens.words[word] if word >= 0 else "–"

        columns = [
            Column("Word", lambda row: tokens.written[row], searched=True, texts=tokens.written),
            Column(
                "Becomes", becomes, searched=True, tip="The word it is counted as", texts=partial(_all_become, tokens)
            ),
            Column("Times", lambda row: f"{times[row]:,}", times, right=True),
            Column("Kept", lambda row: f"{kept[row]:,}", kept, right=True),
            Column(
                "Counted as",
                lambda row: _TAKEN_AS[Reason(int(reasons[row]))] if kept[row] < times[row] else "",
                reasons,
                ink=lambda row: "madder",
            ),
        ]
        self.table.show_rows(columns, len(tokens.written), 0)
        self._offer()
        if self.table.listed.unsorted:
            self.table.sortByColumn(2, Qt.SortOrder.DescendingOrder)
