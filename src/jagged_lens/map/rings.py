# SPDX-License-Identifier: GPL-3.0-or-later
"""A picture that is exact: the distance of each document from one of them is its dissimilarity to that one."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def rings(similarity: NDArray[np.floating], group: NDArray[np.integer], row: int) -> NDArray[np.float32]:
    """Places of n documents round the one at `row`, at the distance 1 - similarity. In the direction of their group, each with as much of
    the circle as it has members. float32, n × 2, NaN where there is no similarity.

    similarity: n, to that document, NaN for itself and for empty rows. group: int, n, -1 for none.
    """
    positions = np.full((len(similarity), 2), np.nan, np.float32)
    others = np.flatnonzero(~np.isnan(similarity))
    # Within a group the more and the less alike alternate: a direction means the group, and nothing else.
    order = others[np.lexsort((others, -similarity[others], group[others]))]
    rank = np.arange(len(order))
    first = np.searchsorted(group[order], group[order])
    size = np.searchsorted(group[order], group[order], side="right") - first
    step = _golden(rank - first)
    turn = 2 * np.pi * (first + step * size) / max(len(order), 1)
    away = 1 - similarity[order].astype(np.float64)
    positions[order] = np.column_stack((np.sin(turn) * away, np.cos(turn) * away))
    if len(others):
        positions[row] = 0
    return positions


def _golden(rank: NDArray[np.integer]) -> NDArray[np.float64]:
    """Numbers from 0 to 1 that spread evenly however many there are."""
    return np.asarray((0.5 + rank * 0.6180339887498949) % 1)
