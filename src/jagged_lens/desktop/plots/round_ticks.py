# SPDX-License-Identifier: GPL-3.0-or-later
"""Round numbers for the marks of a scale: 1, 2 and 5 times powers of ten."""

from __future__ import annotations

import math

_STEPS = (1.0, 2.0, 5.0, 10.0)


def round_up(value: float) -> float:
    """The least round number that is not below a value above 0.

    >>> round_up(0.058), round_up(3.08), round_up(7.75), round_up(0.2)
    (0.1, 5.0, 10.0, 0.2)
    """
    if value <= 0:
        return 0.0
    power = 10.0 ** math.floor(math.log10(value))
    found = next(step for step in (*_STEPS, 20.0) if step * power >= value * (1 - 1e-9))
    return float(f"{found * power:.12g}")


def rounded(value: float, digits: int = 2) -> float:
    """A number with so many digits that count.

    >>> rounded(1.3214), rounded(0.05834), rounded(0.0)
    (1.3, 0.058, 0.0)
    """
    return float(f"{value:.{digits}g}")


def round_numbers(low: float, high: float) -> list[float]:
    """The round numbers from one number above 0 to another.

    >>> round_numbers(18, 160)
    [20.0, 50.0, 100.0]
    """
    low = max(low, 1e-12)
    if high < low:
        return []
    powers = range(math.floor(math.log10(low)), math.floor(math.log10(high)) + 1)
    found = [float(f"{step * 10.0**power:.12g}") for power in powers for step in _STEPS[:3]]
    return [one for one in found if low <= one <= high]
