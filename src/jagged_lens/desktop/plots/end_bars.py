# SPDX-License-Identifier: GPL-3.0-or-later
"""Names with amounts to both sides of a middle line: what stands at either end of a theme."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.keyed_lines import KeyedLines


class EndBars(KeyedLines):
    """A line a thing: its name, a bar to the right for what is above 0 and to the left for what is below, the number."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._things: list[tuple[int, str, float]] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setAccessibleName(name)

    def show_things(self, things: Sequence[tuple[int, str, float]]) -> None:
        """Names and amounts, in the given order."""
        self._things = list(things)
        self.setMinimumHeight(self.line_height() * max(len(self._things), 1))
        self.lines_changed()

    @property
    def texts(self) -> list[str]:
        """The texts of the lines."""
        return [f"{name}: {amount:.3f}" for _, name, amount in self._things]

    def number(self, line: int) -> int:
        """The text of a line."""
        return self._things[line][0]

    def sizeHint(self) -> QSize:
        return QSize(260, self.line_height() * max(len(self._things), 1))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        font = theme.ui_font(0.92)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        line = self.line_height()
        most = max((abs(amount) for _, _, amount in self._things), default=1.0) or 1.0
        names = min(
            max((metrics.horizontalAdvance(name) for _, name, _ in self._things), default=0.0) + 8, self.width() * 0.5
        )
        number = metrics.horizontalAdvance("−0.000") + 6
        room = max(self.width() - names - number, 20)
        below = any(amount < 0 for _, _, amount in self._things)
        middle = names + (room / 2 if below else 0)
        for place, (_, name, amount) in enumerate(self._things):
            top = place * line
            if self.hasFocus() and place == self._current:
                painter.fillRect(QRectF(0, top, self.width(), line), theme.colour("tint"))
            painter.setPen(theme.colour("ink"))
            shown = metrics.elidedText(name, Qt.TextElideMode.ElideRight, names - 6)
            painter.drawText(QRectF(0, top, names - 6, line), Qt.AlignmentFlag.AlignVCenter, shown)
            wide = max((room / 2 if below else room) * abs(amount) / most, 1.5)
            left = middle if amount >= 0 else middle - wide
            painter.fillRect(
                QRectF(left, top + 3, wide, line - 6), theme.colour("verdigris" if amount >= 0 else "quiet")
            )
            painter.setPen(theme.colour("muted"))
            value = QRectF(self.width() - number, top, number, line)
            painter.drawText(value, int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight), f"{amount:.3f}")
        if below and self._things:
            painter.setPen(QPen(theme.colour("muted"), 1))
            painter.drawLine(int(middle), 0, int(middle), int(line * len(self._things)))
