# SPDX-License-Identifier: GPL-3.0-or-later
"""The terms of the document that is read: how often it holds each, and what each weighs."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Way
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.explain import DocumentTerms, Marks


class TermSheet(QWidget):
    """A table of terms below the text.

    place_wanted: start and end (code points) of the first place of the term under the cursor. term_wanted: the column of a
    term that is to be seen among all. weight_wanted: of a term whose weight is to be worked through.
    """

    place_wanted = pyqtSignal(int, int)
    term_wanted = pyqtSignal(int)
    weight_wanted = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self._terms: DocumentTerms | None = None
        self._marks: Marks | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        theme.tone(self.words, "muted")
        head = QHBoxLayout()
        head.addWidget(self.words, 1)
        self.work = Way("Work through")
        set_tip(self.work, "Show how the weight of the current term is computed, with its numbers")
        self.work.clicked.connect(self._work_through)
        head.addWidget(self.work)
        column.addLayout(head)
        self.table = TableView("Terms of the document")
        set_tip(self.table, "Return or a double click shows the term in the vocabulary")
        self.table.row_changed.connect(self._go)
        self.table.read_wanted.connect(self._look_at)
        column.addWidget(self.table, 1)

    def show_terms(self, terms: DocumentTerms | None, names: Sequence[str], marks: Marks | None) -> None:
        """terms: those of a document; None where it is not in the lens. names: how each is shown."""
        self._terms, self._marks = terms, marks
        self.work.setVisible(terms is not None and len(terms.columns) > 0)
        self.table.setVisible(terms is not None and len(terms.columns) > 0)
        if terms is None or not len(terms.columns):
            self.words.setText(
                "It contains no term of this lens."
                if terms is not None
                else "It is not part of this lens: it has no terms."
            )
            return
        self.words.setText(f"{amount(len(terms.columns), 'term')}, counted {amount(int(terms.times.sum()), 'time')}")
        columns = [
            Column("Term", lambda row: names[row], texts=names, cut=Cut.NEVER),
            Column("Times", lambda row: f"{terms.times[row]:,}", terms.times, right=True, tip="Times in this document"),
            Column(
                "Docs",
                lambda row: f"{terms.documents[row]:,}",
                terms.documents,
                right=True,
                tip="Documents of the lens that contain the term",
            ),
            Column(
                "Weight",
                lambda row: f"{terms.weights[row]:.3f}",
                terms.weights,
                right=True,
                tip="Weight of the term in this document",
            ),
        ]
        self.table.show_rows(columns, len(terms.columns), 0)

    def _go(self, row: int) -> None:
        if self._terms is not None and self._marks is not None:
            at = np.flatnonzero(self._marks.column == self._terms.columns[row])
            if len(at):
                self.place_wanted.emit(int(self._marks.start[at[0]]), int(self._marks.end[at[0]]))

    def _work_through(self) -> None:
        if self._terms is not None:
            row = max(self.table.current_row(), 0)
            self.weight_wanted.emit(int(self._terms.columns[row]))

    def _look_at(self, row: int) -> None:
        if self._terms is not None:
            self.term_wanted.emit(int(self._terms.columns[row]))
