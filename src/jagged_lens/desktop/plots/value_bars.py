# SPDX-License-Identifier: GPL-3.0-or-later
"""The values of a label as bars, to pick their documents from."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.keyed_lines import KeyedLines


class ValueBars(KeyedLines):
    """A line a value: name, bar, count; the picked part of the bar is marked. A click picks, with Ctrl it adds."""

    tall = 1.35
    adding = Qt.KeyboardModifier.ControlModifier

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._values: list[tuple[str, int]] = []
        self._picked: list[int] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setAccessibleName("Values of the label")

    def show_values(self, values: Sequence[tuple[str, int]]) -> None:
        """Show other values and their counts, in the order given."""
        self._values = list(values)
        self._picked = [0] * len(self._values)
        self.setMinimumHeight(self.line_height() * max(len(self._values), 1))
        self.lines_changed()

    def show_picked(self, picked: Sequence[int]) -> None:
        """The number of documents of each value that are picked."""
        self._picked = list(picked)
        self.update()

    @property
    def texts(self) -> list[str]:
        """The texts of the lines."""
        return [f"{name}: {count:,}" for name, count in self._values]

    def sizeHint(self) -> QSize:
        return QSize(220, self.line_height() * max(len(self._values), 1))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        font = theme.ui_font(0.92)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        line = self.line_height()
        most = max((count for _, count in self._values), default=1) or 1
        name_width = min(
            max((metrics.horizontalAdvance(name) for name, _ in self._values), default=0) + 8, self.width() * 0.45
        )
        number_width = metrics.horizontalAdvance(f"{most:,}") + 10
        room = max(self.width() - name_width - number_width, 10)
        for place, (name, count) in enumerate(self._values):
            top = place * line
            if self.hasFocus() and place == self._current:
                painter.fillRect(QRectF(0, top, self.width(), line), theme.colour("tint"))
            painter.setPen(theme.colour("ink" if name else "muted"))
            shown = metrics.elidedText(name or "(none)", Qt.TextElideMode.ElideRight, name_width - 6)
            painter.drawText(QRectF(0, top, name_width - 6, line), Qt.AlignmentFlag.AlignVCenter, shown)
            bar = QRectF(name_width, top + 3, max(room * count / most, 1.5), line - 6)
            painter.fillRect(bar, theme.colour("quiet"))
            if self._picked[place] and count:
                painter.fillRect(
                    QRectF(bar.left(), bar.top(), bar.width() * self._picked[place] / count, bar.height()),
                    theme.colour("verdigris"),
                )
            painter.setPen(theme.colour("muted"))
            number = QRectF(bar.right() + 5, top, number_width + 20, line)
            painter.drawText(number, Qt.AlignmentFlag.AlignVCenter, f"{count:,}")
