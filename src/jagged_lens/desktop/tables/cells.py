# SPDX-License-Identifier: GPL-3.0-or-later
"""Cells that are drawn: a number with its bar, the shares of two sides, a share in each of a few parts."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import group_colour, letter_ink
from jagged_lens.desktop.tables.array_model import ArrayModel


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


def side_colours() -> tuple[QColor, QColor]:
    """The colours of the left and of the right side."""
    return theme.colour("verdigris"), group_colour(0)


class PairOfBars(QStyledItemDelegate):
    """The shares of two sides, which the mark of the column gives, as two bars and two numbers: the left side above."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        fill_ground(painter, option)
        area = QRectF(option.rect).adjusted(5, 0, -5, 0)
        small = theme.ui_font(0.82)
        number = QFontMetricsF(small).horizontalAdvance("100 %") + 4
        room = max(area.width() - 2 * number, 8)
        tall = min(area.height() / 2 - 2, 7)
        painter.setFont(small)
        painter.setPen(theme.colour("ink"))
        for at, (share, colour) in enumerate(
            zip(index.data(ArrayModel.MARK) or (0.0, 0.0), side_colours(), strict=True)
        ):
            top = area.center().y() - tall - 0.5 if at == 0 else area.center().y() + 0.5
            painter.fillRect(QRectF(area.left(), top, room, tall), theme.colour("band"))
            painter.fillRect(QRectF(area.left(), top, room * min(max(share, 0.0), 1.0), tall), colour)
            box = QRectF(area.left() + room + at * number, area.top(), number, area.height())
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{share:.0%}")


class PartBars(QStyledItemDelegate):
    """The shares in a few parts, which the mark of the column gives, as columns beside each other; the tallest is the largest of them."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        fill_ground(painter, option)
        shares = index.data(ArrayModel.MARK) or ()
        area = QRectF(option.rect).adjusted(6, 3, -6, -3)
        most = max(shares, default=0.0) or 1.0
        width = area.width() / max(len(shares), 1)
        for at, share in enumerate(shares):
            box = QRectF(area.left() + at * width + 1, area.top(), width - 2, area.height())
            painter.fillRect(box, theme.colour("band"))
            high = box.height() * share / most
            painter.fillRect(QRectF(box.left(), box.bottom() - high, box.width(), high), theme.colour("verdigris"))


class SharesCell(QStyledItemDelegate):
    """The shares that make up a whole, which the mark of the column gives, as one bar in the colours of groups."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        fill_ground(painter, option)
        shares = index.data(ArrayModel.MARK) or ()
        area = QRectF(option.rect).adjusted(6, 5, -6, -5)
        left = area.left()
        painter.setFont(theme.ui_font(0.8))
        letters = QFontMetricsF(painter.font())
        for at, share in sorted(enumerate(shares), key=lambda one: -one[1]):
            width = area.width() * share
            if width < 0.5:
                break
            box = QRectF(left, area.top(), max(width - 1, 0.5), area.height())
            painter.fillRect(box, group_colour(at))
            if letters.horizontalAdvance(str(at + 1)) + 4 < width:
                painter.setPen(letter_ink())
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(at + 1))
            left += width


def fill_ground(painter: QPainter, option: QStyleOptionViewItem) -> None:
    """The ground of a drawn cell: chosen, or every other row."""
    if option.state & QStyle.StateFlag.State_Selected:
        painter.fillRect(option.rect, theme.colour("tint"))
    elif option.features & QStyleOptionViewItem.ViewItemFeature.Alternate:
        painter.fillRect(option.rect, theme.colour("paper"))
