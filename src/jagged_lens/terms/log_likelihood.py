# SPDX-License-Identifier: GPL-3.0-or-later
"""G²: how much more often two things occur together than by chance."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def log_likelihood(
    both: NDArray[np.float64], second: NDArray[np.float64], first: NDArray[np.float64] | float, total: float
) -> NDArray[np.float64]:
    """G² of two things that occur together `both` times, and `first` and `second` times among `total`; 0 unless more often than by
    chance.

    Terms of a group are told so: held by `both` of its `first` documents, and by `second` of all `total`. both, first, second: float64,
    one for each pair; gives float64. Dunning, "Accurate methods for the statistics of surprise and coincidence", 1993.

    >>> log_likelihood(np.array([8.0, 1.0]), np.array([10.0, 50.0]), 10, 100).round(2).tolist()
    [35.83, 0.0]
    """
    table = (both, first - both, second - both, total - first - second + both)
    sums = ((first, second), (first, total - second), (total - first, second), (total - first, total - second))
    ratio = np.zeros(len(both))
    with np.errstate(divide="ignore", invalid="ignore"):
        for cell, (across, down) in zip(table, sums, strict=True):
            expected = np.asarray(across, np.float64) * down / total
            ratio += np.where(cell > 0, cell * np.log(cell / expected), 0.0)
    return np.asarray(np.where(both * total > np.asarray(first) * second, np.maximum(2 * ratio, 0.0), 0.0))
