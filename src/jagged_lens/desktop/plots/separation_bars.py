# SPDX-License-Identifier: GPL-3.0-or-later
"""The separation of a label's values, as bars: in the space, on the map, and by chance."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.keyed_lines import KeyedLines

SeparationLine = tuple[str, float, float, float]


class SeparationBars(KeyedLines):
    """A line a value: its name, a bar for the space above one for the map, a stroke at chance, and the three numbers of 100.

    A click or Space emits `chosen` with the number of the line.
    """

    above = 1

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._lines: list[SeparationLine] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Do labels lie together?")

    def show_lines(self, lines: Sequence[SeparationLine]) -> None:
        """Show lines: name, share in the space, on the map, by chance; NaN where there is none. The first stands for all."""
        self._lines = list(lines)
        self.lines_changed()

    @property
    def texts(self) -> list[str]:
        """The texts of the lines."""
        return [" ".join((name, *map(_of_100, shares))) for name, *shares in self._lines]

    def sizeHint(self) -> QSize:
        return QSize(240, self.line_height() * (len(self._lines) + 1))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        font, small = theme.ui_font(0.92), theme.ui_font(0.8)
        metrics = QFontMetricsF(font)
        line = self.line_height()
        heads = ("space", "map", "chance")
        column = max(QFontMetricsF(small).horizontalAdvance(head) for head in heads) + 8
        name_width = min(
            max((metrics.horizontalAdvance(name) for name, *_ in self._lines), default=0) + 10, self.width() * 0.3
        )
        room = max(self.width() - name_width - 3 * column - 6, 20)
        right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        painter.setFont(small)
        painter.setPen(theme.colour("muted"))
        for place, head in enumerate(heads):
            painter.drawText(QRectF(self.width() - (3 - place) * column, 0, column - 2, line), right, head)
        for place, (name, space, on_map, chance) in enumerate(self._lines):
            top = (place + 1) * line
            if self.hasFocus() and place == self._current:
                painter.fillRect(QRectF(0, top, self.width(), line), theme.colour("tint"))
            painter.setFont(theme.ui_font(0.92, bold=True) if place == 0 else font)
            painter.setPen(theme.colour("ink"))
            shown = metrics.elidedText(name or "(none)", Qt.TextElideMode.ElideRight, name_width - 8)
            painter.drawText(QRectF(0, top, name_width, line), Qt.AlignmentFlag.AlignVCenter, shown)
            for share, colour, y in ((space, "verdigris", 0.22), (on_map, "quiet", 0.52)):
                if share == share:
                    painter.fillRect(
                        QRectF(name_width, top + line * y, max(room * share, 1), line * 0.24), theme.colour(colour)
                    )
            painter.fillRect(
                QRectF(name_width + room * chance, top + line * 0.1, 1.6, line * 0.8), theme.colour("madder")
            )
            for at, share in enumerate((space, on_map, chance)):
                painter.setPen(theme.colour("ink" if at == 0 else "muted"))
                painter.drawText(QRectF(self.width() - (3 - at) * column, top, column - 2, line), right, _of_100(share))


def _of_100(share: float) -> str:
    return "–" if share != share else f"{share * 100:.0f}"
