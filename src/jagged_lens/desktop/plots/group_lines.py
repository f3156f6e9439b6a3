# SPDX-License-Identifier: GPL-3.0-or-later
"""Groups as lines: letter and colour, name, and an amount as a bar and as a number."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import paint_letter
from jagged_lens.desktop.plots.keyed_lines import KeyedLines


class GroupLines(KeyedLines):
    """chosen(group): its line was clicked."""

    tall = 1.55

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._groups: list[tuple[int, str, float]] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)

    def show_groups(self, groups: Sequence[tuple[int, str, float]]) -> None:
        """Each group with its name and an amount from 0 to 1."""
        self._groups = list(groups)
        self.lines_changed()

    @property
    def texts(self) -> list[str]:
        """The texts of the lines."""
        return [f"{name}: {amount:.2f}" for _, name, amount in self._groups]

    def number(self, line: int) -> int:
        """The group of a line."""
        return self._groups[line][0]

    def sizeHint(self) -> QSize:
        return QSize(220, self.line_height() * len(self._groups))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        font = theme.ui_font(0.92)
        metrics = QFontMetricsF(font)
        line = self.line_height()
        number = metrics.horizontalAdvance("0.00") + 6
        chip = int(line * 0.85)
        names = (self.width() - number - chip - 8) * 0.55
        for place, (group, name, amount) in enumerate(self._groups):
            top = place * line
            if self.hasFocus() and place == self._current:
                painter.fillRect(QRectF(0, top, self.width(), line), theme.colour("tint"))
            paint_letter(painter, QRect(0, top + (line - chip) // 2, max(chip, 22), chip), group)
            painter.setFont(font)
            painter.setPen(theme.colour("ink"))
            left = max(chip, 22) + 8
            shown = metrics.elidedText(name, Qt.TextElideMode.ElideRight, names - 6)
            painter.drawText(QRectF(left, top, names, line), Qt.AlignmentFlag.AlignVCenter, shown)
            room = self.width() - number - left - names
            painter.fillRect(QRectF(left + names, top + 5, room * max(amount, 0), line - 10), theme.colour("verdigris"))
            right = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight)
            painter.drawText(QRectF(self.width() - number, top, number, line), right, f"{amount:.2f}")
