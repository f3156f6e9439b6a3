# SPDX-License-Identifier: GPL-3.0-or-later
"""The content of a table: rows of arrays in the user's order and selection."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, QPersistentModelIndex, Qt, pyqtSignal

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import tip
from jagged_lens.desktop.tables.arrangement import Arrangement, Column, Wanted
from jagged_lens.desktop.tables.fitting import Shared
from jagged_lens.strings import fold

_MOST_AT_ONCE = 5_000  # rows that are arranged in the interface thread: some milliseconds


class ArrayModel(QAbstractTableModel):
    """Rows of arrays in the order and the selection that the user wants. waits tells whether a long table is being arranged."""

    waits = pyqtSignal(bool)
    SHARE = Qt.ItemDataRole.UserRole + 1
    MARK = Qt.ItemDataRole.UserRole + 2
    BELOW = Qt.ItemDataRole.UserRole + 3

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.columns: Sequence[Column] = ()
        self.size = 0
        self.order: NDArray[np.int64] = np.zeros(0, np.int64)
        self.pending = False
        self.shared = Shared()
        self.asker = Asker(self)
        self.asker.failed.connect(self._give_up)
        self._wanted = Wanted()
        self._arrangement = Arrangement()

    def show(self, columns: Sequence[Column], size: int, shared: Shared = Shared()) -> None:  # noqa: B008
        """Show other arrays; order and filter are kept. shared: what the rows of a column begin with, which its title shows once."""
        self.beginResetModel()
        if size != self.size:
            self.order = np.zeros(0, np.int64)  # a long table is empty until it is arranged
        self.columns, self.size = columns, size
        self.shared = shared
        self._arrangement = self._arrangement.after(columns, size)
        self._wanted = replace(self._wanted, only=None)
        self.endResetModel()
        self._arrange()

    def renew(self, columns: Sequence[Column]) -> None:
        """Other texts and keys for the same rows, which stay as they are shown until somebody sorts or filters."""
        self.columns = columns
        self._arrangement = self._arrangement.after(columns, self.size)

    def filter(self, words: str, only: NDArray[np.bool_] | None = None) -> None:
        """Show only rows whose searched columns hold `words`, and that are True in `only`."""
        self._wanted = replace(self._wanted, words=fold(words).strip(), only=only)
        self._arrange()

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        self._wanted = replace(self._wanted, column=column, falling=order == Qt.SortOrder.DescendingOrder)
        self._arrange()

    @property
    def unsorted(self) -> bool:
        """True if the rows are in their own order."""
        return self._wanted.column < 0

    def _arrange(self) -> None:
        """At once where there are few rows; else in a thread, and the rows stay as they are until then."""
        wanted, arrangement = self._wanted, self._arrangement
        self.pending = self.size > _MOST_AT_ONCE and not wanted.everything
        if self.pending:
            self.asker.ask("rows", lambda: arrangement.rows(wanted), self._take)
            self.waits.emit(True)
        else:
            self.asker.forget("rows")
            self._take(arrangement.rows(wanted))

    def _take(self, order: NDArray[np.int64]) -> None:
        self.pending = False
        self.beginResetModel()
        self.order = order
        self.endResetModel()
        self.waits.emit(False)

    def _give_up(self) -> None:
        self.pending = False
        self.waits.emit(False)

    def rowCount(self, parent: QModelIndex | QPersistentModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.order)

    def columnCount(self, parent: QModelIndex | QPersistentModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.columns)

    def data(self, index: QModelIndex | QPersistentModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid():
            return None
        column, row = self.columns[index.column()], int(self.order[index.row()])
        if role == Qt.ItemDataRole.DisplayRole:
            return self.shared.short(index.column(), column.text(row))
        if role == self.BELOW:
            return self.shared.short(index.column(), column.below(row)) if column.below is not None else None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if column.right else Qt.AlignmentFlag.AlignLeft
            return side | Qt.AlignmentFlag.AlignVCenter
        if role == Qt.ItemDataRole.ForegroundRole and column.ink and (name := column.ink(row)):
            return theme.colour(name)
        if role == Qt.ItemDataRole.ToolTipRole and column.hint is not None:
            return tip(column.hint(row))
        if role == Qt.ItemDataRole.ToolTipRole:
            return tip(column.text(row) if column.below is None else f"{column.text(row)}\n{column.below(row)}")
        if role == self.SHARE and column.share:
            return column.share(row)
        if role == self.MARK and column.mark:
            return column.mark(row)
        return None

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and section < len(self.columns):
            column = self.columns[section]
            if role == Qt.ItemDataRole.DisplayRole:
                return self.shared.titled(section, column.title)
            if role == Qt.ItemDataRole.ToolTipRole:
                return tip(column.tip or f"Sort by {column.title.lower()}")
            if role == Qt.ItemDataRole.TextAlignmentRole:
                side = Qt.AlignmentFlag.AlignRight if column.right else Qt.AlignmentFlag.AlignLeft
                return side | Qt.AlignmentFlag.AlignVCenter
        return None
