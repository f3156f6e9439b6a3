# SPDX-License-Identifier: GPL-3.0-or-later
"""One document in the middle, all others at their dissimilarity from it; a ring is the limit, which can be dragged."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.map_canvas import MapCanvas

_NEAR = 6  # pixels


class RoundCanvas(MapCanvas):
    """limit_set(similarity): the ring was let go; all documents inside it are as alike or more."""

    limit_set = pyqtSignal(float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("One document and all others around it")
        self.setAccessibleDescription("Arrows move between points, Space reads. Drag the ring, the limit, to pick.")
        self.limit = 0.5
        self._dragging = False
        self.show_names = True

    def show_limit(self, limit: float) -> None:
        """Draw the ring at another similarity."""
        self.limit = limit
        self.viewport().update()

    def _ring(self) -> tuple[float, float, float]:
        """The middle of the ring and its radius, in pixels."""
        middle, edge = self.on_screen(np.array([[0.0, 0.0], [1.0, 0.0]]))
        return float(middle[0]), float(middle[1]), float(edge[0] - middle[0]) * (1 - self.limit)

    def _distance(self, place: QPointF) -> float:
        x, y, _ = self._ring()
        return float(np.hypot(place.x() - x, place.y() - y))

    def _on_ring(self, place: QPointF) -> bool:
        return len(self.positions) > 0 and abs(self._distance(place) - self._ring()[2]) < _NEAR

    def paint(self, painter: QPainter, one_by_one: bool = False) -> None:
        super().paint(painter, one_by_one)
        x, y, radius = self._ring()
        painter.setBrush(theme.colour("verdigris", 18))
        painter.setPen(QPen(theme.colour("verdigris"), 2))
        painter.drawEllipse(QPointF(x, y), radius, radius)
        words = f"{self.limit:.2f}"
        painter.setFont(theme.ui_font(0.95, bold=True))
        wide = QFontMetricsF(painter.font()).horizontalAdvance(words)
        painter.setPen(theme.colour("ink"))
        painter.drawText(QPointF(x - wide / 2, y - radius - 4), words)
        painter.setPen(QPen(theme.colour("ink"), 2))
        painter.drawLine(QPointF(x - 6, y), QPointF(x + 6, y))
        painter.drawLine(QPointF(x, y - 6), QPointF(x, y + 6))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if event.button() == Qt.MouseButton.LeftButton and self._on_ring(event.position()):
            self._dragging = True
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._dragging:
            x, _, _ = self._ring()
            one = float(self.on_screen(np.array([[1.0, 0.0]]))[0][0]) - x
            self.show_limit(round(min(max(1 - self._distance(event.position()) / max(one, 1), 0.01), 1.0), 2))
            return
        super().mouseMoveEvent(event)
        if self._on_ring(event.position()):
            self.setCursor(Qt.CursorShape.SizeAllCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._dragging:
            self._dragging = False
            self.limit_set.emit(self.limit)
            return
        super().mouseReleaseEvent(event)
