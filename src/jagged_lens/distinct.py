# SPDX-License-Identifier: GPL-3.0-or-later
"""The different numbers of an array."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def distinct(numbers: NDArray[np.int64]) -> NDArray[np.int64]:
    """The different ones of many numbers, rising. By sorting, which lets other threads go on. NumPy's own way by hashing does not, and
    the window would stand still for as long as it takes.

    numbers: int64, in any order; gives int64, rising.

    >>> distinct(np.array([3, 1, 3, 2, 1])).tolist()
    [1, 2, 3]
    """
    rising = np.sort(numbers)
    first = np.ones(len(rising), np.bool_)
    np.not_equal(rising[1:], rising[:-1], out=first[1:])
    return rising[first]
