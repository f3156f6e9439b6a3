# SPDX-License-Identifier: GPL-3.0-or-later
"""The most frequent terms at a glance: a strip for each length, terms in the order of their frequency, readable and exact."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture

MOST = 60
Entry = tuple[str, int, int]
"""A term as it is shown, its times, and its row in the vocabulary."""


class TermStrips(KeyedPicture):
    """All strips share one scale. A line across them, dragged up and down, picks every term at or above a frequency: emits
    `picked` with it. A click on a term emits `chosen` with its row."""

    picked = pyqtSignal(int)
    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._strips: list[tuple[str, list[Entry]]] = []
        self._line = 0
        self._dragging = False
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setAccessibleName("The most frequent terms by length")
        set_tip(
            self, "Drag the line, or press Up and Down, to pick every term above a frequency. Click a term to see it."
        )

    def show_strips(self, strips: Sequence[tuple[str, list[Entry]]]) -> None:
        """Strips of (title, terms by times falling)."""
        self._strips = [(title, list(terms[:MOST])) for title, terms in strips]
        self._line = min(self._line, self._strip_count())
        self.setMinimumHeight(int(self.line_height() * (self._strip_count() + 2)))
        self._describe()
        self.update()

    def _strip_count(self) -> int:
        return max((len(terms) for _, terms in self._strips), default=0)

    def line_height(self) -> float:
        return QFontMetricsF(theme.ui_font(0.92)).height() * 1.3

    def sizeHint(self) -> QSize:
        return QSize(400, int(self.line_height() * (self._strip_count() + 2)))

    @property
    def frequency(self) -> int:
        """The frequency that the line stands for: the smallest above it, in any strip; 0 where nothing is."""
        above = [terms[min(self._line, len(terms)) - 1][1] for _, terms in self._strips if terms and self._line]
        return max(above, default=0)

    def _describe(self) -> None:
        self.setAccessibleDescription(f"{self.frequency:,} occurrences or more" if self.frequency else "nothing picked")

    def line_place(self) -> QPointF:
        """The handle of the line."""
        return QPointF(self.width() / 2, self.line_height() * (1 + self._line))

    def _move(self, y: float) -> None:
        self._line = min(max(round(y / self.line_height() - 1), 0), self._strip_count())
        self._describe()
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if abs(event.position().y() - self.line_place().y()) < 6:
            self._dragging = True
            return
        strip = int(event.position().x() // (self.width() / max(len(self._strips), 1)))
        place = int(event.position().y() / self.line_height() - 1)
        if 0 <= strip < len(self._strips) and 0 <= place < len(self._strips[strip][1]):
            self.chosen.emit(self._strips[strip][1][place][2])

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._dragging:
            self._move(event.position().y())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragging:
            self._dragging = False
            self.picked.emit(self.frequency)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(key)
        if step is None:
            return False
        self._line = min(max(self._line + step, 0), self._strip_count())
        self._describe()
        self.picked.emit(self.frequency)
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        tall = self.line_height()
        plain = theme.ui_font(0.92)
        metrics = QFontMetricsF(plain)
        most = max((terms[0][1] for _, terms in self._strips if terms), default=1)
        width = self.width() / max(len(self._strips), 1)
        least = self.frequency
        for at, (title, terms) in enumerate(self._strips):
            left = at * width
            painter.setFont(theme.ui_font(0.92, bold=True))
            painter.setPen(theme.colour("muted"))
            painter.drawText(QRectF(left + 4, 0, width - 8, tall), Qt.AlignmentFlag.AlignVCenter, title)
            painter.setFont(plain)
            numbers = metrics.horizontalAdvance(f"{most:,}") + 8
            for place, (name, times, _) in enumerate(terms):
                top = tall * (place + 1)
                inside = bool(least) and times >= least
                bar = QRectF(left + 4, top + 1, max((width - numbers - 12) * times / most, 1.5), tall - 2)
                painter.fillRect(bar, theme.colour("tint" if inside else "band"))
                painter.fillRect(
                    QRectF(bar.left(), bar.top(), 3, bar.height()), theme.colour("verdigris" if inside else "quiet")
                )
                painter.setPen(theme.colour("ink"))
                room = width - numbers - 22
                words = metrics.elidedText(name, Qt.TextElideMode.ElideRight, room)
                painter.drawText(QRectF(left + 12, top, room, tall), Qt.AlignmentFlag.AlignVCenter, words)
                painter.setPen(theme.colour("muted"))
                end = QRectF(left + width - numbers - 6, top, numbers, tall)
                painter.drawText(end, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{times:,}")
        y = tall * (1 + self._line)
        painter.setPen(QPen(theme.colour("verdigris" if self.hasFocus() or self._dragging else "ink"), 2))
        painter.drawLine(QPointF(0, y), QPointF(self.width(), y))
