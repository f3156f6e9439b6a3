# SPDX-License-Identifier: GPL-3.0-or-later
"""A table over arrays: sorted, filtered, copied. A cell's text is made only when it is seen, or measured to know how wide its column is."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from functools import partial

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import (
    QEvent,
    QItemSelection,
    QItemSelectionModel,
    QModelIndex,
    QPoint,
    QSize,
    Qt,
    QTimer,
    pyqtSignal,
)
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QKeySequence, QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QTableView, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.tables.arrangement import Column, apart, text_rows
from jagged_lens.desktop.tables.array_model import ArrayModel
from jagged_lens.desktop.tables.fitting import Width, fitted, is_used, shared_beginnings, wants
from jagged_lens.desktop.tables.row_names import RowNames
from jagged_lens.desktop.tables.text_cell import TextCell

_WAIT = 200  # milliseconds, before it is said that there is something to wait for
_MOST_REMEMBERED = 3000  # chosen rows that stay chosen when the order changes
_MOST_SHOWN = 1000  # runs of rows chosen elsewhere that are shown as chosen


class TableView(QTableView):
    """Shows an ArrayModel; rows are selected whole, Ctrl+C copies them tab separated, Space reads."""

    row_changed = pyqtSignal(int)
    read_wanted = pyqtSignal(int)
    open_wanted = pyqtSignal(int)
    columns_shown = pyqtSignal()

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.listed = ArrayModel(self)
        self._stretch = 0  # the column that takes what room is left; -1: none
        self._wanted: list[Width] = []
        self.sized: set[int] = set()  # columns whose width the user chose
        self.put_away: set[int] = set()  # columns that the user hid
        self.unused: set[int] = set()  # columns that are empty throughout
        self._after: Callable[[], object] | None = None  # what waits for the rows to be arranged
        self._chosen: tuple[list[int], int] = ([], -1)
        self._in_sight = False  # the row under the cursor
        self._before: tuple[NDArray[np.int64], int] = (self.listed.order, 0)  # the order, and how far it was scrolled
        self._lines = 0
        self._names: RowNames | None = None
        self._awaited: Hashable | None = None  # the row that the cursor is to go to
        self.fitting = False  # the table itself sets widths
        self.opens = False  # Return and a double click open a row, where Space reads it
        self.setModel(self.listed)
        self.setAccessibleName(name)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setAlternatingRowColors(True)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setItemDelegate(TextCell(self.grow, self))
        self._growing = QTimer(self)
        self._growing.setSingleShot(True)
        self._growing.setInterval(0)
        self._growing.timeout.connect(self.fit)
        self.setTabKeyNavigation(False)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        down, across = self.verticalHeader(), self.horizontalHeader()
        assert down is not None
        assert across is not None
        down.hide()
        across.setHighlightSections(False)
        across.setMinimumSectionSize(18)
        across.sectionResized.connect(lambda at, *_: self._sized_by_hand(at))
        across.setSortIndicatorClearable(True)
        across.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        self.setSortingEnabled(True)
        # Titles ask, each time they are painted, whether all rows of their column are selected, row by row: of a selection that is
        # always empty.
        across.setSelectionModel(QItemSelectionModel(self.listed, self))
        down.setSelectionModel(QItemSelectionModel(self.listed, self))
        selection = self.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._moved)
        self.listed.modelAboutToBeReset.connect(self._remember_chosen)
        self.listed.modelReset.connect(self._choose_again)
        self._set_heights()
        self._make_waiting()
        self.doubleClicked.connect(self._open)

    def _set_heights(self) -> None:
        """Rows are two lines high where two texts stand in one."""
        down = self.verticalHeader()
        assert down is not None
        lines = 2 if any(column.below is not None for column in self.listed.columns) else 1
        if lines != self._lines:
            self._lines = lines
            down.setDefaultSectionSize(int(self.fontMetrics().height() * (1.75 if lines == 1 else 2.9)))

    def _make_waiting(self) -> None:
        self.waiting = PlainLabel(parent=self.viewport())
        self.waiting.setObjectName("card")
        self.waiting.setMargin(8)
        self.waiting.hide()
        wait = QTimer(self)
        wait.setSingleShot(True)
        wait.setInterval(_WAIT)
        wait.timeout.connect(self._say_waiting)
        self.listed.waits.connect(lambda waits: wait.start() if waits else wait.stop())
        self.listed.waits.connect(lambda waits: self.waiting.setVisible(waits and self.waiting.isVisible()))

    def _say_waiting(self) -> None:
        self.waiting.setText(f"Arranging {self.listed.size:,} rows…")
        self.waiting.adjustSize()
        viewport = self.viewport()
        assert viewport is not None
        self.waiting.move((viewport.width() - self.waiting.width()) // 2, self.fontMetrics().height())
        self.waiting.show()

    def _remember_chosen(self) -> None:
        bar = self.verticalScrollBar()
        assert bar is not None
        self._before = (self.listed.order, bar.value())
        if len(self.listed.order):  # where nothing is shown, what was chosen before may come back
            few = self.chosen_count() <= _MOST_REMEMBERED
            self._chosen = (self.chosen_rows() if few else [], self.current_row())
            viewport = self.viewport()
            assert viewport is not None
            self._in_sight = viewport.rect().intersects(self.visualRect(self.currentIndex()))

    def _choose_again(self) -> None:
        """Keep the chosen rows chosen wherever they are now, and visible if they were. No signal is sent."""
        chosen, current = self._chosen
        place = self._choose(chosen, current) if chosen or current >= 0 else -1
        bar = self.verticalScrollBar()
        assert bar is not None
        if np.array_equal(self.listed.order, self._before[0]):
            bar.setValue(self._before[1])
        elif place >= 0 and self._in_sight:
            self.scrollTo(self.listed.index(place, 0))
        else:
            self.scrollToTop()
        if self._after is not None and not self.listed.pending:
            self._after()

    def show_rows(
        self,
        columns: Sequence[Column],
        size: int,
        stretch: int = 0,
        names: RowNames | None = None,
    ) -> None:
        """Show other arrays. The column `stretch` takes what room is left.

        names: what rows are known by: the row under the cursor and those that are chosen stay so, wherever they stand now, or not at
        all. Without names they stay where they are.
        """
        first = [column.title for column in self.listed.columns] != [column.title for column in columns]
        current = self.current_row()
        before = self._named() if names is not None and self._names is not None else None
        self._names = names
        with self._by_itself():
            self.listed.show(columns, size, shared_beginnings(columns, size, stretch))
            if first:
                self.sized.clear()
                self.put_away.clear()
                self._stretch = stretch
            self._set_heights()
            self._measure()
            if first and columns:
                self.columns_shown.emit()
            self.fit()
        if before is not None and names is not None:
            chosen = [row for row in map(names.row, before[0]) if row >= 0]
            current = names.row(before[1]) if before[1] is not None else -1
            self._chosen = (chosen, current)
            self._choose(chosen or ([current] if current >= 0 else []), current)
            if current < 0:
                self._stand_nowhere()
        elif 0 <= current < size:
            self._choose([current], current)
        self._meet_awaited()

    def current_name(self) -> Hashable | None:
        """The name of the current row; None if there is none, or if rows have no names."""
        row = self.current_row()
        return self._names.name(row) if self._names is not None and row >= 0 else None

    def await_name(self, name: Hashable) -> None:
        """Put the cursor on the row that is known by a name, as soon as it is there."""
        self._awaited = name
        self._meet_awaited()

    def _meet_awaited(self) -> None:
        row = self._names.row(self._awaited) if self._names is not None and self._awaited is not None else -1
        if row >= 0:
            self._awaited = None
            self.go_to(row)

    def _named(self) -> tuple[list[Hashable], Hashable | None]:
        """The names of the rows that are chosen, if they are not too many, and of that under the cursor."""
        assert self._names is not None
        few = self.chosen_count() <= _MOST_REMEMBERED
        current = self.current_row()
        chosen = [self._names.name(row) for row in self.chosen_rows()] if few else []
        return chosen, self._names.name(current) if current >= 0 else None

    def _stand_nowhere(self) -> None:
        """Take the cursor away without telling anybody."""
        selection = self.selectionModel()
        assert selection is not None
        selection.blockSignals(True)
        selection.setCurrentIndex(QModelIndex(), QItemSelectionModel.SelectionFlag.NoUpdate)
        selection.blockSignals(False)

    def first_widths(self) -> None:
        """Make the columns as wide as their content asks for, whatever the user made of them."""
        self.sized.clear()
        self.fit()

    def fit(self) -> None:
        """Give each column its width: the text column takes what is left, those that the user sized stay."""
        across, viewport = self.horizontalHeader(), self.viewport()
        assert across is not None
        assert viewport is not None
        if across.count() != len(self._wanted) or not self._wanted:
            return
        shown = [at for at in range(len(self._wanted)) if not across.isSectionHidden(at)]
        fixed = {at: across.sectionSize(at) for at in self.sized if at != self._stretch}
        with self._by_itself():
            for at, width in fitted(self._wanted, shown, self._stretch, fixed, viewport.width()).items():
                if across.sectionSize(at) != width:
                    across.resizeSection(at, width)

    def _measure(self) -> None:
        """See how wide the columns want to be, and hide those that are empty throughout."""
        across = self.horizontalHeader()
        assert across is not None
        columns, listed = self.listed.columns, self.listed
        titles = QFontMetricsF(theme.ui_font(bold=True))
        self._wanted = [
            wants(
                column,
                listed.shared.titled(at, column.title),
                at == self._stretch,
                listed.size,
                self.fontMetrics(),
                titles,
            )
            for at, column in enumerate(columns)
        ]
        self.unused = {at for at, column in enumerate(columns) if at > 0 and not is_used(column, listed.size)}
        with self._by_itself():
            for at in range(len(columns)):
                across.setSectionHidden(at, at in self.unused or at in self.put_away)

    def renew(self, columns: Sequence[Column]) -> None:
        """Other texts and keys for the same rows, which stay as they are until somebody sorts or filters."""
        self.listed.renew(columns)
        unused = {at for at in self.unused if not is_used(columns[at], self.listed.size)}
        unused |= {at for at, column in enumerate(columns) if column.used is False}
        if unused != self.unused:
            self._measure()
            self.fit()
        viewport = self.viewport()
        assert viewport is not None
        viewport.update()

    def grow(self, column: int, width: int) -> None:
        """A text that is never cut needs more room than its column has."""
        if column < len(self._wanted) and column not in self.sized and width > self._wanted[column].wide:
            self._wanted[column] = replace(self._wanted[column], wide=width, least=width)
            self._growing.start()

    def _sized_by_hand(self, at: int) -> None:
        if not self.fitting:
            self.sized.add(at)
            if at == self._stretch:  # what it has is not taken from it; nor does it take what is left
                self._stretch = -1

    @contextmanager
    def _by_itself(self) -> Iterator[None]:
        """Within it, what happens to the columns is not the user's doing."""
        before, self.fitting = self.fitting, True
        try:
            yield
        finally:
            self.fitting = before

    def minimumSizeHint(self) -> QSize:
        """Room for the titles and a few rows: less than that is no table."""
        across, down = self.horizontalHeader(), self.verticalHeader()
        assert across is not None
        assert down is not None
        return QSize(super().minimumSizeHint().width(), across.sizeHint().height() + 3 * down.defaultSectionSize())

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.FontChange and self.listed.columns:
            self._lines = 0
            self._set_heights()
            self._measure()
            self.fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        with self._by_itself():
            super().resizeEvent(event)
            self.fit()

    def current_row(self) -> int:
        """The row of the arrays that the cursor is on; -1 where there is none."""
        place = self.currentIndex().row()
        return int(self.listed.order[place]) if 0 <= place < len(self.listed.order) else -1

    def shows(self, row: int) -> bool:
        """True if a row of the arrays is shown, and not filtered away."""
        return bool((self.listed.order == row).any())

    def go_to(self, row: int) -> None:
        """Put the cursor on a row of the arrays, if it is shown; while they are arranged, as soon as that is known."""
        self._after = partial(self.go_to, row) if self.listed.pending else None
        places = np.flatnonzero(self.listed.order == row)
        if len(places):
            index = self.listed.index(int(places[0]), 0)
            self.setCurrentIndex(index)
            self.scrollTo(index, QAbstractItemView.ScrollHint.PositionAtCenter)

    def show_chosen(self, rows: Sequence[int]) -> None:
        """Show rows of the arrays as chosen without telling anybody: they were chosen elsewhere."""
        self._after = partial(self.show_chosen, rows) if self.listed.pending else None
        first = self._choose(rows)
        if first >= 0:
            self.scrollTo(self.listed.index(first, 0))

    def _choose(self, rows: Sequence[int], current: int = -1) -> int:
        """Choose rows of the arrays and put the cursor on one, or the first of them, without telling anybody; its place."""
        places = np.flatnonzero(np.isin(self.listed.order, np.array(rows, np.int64)))
        first = np.flatnonzero(self.listed.order == current) if current >= 0 else places
        chosen = QItemSelection()
        last = len(self.listed.columns) - 1
        for run in np.split(places, np.flatnonzero(np.diff(places) > 1) + 1)[:_MOST_SHOWN]:
            if len(run):
                chosen.select(self.listed.index(int(run[0]), 0), self.listed.index(int(run[-1]), last))
        selection = self.selectionModel()
        assert selection is not None
        selection.blockSignals(True)
        selection.select(chosen, QItemSelectionModel.SelectionFlag.ClearAndSelect)
        place = int(first[0]) if len(first) else -1
        if place >= 0:
            selection.setCurrentIndex(self.listed.index(place, 0), QItemSelectionModel.SelectionFlag.NoUpdate)
        selection.blockSignals(False)
        viewport = self.viewport()
        assert viewport is not None
        viewport.update()
        return place

    def is_chosen_at(self, place: QPoint) -> bool:
        """True if the row at a place of the viewport is chosen."""
        selection = self.selectionModel()
        assert selection is not None
        index = self.indexAt(place)
        return index.isValid() and selection.isSelected(index)

    def chosen_count(self) -> int:
        """The number of chosen rows, without listing them."""
        selection = self.selectionModel()
        assert selection is not None
        chosen = selection.selection()
        return sum(chosen[at].height() for at in range(len(chosen)))

    def chosen_rows(self) -> list[int]:
        selection = self.selectionModel()
        assert selection is not None
        ranges = selection.selection()
        places = [np.arange(ranges[at].top(), ranges[at].bottom() + 1) for at in range(len(ranges))]
        return [int(row) for row in self.listed.order[np.concatenate(places)]] if places else []

    def step(self, by: int) -> None:
        """Go to the next or previous row."""
        place = min(max(self.currentIndex().row() + by, 0), len(self.listed.order) - 1)
        if place >= 0:
            index = self.listed.index(place, 0)
            selection = self.selectionModel()
            assert selection is not None
            flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
            selection.setCurrentIndex(index, flags)

    def copy(self) -> None:
        """The selected rows, with titles, tab separated."""
        lines = ["\t".join(cells) for cells in text_rows(apart(self.listed.columns), self.chosen_rows())]
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("\n".join(lines))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.matches(QKeySequence.StandardKey.Copy):
            self.copy()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.current_row() >= 0:
            self._open(self.currentIndex())
        elif event.key() == Qt.Key.Key_Space and self.current_row() >= 0:
            self.read_wanted.emit(self.current_row())
        else:
            super().keyPressEvent(event)

    def _open(self, index: QModelIndex) -> None:
        wanted = self.open_wanted if self.opens else self.read_wanted
        wanted.emit(int(self.listed.order[index.row()]))

    def _moved(self, index: QModelIndex) -> None:
        if index.isValid():
            self.row_changed.emit(int(self.listed.order[index.row()]))
