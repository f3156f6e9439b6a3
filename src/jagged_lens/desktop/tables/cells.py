"""Cells that are drawn: a number with its bar."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.tables.table import ArrayModel


class ShareCell(QStyledItemDelegate):
    """A number with its bar: how alike, from 0 to 1."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        fill_ground(painter, option)
        area = QRectF(option.rect).adjusted(6, 0, -6, 0)
        words = index.data() or ""
        number = QFontMetricsF(option.font).horizontalAdvance("0.000") + 8
        bar = QRectF(area.left(), area.center().y() - 4, max(area.width() - number, 10), 8)
        painter.fillRect(bar, theme.colour("band"))
        share = index.data(ArrayModel.SHARE) or 0.0
        painter.fillRect(
            QRectF(bar.left(), bar.top(), bar.width() * min(max(share, 0), 1), bar.height()), theme.colour("verdigris")
        )
        painter.setPen(theme.colour("ink"))
        painter.drawText(area, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)


def fill_ground(painter: QPainter, option: QStyleOptionViewItem) -> None:
    """The ground of a drawn cell: chosen, or every other row."""
    if option.state & QStyle.StateFlag.State_Selected:
        painter.fillRect(option.rect, theme.colour("tint"))
    elif option.features & QStyleOptionViewItem.ViewItemFeature.Alternate:
        painter.fillRect(option.rect, theme.colour("paper"))
