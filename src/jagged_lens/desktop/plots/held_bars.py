# SPDX-License-Identifier: GPL-3.0-or-later
"""Calibration: a bar for each band of probability, as high as the share that was right, with the stated probability."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme


class HeldBars(QWidget):
    """Bands of probability from left to right. The bar is the share that was right; the line across it is the mean of the band, which is
    what was promised. Below stands how many documents there are."""

    def __init__(self) -> None:
        super().__init__()
        self._bands: list[tuple[float, float, int, float]] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Calibration")

    def show_bands(self, edges: Sequence[float], documents: Sequence[int], right: Sequence[float]) -> None:
        """edges: of the bands. documents, right: of each, how many, and the share of them that is right."""
        self._bands = [
            (low, high, documents[at], right[at])
            for at, (low, high) in enumerate(itertools.pairwise(edges))
            if documents[at]
        ]
        self.setAccessibleDescription("; ".join(self._said(band) for band in self._bands) or "nothing was held out")
        self.update()

    @staticmethod
    def _said(band: tuple[float, float, int, float]) -> str:
        low, high, count, right = band
        return f"from {low:.0%} to {high:.0%}: {count:,}, {right:.0%} right"

    def sizeHint(self) -> QSize:
        return QSize(320, int(QFontMetricsF(theme.ui_font(0.82)).height() * 6.4))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        font = theme.ui_font(0.82)
        painter.setFont(font)
        line = QFontMetricsF(font).height()
        painter.setPen(theme.colour("muted"))
        if not self._bands:
            painter.drawText(
                self.rect(), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, "Nothing was held out."
            )
            return
        wide = min(self.width() / len(self._bands), line * 8)
        top, bottom = line * 1.1, self.height() - line * 2.2
        middle = int(Qt.AlignmentFlag.AlignCenter)
        for at, (low, high, count, right) in enumerate(self._bands):
            left = at * wide
            bar = QRectF(left + wide * 0.2, bottom - right * (bottom - top), wide * 0.6, right * (bottom - top))
            painter.fillRect(QRectF(bar.left(), top, bar.width(), bottom - top), theme.colour("band"))
            painter.fillRect(bar, theme.colour("verdigris"))
            promised = bottom - (low + high) / 2 * (bottom - top)
            painter.setPen(QPen(theme.colour("madder"), 1.6))
            painter.drawLine(QPointF(bar.left() - 4, promised), QPointF(bar.right() + 4, promised))
            painter.setPen(theme.colour("ink"))
            painter.drawText(QRectF(left, 0, wide, line), middle, f"{right:.0%} right")
            painter.setPen(theme.colour("muted"))
            painter.drawText(QRectF(left, bottom + 1, wide, line), middle, f"{low:.0%}–{high:.0%}")
            painter.drawText(QRectF(left, bottom + line, wide, line), middle, f"{count:,}")
