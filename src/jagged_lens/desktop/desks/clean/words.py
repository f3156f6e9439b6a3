"""What became of every written word: how often it occurs, is kept, and why else it is taken."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt

from jagged_lens.clean import Reason, Tokens
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import TOKENS
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
    Reason.NEVER: "never used",
    Reason.STOP_WORD: "stop word",
}


@dataclass(frozen=True, eq=False)
class _Counts:
    """Of each written word how often it occurs, how often it is kept and why else it is taken (a Reason)."""

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
    """What each written word is counted as; a dash for those that are taken."""
    words = Strings.joined([tokens.words, Strings.of(["–"])])
    return words.take(np.where(tokens.word >= 0, tokens.word, len(tokens.words)))


class Words(Face):
    name = "Words"
    needs = (TOKENS,)

    def build(self) -> None:
        self.table = TableView("Words")
        self.body.addWidget(self.table)

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
            Column("Becomes", becomes, searched=True, tip="What it is counted as", texts=partial(_all_become, tokens)),
            Column("Times", lambda row: f"{times[row]:,}", times, right=True),
            Column("Kept", lambda row: f"{kept[row]:,}", kept, right=True),
            Column(
                "Taken as",
                lambda row: _TAKEN_AS[Reason(int(reasons[row]))] if kept[row] < times[row] else "",
                reasons,
                ink=lambda row: "madder",
            ),
        ]
        self.table.show_rows(columns, len(tokens.written), [24, 20, 9, 9, 16], 0)
        if self.table.listed.unsorted:
            self.table.sortByColumn(2, Qt.SortOrder.DescendingOrder)
