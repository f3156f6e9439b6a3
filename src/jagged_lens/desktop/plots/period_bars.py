# SPDX-License-Identifier: GPL-3.0-or-later
"""Small multiples over periods: a line of bars for each group or term, all on one axis."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip, show_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture


@dataclass(frozen=True, eq=False)
class Line:
    """name, colour; counts: int64, how many documents of each period."""

    name: str
    colour: QColor
    counts: NDArray[np.int64]


class PeriodBars(KeyedPicture):
    """The height of a bar is the share of the documents of its period. chosen(line, period, add): a bar was clicked. Line -1: the name of
    a period, which stands for all its documents; period -1: the name of a line."""

    chosen = pyqtSignal(int, int, bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._lines: list[Line] = []
        self._names: list[str] = []
        self._sizes: NDArray[np.int64] = np.zeros(0, np.int64)
        self._at = (0, 0)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setAccessibleName("Groups or terms over periods")
        set_tip(self, "Click a bar or a period to pick its documents; Ctrl adds them")

    def show_lines(self, lines: Sequence[Line], names: Sequence[str], sizes: NDArray[np.int64]) -> None:
        """Show other lines. names: of the periods; sizes: int64, how many documents each has in all."""
        self._lines, self._names, self._sizes = list(lines), list(names), sizes
        self._at = (min(self._at[0], max(len(lines) - 1, 0)), min(self._at[1], max(len(names) - 1, 0)))
        self.setMinimumHeight(self._height())
        self._describe()
        self.updateGeometry()
        self.update()

    def words(self, line: int, period: int) -> str:
        """The text of a bar."""
        one, whole = self._lines[line], int(self._sizes[period])
        count = int(one.counts[period])
        share = f"{count / whole:.0%}" if whole else "no documents"
        return f"{one.name}, {self._names[period]}: {count:,} of {whole:,} ({share})"

    def _describe(self) -> None:
        self.setAccessibleDescription(self.words(*self._at) if self._lines and self._names else "nothing to show")

    def _tall(self) -> int:
        return int(QFontMetricsF(theme.ui_font(0.92)).height() * 2.6)

    def _foot(self) -> int:
        return int(QFontMetricsF(theme.ui_font(0.84)).height() * 2.7)

    def _height(self) -> int:
        return self._tall() * len(self._lines) + self._foot()

    def sizeHint(self) -> QSize:
        return QSize(480, self._height())

    def _left(self) -> float:
        metrics = QFontMetricsF(theme.ui_font(0.92))
        return min(
            max((metrics.horizontalAdvance(one.name) for one in self._lines), default=0) + 12, self.width() * 0.3
        )

    def _width(self) -> float:
        return (self.width() - self._left() - 44) / max(len(self._names), 1)

    def bar_place(self, line: int, period: int) -> QPointF:
        """The clickable place of a bar; line -1: the name of the period."""
        y = self._tall() * len(self._lines) + 8 if line < 0 else self._tall() * (line + 1) - 4
        return QPointF(self._left() + self._width() * (period + 0.5), y)

    def _found(self, place: QPointF) -> tuple[int, int] | None:
        if not self._names:
            return None
        line = int(place.y() // self._tall())
        period = int((place.x() - self._left()) // self._width())
        if place.x() < self._left():
            return (line, -1) if line < len(self._lines) else None
        if not 0 <= period < len(self._names):
            return None
        return (line if line < len(self._lines) else -1), period

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        found = self._found(event.position()) if event is not None else None
        if event is None or found is None:
            return
        if min(found) >= 0:
            self._at = found
            self._describe()
        add = bool(event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier))
        self.chosen.emit(*found, add)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        found = self._found(event.position()) if event is not None else None
        if event is not None and found is not None and min(found) >= 0:
            show_tip(event.globalPosition().toPoint(), self.words(*found), self)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        if not self._lines or not self._names:
            return False
        line, period = self._at
        steps = {Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0), Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1)}
        if key in steps:
            down, across = steps[key]
            self._at = (
                min(max(line + down, 0), len(self._lines) - 1),
                min(max(period + across, 0), len(self._names) - 1),
            )
            self._describe()
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.chosen.emit(line, period, control or shift)
        else:
            return False
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._names:
            return
        font = theme.ui_font(0.92)
        metrics = QFontMetricsF(font)
        tall, left, width = self._tall(), self._left(), self._width()
        whole = np.maximum(self._sizes, 1)
        for at, line in enumerate(self._lines):
            shares = line.counts / whole
            most = float(shares.max(initial=0.0)) or 1.0
            bottom = tall * (at + 1) - 3
            painter.setFont(font)
            painter.setPen(theme.colour("ink"))
            shown = metrics.elidedText(line.name, Qt.TextElideMode.ElideRight, left - 10)
            painter.drawText(QRectF(0, tall * at, left - 8, tall), Qt.AlignmentFlag.AlignVCenter, shown)
            painter.setPen(QPen(theme.colour("hairline"), 1))
            painter.drawLine(QPointF(left, bottom), QPointF(left + width * len(self._names), bottom))
            painter.setPen(Qt.PenStyle.NoPen)
            for period, share in enumerate(shares.tolist()):
                high = (tall - 8) * share / most
                bar = QRectF(left + width * period + width * 0.12, bottom - high, width * 0.76, high)
                painter.fillRect(bar, line.colour)
                if self.hasFocus() and (at, period) == self._at:
                    painter.setPen(QPen(theme.colour("ink"), 1.4))
                    painter.setBrush(Qt.BrushStyle.NoBrush)
                    painter.drawRect(QRectF(left + width * period, tall * at + 2, width, tall - 4))
                    painter.setPen(Qt.PenStyle.NoPen)
            painter.setFont(theme.ui_font(0.82))
            painter.setPen(theme.colour("muted"))
            painter.drawText(
                QRectF(self.width() - 42, tall * at + 2, 40, tall), Qt.AlignmentFlag.AlignRight, f"{most:.0%}"
            )
        self._paint_foot(painter, left, width)

    def _paint_foot(self, painter: QPainter, left: float, width: float) -> None:
        """The names of the periods, as many as there is room for, and how many documents each has."""
        small = theme.ui_font(0.84)
        metrics = QFontMetricsF(small)
        painter.setFont(small)
        painter.setPen(theme.colour("muted"))
        top, line = self._tall() * len(self._lines), metrics.height()
        said = [*self._names, *(f"{int(size):,}" for size in self._sizes)]
        longest = max(metrics.horizontalAdvance(words) for words in said) + 8
        step = max(int(np.ceil(longest / width)), 1)
        for period in range(0, len(self._names), step):
            middle = left + width * (period + 0.5)
            for row, words in enumerate((self._names[period], f"{int(self._sizes[period]):,}")):
                box = QRectF(middle - longest / 2, top + 2 + row * line, longest, line)
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
        painter.drawText(QRectF(0, top + 2 + line, left - 8, line), Qt.AlignmentFlag.AlignVCenter, "documents")
