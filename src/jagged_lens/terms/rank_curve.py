# SPDX-License-Identifier: GPL-3.0-or-later
"""The rank–frequency curve of a vocabulary, and the Zipf–Mandelbrot line that fits it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

_POINTS = 400
_SHIFTS = np.concatenate(([0.0], np.geomspace(0.5, 200, 40)))


@dataclass(frozen=True)
class ZipfMandelbrot:
    """Times at rank r ≈ scale / (r + shift) ^ exponent."""

    scale: float
    shift: float
    exponent: float

    def at(self, rank: NDArray[np.float64]) -> NDArray[np.float64]:
        """The times that the line gives at some ranks (from 1): float64, one for each."""
        return np.asarray(self.scale / (rank + self.shift) ** self.exponent)


def fit_zipf_mandelbrot(falling: NDArray[np.integer]) -> ZipfMandelbrot | None:
    """The line that fits frequencies in falling order: least squares of the logarithms, at ranks spread evenly on a log axis.

    Mandelbrot, "An informational theory of the statistical structure of language", 1953. None for fewer than five. falling: int64
    or int32, one for each rank from 1.
    """
    if len(falling) < 5 or falling[-1] <= 0:
        return None
    ranks = np.unique(np.geomspace(1, len(falling), _POINTS).round().astype(np.int64))
    heights = np.log(falling[ranks - 1].astype(np.float64))
    best, least = None, np.inf
    for shift in _SHIFTS:
        x = np.log(ranks + shift)
        slope, height = np.polyfit(x, heights, 1)
        error = float(((heights - slope * x - height) ** 2).sum())
        if error < least:
            best, least = ZipfMandelbrot(float(np.exp(height)), float(shift), float(-slope)), error
    return best
