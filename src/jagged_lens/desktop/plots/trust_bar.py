# SPDX-License-Identifier: GPL-3.0-or-later
"""The share of nearest neighbours kept on a map, as a bar with a mark for the plain projection."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme


class TrustBar(QWidget):
    """A share as a bar, and another to compare with as a stroke."""

    def __init__(self) -> None:
        super().__init__()
        self._share = self._plain = float("nan")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Trust of the map")

    def show_shares(self, share: float, components: float) -> None:
        """Show the trust of this map and that of two components, from 0 to 1; NaN where it is not known."""
        self._share, self._plain = share, components
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(200, int(QFontMetricsF(theme.ui_font(0.82)).height() + 16))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._share != self._share:
            return
        painter = QPainter(self)
        painter.fillRect(QRectF(0, 2, self.width(), 9), theme.colour("band"))
        painter.fillRect(QRectF(0, 2, self.width() * self._share, 9), theme.colour("verdigris"))
        if self._plain == self._plain:
            x = self.width() * self._plain
            painter.fillRect(QRectF(x - 1, 0, 2, 13), theme.colour("madder"))
            font = theme.ui_font(0.82)
            painter.setFont(font)
            painter.setPen(theme.colour("muted"))
            words = f"plain projection: {self._plain:.0%}"
            wide = QFontMetricsF(font).horizontalAdvance(words) + 4
            left = min(max(x - wide / 2, 0), self.width() - wide)
            painter.drawText(QRectF(left, 13, wide, self.height() - 13), Qt.AlignmentFlag.AlignVCenter, words)
