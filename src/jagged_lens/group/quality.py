# SPDX-License-Identifier: GPL-3.0-or-later
"""The quality of a grouping: silhouettes, the next best group of each row, the closeness of the groups.

Cosine is linear on rows of length 1: the mean distance 1 - cos of a row to a set is 1 minus its product with the mean of the set, so that
no pair of rows is formed.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.group.grouping import FilledRows, Grouping, centroid_blocks, centroids_of, own_cosines, turned
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, unheard

_ROWS_AT_ONCE = 4_000


@dataclass(frozen=True, eq=False)
class Quality:
    """For n rows in g groups. silhouette: float32, n, on 1 - cos, without itself; 0 if alone in its group, NaN for a row in none
    and if there is only one group. next: int32, n, the group with the next nearest centroid; -1 if there is none.
    next_closeness: float32, n, the cosine to that. groups: float32, g, mean silhouette of each. mean: over all rows. NaN where none has
    one. nearness: float32, g × g, cosines of centroids.
    """

    silhouette: NDArray[np.float32]
    next: NDArray[np.int32]
    next_closeness: NDArray[np.float32]
    groups: NDArray[np.float32]
    mean: float
    nearness: NDArray[np.float32]

    @property
    def weak(self) -> NDArray[np.bool_]:
        """The rows (bool, n) that are closer to another group's members than to those of their own: silhouette below 0."""
        return self.silhouette < 0


def quality_of(rows: FilledRows, grouping: Grouping, progress: Progress = unheard) -> Quality:
    """The quality of a grouping of filled rows. Rousseeuw, "Silhouettes: a graphical aid", 1987."""
    g = len(grouping)
    group = grouping.group[rows.at]
    inside = np.flatnonzero(group >= 0)
    own = group[inside].astype(np.int64)
    x = rows.x if len(inside) == len(rows) else rows.x[inside]
    centroids = centroids_of(x, own, g) if g else np.zeros((0, x.shape[1]))
    sizes = grouping.sizes.astype(np.float64)
    found = silhouettes(x, own, centroids, sizes, own_cosines(x, centroids, own), progress)
    silhouette = np.full(rows.n, np.nan, np.float32)
    following = np.full(rows.n, -1, np.int32)
    closeness = np.zeros(rows.n, np.float32)
    places = rows.at[inside]
    silhouette[places], following[places], closeness[places] = found
    with np.errstate(invalid="ignore"):
        means = np.bincount(own, found[0], minlength=g) / np.maximum(grouping.sizes, 1)
    product = centroids @ centroids.T
    nearness = product if isinstance(product, np.ndarray) else np.asarray(product.toarray())
    mean = float(found[0].mean()) if len(own) and g > 1 else float("nan")
    return Quality(silhouette, following, closeness, means.astype(np.float32), mean, nearness.astype(np.float32))


def silhouettes(
    x: csr_array,
    own: NDArray[np.int64],
    centroids: csr_array | NDArray[np.float64],
    sizes: NDArray[np.float64],
    closeness: NDArray[np.float64],
    progress: Progress = unheard,
) -> tuple[NDArray[np.float64], NDArray[np.int64], NDArray[np.float64]]:
    """The silhouette of each row, its next best group and the cosine to that group's centroid.

    x: float64 CSR, f × m, rows of length 1. own: int64, f. centroids: g × m. sizes: float64, g. closeness: float64, f, to the own centroid.
    """
    g = len(sizes)
    if g < 2:
        return np.full(len(own), np.nan), np.full(len(own), -1), np.zeros(len(own))
    # |Σ of a group's rows| ÷ size: what the cosine to the centroid is multiplied by to be the mean cosine to the members.
    tight = np.bincount(own, closeness, minlength=g) / sizes

    def of_block(block: slice) -> tuple[NDArray[np.float64], NDArray[np.int64], NDArray[np.float64]]:
        rows, mine = x[block], own[block]
        nearest, alike = np.full(len(mine), -1), np.full(len(mine), -np.inf)
        most = np.full(len(mine), -np.inf)
        for some in centroid_blocks(centroids):
            cosines = np.asarray(rows @ turned(centroids, some))
            among = np.flatnonzero((mine >= some.start) & (mine < some.stop))
            cosines[among, mine[among] - some.start] = -np.inf
            at = cosines.argmax(axis=1)
            best = cosines[np.arange(len(mine)), at]
            nearer = best > alike
            nearest[nearer], alike[nearer] = at[nearer] + some.start, best[nearer]
            most = np.maximum(most, (cosines * tight[some]).max(axis=1))
        return most, nearest, alike

    cut_up = blocks(x.shape[0], _ROWS_AT_ONCE)
    most, following, alike = map(np.concatenate, zip(*over_blocks(of_block, cut_up, progress), strict=True))
    size = sizes[own]
    with np.errstate(divide="ignore", invalid="ignore"):
        within = 1 - (closeness * tight[own] * size - 1) / (size - 1)
        across = 1 - most
        larger = np.maximum(within, across)
        silhouette = np.where((size > 1) & (larger > 1e-12), (across - within) / larger, 0.0)
    return silhouette, following, alike
