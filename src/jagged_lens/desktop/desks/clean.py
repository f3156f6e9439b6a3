"""The Clean desk: what each rule took, and what became of every word."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import Qt

from jagged_lens.clean import Reason
from jagged_lens.desktop.desks.base import Desk, card, heading, muted
from jagged_lens.desktop.plots.bars import FallingBar
from jagged_lens.desktop.table import Column, TableView
from jagged_lens.desktop.words import RULES, amount

_TAKEN_AS = {
    Reason.KEPT: "",
    Reason.MARKUP: "markup",
    Reason.WEB_ADDRESS: "web address",
    Reason.MAIL_ADDRESS: "mail address",
    Reason.SYMBOL: "symbol",
    Reason.RECURRING_LINE: "recurring line",
    Reason.PATTERN: "own pattern",
    Reason.JOINED: "part of a phrase",
    Reason.NEVER: "never used",
    Reason.NUMBER: "number",
    Reason.SHORT: "too short",
    Reason.LONG: "too long",
    Reason.STOP_WORD: "stop word",
}


class CleanDesk(Desk):
    step = "clean"
    needs = ("tokens",)

    def build(self) -> None:
        self.tools.addWidget(self.filter_field("Filter words ( / )", lambda words: self.table.rows.filter(words)))
        frame, column = card()
        column.addWidget(heading("What is lost on the way"))
        self.bars = FallingBar()
        column.addWidget(self.bars)
        self.lost = muted()
        self.lost.setWordWrap(True)
        column.addWidget(self.lost)
        self.body.addWidget(frame)
        self.table = TableView("Words")
        self.body.addWidget(self.table, 1)
        self.keys = [("Ctrl+C", "copy the chosen rows")]

    def refresh(self) -> None:
        tokens = self.bench.results["tokens"]
        losses = tokens.account
        self.figures.setText(
            f"{amount(losses[0].left, 'token')} · {losses[-1].left:,} kept · {len(tokens.words):,} different"
        )
        self.bars.show_lines([(RULES[loss.rule.name], loss.taken, loss.left) for loss in losses])
        nothing = int((tokens.kept_by_row() == 0).sum())
        self.lost.setText(
            f"{amount(nothing, 'document')} keep no word at all and have no place in the space."
            if nothing
            else "Every document keeps some words."
        )
        times = np.bincount(tokens.form, minlength=len(tokens.written))
        kept = np.bincount(tokens.form, tokens.kept, minlength=len(tokens.written)).astype(np.int64)
        reasons = np.zeros(len(tokens.written), np.uint8)
        reasons[tokens.form] = tokens.reason

        def becomes(row: int) -> str:
            word = int(tokens.word[row])
            return tokens.words[word] if word >= 0 else "–"

        columns = [
            Column("Word", lambda row: tokens.written[row], searched=True),
            Column("Becomes", becomes, searched=True, tip="What it is counted as"),
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
        if self.table.rows.unsorted:
            self.table.sortByColumn(2, Qt.SortOrder.DescendingOrder)
