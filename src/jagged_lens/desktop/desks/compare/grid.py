# SPDX-License-Identifier: GPL-3.0-or-later
"""Grid: the similarities of all documents with all as a picture."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout

from jagged_lens.compare import Rows, grid_of, rows_of
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.order import AS_READ, Order, ordered, orders
from jagged_lens.desktop.look.cards import muted, muted_line
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.plots.cell_picture import CellPicture, Window
from jagged_lens.desktop.plots.label_choice import NameChoice
from jagged_lens.lens import CORPUS, GROUPING, SPACE, THEMES, TOKENS
from jagged_lens.weigh import in_themes


class GridFace(Face):
    """pair_wanted(first, second): both are to be read in full width."""

    name = "Grid"
    needs = (CORPUS, TOKENS, SPACE, THEMES, GROUPING)
    pair_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self._order = Order(np.zeros(0, np.int64), [])
        self._rows: tuple[object, Rows | None] = (None, None)
        row = QHBoxLayout()
        row.addWidget(muted("Order"))
        self.by = NameChoice("Order of the documents in the grid")
        self.by.activated.connect(self._draw)
        row.addWidget(self.by)
        self.about = muted_line(
            "Each cell is a pair: the darker, the more similar. Drag a square to pick; the wheel zooms."
        )
        row.addWidget(self.about, 1)
        self.whole = Action("Show all")
        self.whole.clicked.connect(lambda: self.picture.show_all())
        row.addWidget(self.whole)
        self.body.addLayout(row)
        self.picture = CellPicture()
        self.picture.setAccessibleName("Similarities of all documents")
        self.picture.wanted.connect(self._compute)
        self.picture.pointed.connect(self._point)
        self.picture.clicked.connect(self._read)
        self.picture.opened.connect(self._open)
        self.picture.dragged.connect(self._pick)
        self.body.addWidget(self.picture, 1)

    def take_focus(self) -> None:
        """Give the keyboard to the picture."""
        self.picture.setFocus(Qt.FocusReason.OtherFocusReason)

    def refresh(self) -> None:
        self.by.offer_names(orders(self.bench))
        self._draw()

    def summary(self) -> str:
        return f"{len(self._order.rows):,} × {len(self._order.rows):,}"

    def _draw(self) -> None:
        if not self.bench.results.has(*self.needs):
            return
        self._order = ordered(self.bench, self.by.currentText() or AS_READ)
        n = len(self._order.rows)
        self.picture.show_table((n, n), self._order.bounds, self._order.bounds, self._title, self._title)
        self.say()

    def _title(self, place: int) -> str:
        results = self.bench.results
        return results[CORPUS].titles[int(results[SPACE].terms.rows[self._order.rows[place]])]

    def _compute(self, window: Window) -> None:
        results, measure, order = self.bench.results, self.bench.results.recipe.compare.measure, self._order.rows
        space, themes = results[SPACE], results[THEMES]
        if not self.bench.results.has(*self.needs) or len(order) != len(space.empty):
            return
        of = (space, themes, measure)

        def found() -> np.ndarray:
            known, rows = self._rows
            if known != of or rows is None:
                rows = rows_of(in_themes(space, themes), measure)
                self._rows = (of, rows)
            down, across = order[window.top : window.bottom], order[window.left : window.right]
            return grid_of(rows, down, across, window.high, window.wide)

        def show(values: np.ndarray) -> None:
            if order is self._order.rows:
                most = 1.0 if window.near else float(np.nanmax(values, initial=0.0)) or 1.0
                self.picture.show_values(window, values, most)

        self.asker.ask("grid", found, show)

    def _documents(self, row: int, column: int) -> tuple[int, int]:
        return int(self._order.rows[row]), int(self._order.rows[column])

    def _point(self, row: int, column: int) -> None:
        if row < 0 or row >= len(self._order.rows) or not self.bench.results.has(*self.needs):
            self.about.setText(
                "Each cell is a pair: the darker, the more similar. Drag a square to pick; the wheel zooms."
            )
            return
        first, second = self._documents(row, column)
        results, measure = self.bench.results, self.bench.results.recipe.compare.measure
        rows = self._rows[1]
        names = f"{self._title(row)}  ×  {self._title(column)}"
        self.about.setText(names)
        if rows is None or rows.measure != measure or len(rows.empty) != len(results[SPACE].empty):
            return

        def show(value: float) -> None:
            self.about.setText(f"{names}:  {value:.3f}" if value == value else f"{names}:  empty")

        self.asker.ask(
            "a cell of the grid", lambda: float(grid_of(rows, np.array([first]), np.array([second]), 1, 1)[0, 0]), show
        )

    def _read(self, row: int, column: int) -> None:
        if not self.bench.results.has(*self.needs):
            return
        first, second = self._documents(row, column)
        if first == second:
            self.read_document(int(self.bench.results[SPACE].terms.rows[first]))
            return
        self.reader.show_pair(self.bench.results, first, second, "A pair of the grid")
        self.read()

    def _open(self, row: int, column: int) -> None:
        first, second = self._documents(row, column)
        if first != second:
            self.pair_wanted.emit(first, second)

    def _pick(self, rows: slice, columns: slice) -> None:
        """Pick the documents of a dragged rectangle, those of its rows and those of its columns."""
        chosen = np.union1d(self._order.rows[rows], self._order.rows[columns])
        self.bench.pick.set(self.bench.results[SPACE].terms.rows[chosen].tolist())
