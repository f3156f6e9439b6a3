"""The Terms desk: the vocabulary, with what is kept and why the rest is not."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QPushButton

from jagged_lens.desktop.desks.base import Desk
from jagged_lens.desktop.table import Column, TableView
from jagged_lens.terms import WhyNot

_WHY = {
    WhyNot.KEPT: "kept",
    WhyNot.RARE: "too rare",
    WhyNot.COMMON: "too common",
    WhyNot.LIMIT: "beyond the limit",
    WhyNot.DROPPED: "dropped",
}
_INK = {
    WhyNot.KEPT: "verdigris",
    WhyNot.RARE: "muted",
    WhyNot.COMMON: "madder",
    WhyNot.LIMIT: "muted",
    WhyNot.DROPPED: "madder",
}


class TermsDesk(Desk):
    step = "terms"
    needs = ("terms",)

    def build(self) -> None:
        self.only_kept = QPushButton("Kept only")
        self.only_kept.setCheckable(True)
        self.only_kept.setToolTip("List only the terms that are kept")
        self.only_kept.toggled.connect(self._filter)
        self.tools.addWidget(self.only_kept)
        self.field = self.filter_field("Filter terms ( / )", self._filter)
        self.tools.addWidget(self.field)
        self.table = TableView("Vocabulary")
        self.table.read_wanted.connect(self.pick_documents)
        self.body.addWidget(self.table, 1)
        self.keys = [("Space", "pick the documents that hold the term"), ("Ctrl+C", "copy the chosen rows")]

    def _filter(self, _: object = None) -> None:
        terms = self.bench.results.get("terms")
        kept = terms.vocabulary.why_not == WhyNot.KEPT if terms is not None and self.only_kept.isChecked() else None
        self.table.rows.filter(self.field.text(), kept)

    def pick_documents(self, row: int) -> None:
        """The documents of a kept term become the pick."""
        terms = self.bench.results["terms"]
        column = np.searchsorted(terms.kept, row)
        if column < len(terms.kept) and terms.kept[column] == row:
            entries = np.flatnonzero(terms.counts.indices == column)
            documents = np.searchsorted(terms.counts.indptr, entries, side="right") - 1
            self.bench.pick.set(terms.rows[documents].tolist())
            self.read()

    def refresh(self) -> None:
        terms = self.bench.results["terms"]
        vocabulary = terms.vocabulary
        n = max(len(terms.rows), 1)
        why = vocabulary.why_not
        low, high = self.bench.recipe.terms.words
        lengths = f"{low}–{high}-word" if low != high else f"{low}-word"
        lost = [
            f"{int((why == reason).sum()):,} {_WHY[reason]}" for reason in WhyNot if reason and (why == reason).any()
        ]
        self.figures.setText(
            " · ".join([f"{len(vocabulary):,} different {lengths} terms", f"{len(terms.kept):,} kept", *lost])
        )
        column_of = np.full(len(vocabulary), -1, np.int64)
        column_of[terms.kept] = np.arange(len(terms.kept))

        def shown(row: int) -> str:
            return terms.shown[int(column_of[row])] if column_of[row] >= 0 else vocabulary.terms[row]

        columns = [
            Column("Term", shown, searched=True, tip="As it is written most often"),
            Column(
                "Counted as",
                lambda row: vocabulary.terms[row],
                searched=True,
                tip="What is counted: the word forms of Clean, joined by one space",
            ),
            Column("Words", lambda row: str(vocabulary.words[row]), vocabulary.words, right=True),
            Column("Times", lambda row: f"{vocabulary.times[row]:,}", vocabulary.times, right=True),
            Column("Documents", lambda row: f"{vocabulary.documents[row]:,}", vocabulary.documents, right=True),
            Column("Share", lambda row: f"{vocabulary.documents[row] / n:.1%}", vocabulary.documents, right=True),
            Column("Kept", lambda row: _WHY[WhyNot(int(why[row]))], why, ink=lambda row: _INK[WhyNot(int(why[row]))]),
        ]
        self.table.show_rows(columns, len(vocabulary), [22, 22, 7, 8, 11, 8, 15], 0)
        if self.only_kept.isChecked():
            self._filter()
