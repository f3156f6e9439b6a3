"""A table over arrays: sorted, filtered, copied; a cell's text is made only when it is seen."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import (
    QAbstractTableModel,
    QItemSelection,
    QItemSelectionModel,
    QModelIndex,
    QPersistentModelIndex,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QKeySequence, QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QHeaderView, QTableView, QWidget

from jagged_lens.desktop import theme

_LEAST = 0.8  # the share of its room that a column can do with before the table is moved to and fro
_MOST_SHOWN = 3000  # rows chosen elsewhere that are shown as chosen


@dataclass(frozen=True)
class Column:
    """One column: its title, the text of a row, and what it is sorted by (an array, or its texts).

    texts: those of all rows, where they are at hand or can be made at once; sorting and filtering are quicker with them.
    """

    title: str
    text: Callable[[int], str]
    key: NDArray[Any] | None = None
    right: bool = False
    searched: bool = False
    tip: str = ""
    share: Callable[[int], float] | None = None
    mark: Callable[[int], int] | None = None
    ink: Callable[[int], str | None] | None = None
    texts: Sequence[str] | Callable[[], Sequence[str]] | None = None

    def all_texts(self, size: int) -> Sequence[str]:
        """The texts of all rows: those that are at hand, or one after the other."""
        if self.texts is None:
            return [self.text(row) for row in range(size)]
        return self.texts() if callable(self.texts) else self.texts


def _laid_out(texts: Sequence[str]) -> tuple[bytes, NDArray[np.int64]]:
    """Texts without regard to case, a line each, as UTF-8; and where each starts."""
    whole = "\n".join(texts)
    if whole.count("\n") >= max(len(texts), 1):
        whole = "\n".join(text.replace("\n", " ") for text in texts)
    data = whole.casefold().encode("utf-8", "replace")
    ends = np.flatnonzero(np.frombuffer(data, np.uint8) == ord("\n"))
    return data, np.concatenate((np.zeros(1, np.int64), ends + 1))


class ArrayModel(QAbstractTableModel):
    """Rows of arrays in the order and the selection that the user wants."""

    SHARE = Qt.ItemDataRole.UserRole + 1
    MARK = Qt.ItemDataRole.UserRole + 2

    def __init__(self) -> None:
        super().__init__()
        self.columns: Sequence[Column] = ()
        self.size = 0
        self.order: NDArray[np.int64] = np.zeros(0, np.int64)
        self._sorted: tuple[int, Qt.SortOrder] | None = None
        self._filter = ""
        self._only: NDArray[np.bool_] | None = None
        self._texts: list[tuple[bytes, NDArray[np.int64]]] | None = None  # of each searched column, for the filter
        self._orders: dict[tuple[int, Qt.SortOrder], NDArray[np.int64]] = {}

    def show(self, columns: Sequence[Column], size: int) -> None:
        """Show other arrays; order and filter are kept."""
        self.beginResetModel()
        self.columns, self.size, self._texts = columns, size, None
        self._only = None
        self._orders = {}
        self._arrange()
        self.endResetModel()

    def filter(self, words: str, only: NDArray[np.bool_] | None = None) -> None:
        """Show only rows whose searched columns hold `words`, and that are True in `only`."""
        self.beginResetModel()
        self._filter, self._only = words.casefold().strip(), only
        self._arrange()
        self.endResetModel()

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        self.layoutAboutToBeChanged.emit()
        self._sorted = (column, order) if column >= 0 else None
        self._arrange()
        self.layoutChanged.emit()

    @property
    def unsorted(self) -> bool:
        """Whether the rows are in their own order."""
        return self._sorted is None

    def _arrange(self) -> None:
        order = self._in_order()
        if self._only is not None and len(self._only) == self.size:
            order = order[self._only[order]]
        if self._filter:
            order = order[self._found()[order]]
        self.order = order

    def _in_order(self) -> NDArray[np.int64]:
        """All rows in the order that is wanted; worked out once for each column and direction."""
        if not self._sorted or self._sorted[0] >= len(self.columns) or not self.size:
            return np.arange(self.size)
        if self._sorted not in self._orders:
            column = self.columns[self._sorted[0]]
            key = column.key
            if key is None:
                # Told apart first: texts are compared once each, and ranks are numbers.
                texts = np.array([text.casefold() for text in column.all_texts(self.size)], object)
                ranked = {text: rank for rank, text in enumerate(sorted(set(texts.tolist())))}
                key = np.array([ranked[text] for text in texts.tolist()], np.int64)
            order = np.argsort(key, kind="stable")
            if self._sorted[1] == Qt.SortOrder.DescendingOrder:
                # Ties stay in their own order.
                order = (self.size - 1 - np.argsort(key[::-1], kind="stable"))[::-1]
            self._orders[self._sorted] = order
        return self._orders[self._sorted]

    def _found(self) -> NDArray[np.bool_]:
        """Of each row whether a searched column holds what is filtered for: one search through all its texts, laid end to end."""
        if self._texts is None:
            self._texts = [_laid_out(column.all_texts(self.size)) for column in self.columns if column.searched]
        wanted = re.escape(self._filter.encode("utf-8", "replace"))
        found = np.zeros(self.size, bool)
        for texts, starts in self._texts:
            hits = [match.start() for match in re.finditer(wanted, texts)]
            found[np.searchsorted(starts, hits, "right") - 1] = True
        return found

    def rowCount(self, parent: QModelIndex | QPersistentModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.order)

    def columnCount(self, parent: QModelIndex | QPersistentModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.columns)

    def data(self, index: QModelIndex | QPersistentModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid():
            return None
        column, row = self.columns[index.column()], int(self.order[index.row()])
        if role == Qt.ItemDataRole.DisplayRole:
            return column.text(row)
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if column.right else Qt.AlignmentFlag.AlignLeft
            return side | Qt.AlignmentFlag.AlignVCenter
        if role == Qt.ItemDataRole.ForegroundRole and column.ink and (name := column.ink(row)):
            return theme.colour(name)
        if role == Qt.ItemDataRole.ToolTipRole:
            return column.text(row)
        if role == self.SHARE and column.share:
            return column.share(row)
        if role == self.MARK and column.mark:
            return column.mark(row)
        return None

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and section < len(self.columns):
            column = self.columns[section]
            if role == Qt.ItemDataRole.DisplayRole:
                return column.title
            if role == Qt.ItemDataRole.ToolTipRole:
                return column.tip or f"Sort by {column.title.lower()}"
            if role == Qt.ItemDataRole.TextAlignmentRole:
                side = Qt.AlignmentFlag.AlignRight if column.right else Qt.AlignmentFlag.AlignLeft
                return side | Qt.AlignmentFlag.AlignVCenter
        return None


class TableView(QTableView):
    """Shows an ArrayModel; rows are selected whole, Ctrl+C copies them tab separated, Space reads."""

    row_changed = pyqtSignal(int)
    read_wanted = pyqtSignal(int)
    columns_shown = pyqtSignal()

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.rows = ArrayModel()
        self._stretch = (0, 0)
        self._widths: Sequence[int] = ()
        self.fitting = False  # the table itself sets widths
        self.setModel(self.rows)
        self.setAccessibleName(name)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setAlternatingRowColors(True)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self.setTabKeyNavigation(False)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        down, across = self.verticalHeader(), self.horizontalHeader()
        assert down is not None
        assert across is not None
        down.hide()
        down.setDefaultSectionSize(int(self.fontMetrics().height() * 1.75))
        across.setHighlightSections(False)
        across.setSortIndicatorClearable(True)
        across.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        self.setSortingEnabled(True)
        selection = self.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._moved)
        self.doubleClicked.connect(lambda index: self.read_wanted.emit(int(self.rows.order[index.row()])))

    def show_rows(self, columns: Sequence[Column], size: int, widths: Sequence[int] = (), stretch: int = 0) -> None:
        """Show other arrays. widths: in characters, the first time; the column `stretch` takes what is left."""
        first = [column.title for column in self.rows.columns] != [column.title for column in columns]
        current = self.current_row()
        with self._by_itself():
            self.rows.show(columns, size)
            if first and columns:
                self._widths, self._stretch = widths, (stretch, 0)
                self.first_widths()
                self.columns_shown.emit()
        if 0 <= current < size:
            self.show_chosen([current])

    def first_widths(self) -> None:
        """Make the columns as wide as they were meant to be."""
        across = self.horizontalHeader()
        assert across is not None
        with self._by_itself():
            across.setSectionResizeMode(
                QHeaderView.ResizeMode.Interactive
            )  # a column that stretches has no width of its own
            titles = QFontMetricsF(theme.ui_font(bold=True))
            for place, width in enumerate(self._widths):
                titled = titles.horizontalAdvance(self.rows.columns[place].title) + 16
                self.setColumnWidth(place, int(max(self.fontMetrics().averageCharWidth() * width + 14, titled)))
            self._stretch = (self._stretch[0], self.columnWidth(self._stretch[0]))
            self._fit()

    @contextmanager
    def _by_itself(self) -> Iterator[None]:
        """Within it, what happens to the columns is not the user's doing."""
        before, self.fitting = self.fitting, True
        try:
            yield
        finally:
            self.fitting = before

    def _fit(self) -> None:
        """The column that stretches takes what is left, but is hardly narrower than it wants to be."""
        across, viewport = self.horizontalHeader(), self.viewport()
        assert across is not None
        assert viewport is not None
        place, wanted = self._stretch
        if place >= across.count() or not wanted:
            return
        others = sum(across.sectionSize(at) for at in range(across.count()) if at != place)
        fits = others + _LEAST * wanted <= viewport.width()
        mode = QHeaderView.ResizeMode.Stretch if fits else QHeaderView.ResizeMode.Interactive
        if across.sectionResizeMode(place) != mode:
            across.setSectionResizeMode(place, mode)
            if not fits:
                across.resizeSection(place, wanted)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        with self._by_itself():
            super().resizeEvent(event)
            self._fit()

    def current_row(self) -> int:
        """The row of the arrays that the cursor is on; -1 where there is none."""
        place = self.currentIndex().row()
        return int(self.rows.order[place]) if 0 <= place < len(self.rows.order) else -1

    def go_to(self, row: int) -> None:
        """Put the cursor on a row of the arrays, if it is shown."""
        places = np.flatnonzero(self.rows.order == row)
        if len(places):
            index = self.rows.index(int(places[0]), 0)
            self.setCurrentIndex(index)
            self.scrollTo(index, QAbstractItemView.ScrollHint.PositionAtCenter)

    def show_chosen(self, rows: Sequence[int]) -> None:
        """Show rows of the arrays as chosen without telling anybody: they were chosen elsewhere."""
        places = np.flatnonzero(np.isin(self.rows.order, np.array(rows, np.int64)))
        chosen = QItemSelection()
        last = len(self.rows.columns) - 1
        for place in places[:_MOST_SHOWN].tolist():
            chosen.select(self.rows.index(place, 0), self.rows.index(place, last))
        selection = self.selectionModel()
        assert selection is not None
        selection.blockSignals(True)
        selection.select(chosen, QItemSelectionModel.SelectionFlag.ClearAndSelect)
        if len(places):
            index = self.rows.index(int(places[0]), 0)
            selection.setCurrentIndex(index, QItemSelectionModel.SelectionFlag.NoUpdate)
            self.scrollTo(index)
        selection.blockSignals(False)
        viewport = self.viewport()
        assert viewport is not None
        viewport.update()

    def chosen_count(self) -> int:
        """How many rows are chosen, told without listing them."""
        selection = self.selectionModel()
        assert selection is not None
        chosen = selection.selection()
        return sum(chosen[at].height() for at in range(len(chosen)))

    def chosen_rows(self) -> list[int]:
        selection = self.selectionModel()
        assert selection is not None
        return [int(self.rows.order[index.row()]) for index in selection.selectedRows()]

    def step(self, by: int) -> None:
        """Go to the next or previous row."""
        place = min(max(self.currentIndex().row() + by, 0), len(self.rows.order) - 1)
        if place >= 0:
            index = self.rows.index(place, 0)
            selection = self.selectionModel()
            assert selection is not None
            flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
            selection.setCurrentIndex(index, flags)

    def copy(self) -> None:
        """The selected rows, with titles, tab separated."""
        columns = self.rows.columns
        lines = ["\t".join(column.title for column in columns)]
        lines += ["\t".join(column.text(row) for column in columns) for row in self.chosen_rows()]
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("\n".join(lines))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.matches(QKeySequence.StandardKey.Copy):
            self.copy()
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.current_row() >= 0:
            self.read_wanted.emit(self.current_row())
        else:
            super().keyPressEvent(event)

    def _moved(self, index: QModelIndex) -> None:
        if index.isValid():
            self.row_changed.emit(int(self.rows.order[index.row()]))
