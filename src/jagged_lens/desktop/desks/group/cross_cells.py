# SPDX-License-Identifier: GPL-3.0-or-later
"""The cross table as a table whose cells are shaded by how far they are from chance, and picked one by one."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import paint_letter
from jagged_lens.desktop.tables.array_model import ArrayModel
from jagged_lens.desktop.tables.cells import fill_ground
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.group import CrossTable

FIXED = 2
"""Columns before those of the values."""
_STRONG = 6.0  # a deviation from chance from which a cell has the full colour
_FEWER = -2.0  # and one from which there are clearly fewer


class CrossTableView(TableView):
    """picked(group, value): a cell was clicked, or Return pressed on it; value -1: the whole group."""

    picked = pyqtSignal(int, int)

    def __init__(self) -> None:
        super().__init__("Groups against the label")
        self.setSelectionBehavior(TableView.SelectionBehavior.SelectItems)
        self.cell = _Cell(self)
        self.setItemDelegate(self.cell)
        self.clicked.connect(self._pick)

    def _pick(self, index: QModelIndex) -> None:
        if index.isValid():
            self.picked.emit(
                int(self.listed.order[index.row()]), index.column() - FIXED if index.column() >= FIXED else -1
            )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._pick(self.currentIndex())
        else:
            super().keyPressEvent(event)


class _Cell(QStyledItemDelegate):
    """A cell of the cross table, the darker the more of it is above chance. In ochre where clearly fewer are in it than by chance."""

    cross: CrossTable | None = None
    beyond: np.ndarray = np.zeros((0, 0))  # chance, of each cell

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        group, value = index.data(ArrayModel.MARK), index.column() - FIXED
        area = QRectF(option.rect)
        words = index.data() or ""
        painter.save()
        if value < 0 or self.cross is None or group is None or value >= self.cross.counts.shape[1]:
            fill_ground(painter, option)
            if index.column() == 0 and group is not None:
                side = int(option.fontMetrics.height() * 1.2)
                chip = QRect(option.rect.left() + 5, option.rect.center().y() - side // 2, max(side, 22), side)
                paint_letter(painter, chip, group)
                area.setLeft(chip.right() + 7)
                painter.setFont(option.font)
            painter.setPen(theme.colour("ink"))
            shown = option.fontMetrics.elidedText(words, Qt.TextElideMode.ElideRight, int(area.width()) - 4)
            side_of = Qt.AlignmentFlag.AlignLeft if index.column() == 0 else Qt.AlignmentFlag.AlignRight
            painter.drawText(area.adjusted(0, 0, -6, 0), side_of | Qt.AlignmentFlag.AlignVCenter, shown)
        else:
            beyond = float(self.beyond[group, value])
            depth = min(max(beyond / _STRONG, 0.0), 1.0)
            ground = theme.mixed(theme.colour("card"), theme.colour("verdigris"), depth * 0.85)
            painter.fillRect(option.rect, ground)
            few = beyond < _FEWER
            painter.setPen(theme.colour("ochre") if few else _ink_on(ground))
            painter.drawText(
                area.adjusted(0, 0, -6, 0), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words
            )
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("ink"), 1.6))
            painter.drawRect(QRectF(option.rect).adjusted(1, 1, -2, -2))
        painter.restore()


def _ink_on(ground: QColor) -> QColor:
    """The ink, of two, that is more legible on a ground."""

    def contrast(ink: QColor) -> float:
        one, other = sorted((_shine(ink), _shine(ground)))
        return (other + 0.05) / (one + 0.05)

    return max((theme.colour("ink"), theme.colour("on_verdigris")), key=contrast)


def _shine(colour: QColor) -> float:
    parts = [
        part / 12.92 if part <= 0.03928 else ((part + 0.055) / 1.055) ** 2.4
        for part in colour.getRgbF()[:3]
        if part is not None
    ]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]
