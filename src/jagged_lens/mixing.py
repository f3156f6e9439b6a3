# SPDX-License-Identifier: GPL-3.0-or-later
"""Numbers of 64 bits, mixed so that every bit of one hangs on every bit of the other."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def mixed(numbers: NDArray[np.uint64]) -> NDArray[np.uint64]:
    """A number for each that looks drawn at random; different ones for different ones (uint64, of the same shape).

    The finaliser of splitmix64: Steele, Lea & Flood, "Fast splittable pseudorandom number generators", 2014.

    >>> mixed(np.array([0, 1], np.uint64)).tolist()
    [0, 6238072747940578789]
    """
    z = (numbers ^ (numbers >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return z ^ (z >> np.uint64(31))
