"""Spherical k-means: rows and centroids of length 1, quality = mean cosine to the own centroid.

Dhillon & Modha, "Concept decompositions for large sparse text data using clustering", 2001; starts spread by
distance-weighted seeding (Arthur & Vassilvitskii 2007).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare import rows_of
from jagged_lens.group.settings import GroupSettings
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, unheard
from jagged_lens.weigh import VectorSpace

_MOST_ROUNDS = 100
_ROWS_AT_ONCE = 8_000
_SUMMED_AT_ONCE = 30_000  # rows; each block has sums of its own
_GAIN = 1e-7  # a round that raises the mean cosine by less ends a start


@dataclass(frozen=True, eq=False)
class Grouping:
    """Groups 0, 1, … by falling size, then lowest row.

    group: int32, n; -1 for an empty row. centroids: float32, g × m, length 1. closeness: float32, n, cosine to the own
    centroid, 0 for an empty row. quality: the mean closeness. sizes, tightness: g each; tightness is the mean closeness
    of a group's rows.
    """

    group: NDArray[np.int32]
    centroids: NDArray[np.float32]
    closeness: NDArray[np.float32]
    quality: float
    sizes: NDArray[np.int32]
    tightness: NDArray[np.float32]

    def __len__(self) -> int:
        return len(self.sizes)


def letter(group: int) -> str:
    """The letter of a group: A … Z, AA, AB, …

    >>> [letter(g) for g in (0, 25, 26, 27, 701, 702)]
    ['A', 'Z', 'AA', 'AB', 'ZZ', 'AAA']
    """
    letters = ""
    group += 1
    while group:
        group, rest = divmod(group - 1, 26)
        letters = chr(ord("A") + rest) + letters
    return letters


def k_means(space: VectorSpace, settings: GroupSettings, progress: Progress = unheard) -> Grouping:
    """Group the rows; the best of settings.starts. There are never more groups than rows that are not empty."""
    rows = rows_of(space, "cosine")
    filled = np.flatnonzero(~rows.empty)
    x = rows.matrix[filled]
    k = min(settings.groups, len(filled))
    n, m = rows.matrix.shape
    if k == 0:
        return _grouping(np.full(n, -1, np.int32), np.zeros((0, m)), np.zeros(n), 0)

    narrow = x.astype(np.float32)

    def start(number: int) -> tuple[NDArray[np.int64], NDArray[np.float64], NDArray[np.float64]]:
        return _one_start(x, narrow, k, np.random.default_rng([settings.seed, number]), progress)

    best = None
    for found in over_blocks(start, list(range(settings.starts)), progress):
        # A later start must be better by more than rounding to replace an earlier one.
        if best is None or found[2].mean() > best[2].mean() + 1e-12:
            best = found
    assert best is not None
    assigned, centroids, closeness = best
    group = np.full(n, -1, np.int32)
    close = np.zeros(n)
    group[filled], close[filled] = assigned, closeness
    return _grouping(group, centroids, close, k)


def _one_start(
    x: csr_array, narrow: csr_array, k: int, random: np.random.Generator, progress: Progress
) -> tuple[NDArray[np.int64], NDArray[np.float64], NDArray[np.float64]]:
    """One start. narrow: x in single precision, in which the nearest centroid is found twice as fast."""
    centroids = _spread(x, k, random)
    assigned, closeness = nearest_centroid(narrow, centroids)
    last = -np.inf
    for _ in range(_MOST_ROUNDS):
        progress(0.0)
        assigned, closeness = _refill(assigned, closeness, k)
        centroids = centroids_of(x, assigned, k)
        moved, closeness = nearest_centroid(narrow, centroids)
        quality = float(closeness.mean(dtype=np.float64))
        settled = np.array_equal(moved, assigned) or quality - last < _GAIN
        assigned, last = moved, quality
        if settled:
            break
    # Whatever ended the rounds, no group is left empty and the centroids are those of the rows as assigned.
    assigned, _ = _refill(assigned, closeness, k)
    centroids = centroids_of(x, assigned, k)
    cosines = np.asarray(x @ centroids.T)
    return assigned, centroids, cosines[np.arange(len(assigned)), assigned]


def _spread(x: csr_array, k: int, random: np.random.Generator) -> NDArray[np.float64]:
    """k rows as first centroids, each drawn with a chance that grows with its distance from those before it."""
    n = x.shape[0]
    chosen = [int(random.integers(n))]
    distance = np.ones(n)
    for _ in range(k):
        row = x[[chosen[-1]]].toarray().ravel()
        distance = np.minimum(distance, np.maximum(1 - x @ row, 0))
        distance[distance < 1e-12] = 0
        distance[chosen] = 0
        if len(chosen) == k:
            break
        running = np.cumsum(distance)
        if running[-1] > 0:
            chosen.append(int(np.searchsorted(running, random.random() * running[-1], side="right")))
        else:  # all others are copies of those chosen
            chosen.append(int(np.setdiff1d(np.arange(n), chosen)[0]))
    return np.asarray(x[np.array(chosen)].toarray())


def nearest_centroid(
    narrow: csr_array, centroids: NDArray[np.float64]
) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
    """The nearest centroid of each row (ties: the first) and the cosine to it, in single precision."""
    across = np.ascontiguousarray(centroids.T, np.float32)

    def nearest(block: slice) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
        cosines = np.asarray(narrow[block] @ across)
        own = cosines.argmax(axis=1)
        return own, cosines[np.arange(len(own)), own]

    group, closeness = zip(*over_blocks(nearest, blocks(narrow.shape[0], _ROWS_AT_ONCE)), strict=True)
    return np.concatenate(group), np.concatenate(closeness)


def _refill(
    assigned: NDArray[np.int64], closeness: NDArray[np.float32], k: int
) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
    """Give each emptied group the row farthest from its centroid, out of a group that has another."""
    sizes = np.bincount(assigned, minlength=k)
    if sizes.min() > 0:
        return assigned, closeness
    assigned, closeness = assigned.copy(), closeness.copy()
    for group in np.flatnonzero(sizes == 0):
        free = np.where(sizes[assigned] > 1, closeness, np.inf)
        row = int(free.argmin())
        sizes[assigned[row]] -= 1
        assigned[row], closeness[row] = group, 1.0
        sizes[group] = 1
    return assigned, closeness


def centroids_of(x: csr_array, assigned: NDArray[np.int64], k: int) -> NDArray[np.float64]:
    """The sum of each group's rows, brought to length 1."""
    n, m = x.shape

    def summed(block: slice) -> NDArray[np.float64]:
        entries = slice(int(x.indptr[block.start]), int(x.indptr[block.stop]))
        cells = np.repeat(assigned[block] * m, np.diff(x.indptr[block.start : block.stop + 1]))
        cells += x.indices[entries]
        return np.bincount(cells, x.data[entries], minlength=k * m).astype(np.float64)  # no rows: no weights either

    parts = list(over_blocks(summed, blocks(n, _SUMMED_AT_ONCE)))
    sums = np.asarray(np.sum(parts, axis=0)).reshape(k, m)
    lengths = np.linalg.norm(sums, axis=1, keepdims=True)
    return sums / np.where(lengths > 0, lengths, 1)


def _grouping(
    group: NDArray[np.int32], centroids: NDArray[np.float64], closeness: NDArray[np.float64], k: int
) -> Grouping:
    """Number the groups by falling size, then lowest row."""
    members = group >= 0
    sizes = np.bincount(group[members], minlength=k)
    lowest = np.full(k, len(group))
    np.minimum.at(lowest, group[members], np.flatnonzero(members))
    order = np.lexsort((lowest, -sizes))
    number = np.empty(k, np.int32)
    number[order] = np.arange(k)
    new = np.where(members, number[group] if k else -1, -1).astype(np.int32)
    totals = np.bincount(new[members], closeness[members], minlength=k)
    return Grouping(
        new,
        centroids[order].astype(np.float32),
        closeness.astype(np.float32),
        float(closeness[members].mean()) if members.any() else 0.0,
        sizes[order].astype(np.int32),
        (totals / np.maximum(sizes[order], 1)).astype(np.float32),
    )
