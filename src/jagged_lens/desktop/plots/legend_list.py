# SPDX-License-Identifier: GPL-3.0-or-later
"""A legend with counts: a click picks, a second key fades, the entry under the mouse is highlighted."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import letter_ink
from jagged_lens.desktop.plots.keyed_lines import KeyedLines
from jagged_lens.desktop.plots.map_sprites import Category


class LegendList(KeyedLines):
    """A line a category: its letter on its colour, its name, a bar, a count.

    A click or Space picks (chosen, with Ctrl or Shift added), the right button or F fades, and the line under the mouse is lit; -1: none.
    """

    tall = 1.5
    fade_wanted = pyqtSignal(int)
    lit = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._lines: list[tuple[Category, int, int]] = []
        self._faded: set[int] = set()
        self._under = -1
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Legend of the map")
        self.setAccessibleDescription("Space picks, F fades a colour.")

    def show_lines(self, lines: Sequence[tuple[Category, int, int]]) -> None:
        """Show categories: each with its number on the picture, and how many there are."""
        self._lines = list(lines)
        self._under = -1
        self.lines_changed()

    def show_faded(self, faded: set[int]) -> None:
        """The faded numbers."""
        self._faded = set(faded)
        self.update()

    @property
    def texts(self) -> list[str]:
        """The texts of the lines."""
        return [f"{one.letter} {one.name} {count:,}".strip() for one, _, count in self._lines]

    def sizeHint(self) -> QSize:
        return QSize(240, self.line_height() * max(len(self._lines), 1))

    def number(self, line: int) -> int:
        return self._lines[line][1]

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        line = self.line_at(event.position().y()) if event is not None else -1
        if event is not None and line >= 0 and event.button() != Qt.MouseButton.LeftButton:
            self._current = line
            self.fade_wanted.emit(self.number(line))
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._light(self.line_at(event.position().y()))

    def leaveEvent(self, event: QEvent | None) -> None:
        self._light(-1)

    def _light(self, line: int) -> None:
        if line != self._under:
            self._under = line
            self.lit.emit(self._lines[line][1] if line >= 0 else -1)
            self.update()

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        if key == Qt.Key.Key_F and self._lines:
            self.fade_wanted.emit(self.number(self._current))
            return True
        taken = super().take_key(key, shift, control)
        if taken and key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._light(self._current)
        return taken

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        font, bold = theme.ui_font(0.92), theme.ui_font(0.8, bold=True)
        metrics = QFontMetricsF(font)
        line = self.line_height()
        most = max((count for _, _, count in self._lines), default=1) or 1
        chip = max(
            [
                line - 7,
                *(QFontMetricsF(bold).horizontalAdvance(one.letter) + 7 for one, _, _ in self._lines if one.letter),
            ]
        )
        number_width = metrics.horizontalAdvance(f"{most:,}") + 8
        bar_width = min(self.width() * 0.22, 80)
        name_width = self.width() - chip - 12 - bar_width - number_width - 8
        for place, (one, number, count) in enumerate(self._lines):
            top = place * line
            if place == self._under or (self.hasFocus() and place == self._current):
                painter.fillRect(QRectF(0, top, self.width(), line), theme.colour("tint"))
            painter.setOpacity(0.4 if number in self._faded else 1.0)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(one.colour)
            painter.drawRoundedRect(QRectF(2, top + 3, chip, line - 6), 3, 3)
            if one.letter:
                painter.setPen(letter_ink())
                painter.setFont(bold)
                painter.drawText(QRectF(2, top + 3, chip, line - 6), Qt.AlignmentFlag.AlignCenter, one.letter)
            painter.setFont(font)
            painter.setPen(theme.colour("ink"))
            name = metrics.elidedText(one.name, Qt.TextElideMode.ElideRight, name_width)
            painter.drawText(QRectF(chip + 10, top, name_width, line), Qt.AlignmentFlag.AlignVCenter, name)
            painter.fillRect(
                QRectF(chip + 12 + name_width, top + line / 2 - 4, max(bar_width * count / most, 1.5), 8), one.colour
            )
            painter.setPen(theme.colour("muted"))
            right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
            painter.drawText(QRectF(0, top, self.width() - 4, line), right, f"{count:,}")
        painter.setOpacity(1.0)
