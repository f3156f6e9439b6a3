"""Cells with a pair of bars: the share of one side above, that of the other below."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import group_colour


def side_colours() -> tuple[QColor, QColor]:
    """The colours of the left and of the right side."""
    return theme.colour("verdigris"), group_colour(0)


class PairOfBars(QStyledItemDelegate):
    """Draws a cell that says "45 % · 12 %" as two bars and both numbers; `role` gives both shares, from 0 to 1."""

    def __init__(self, view: object, role: int) -> None:
        super().__init__(view)  # type: ignore[arg-type]
        self._role = role

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        shares = index.data(self._role) or (0.0, 0.0)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(option.rect, theme.colour("tint"))
        elif option.features & QStyleOptionViewItem.ViewItemFeature.Alternate:
            painter.fillRect(option.rect, theme.colour("paper"))
        area = QRectF(option.rect).adjusted(5, 0, -5, 0)
        small = theme.ui_font(0.82)
        number = QFontMetricsF(small).horizontalAdvance("100 %") + 4
        room = max(area.width() - 2 * number, 8)
        tall = min(area.height() / 2 - 2, 7)
        for at, (share, colour) in enumerate(zip(shares, side_colours(), strict=True)):
            top = area.center().y() - tall - 0.5 if at == 0 else area.center().y() + 0.5
            painter.fillRect(QRectF(area.left(), top, room, tall), theme.colour("band"))
            painter.fillRect(QRectF(area.left(), top, room * min(max(share, 0.0), 1.0), tall), colour)
            painter.setFont(small)
            painter.setPen(theme.colour("ink"))
            box = QRectF(area.left() + room + at * number, area.top(), number, area.height())
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{share:.0%}")
