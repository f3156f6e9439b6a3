# SPDX-License-Identifier: GPL-3.0-or-later
"""The positions of names on a map: near what they name, never on each other, over as few points as can be."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

_CELL = 6  # pixels; points are counted on a grid of such cells
_RINGS = 10
_TURNS = 12
_PER_POINT = 60.0  # how much worse a place is that covers all points than one a ring nearer
_PER_RING = 0.35


class NamePlaces:
    """Finds one place after the other; each is then taken."""

    def __init__(
        self,
        points: NDArray[np.float64],
        width: float,
        height: float,
        taken: Sequence[tuple[float, float, float, float]],
    ) -> None:
        """points: k × 2, in pixels. width, height: of the map. taken: left, top, right, bottom of what lies over it."""
        self._size = np.array([width, height])
        self._taken = np.array(taken, np.float64).reshape(-1, 4)
        columns, rows = int(width // _CELL) + 2, int(height // _CELL) + 2
        cells = np.clip((points // _CELL).astype(np.int64), 0, (columns - 1, rows - 1))
        counts = np.bincount(cells[:, 1] * columns + cells[:, 0], minlength=columns * rows).reshape(rows, columns)
        # How many points lie above and to the left of each corner: any box is four look-ups.
        self._sums = np.zeros((rows + 1, columns + 1))
        self._sums[1:, 1:] = counts.cumsum(axis=0).cumsum(axis=1)
        self._all = max(len(points), 1)
        ring, turn = np.divmod(np.arange(_RINGS * _TURNS), _TURNS)
        angle = 2 * np.pi * turn / _TURNS - np.pi / 2
        self._steps = np.column_stack((np.cos(angle) * ring * 0.3, np.sin(angle) * ring * 1.25))
        self._ring = ring

    def place(self, middle: NDArray[np.float64], size: tuple[float, float]) -> tuple[float, float] | None:
        """The left top corner of a plate of that size for something at `middle`; None where all is taken."""
        box = np.array(size)
        corners = middle + self._steps * box - box / 2
        corners = np.clip(corners, 2, np.maximum(self._size - box - 2, 2))
        ends = corners + box
        if len(self._taken):
            left, top, right, bottom = (self._taken[:, side][:, None] for side in range(4))
            hits = (corners[:, 0] < right) & (ends[:, 0] > left) & (corners[:, 1] < bottom) & (ends[:, 1] > top)
            free = np.flatnonzero(~hits.any(axis=0))
        else:
            free = np.arange(len(corners))
        if not len(free):
            return None
        cost = self._covered(corners[free] - 3, ends[free] + 3) / self._all * _PER_POINT + self._ring[free] * _PER_RING
        best = free[cost.argmin()]
        left_, top_ = corners[best]
        self._taken = np.vstack((self._taken, [left_ - 3, top_ - 3, left_ + box[0] + 3, top_ + box[1] + 3]))
        return float(left_), float(top_)

    def _covered(self, corners: NDArray[np.float64], ends: NDArray[np.float64]) -> NDArray[np.float64]:
        """The number of points that lie in each box, as the grid counts them."""
        limit = np.array(self._sums.shape[::-1]) - 1
        low = np.clip((corners // _CELL).astype(np.int64), 0, limit)
        high = np.clip((ends // _CELL).astype(np.int64) + 1, 0, limit)
        s = self._sums
        found: NDArray[np.float64] = (
            s[high[:, 1], high[:, 0]] - s[low[:, 1], high[:, 0]] - s[high[:, 1], low[:, 0]] + s[low[:, 1], low[:, 0]]
        )
        return found
