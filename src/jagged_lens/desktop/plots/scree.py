# SPDX-License-Identifier: GPL-3.0-or-later
"""The scree plot: how much each theme holds, with the elbow marked and a line that sets how many are kept."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture


class ScreePlot(KeyedPicture):
    """number_set(themes): the line was let go; 0: no theme is kept. chosen(theme): a point was clicked, from 0."""

    number_set = pyqtSignal(int)
    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shares: NDArray[np.float64] = np.zeros(0)
        self._elbow = 0
        self._number = 0
        self._current = -1
        self._dragging = False
        self._instead = "the terms"
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Scree plot: the share of each theme")
        set_tip(self, "Drag the line or use the arrow keys to set the number of themes for the later steps.")

    def show_shares(self, shares: NDArray[np.float64], elbow: int, number: int, instead: str = "the terms") -> None:
        """shares: float64, k. elbow: the number of the theme at it, from 1; 0: none. number: how many are kept. instead: the space of the
        later steps where none is."""
        self._instead = instead
        self._shares, self._elbow = shares, elbow
        if not self._dragging:
            self._number = number
        self.setAccessibleDescription(f"{len(shares)} themes, elbow at {elbow}, {self._number} kept")
        self.update()

    def show_current(self, theme_number: int) -> None:
        """Mark the theme that is looked at, from 0."""
        self._current = theme_number
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(380, int(QFontMetricsF(theme.ui_font()).height() * 8))

    def _area(self) -> QRectF:
        line = QFontMetricsF(theme.ui_font(0.86)).height()
        return QRectF(line * 3.2, line * 0.8, self.width() - line * 4, self.height() - line * 2.6)

    def place_of(self, number: float) -> float:
        """The position of a number of themes, in pixels; theme j lies at j."""
        area = self._area()
        return area.left() + number / (len(self._shares) + 0.5) * area.width()

    def _number_at(self, x: float) -> int:
        area = self._area()
        return int(min(max(round((x - area.left()) / area.width() * (len(self._shares) + 0.5)), 0), len(self._shares)))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton or not len(self._shares):
            return
        if abs(event.position().x() - self.place_of(self._number + 0.5)) < 8:
            self._dragging = True
        else:
            number = self._number_at(event.position().x())
            if number:
                self.chosen.emit(number - 1)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        near = abs(event.position().x() - self.place_of(self._number + 0.5)) < 8
        self.setCursor(Qt.CursorShape.SplitHCursor if near or self._dragging else Qt.CursorShape.ArrowCursor)
        if self._dragging:
            self._number = self._number_at(event.position().x() - self.place_of(0.5) + self.place_of(0))
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragging:
            self._dragging = False
            self.number_set.emit(self._number)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_PageDown: -10, Qt.Key.Key_PageUp: 10}
        if key not in steps:
            return False
        self._number = min(max(self._number + steps[key], 0), len(self._shares))
        self.number_set.emit(self._number)
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        shares = self._shares
        if not len(shares):
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area, top = self._area(), float(shares.max()) or 1.0
        font = theme.ui_font(0.86)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        line = metrics.height()
        painter.setPen(QPen(theme.colour("muted"), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.drawLine(area.bottomLeft(), area.topLeft())
        for value, y in ((top, area.top()), (0.0, area.bottom())):
            painter.drawText(
                QRectF(0, y - line / 2, area.left() - 5, line), Qt.AlignmentFlag.AlignRight, f"{value:.1%}"
            )
        points = [
            QPointF(self.place_of(at + 1), area.bottom() - share / top * area.height())
            for at, share in enumerate(shares.tolist())
        ]
        cut = self.place_of(self._number + 0.5)
        painter.fillRect(
            QRectF(area.left(), area.top(), cut - area.left(), area.height()), theme.colour("verdigris", 22)
        )
        painter.setPen(QPen(theme.colour("quiet"), 1.5))
        painter.drawPolyline(QPolygonF(points))
        painter.setPen(Qt.PenStyle.NoPen)
        for at, point in enumerate(points):
            painter.setBrush(theme.colour("verdigris" if at < self._number else "quiet"))
            painter.drawEllipse(point, 3.4, 3.4)
            if at == self._current:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(theme.colour("ink"), 1.6))
                painter.drawEllipse(point, 6.5, 6.5)
                painter.setPen(Qt.PenStyle.NoPen)
        if self._elbow:
            elbow = points[self._elbow - 1]
            painter.setPen(QPen(theme.colour("ochre"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(elbow.x() - 5, elbow.y() - 5, 10, 10))
            painter.drawText(QPointF(elbow.x() + 9, elbow.y() - 5), f"elbow at {self._elbow}")
        painter.setPen(QPen(theme.colour("ink"), 2))
        painter.drawLine(QPointF(cut, area.top() - 4), QPointF(cut, area.bottom() + 4))
        painter.setFont(theme.ui_font(0.95, bold=True))
        words = f"{self._number} kept" if self._number else f"none kept: the later steps work on {self._instead}"
        wide = QFontMetricsF(painter.font()).horizontalAdvance(words) + 8
        left = min(max(cut - wide / 2, 0), self.width() - wide)
        painter.drawText(QRectF(left, area.bottom() + 5, wide, line * 1.3), Qt.AlignmentFlag.AlignCenter, words)
        painter.setFont(font)
        painter.setPen(theme.colour("muted"))
        for number in (1, len(shares)):
            x = self.place_of(number)
            if not left - 20 < x < left + wide + 20:
                painter.drawText(QRectF(x - 20, area.bottom() + 5, 40, line), Qt.AlignmentFlag.AlignCenter, str(number))
        if self.hasFocus():
            theme.draw_focus(painter, self.rect())
