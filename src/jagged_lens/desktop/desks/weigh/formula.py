# SPDX-License-Identifier: GPL-3.0-or-later
"""The formula: its three parts to choose from, and one weight worked through with its numbers."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtWidgets import (
    QApplication,
    QCompleter,
    QGridLayout,
    QHBoxLayout,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.weigh.formula_words import (
    LOG,
    PARTS,
    formula,
    length_curve,
    local_curve,
    number,
    steps,
)
from jagged_lens.desktop.desks.weigh.part_choice import PartChoice
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import card, heading, muted
from jagged_lens.desktop.look.controls import Action, Choice
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.flow import Flow
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.read_out import name_editable
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.small_curve import SmallCurve
from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.explain import Worked, as_sheet, document_terms, worked
from jagged_lens.lens import CORPUS, SPACE

_MOST_POINTS = 3_000
_MOST_NAMED = 400


class FormulaFace(Face):
    """The document that is read is worked through, or a cell that somebody asked for."""

    name = "Formula"
    needs = (CORPUS, SPACE)

    def build(self) -> None:
        self._cell: Worked | None = None
        self._space: object = None  # of which the row is one
        self._row = self._column = -1
        self._columns: list[int] = []
        self._build_parts()
        self._build_cell()
        self.table = TableView("Weights of the terms over all documents")
        self.table.row_changed.connect(self._term_chosen)
        self.body.addWidget(self.table, 1)
        self.bench.pick.changed.subscribe(self._pick_changed)

    def _build_parts(self) -> None:
        frame, column = card()
        line = QWidget()
        head = Flow()
        line.setLayout(head)
        self.signs = PlainLabel()
        self.signs.setFont(theme.reading_font(1.1))
        head.addWidget(self.signs)
        head.addWidget(muted("logarithms to the base"))
        self.base = Choice()
        self.base.addItems(list(LOG))
        self.base.setAccessibleName("Base of the logarithm in the weight over all documents")
        self.base.activated.connect(lambda _: self.bench.set("weigh", "log-base", self.base.currentText()))
        head.addWidget(self.base)
        column.addWidget(line)
        parts = QHBoxLayout()
        parts.setSpacing(12)
        self.choices: dict[str, PartChoice] = {}
        self.curves: dict[str, SmallCurve] = {}
        for key, (title, words) in PARTS.items():
            part = QVBoxLayout()
            part.addWidget(heading(title))
            choice = PartChoice(title, words)
            choice.activated.connect(
                lambda _, key=key, choice=choice: self.bench.set("weigh", key, choice.currentData())
            )
            part.addWidget(choice)
            curve = SmallCurve(f"{title}: how the weight grows")
            part.addWidget(curve)
            parts.addLayout(part, 1)
            self.choices[key], self.curves[key] = choice, curve
        column.addLayout(parts)
        self.body.addWidget(frame)

    def _build_cell(self) -> None:
        frame, column = card()
        head = QHBoxLayout()
        head.addWidget(heading("Worked through"))
        self.term = Choice()
        self.term.setEditable(True)
        self.term.setInsertPolicy(Choice.InsertPolicy.NoInsert)
        name_editable(self.term, "Term to work through")
        self.term.setMinimumContentsLength(14)
        completer = self.term.completer()
        if completer is not None:
            completer.setCompletionMode(QCompleter.CompletionMode.PopupCompletion)
        self.term.activated.connect(self._term_of_document)
        head.addWidget(self.term)
        head.addWidget(muted("in"))
        self.document = ElidedLabel()
        head.addWidget(self.document, 1)
        self.copy_button = Action("Copy")
        set_tip(
            self.copy_button,
            "Copy the steps with formulas. Pasted into cell A1 of a spreadsheet, they are computed again",
        )
        self.copy_button.clicked.connect(self.copy_cell)
        head.addWidget(self.copy_button)
        column.addLayout(head)
        self.figures = muted()
        self.figures.setWordWrap(True)
        column.addWidget(self.figures)
        grid = QGridLayout()
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(2)
        self.lines: list[tuple[PlainLabel, PlainLabel]] = []
        for at in range(5):
            said, value = ElidedLabel(), PlainLabel()
            value.setTextInteractionFlags(
                value.textInteractionFlags() | value.textInteractionFlags().TextSelectableByMouse
            )
            value.setAccessibleName(f"Value of step {at + 1}")
            if at == 4:
                said.setFont(theme.ui_font(bold=True))
                value.setFont(theme.ui_font(bold=True))
            grid.addWidget(said, at, 0)
            grid.addWidget(value, at, 1)
            self.lines.append((said, value))
        grid.setColumnStretch(0, 1)
        column.addLayout(grid)
        self.body.addWidget(frame)

    def summary(self) -> str:
        space = self.bench.results[SPACE]
        empty = int(space.empty.sum())
        words = f"{amount(empty, 'document')} with all weights zero" if empty else ""
        if self.bench.results.recipe.weigh.global_ == "guarded":
            words += f"{' · ' if words else ''}weights are negative for terms in every document"
        return words

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    def take_focus(self) -> None:
        """Give the keyboard to the table."""
        self.table.setFocus()

    def refresh(self) -> None:
        space, settings = self.bench.results[SPACE], self.bench.results.recipe.weigh
        m = space.weights.shape[1]
        self.signs.setText(formula(settings))
        self.base.setCurrentText(settings.log_base)
        for key, value in (("local", settings.local), ("global", settings.global_), ("length", settings.length)):
            self.choices[key].choose(value)
        terms = space.terms
        documents = np.bincount(terms.counts.indices, minlength=m)
        self._draw_curves(documents)
        total = np.bincount(space.weights.indices, space.weights.data, minlength=m)
        self.table.show_rows(
            [
                Column("Term", lambda row: terms.shown[row], searched=True, cut=Cut.NEVER),
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
                    tip="Over all documents, after scaling",
                ),
            ],
            m,
            0,
        )
        if space is not self._space:
            self._row = -1
        self._pick_changed()
        self.say()

    def _draw_curves(self, documents: NDArray[np.int64]) -> None:
        """documents: how many hold each term."""
        space, settings = self.bench.results[SPACE], self.bench.results.recipe.weigh
        counts = space.terms.counts
        n = counts.shape[0]
        most = int(min(max(counts.data.max(initial=1), 8), 60))
        self.curves["local"].show_curve(
            *local_curve(settings.local, most), f"c, occurrences in the document, to {most}"
        )
        # One point a term that is there: what the formula makes of this vocabulary, entropy too.
        order = np.argsort(documents, kind="stable")
        if len(order) > _MOST_POINTS:
            order = order[np.unique(np.linspace(0, len(order) - 1, _MOST_POINTS).astype(np.int64))]
        dots = settings.global_ == "entropy"
        if len(order):
            self.curves["global"].show_curve(
                documents[order].astype(np.float64),
                space.global_weights[order],
                f"df, documents with it, of {n:,}",
                True,
                dots,
            )
        self.curves["length"].show_curve(*length_curve(settings.length, 60), "number of terms with weight 1")

    # The cell that is worked through.

    def show_cell(self, row: int, column: int) -> None:
        """Work through the weight of a term in a document of the lens."""
        self._work(row, column)

    def _pick_changed(self) -> None:
        """The document that is read, or the first of all: the same term, or else its heaviest."""
        if not self.isVisible() or not self.bench.results.has(*self.needs):
            return
        at = max(self.bench.documents.place_of(self.bench.pick.one), 0)
        n, m = self.bench.results[SPACE].weights.shape
        if n and m and at != self._row:
            self._work(at)

    def _term_of_document(self, at: int) -> None:
        if 0 <= at < len(self._columns):
            self._work(self._row, self._columns[at])

    def _term_chosen(self, column: int) -> None:
        """A term of the table is worked through in the same document."""
        if self._row >= 0 and column != self._column and self.bench.results.has(*self.needs):
            self._work(self._row, column)

    def _work(self, row: int, wanted: int = -1) -> None:
        """Work a cell through. wanted: a column; -1: the last one, where the document holds it, or else its heaviest."""
        space, settings = self.bench.results[SPACE], self.bench.results.recipe.weigh
        last = self._column
        self._space, self._row = space, row

        def found() -> tuple[list[int], int, Worked]:
            held = document_terms(space, row).columns.tolist()
            column = wanted if wanted >= 0 else last if last in held else held[0] if held else max(last, 0)
            return held[:_MOST_NAMED], column, worked(space, settings, row, column)

        def show(answer: tuple[list[int], int, Worked]) -> None:
            held, self._column, self._cell = answer
            self._list_terms(held)
            self.document.setText(self.bench.results[CORPUS].titles[int(space.terms.rows[row])])
            self._show_steps(self._cell)

        self.asker.ask("a weight worked through", found, show)

    def _list_terms(self, held: list[int]) -> None:
        self._columns = held if self._column in held else [self._column, *held]
        shown = self.bench.results[SPACE].terms.shown
        self.term.blockSignals(True)
        self.term.clear()
        self.term.addItems([shown[column] for column in self._columns])
        self.term.setCurrentIndex(self._columns.index(self._column))
        self.term.blockSignals(False)

    def _show_steps(self, cell: Worked) -> None:
        self.figures.setText(
            f"c = {cell.times:,} occurrences in the document · Σc = {cell.all_times:,} for all its terms · df = "
            f"{cell.documents:,} documents with it · N = {cell.n:,} documents, including empty ones"
        )
        for (said, value), (words, figure) in zip(self.lines, steps(cell), strict=True):
            said.setText(words)
            value.setText(figure)
        self.curves["local"].show_mark((cell.times, cell.local) if cell.times else None)
        self.curves["global"].show_mark((cell.documents, cell.global_))

    def copy_cell(self) -> None:
        """Copy the steps for a spreadsheet."""
        clipboard = QApplication.clipboard()
        if clipboard is not None and self._cell is not None:
            clipboard.setText(as_sheet(self._cell))

    @property
    def weight(self) -> str:
        """The weight that is worked through, as it is shown."""
        return number(self._cell.weight) if self._cell is not None else ""
