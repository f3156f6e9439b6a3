# SPDX-License-Identifier: GPL-3.0-or-later
"""The shapes of the four kinds of pair, and the cells of the table of pairs that are drawn."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.tables.array_model import ArrayModel
from jagged_lens.desktop.tables.cells import fill_ground


def paint_kind(painter: QPainter, middle: QPointF, kind: int, size: float) -> None:
    """The shape of a kind: a full square, a square struck through, a dot in a ring, two rings."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink = theme.colour("ink")
    half = size / 2
    square = QRectF(middle.x() - half, middle.y() - half, size, size)
    painter.setPen(QPen(ink, 1.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if kind == 0:
        painter.fillRect(square, ink)
    elif kind == 1:
        painter.drawRect(square)
        painter.drawLine(square.bottomLeft(), square.topRight())
    elif kind == 2:
        painter.drawEllipse(middle, half, half)
        painter.setBrush(ink)
        painter.drawEllipse(middle, half * 0.3, half * 0.3)
    else:
        for side in (-0.45, 0.45):
            painter.drawEllipse(QPointF(middle.x() + side * size, middle.y()), half * 0.8, half * 0.8)
    painter.restore()


def _number_wide() -> float:
    """The room for a number of pairs, in pixels: hundreds of thousands are listed on vectors."""
    return QFontMetricsF(theme.ui_font(bold=True)).horizontalAdvance("000,000")


class KindButton(QAbstractButton):
    """A kind of pair: its shape, how many, in words. Switched off, its pairs are not listed."""

    def __init__(self, kind: int, text: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.kind = kind
        self.words = text
        self.count = 0
        self.setCheckable(True)
        self.setChecked(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.show_count(0)

    def show_count(self, count: int) -> None:
        self.count = count
        self.setAccessibleName(f"{count:,} {self.words}")
        set_tip(self, "Click to hide or show pairs of this kind.")
        self.update()

    def sizeHint(self) -> QSize:
        metrics = QFontMetricsF(theme.ui_font())
        return QSize(int(metrics.horizontalAdvance(self.words) + _number_wide()) + 46, int(metrics.height() * 1.45))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setOpacity(1.0 if self.isChecked() else 0.55)
        metrics = QFontMetricsF(theme.ui_font())
        middle, wide = self.height() / 2, _number_wide()
        paint_kind(painter, QPointF(16, middle), self.kind, 10)
        painter.setPen(theme.colour("ink"))
        painter.setFont(theme.ui_font(bold=True))
        painter.drawText(
            QRectF(28, 0, wide, self.height()),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            f"{self.count:,}",
        )
        font = theme.ui_font()
        font.setStrikeOut(not self.isChecked())
        painter.setFont(font)
        text = metrics.elidedText(self.words, Qt.TextElideMode.ElideRight, self.width() - 40 - wide)
        painter.drawText(
            QRectF(36 + wide, 0, self.width() - 38 - wide, self.height()), Qt.AlignmentFlag.AlignVCenter, text
        )
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("verdigris"), 1.4))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)


class KindCell(QStyledItemDelegate):
    """The shape of a kind and its word."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        fill_ground(painter, option)
        area = QRectF(option.rect)
        kind = index.data(ArrayModel.MARK)
        if kind is not None:
            paint_kind(painter, QPointF(area.left() + 17, area.center().y()), kind, 10)
        painter.setPen(theme.colour("ink"))
        painter.drawText(area.adjusted(34, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, index.data() or "")
