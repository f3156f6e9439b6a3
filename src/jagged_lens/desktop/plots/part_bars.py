"""Cells with a share in each of a few parts, side by side as small columns."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from jagged_lens.desktop.look import theme


class PartBars(QStyledItemDelegate):
    """`role` gives the shares, from 0 to 1; the tallest column is the largest of them."""

    def __init__(self, view: object, role: int) -> None:
        super().__init__(view)  # type: ignore[arg-type]
        self._role = role

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        shares = index.data(self._role) or ()
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(option.rect, theme.colour("tint"))
        elif option.features & QStyleOptionViewItem.ViewItemFeature.Alternate:
            painter.fillRect(option.rect, theme.colour("paper"))
        area = QRectF(option.rect).adjusted(6, 3, -6, -3)
        most = max(shares, default=0.0) or 1.0
        width = area.width() / max(len(shares), 1)
        for at, share in enumerate(shares):
            box = QRectF(area.left() + at * width + 1, area.top(), width - 2, area.height())
            painter.fillRect(box, theme.colour("band"))
            high = box.height() * share / most
            painter.fillRect(QRectF(box.left(), box.bottom() - high, box.width(), high), theme.colour("verdigris"))
