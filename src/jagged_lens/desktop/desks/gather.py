"""The Gather desk: the documents as they came, and what is wrong with them."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QPushButton

from jagged_lens.desktop.desks.base import Desk, Notice
from jagged_lens.desktop.table import Column, TableView
from jagged_lens.desktop.words import amount


class GatherDesk(Desk):
    step = "gather"
    needs = ("corpus", "tokens")

    def build(self) -> None:
        self.tools.addWidget(self.filter_field("Filter documents ( / )", lambda words: self.table.rows.filter(words)))
        self.attention = Notice()
        self.pick_empty = QPushButton("Pick them")
        self.pick_empty.clicked.connect(self._pick_empty)
        self.attention.layout().insertWidget(1, self.pick_empty)  # type: ignore[union-attr,attr-defined]
        self.body.addWidget(self.attention)
        self.table = TableView("Documents")
        self.table.selectionModel().selectionChanged.connect(self._pick_chosen)  # type: ignore[union-attr]
        self.table.read_wanted.connect(self.read_document)
        self.body.addWidget(self.table, 1)
        self.bench.state_changed.subscribe(self.look_again)
        self._choosing = False
        self.bench.pick.changed.subscribe(self._show_pick)
        self.keys = [("Space", "read the document under the cursor"), ("Ctrl+C", "copy the chosen rows")]

    def _pick_chosen(self) -> None:
        rows = self.table.chosen_rows()
        if rows:
            self._choosing = True
            self.bench.pick.set(rows, self.table.current_row())
            self._choosing = False

    def _show_pick(self) -> None:
        if not self._choosing and self.isVisible():
            self.table.show_chosen(self.bench.pick.rows)

    def _pick_empty(self) -> None:
        self.bench.pick.set(np.flatnonzero(self._empty()).tolist())
        self.read()

    def _empty(self) -> np.ndarray:
        return np.diff(self.bench.results["tokens"].row_starts) == 0

    def refresh(self) -> None:
        corpus, tokens = self.bench.results["corpus"], self.bench.results["tokens"]
        words = np.diff(tokens.row_starts)
        labels = self.bench.labels()
        self.figures.setText(
            f"{amount(len(corpus), 'document')} · {amount(int(words.sum()), 'word')} · {amount(len(labels), 'label')}"
        )
        empty = int((words == 0).sum())
        said = list(corpus.notices)
        if empty:
            said.insert(0, f"{amount(empty, 'document')} without a single word.")
        self.attention.say("\n".join(said[:8] + ([f"… and {len(said) - 8} more"] if len(said) > 8 else [])))
        self.pick_empty.setVisible(empty > 0)
        columns = [
            Column("Title", lambda row: corpus.titles[row], searched=True),
            Column("Key", lambda row: corpus.keys[row], searched=True),
            Column(
                "Words",
                lambda row: f"{words[row]:,}",
                words,
                right=True,
                tip="Words as the tokens of Clean count them, none taken out",
            ),
        ]
        aside = dict(self.bench.state.aside)
        if aside:
            reasons = [aside.get(key, "") for key in corpus.keys]
            columns.append(Column("Set aside", lambda row: reasons[row], searched=True, ink=lambda row: "madder"))
        for label in labels:
            columns.append(Column(label.name, lambda row, label=label: label.value(row), searched=True))  # type: ignore[misc]
        self.table.show_rows(columns, len(corpus), [34, 10, 8] + [12] * (len(columns) - 3), 0)
        self._show_pick()
