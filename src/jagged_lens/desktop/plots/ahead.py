# SPDX-License-Identifier: GPL-3.0-or-later
"""From point to point with the arrow keys."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

_CONE = (
    1.5  # the widest step to the side, for each step ahead: the four directions overlap, so that every point is reached
)


def nearest_ahead(places: NDArray[np.float64], here: int, direction: NDArray[np.float64]) -> int:
    """The point nearest to the one that is here among those that lie in a direction; -1 where none does.

    places: n × 2 on screen, NaN for those that are not there. direction: a unit vector. A step to the side counts twice.

    >>> nearest_ahead(np.array([[0.0, 0.0], [9.0, 1.0], [5.0, 8.0], [-1.0, 0.0]]), 0, np.array([1.0, 0.0]))
    1
    """
    steps = places - places[here]
    ahead = steps @ direction
    aside = np.abs(steps @ np.array([-direction[1], direction[0]]))
    cost = np.where((ahead > 0.5) & (aside <= ahead * _CONE), ahead + 2 * aside, np.inf)  # NaN lies nowhere
    return int(cost.argmin()) if np.isfinite(cost).any() else -1
