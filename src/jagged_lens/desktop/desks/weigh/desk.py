"""The Weigh desk: the formula in its three parts, how full the space is, and the weight of every term."""

from __future__ import annotations

import numpy as np

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import card, heading, muted
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import SPACE

_LOCAL = {"presence": "1", "count": "c", "share": "c ÷ all counts of the document", "log": "(1 + ln c)"}
_GLOBAL = {
    "none": "",
    "plain": "{log}(N / df)",
    "guarded": "{log}(N / (1 + df))",
    "lifted": "({log}((1 + N) / (1 + df)) + 1)",
    "probabilistic": "max(0, {log}((N − df) / df))",
    "entropy": "(1 + Σ p ln p / ln N)",
}
_LENGTH = {
    "none": "Rows keep their own length.",
    "L1": "Then each row is divided by the sum of its absolute weights.",
    "L2": "Then each row is divided by its length, √Σw², so that all documents have length 1.",
}


class WeighDesk(Desk):
    step = "weigh"
    picture = "Weights"
    needs = (SPACE,)

    def build(self) -> None:
        self.tools.addWidget(self.filter_field("Filter terms ( / )", lambda words: self.table.listed.filter(words)))
        frame, column = card()
        column.addWidget(heading("Weight of a term in a document"))
        self.formula = PlainLabel()
        self.formula.setFont(theme.reading_font(1.15))
        column.addWidget(self.formula)
        self.then = PlainLabel()
        self.then.setWordWrap(True)
        column.addWidget(self.then)
        self.where = muted()
        self.where.setWordWrap(True)
        column.addWidget(self.where)
        self.body.addWidget(frame)
        self.table = TableView("Weights of the terms over all documents")
        self.body.addWidget(self.table, 1)
        self.keys = [("Ctrl+C", "copy the chosen rows")]

    def refresh(self) -> None:
        space = self.bench.results[SPACE]
        settings = self.bench.recipe.weigh
        n, m = space.weights.shape
        self.figures.setText(
            f"{amount(n, 'document')} × {amount(m, 'term')} · {space.weights.nnz:,} cells filled, {space.filled:.2%}"
        )
        log = {"e": "ln", "2": "log₂", "10": "log₁₀"}[settings.log_base]
        across = _GLOBAL[settings.global_].format(log=log)
        self.formula.setText("w  =  " + "  ×  ".join(part for part in (_LOCAL[settings.local], across) if part))
        empty = int(space.empty.sum())
        none = f" {amount(empty, 'document')} weigh nothing at all." if empty else ""
        self.then.setText(_LENGTH[settings.length] + none)
        negative = (
            " Guarded weights are negative where a term stands in every document."
            if settings.global_ == "guarded"
            else ""
        )
        self.where.setText(
            f"c: times in the document · df: documents with the term · N = {n:,} documents, empty ones too.{negative}"
        )
        terms = space.terms
        documents = np.bincount(terms.counts.indices, minlength=m)
        total = np.bincount(space.weights.indices, space.weights.data, minlength=m)
        columns = [
            Column("Term", lambda row: terms.shown[row], searched=True),
            Column("Documents", lambda row: f"{documents[row]:,}", documents, right=True),
            Column(
                "Over all documents",
                lambda row: f"{space.global_weights[row]:.4f}",
                space.global_weights,
                right=True,
                tip="The global part of its weight",
            ),
            Column(
                "Sum of weights",
                lambda row: f"{total[row]:.3f}",
                total,
                right=True,
                tip="Over all documents, after the length",
            ),
        ]
        self.table.show_rows(columns, m, [30, 13, 22, 18], 0)
