# SPDX-License-Identifier: GPL-3.0-or-later
"""The scale of the heights of a tree: even, but for the highest joins, which stand so far apart that a line can be put between any two."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

APART = 6.0
"""Pixels between two joins."""
_JOINS = 40  # that many of the highest are kept apart
_ROOM = 0.6  # of the width, which they take at the most
_ABOVE = 1.06  # times the highest join: where the scale ends


class HeightScale:
    """heights: float64, of all joins, rising. wide: pixels. Shares are of the width, from 0 to 1."""

    def __init__(self, heights: NDArray[np.float64], wide: float) -> None:
        highest = float(heights.max(initial=0)) * _ABOVE or 1.0
        top = np.unique(heights[-_JOINS:])[::-1]  # equal ones cannot be parted
        even = top / highest
        apart = min(APART / max(wide, 1.0), _ROOM / max(len(top), 1))
        shares = even.copy()
        for at in range(1, len(top)):
            shares[at] = min(even[at], shares[at - 1] - apart)
        shares = np.maximum(shares, np.linspace(1e-3, 1e-4, len(top))) if len(top) else shares
        self.is_even = bool(np.allclose(shares, even))
        self._heights = np.concatenate(([0.0], top[::-1][top[::-1] > 0], [highest]))
        self._shares = np.concatenate(([0.0], shares[::-1][top[::-1] > 0], [1.0]))

    def share_of(self, height: NDArray[np.float64]) -> NDArray[np.float64]:
        """The positions of heights (float64, in their shape)."""
        return np.interp(height, self._heights, self._shares)

    def height_at(self, share: float) -> float:
        """The height at a share of the width."""
        return float(np.interp(share, self._shares, self._heights))
