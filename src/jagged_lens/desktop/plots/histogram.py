# SPDX-License-Identifier: GPL-3.0-or-later
"""The distribution of similarities on a log scale, with the limit as a line that the hand can move."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture


class LimitHistogram(KeyedPicture):
    """Bars from 0 to 1; what lies at or above the limit is kept. Emits `limit_set` when the line is let go."""

    limit_set = pyqtSignal(float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._counts: NDArray[np.float64] = np.zeros(1)
        self._error: NDArray[np.float64] | None = None
        self._limit = 0.8
        self._dragging = False
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Similarity of pairs: distribution with its limit")
        set_tip(self, "Drag the line or use the arrow keys to change the limit for listed pairs.")

    def show_counts(self, counts: NDArray[np.float64], limit: float, error: NDArray[np.float64] | None = None) -> None:
        """error: the standard error of each count, where they are estimated."""
        self._counts, self._error = counts, error
        if not self._dragging:
            self._limit = limit
        self.setAccessibleDescription(f"Limit {self._limit:.2f}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(380, int(QFontMetricsF(theme.ui_font()).height() * 7.6))

    def _area(self) -> QRectF:
        line = QFontMetricsF(theme.ui_font()).height()
        return QRectF(8, line * 0.5, self.width() - 16, self.height() - line * 2.9)

    def place_of(self, similarity: float) -> float:
        """The position of a similarity the widget, in pixels."""
        area = self._area()
        return area.left() + similarity * area.width()

    def _value_at(self, x: float) -> float:
        area = self._area()
        return round(min(max((x - area.left()) / area.width(), 0.01), 1.0), 2)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._dragging = True
            self._move(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        near = abs(event.position().x() - self.place_of(self._limit)) < 8
        self.setCursor(Qt.CursorShape.SplitHCursor if near or self._dragging else Qt.CursorShape.ArrowCursor)
        if self._dragging:
            self._move(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragging:
            self._dragging = False
            self.limit_set.emit(self._limit)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        steps = {Qt.Key.Key_Left: -0.01, Qt.Key.Key_Right: 0.01, Qt.Key.Key_PageDown: -0.1, Qt.Key.Key_PageUp: 0.1}
        if key not in steps:
            return False
        self._limit = round(min(max(self._limit + steps[key], 0.01), 1.0), 2)
        self.limit_set.emit(self._limit)
        return True

    def _move(self, x: float) -> None:
        self._limit = self._value_at(x)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = self._area()
        heights = np.log1p(self._counts)
        top = heights.max() or 1.0
        width = area.width() / len(heights)
        for place, height in enumerate(heights / top):
            if not height:
                continue
            above = (place + 0.5) / len(heights) >= self._limit
            tall = max(height * area.height(), 1.5)
            bar = QRectF(area.left() + place * width + 0.75, area.bottom() - tall, width - 1.5, tall)
            painter.fillRect(bar, theme.colour("verdigris" if above else "quiet"))
            if self._error is not None and self._error[place] > 0:
                spread = np.array([-2, 2]) * self._error[place] + self._counts[place]
                low, high = np.log1p(np.maximum(spread, 0)) / top * area.height()
                painter.setPen(QPen(theme.colour("ink"), 1.2))
                middle = bar.center().x()
                painter.drawLine(QPointF(middle, area.bottom() - low), QPointF(middle, area.bottom() - high))
        painter.setPen(QPen(theme.colour("muted"), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        small = theme.ui_font(0.86)
        painter.setFont(small)
        line = QFontMetricsF(small).height()
        x = self.place_of(self._limit)
        for tick in (0.0, 0.25, 0.5, 0.75, 1.0):
            at = self.place_of(tick)
            if abs(at - x) > 34:
                label = QRectF(at - 30, area.bottom() + 3, 60, line)
                label.moveLeft(min(max(label.left(), -22.0), self.width() - 38.0))
                painter.drawText(label, Qt.AlignmentFlag.AlignCenter, f"{tick:g}")
        painter.setPen(QPen(theme.colour("ink"), 2))
        painter.drawLine(QPointF(x, 2), QPointF(x, area.bottom() + 3))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("ink"))
        foot = area.bottom() + 2
        painter.drawPolygon(QPolygonF([QPointF(x, foot), QPointF(x + 6, foot + 8), QPointF(x - 6, foot + 8)]))
        painter.setPen(theme.colour("ink"))
        painter.setFont(theme.ui_font(0.95, bold=True))
        label = QRectF(min(max(x - 40, 0), self.width() - 80), foot + 8, 80, line * 1.2)
        painter.drawText(label, Qt.AlignmentFlag.AlignCenter, f"{self._limit:.2f}")
        if self.hasFocus():
            theme.draw_focus(painter, self.rect())
