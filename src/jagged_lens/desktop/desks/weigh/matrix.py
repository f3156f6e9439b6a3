# SPDX-License-Identifier: GPL-3.0-or-later
"""The matrix as a picture: documents by terms, darkness for the weight or the count."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout
from scipy.sparse import csr_array

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.order import AS_READ, Order, ordered, orders
from jagged_lens.desktop.look.cards import muted, muted_line
from jagged_lens.desktop.look.controls import Action, Choice, Switch
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.cell_picture import CellPicture, Window
from jagged_lens.desktop.plots.label_choice import NameChoice
from jagged_lens.group import letter
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, SPACE, THEMES, TOKENS
from jagged_lens.weigh import block_means

_TERMS = ("strongest in each group", "most common, all")
_VALUES = ("weights", "counts")


class MatrixFace(Face):
    """cell_wanted(row, column): the work of a weight."""

    name = "Matrix"
    needs = (CORPUS, TOKENS, SPACE, THEMES, GROUPING, KEY_TERMS)
    cell_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self._order = Order(np.zeros(0, np.int64), [])
        self._columns = Order(np.zeros(0, np.int64), [])
        row = QHBoxLayout()
        row.addWidget(muted("Documents by"))
        self.by = NameChoice("Order of the documents in the matrix")
        self.by.activated.connect(self._draw)
        row.addWidget(self.by)
        row.addWidget(muted("Terms"))
        self.which = Choice()
        self.which.addItems(list(_TERMS))
        self.which.setAccessibleName("Which terms, in which order")
        self.which.activated.connect(self._draw)
        row.addWidget(self.which)
        self.value = Choice()
        self.value.addItems(list(_VALUES))
        self.value.setAccessibleName("What is shown in a cell")
        self.value.activated.connect(self._draw)
        row.addWidget(self.value)
        self.turn = Switch("Turn")
        set_tip(self.turn, "Terms from top to bottom, documents from left to right")
        self.turn.toggled.connect(self._draw)
        row.addWidget(self.turn)
        row.addStretch(1)
        self.whole = Action("Show all")
        self.whole.clicked.connect(lambda: self.picture.show_all())
        row.addWidget(self.whole)
        self.body.addLayout(row)
        self.about = muted_line()
        self.body.addWidget(self.about)
        self.picture = CellPicture(lambda value: f"{value:.2f}" if value != round(value) else f"{value:.0f}")
        self.picture.setAccessibleName("Matrix of documents and terms")
        self.picture.wanted.connect(self._compute)
        self.picture.pointed.connect(self._point)
        self.picture.clicked.connect(self._read)
        self.picture.opened.connect(self._open)
        self.picture.dragged.connect(self._pick)
        self.body.addWidget(self.picture, 1)

    def take_focus(self) -> None:
        """Give the keyboard to the picture."""
        self.picture.setFocus()

    def refresh(self) -> None:
        self.by.offer_names(orders(self.bench, themes=True))
        self._draw()

    def summary(self) -> str:
        space = self.bench.results[SPACE]
        n, m = space.weights.shape
        return f"{space.weights.nnz:,} of {n * m:,} cells are non-zero, {space.filled:.2%}"

    def _draw(self) -> None:
        if not self.bench.results.has(*self.needs):
            return
        self._order = ordered(self.bench, self.by.currentText() or AS_READ)
        self._columns = self._terms()
        tables = (self._order, self._columns)
        names = (self._title, self._term)
        if self.turn.isChecked():
            tables, names = tables[::-1], names[::-1]
        self.picture.show_table(
            (len(tables[0].rows), len(tables[1].rows)), tables[0].bounds, tables[1].bounds, names[0], names[1]
        )
        self._point(-1, -1)
        self.say()

    def _terms(self) -> Order:
        results = self.bench.results
        if self.which.currentIndex() == 1:
            counts = results[SPACE].terms.counts
            documents = np.bincount(counts.indices, minlength=counts.shape[1])
            return Order(np.argsort(-documents, kind="stable"), [])
        columns: list[int] = []
        bounds = []
        known: set[int] = set()
        for group in range(len(results[GROUPING])):
            new = [column for column in results[KEY_TERMS].columns(group) if column not in known]
            if new:
                bounds.append((len(columns), letter(group)))
            columns += new
            known.update(new)
        return Order(np.array(columns, np.int64), bounds)

    def _matrix(self) -> csr_array:
        space = self.bench.results[SPACE]
        return space.terms.counts if self.value.currentIndex() == 1 else space.weights

    def _title(self, place: int) -> str:
        results = self.bench.results
        return results[CORPUS].titles[int(results[SPACE].terms.rows[self._order.rows[place]])]

    def _term(self, place: int) -> str:
        return self.bench.results[SPACE].terms.shown[int(self._columns.rows[place])]

    def _compute(self, window: Window) -> None:
        if not self.bench.results.has(*self.needs):
            return
        matrix, order, columns, turned = self._matrix(), self._order.rows, self._columns.rows, self.turn.isChecked()

        def found() -> NDArray[np.float32]:
            down, across = slice(window.top, window.bottom), slice(window.left, window.right)
            if turned:
                return block_means(matrix, order[across], columns[down], window.wide, window.high).T
            return block_means(matrix, order[down], columns[across], window.high, window.wide)

        def show(values: NDArray[np.float32]) -> None:
            if order is self._order.rows and columns is self._columns.rows and turned == self.turn.isChecked():
                near = float(np.abs(matrix.data).max(initial=1.0)) if self.value.currentIndex() == 0 else 6.0
                self.picture.show_values(
                    window, values, near if window.near else float(np.abs(values).max(initial=0.0))
                )

        self.asker.ask("matrix", found, show)

    def _cell(self, row: int, column: int) -> tuple[int, int]:
        """The document and the term (places in the space) of a cell of the picture."""
        if self.turn.isChecked():
            row, column = column, row
        return int(self._order.rows[row]), int(self._columns.rows[column])

    def _point(self, row: int, column: int) -> None:
        if row < 0 or not self.bench.results.has(*self.needs):
            self.about.setText(
                "Darker: more. Drag to pick documents and terms; the wheel zooms; Return works through a cell."
            )
            return
        document, term = self._cell(row, column)
        space, results = self.bench.results[SPACE], self.bench.results
        title = results[CORPUS].titles[int(space.terms.rows[document])]
        weight, times = float(space.weights[document, term]), int(space.terms.counts[document, term])
        self.about.setText(f"{title}  ×  {space.terms.shown[term]}:  {weight:.4f}, {times:,} times")

    def _read(self, row: int, column: int) -> None:
        document, _ = self._cell(row, column)
        self.read_document(int(self.bench.results[SPACE].terms.rows[document]))

    def _open(self, row: int, column: int) -> None:
        if self.bench.results.has(*self.needs):
            self.cell_wanted.emit(*self._cell(row, column))

    def _pick(self, rows: slice, columns: slice) -> None:
        """Pick the documents and the terms of a dragged rectangle."""
        if self.turn.isChecked():
            rows, columns = columns, rows
        space = self.bench.results[SPACE]
        self.bench.pick.set(space.terms.rows[self._order.rows[rows]].tolist())
        self.bench.pick.set_terms([space.terms.terms[int(column)] for column in self._columns.rows[columns]])
