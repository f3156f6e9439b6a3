# SPDX-License-Identifier: GPL-3.0-or-later
"""Terms that tell a set of documents from the rest: in how large a share of them each stands, and elsewhere."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.keyed_lines import KeyedLines


class TellingBars(KeyedLines):
    """One line per term: its name, and the shares of documents inside and outside as two bars and two numbers. chosen(line): it was
    clicked."""

    tall = 1.3
    above = 1

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._terms: list[tuple[str, float, float]] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Typical terms: share of documents in the group and elsewhere")

    def show_terms(self, terms: Sequence[tuple[str, float, float]]) -> None:
        """Each term with its share inside and outside, the one that tells most first."""
        self._terms = list(terms)
        self.lines_changed()

    @property
    def texts(self) -> list[str]:
        """The texts of the lines."""
        return [f"{name}: {inside:.0%} in it, {outside:.0%} elsewhere" for name, inside, outside in self._terms]

    def sizeHint(self) -> QSize:
        return QSize(240, self.line_height() * (len(self._terms) + 1))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        font = theme.ui_font(0.92)
        metrics = QFontMetricsF(font)
        line = self.line_height()
        number = metrics.horizontalAdvance("elsewhere") + 8
        names = min(
            max((metrics.horizontalAdvance(name) for name, _, _ in self._terms), default=0.0) + 8, self.width() * 0.38
        )
        room = max(self.width() - names - 1.7 * number, 20)
        right = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight)
        painter.setFont(theme.ui_font(0.84))
        painter.setPen(theme.colour("muted"))
        for words, end in (("in it", self.width() - number), ("elsewhere", self.width())):
            painter.drawText(QRectF(end - number, 0, number, line), right, words)
        painter.setFont(font)
        for place, (name, inside, outside) in enumerate(self._terms, 1):
            top = place * line
            if self.hasFocus() and place - 1 == self._current:
                painter.fillRect(QRectF(0, top, self.width(), line), theme.colour("tint"))
            painter.setPen(theme.colour("ink"))
            shown = metrics.elidedText(name, Qt.TextElideMode.ElideRight, names - 6)
            painter.drawText(QRectF(0, top, names - 6, line), Qt.AlignmentFlag.AlignVCenter, shown)
            painter.fillRect(QRectF(names, top + 3, room * inside, line - 6), theme.colour("verdigris"))
            painter.fillRect(QRectF(names, top + line / 2 - 1.5, room * outside, 3), theme.colour("gold"))
            painter.drawText(QRectF(self.width() - 2 * number, top, number, line), right, f"{inside:.0%}")
            painter.setPen(theme.colour("muted"))
            painter.drawText(QRectF(self.width() - number, top, number, line), right, f"{outside:.0%}")
