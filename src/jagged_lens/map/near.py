# SPDX-License-Identifier: GPL-3.0-or-later
"""The nearest points on a map, exactly: points are halved into small boxes, and a box looks only as far as it must."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.progress import Progress, unheard

_LEAF = 64


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
    nearest = np.empty((len(points), k), np.int64)
    leaves = _leaves(points, max(_LEAF, 2 * (k + 1)))
    for done, leaf in enumerate(leaves):
        progress(done / len(leaves))
        inside = points[leaf]
        low, high = inside.min(axis=0), inside.max(axis=0)
        among = _squared(inside, inside)
        reach = np.partition(among, k, axis=1)[:, k].max()  # place 0 is the point itself
        gap = np.maximum(np.maximum(low - points, points - high), 0)
        near = np.flatnonzero((gap**2).sum(axis=1) <= reach * (1 + 1e-12))
        squared = _squared(inside, points[near])
        squared[np.arange(len(leaf)), np.searchsorted(near, leaf)] = np.inf
        nearest[leaf] = near[np.argsort(squared, axis=1, kind="stable")[:, :k]]
    return nearest


def _squared(a: NDArray[np.float64], b: NDArray[np.float64]) -> NDArray[np.float64]:
    return (a[:, None, 0] - b[None, :, 0]) ** 2 + (a[:, None, 1] - b[None, :, 1]) ** 2


def _leaves(points: NDArray[np.float64], size: int) -> list[NDArray[np.int64]]:
    """Rows halved along the wider side until at most 2 × size are together (never fewer than size, if n allows)."""
    waiting, leaves = [np.arange(len(points))], []
    while waiting:
        rows = waiting.pop()
        if len(rows) <= 2 * size:
            leaves.append(np.sort(rows))
            continue
        box = points[rows]
        side = int(np.ptp(box, axis=0).argmax())
        order = rows[np.argsort(box[:, side], kind="stable")]
        waiting += [order[: len(order) // 2], order[len(order) // 2 :]]
    return leaves
