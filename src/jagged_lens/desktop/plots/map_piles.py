# SPDX-License-Identifier: GPL-3.0-or-later
"""Piles: copies that lie on one another on a map, and how many they are."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from jagged_lens.desktop.look import theme

_TOGETHER = 7.0  # pixels from their middle within which points are one pile
_AWAY = 7.0  # pixels from the pile to its number
_GROWS = 0.3  # of a point for each doubling of its copies
_LARGEST = 4.0  # times a point


class Piles:
    """Families of copies, of which those that lie together in sight are told with their number.

    members: int64, rows of all families one after the other; family: int, of each of them, rising.
    """

    def __init__(self, members: NDArray[np.integer] | None = None, family: NDArray[np.integer] | None = None) -> None:
        self._members = np.zeros(0, np.int64) if members is None else np.asarray(members, np.int64)
        self._starts = np.zeros(0, np.int64)
        if family is not None and len(family):
            self._starts = np.flatnonzero(np.concatenate(([True], np.diff(family) != 0)))
        self._plates: list[tuple[QRectF, NDArray[np.int64]]] = []

    def together(self, places: NDArray[np.float64]) -> list[NDArray[np.int64]]:
        """The rows of each pile, two at least. places: n × 2, in pixels."""
        if not len(self._members):
            return []
        own = places[self._members]
        sizes = np.diff(np.append(self._starts, len(own)))
        first = np.repeat(own[self._starts], sizes, axis=0)
        near = np.hypot(*(own - first).T) <= _TOGETHER
        counts = np.add.reduceat(near.astype(np.int64), self._starts)
        return [
            self._members[start : start + size][near[start : start + size]]
            for start, size, count in zip(self._starts.tolist(), sizes.tolist(), counts.tolist(), strict=True)
            if count > 1
        ]

    def grown(self, places: NDArray[np.float64]) -> NDArray[np.float64]:
        """The size of each point relative to a single one: the first of a pile grows with the logarithm of their number. places: n × 2,
        in pixels. Float64, n."""
        grown = np.ones(len(places))
        for rows in self.together(places):
            grown[rows[0]] = min(1 + _GROWS * np.log2(len(rows)), _LARGEST)
        return grown

    def paint(
        self,
        painter: QPainter,
        places: NDArray[np.float64],
        size: tuple[int, int],
        fewest: int,
        written: Sequence[QRectF],
    ) -> None:
        """Write ×n beside each pile in sight of `fewest` at least, where nothing is written."""
        self._plates = []
        font = theme.ui_font(0.76, bold=True)
        metrics = QFontMetricsF(font)
        painter.setFont(font)
        taken = list(written)
        for rows in sorted(self.together(places), key=len, reverse=True):
            x, y = places[rows].mean(axis=0)
            if len(rows) < fewest or not (0 <= x <= size[0] and 0 <= y <= size[1]):
                continue
            words = f"×{len(rows):,}"
            wide, tall = metrics.horizontalAdvance(words) + 9, metrics.height() + 1
            right, left, above, below = x + _AWAY - 2, x - _AWAY + 2 - wide, y - _AWAY - tall + 4, y + _AWAY - 4
            corners = ((right, above), (left, above), (right, below), (left, below))
            plates = (QRectF(*corner, wide, tall) for corner in corners)
            plate = next((one for one in plates if not any(one.intersects(other) for other in taken)), None)
            if plate is None:
                continue
            taken.append(plate)
            self._plates.append((plate, rows))
            painter.setPen(QPen(theme.colour("ink"), 1))
            painter.setBrush(theme.colour("card", 235))
            painter.drawRoundedRect(plate, plate.height() / 2, plate.height() / 2)
            painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, words)

    def at(self, place: QPointF) -> NDArray[np.int64] | None:
        """The rows of the pile whose number stands at a place; None where none does."""
        return next((rows for plate, rows in self._plates if plate.contains(place)), None)
