# SPDX-License-Identifier: GPL-3.0-or-later
"""The term under the cursor: its contexts, the collocates, how it is written, its times by label."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import partial

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QModelIndex, Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QMenu, QVBoxLayout

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, Choice
from jagged_lens.desktop.look.plain import PlainLabel, plain_entry, set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.context_lines import ContextLines
from jagged_lens.desktop.plots.label_bars import LabelBars
from jagged_lens.gather import Label
from jagged_lens.terms import Collocate, Context

_ORDERS = (
    ("document", "in document order"),
    ("left", "by the words on the left"),
    ("right", "by the words on the right"),
)


@dataclass(frozen=True, eq=False)
class TermPicture:
    """The facts about a term: its contexts, its collocates, its spellings, and the words used alike with their similarity."""

    contexts: list[Context]
    collocates: list[Collocate]
    written: list[tuple[str, int]]
    alike: list[tuple[str, float]] = field(default_factory=list)


class TermCard(QFrame):
    """A click on a context reads its document there; a click on a bar picks the documents of that value with the term.

    same_wanted(word): it is to be counted as the term.
    """

    context_chosen = pyqtSignal(int, int, int)
    documents_wanted = pyqtSignal()
    value_chosen = pyqtSignal(int, bool)
    same_wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("card")
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 6, 8, 6)
        column.setSpacing(5)
        head = QHBoxLayout()
        self.name = PlainLabel("Choose a term to see its contexts")
        self.name.setFont(theme.ui_font(1.02, bold=True))
        self.name.setTextFormat(Qt.TextFormat.PlainText)
        head.addWidget(self.name)
        self.words = muted()
        self.words.setMinimumWidth(10)
        head.addWidget(self.words, 1)
        self.order = Choice()
        self.order.setAccessibleName("Order of the contexts")
        for _, text in _ORDERS:
            self.order.addItem(text)
        self.order.activated.connect(lambda at: self.lines.sort_by(_ORDERS[at][0]))
        head.addWidget(self.order)
        pick = Action("Pick its documents")
        set_tip(pick, "Pick the documents that contain the term (Space)")
        pick.clicked.connect(self.documents_wanted.emit)
        head.addWidget(pick)
        column.addLayout(head)
        self.collocates = muted()
        self.collocates.setWordWrap(True)
        self.collocates.setTextFormat(Qt.TextFormat.PlainText)
        together = QHBoxLayout()
        together.addWidget(self.collocates, 1)
        self.same = Action("Same as…")
        set_tip(self.same, "Count a word that is used alike as this one: an own rule of Clean; undo reverts it")
        self.same_menu = QMenu(self.same)
        self.same.setMenu(self.same_menu)
        self.same.setVisible(False)
        together.addWidget(self.same, 0, Qt.AlignmentFlag.AlignTop)
        column.addLayout(together)
        row = QHBoxLayout()
        self.lines = ContextLines()
        self.lines.clicked.connect(self._choose)
        self.lines.activated.connect(self._choose)
        row.addWidget(self.lines, 3)
        self.by_label = LabelBars("Label for counting occurrences", "Occurrences of the term by label")
        self.by_label.chosen.connect(self.value_chosen)
        row.addWidget(self.by_label, 1)
        column.addLayout(row, 1)
        self.setMinimumHeight(int(self.fontMetrics().height() * 8))

    def show_term(
        self,
        shown: str,
        times: int,
        labels: Sequence[Label],
        rows: NDArray[np.int64],
        counts: NDArray[np.int64],
    ) -> None:
        """Show a term: how it is written, how often it occurs, and the corpus rows that hold it, each so many times."""
        self.name.setText(shown)
        self.words.setText(f"{amount(times, 'time')} in {amount(len(rows), 'document')}")
        self.by_label.setVisible(bool(labels))
        self.by_label.show_labels(
            labels, lambda label: np.bincount(label.codes[rows], counts, minlength=len(label.values))
        )

    def show_picture(self, picture: TermPicture) -> None:
        """Show what the index tells."""
        self.lines.show_contexts(picture.contexts)
        said = []
        if len(picture.written) > 1:
            said.append("Written: " + ", ".join(f"{way} {times:,}" for way, times in picture.written))
        if picture.collocates:
            together = " · ".join(f"{one.word} {one.together:,}" for one in picture.collocates[:10])
            said.append(f"In the same sentences: {together}")
        self.same_menu.clear()
        self.same.setVisible(bool(picture.alike))
        if picture.alike:
            said.append("Used alike: " + " · ".join(f"{word} {cosine:.2f}" for word, cosine in picture.alike))
        for word, cosine in picture.alike:
            entry = self.same_menu.addAction(plain_entry(f"{word}   {cosine:.2f}"))
            if entry is not None:
                entry.triggered.connect(partial(self._count_as_same, word))
        self.collocates.setText("\n".join(said))
        set_tip(
            self.collocates,
            "\n".join(f"{one.word}: {one.together:,} sentences, G² {one.ratio:.1f}" for one in picture.collocates),
        )

    def _count_as_same(self, word: str, _: bool = False) -> None:
        self.same_wanted.emit(word)

    def _choose(self, index: QModelIndex) -> None:
        one = self.lines.lines.contexts[index.row()]
        self.context_chosen.emit(one.row, one.start, one.end)
