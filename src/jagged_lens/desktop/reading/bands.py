# SPDX-License-Identifier: GPL-3.0-or-later
"""The gutter between two texts: bands join what runs alike, and what only one has is marked at its side."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.reading.marked_text import MarkedText

_EDGE = 3.0
_LONE = 25  # characters that only one side has, from which on that is said
_FAR = 4_000.0


class Bands(QWidget):
    """Painted from the places of the bands and from where both texts are scrolled to."""

    def __init__(self, left: MarkedText, right: MarkedText) -> None:
        super().__init__()
        self._texts = (left, right)
        self._places: NDArray[np.int64] = np.zeros((0, 4), np.int64)
        self._ties: NDArray[np.float64] = np.zeros((0, 3))
        self.setMinimumWidth(54)
        self.setAccessibleName("Bands that join matching passages")

    def sizeHint(self) -> QSize:
        return QSize(110, 200)

    def show_bands(self, places: NDArray[np.int64], ties: NDArray[np.float64] | None = None) -> None:
        """places: int64, b × 4: from and to in the first, from and to in the second text, in code points. ties: float64, k × 3: a point in
        the first and one in the second that a line joins, and its strength."""
        self._places = places
        self._ties = ties if ties is not None else np.zeros((0, 3))
        lines = f", {len(self._ties)} lines" if len(self._ties) else ""
        self.setAccessibleDescription(f"{len(places)} bands{lines}")
        self.update()

    def shown(self) -> list[tuple[float, float, float, float]]:
        """The bands that are in sight: top and bottom at the left, top and bottom at the right, in pixels."""
        left, right = self._texts
        found = []
        for one in self._places.tolist():
            line = left.fontMetrics().height() / 2
            band = (
                self._y(left, one[0]) - line,
                self._y(left, one[1]) + line,
                self._y(right, one[2]) - line,
                self._y(right, one[3]) + line,
            )
            if max(band[1], band[3]) > 0 and min(band[0], band[2]) < self.height():
                found.append(band)
        return found

    def _y(self, text: MarkedText, point: int) -> float:
        viewport = text.viewport()
        assert viewport is not None
        above = self.mapFromGlobal(viewport.mapToGlobal(viewport.rect().topLeft())).y()
        return min(max(text.y_of(point), -_FAR), _FAR) + above

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide = float(self.width())
        ground = theme.mixed(theme.colour("paper"), theme.colour("verdigris"), 0.16)
        for top, bottom, right_top, right_bottom in self.shown():
            path = QPainterPath(QPointF(_EDGE, top))
            middle = wide / 2
            path.cubicTo(QPointF(middle, top), QPointF(middle, right_top), QPointF(wide - _EDGE, right_top))
            path.lineTo(wide - _EDGE, right_bottom)
            path.cubicTo(QPointF(middle, right_bottom), QPointF(middle, bottom), QPointF(_EDGE, bottom))
            path.closeSubpath()
            painter.fillPath(path, ground)
            painter.fillRect(QRectF(0, top, _EDGE, bottom - top), theme.colour("verdigris"))
            painter.fillRect(
                QRectF(wide - _EDGE, right_top, _EDGE, right_bottom - right_top), theme.colour("verdigris")
            )
        self._paint_lone(painter)
        self._paint_ties(painter)

    def _paint_ties(self, painter: QPainter) -> None:
        """The lines between words or sentences, wider for what is stronger."""
        left, right = self._texts
        wide, ink = float(self.width()), theme.colour("ochre")
        for one, other, strength in self._ties.tolist():
            begin, end = self._y(left, int(one)), self._y(right, int(other))
            if max(begin, end) < 0 or min(begin, end) > self.height():
                continue
            path = QPainterPath(QPointF(0, begin))
            path.cubicTo(QPointF(wide / 2, begin), QPointF(wide / 2, end), QPointF(wide, end))
            painter.setPen(QPen(ink, 0.8 + 2.2 * max(strength, 0.0)))
            painter.drawPath(path)

    def _paint_lone(self, painter: QPainter) -> None:
        """The stretches on only one side: between two bands, or before the first and after the last."""
        if not len(self._places):
            return
        painter.setFont(theme.ui_font(0.85))
        edges = [np.concatenate(([0], self._places[:, 1 + 2 * side])) for side in (0, 1)]
        ends = [np.concatenate((self._places[:, 2 * side], [len(self._texts[side].toPlainText())])) for side in (0, 1)]
        for at in range(len(self._places) + 1):
            lengths = [int(ends[side][at] - edges[side][at]) for side in (0, 1)]
            for side in (0, 1):
                if lengths[side] < _LONE or lengths[1 - side] >= _LONE:
                    continue
                line = self._texts[side].fontMetrics().height() / 2
                top = self._y(self._texts[side], int(edges[side][at])) + line
                bottom = self._y(self._texts[side], int(ends[side][at])) - line
                if bottom - top < line or bottom < 0 or top > self.height():
                    continue
                left = 0.0 if side == 0 else self.width() - _EDGE
                painter.fillRect(QRectF(left, top, _EDGE, bottom - top), theme.colour("madder"))
                painter.setPen(QPen(theme.colour("madder")))
                seen = QRectF(8, max(top, 0), self.width() - 16, min(bottom, self.height()) - max(top, 0))
                flag = Qt.AlignmentFlag.AlignLeft if side == 0 else Qt.AlignmentFlag.AlignRight
                painter.drawText(seen, int(flag | Qt.AlignmentFlag.AlignVCenter), "only here")
