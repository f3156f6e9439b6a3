# SPDX-License-Identifier: GPL-3.0-or-later
"""A picture of lines that are chosen by a click or from the keyboard."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent
from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.keyed import KeyedPicture


class KeyedLines(KeyedPicture):
    """A click or Space emits `chosen` with what stands for the line, and whether it is added; up and down go from line to line.

    tall: how many times as tall as its letters a line is. above: how many lines stand above the first. adding: the keys that add.
    """

    chosen = pyqtSignal(int, bool)
    tall = 1.4
    above = 0
    adding = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._current = 0
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    @property
    def texts(self) -> list[str]:
        """The texts of the lines."""
        raise NotImplementedError

    def number(self, line: int) -> int:
        """The text of a line as `chosen` gives it."""
        return line

    def line_height(self) -> int:
        """The height of a line, in pixels."""
        return int(QFontMetricsF(theme.ui_font(0.92)).height() * self.tall)

    def line_at(self, y: float) -> int:
        """The line at a height; -1 where there is none."""
        line = int(y // self.line_height()) - self.above
        return line if 0 <= line < len(self.texts) else -1

    def lines_changed(self) -> None:
        """There are other lines: the one that is marked stays among them."""
        self._current = min(self._current, max(len(self.texts) - 1, 0))
        self.updateGeometry()
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        line = self.line_at(event.position().y()) if event is not None else -1
        if event is None or line < 0:
            return
        if event.button() == Qt.MouseButton.LeftButton:
            self._current = line
            self.chosen.emit(self.number(line), bool(event.modifiers() & self.adding))
            self.update()

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        texts = self.texts
        if not texts:
            return False
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(key)
        if step is not None:
            self._current = min(max(self._current + step, 0), len(texts) - 1)
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return):
            held = bool(self.adding & Qt.KeyboardModifier.ShiftModifier)
            self.chosen.emit(self.number(self._current), control or (shift and held))
        else:
            return False
        self.setAccessibleDescription(texts[self._current])
        return True
