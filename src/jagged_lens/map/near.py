# SPDX-License-Identifier: GPL-3.0-or-later
"""The nearest points on a map, exactly, by a k-d tree (Bentley, "Multidimensional binary search trees", 1975)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from jagged_lens.parallel import blocks
from jagged_lens.progress import Progress, unheard

_AT_ONCE = 1_000


def nearest_on_map(positions: NDArray[np.floating], k: int, progress: Progress = unheard) -> NDArray[np.int32]:
    """The k nearest other points of each of n points (int32, n × k, best first; ties: lowest row). k < n."""
    points = positions.astype(np.float64)
    nearest = np.full((len(points), k), -1, np.int32)
    if k == 0:
        return nearest
    # Of points in one place only the k + 1 of the lowest rows can be anyone's nearest, and to the rest of them they are it.
    _, place = np.unique(points, axis=0, return_inverse=True)
    order = np.argsort(place, kind="stable")
    first = np.searchsorted(place[order], place[order])
    few = np.arange(len(order)) - first <= k
    nearest[order[~few]] = order[first[~few, None] + np.arange(k)]
    some = np.sort(order[few])
    nearest[some] = some[_nearest(points[some], k, progress)]
    return nearest


def _nearest(points: NDArray[np.float64], k: int, progress: Progress) -> NDArray[np.int64]:
    tree = cKDTree(points)
    nearest = np.empty((len(points), k), np.int64)
    for block in blocks(len(points), _AT_ONCE):
        progress(block.start / len(points))
        rows = np.arange(block.start, block.stop)
        # Itself, the k that are wanted, and one more, which tells whether others are as near as the last.
        _, found = tree.query(points[block], min(k + 2, len(points)))
        away = _squared(points[block, None], points[found])
        away[found == rows[:, None]] = -1
        turn = np.lexsort((found, away), axis=1)
        found, away = np.take_along_axis(found, turn, 1), np.take_along_axis(away, turn, 1)
        nearest[block] = found[:, 1 : k + 1]
        if found.shape[1] > k + 1:
            for at in np.flatnonzero(away[:, k + 1] <= away[:, k] * (1 + 1e-12)).tolist():
                nearest[block.start + at] = _of_one(tree, points, block.start + at, away[at, k], k)
    return nearest


def _of_one(tree: cKDTree, points: NDArray[np.float64], row: int, reach: float, k: int) -> NDArray[np.int64]:
    """The k nearest of a row of which several are as near as the last, which is so far away (squared)."""
    near = np.sort(tree.query_ball_point(points[row], np.sqrt(reach) * (1 + 1e-9))).astype(np.int64)
    near = near[near != row]
    best: NDArray[np.int64] = near[np.argsort(_squared(points[row], points[near]), kind="stable")[:k]]
    return best


def _squared(one: NDArray[np.float64], other: NDArray[np.float64]) -> NDArray[np.float64]:
    return (one[..., 0] - other[..., 0]) ** 2 + (one[..., 1] - other[..., 1]) ** 2
