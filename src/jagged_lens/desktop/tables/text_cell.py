# SPDX-License-Identifier: GPL-3.0-or-later
"""Cells of text: cut at the end, or in the middle where that tells more, or never. Two texts of a row stand below each other."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QModelIndex, QObject, QPersistentModelIndex, QRectF, Qt
from PyQt6.QtGui import QPainter, QPalette
from PyQt6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from jagged_lens.desktop.tables.arrangement import Cut
from jagged_lens.desktop.tables.array_model import ArrayModel
from jagged_lens.desktop.tables.cells import fill_ground

_EDGE = 7  # pixels beside a text


class TextCell(QStyledItemDelegate):
    """The text of a column, as its column wants it cut. grow(column, pixels): a text that is never cut needs so much room."""

    def __init__(self, grow: Callable[[int, int], None], parent: QObject) -> None:
        super().__init__(parent)
        self._grow = grow

    def initStyleOption(self, option: QStyleOptionViewItem | None, index: QModelIndex | QPersistentModelIndex) -> None:
        super().initStyleOption(option, QModelIndex(index))
        model = index.model()
        if option is None or not isinstance(model, ArrayModel):
            return
        cut = model.columns[index.column()].cut
        option.textElideMode = Qt.TextElideMode.ElideMiddle if cut is Cut.MIDDLE else Qt.TextElideMode.ElideRight
        if cut is Cut.NEVER:
            needed = option.fontMetrics.horizontalAdvance(option.text or "") + 2 * _EDGE + 2
            if needed > option.rect.width():
                self._grow(index.column(), needed)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        below = index.data(ArrayModel.BELOW)
        if below is None:
            super().paint(painter, option, QModelIndex(index))
            return
        assert painter is not None
        painter.save()
        fill_ground(painter, option)
        painter.setFont(option.font)
        painter.setPen(option.palette.color(QPalette.ColorRole.Text))
        area = QRectF(option.rect).adjusted(_EDGE, 4, -_EDGE, -4)
        for text, top in ((index.data() or "", area.top()), (below, area.center().y())):
            line = QRectF(area.left(), top, area.width(), area.height() / 2)
            shown = option.fontMetrics.elidedText(text, Qt.TextElideMode.ElideRight, int(line.width()))
            painter.drawText(line, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, shown)
        painter.restore()
