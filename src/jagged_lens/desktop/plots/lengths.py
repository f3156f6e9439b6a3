# SPDX-License-Identifier: GPL-3.0-or-later
"""The lengths of documents: a histogram on a log scale in which a range can be brushed."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import show_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.keyed import KeyedPicture
from jagged_lens.desktop.plots.round_ticks import round_numbers

_BINS = 36


class LengthHistogram(KeyedPicture):
    """Bars by number of words. Dragging over it, or Shift and the arrow keys, emits `brushed` with the words from and to."""

    brushed = pyqtSignal(int, int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._edges: NDArray[np.float64] = np.array([1.0, 2.0])
        self._counts: NDArray[np.int64] = np.zeros(1, np.int64)
        self._picked: NDArray[np.int64] = np.zeros(1, np.int64)
        self._from = self._to = -1
        self._dragging = False
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Lengths of documents in words")
        self.setCursor(Qt.CursorShape.CrossCursor)

    def show_words(self, words: NDArray[np.int64]) -> None:
        """Show other documents. words: of each document; those without any are not drawn."""
        filled = words[words > 0]
        if len(filled):
            low, high = int(filled.min()), int(filled.max()) + 1
            edges = np.unique(np.round(np.geomspace(low, max(high, low + 1), _BINS + 1)))
            edges[-1] = max(edges[-1], high)
            self._edges = edges
        else:
            self._edges = np.array([1.0, 2.0])
        self._counts = np.histogram(filled, self._edges)[0]
        self._from = self._to = -1
        self.setAccessibleDescription(
            f"From {int(self._edges[0]):,} to {int(self._edges[-1]) - 1:,} words" if len(filled) else "No words"
        )
        self.update()

    def show_picked(self, words: NDArray[np.int64]) -> None:
        """Mark how much of each bar is picked."""
        self._picked = np.histogram(words[words > 0], self._edges)[0]
        if not self._dragging:
            self._from = self._to = -1
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(240, int(QFontMetricsF(theme.ui_font()).height() * 7))

    def area(self) -> QRectF:
        """The positions of the bars."""
        line = QFontMetricsF(theme.ui_font(0.86)).height()
        return QRectF(6, 6, self.width() - 12, self.height() - line - 12)

    def _bin_at(self, x: float) -> int:
        area = self.area()
        return int(np.clip((x - area.left()) / area.width() * len(self._counts), 0, len(self._counts) - 1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._dragging = True
            self._from = self._to = self._bin_at(event.position().x())
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        place = self._bin_at(event.position().x())
        if self._dragging:
            self._to = place
            self.update()
        else:
            low, high = int(self._edges[place]), int(self._edges[place + 1]) - 1
            span = f"{low:,}" if low == high else f"{low:,} to {high:,}"
            words = f"{span} words: {amount(int(self._counts[place]), 'document')}"
            show_tip(event.globalPosition().toPoint(), words, self)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragging:
            self._tell()
            self._dragging = False

    def _tell(self) -> None:
        low, high = sorted((self._from, self._to))
        self.brushed.emit(int(self._edges[low]), int(self._edges[high + 1]) - 1)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key)
        if step is None:
            return False
        if self._to < 0:
            self._from = self._to = 0 if step > 0 else len(self._counts) - 1
        else:
            self._to = min(max(self._to + step, 0), len(self._counts) - 1)
            if not shift:
                self._from = self._to
        self._dragging = True  # the pick that follows is this one
        self._tell()
        self._dragging = False
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = self.area()
        top = max(int(self._counts.max()), 1)
        width = area.width() / len(self._counts)
        low, high = sorted((self._from, self._to))
        if low >= 0:
            brushed = QRectF(area.left() + low * width, area.top(), (high - low + 1) * width, area.height())
            painter.fillRect(brushed, theme.colour("tint"))
        for place, count in enumerate(self._counts.tolist()):
            if not count:
                continue
            tall = max(count / top * area.height(), 1.5)
            bar = QRectF(area.left() + place * width + 0.6, area.bottom() - tall, max(width - 1.2, 0.8), tall)
            painter.fillRect(bar, theme.colour("quiet"))
            if len(self._picked) == len(self._counts) and self._picked[place]:
                part = tall * self._picked[place] / count
                painter.fillRect(QRectF(bar.left(), area.bottom() - part, bar.width(), part), theme.colour("verdigris"))
        painter.setPen(QPen(theme.colour("muted"), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        small = theme.ui_font(0.86)
        painter.setFont(small)
        line = QFontMetricsF(small).height()
        last = -100.0
        low_edge, high_edge = float(self._edges[0]), float(self._edges[-1]) - 1
        marks = [*([0.0] if low_edge <= 0 else []), *round_numbers(max(low_edge, 1.0), high_edge)] or [low_edge]
        for shown in map(int, marks):
            x = area.left() + float(np.interp(shown, self._edges, np.arange(len(self._edges)))) * width
            if x - last < 48:
                continue
            last = x
            label = QRectF(min(max(x - 30, 0), self.width() - 60), area.bottom() + 3, 60, line)
            painter.drawText(label, Qt.AlignmentFlag.AlignCenter, f"{shown:,}")
            painter.drawLine(QPointF(x, area.bottom()), QPointF(x, area.bottom() + 3))
        if self.hasFocus():
            theme.draw_focus(painter, self.rect())
