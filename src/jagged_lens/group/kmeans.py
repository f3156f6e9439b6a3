"""Spherical k-means: rows and centroids of length 1, quality = mean cosine to the own centroid.

Dhillon & Modha, "Concept decompositions for large sparse text data using clustering", 2001; starts spread by
distance-weighted seeding (Arthur & Vassilvitskii 2007).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array, vstack

from jagged_lens.compare import rows_of
from jagged_lens.group.settings import GroupSettings
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, unheard
from jagged_lens.weigh import VectorSpace

_MOST_ROUNDS = 100
_ROWS_AT_ONCE = 8_000
_MOST_DENSE = 64  # centroids that are dense at a time, as far as they have together at most so many cells:
_DENSE_CELLS = 8_000_000
_SUMMED_CELLS = 2_000_000  # cells that are summed up densely at a time
_GAIN = 1e-7  # a round that raises the mean cosine by less ends a start


Centroids = csr_array | NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Grouping:
    """Groups 0, 1, … by falling size, then lowest row.

    group: int32, n; -1 for an empty row. centroids: float32 CSR, g × m, length 1. closeness: float32, n, cosine to the own
    centroid, 0 for an empty row. quality: the mean closeness. sizes, tightness: g each; tightness is the mean closeness
    of a group's rows.
    """

    group: NDArray[np.int32]
    centroids: csr_array
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
        return _grouping(np.full(n, -1, np.int32), csr_array((0, m)), np.zeros(n), 0)

    narrow = x.astype(np.float32)

    def start(number: int) -> tuple[NDArray[np.int64], Centroids, NDArray[np.float64]]:
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
) -> tuple[NDArray[np.int64], Centroids, NDArray[np.float64]]:
    """One start. narrow: x in single precision, in which the nearest centroid is found twice as fast."""
    centroids: Centroids = csr_array(_spread(x, k, random))
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
    return assigned, centroids, _own_cosines(x, centroids, assigned)


def _spread(x: csr_array, k: int, random: np.random.Generator) -> csr_array:
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
    return x[np.array(chosen)]


def nearest_centroid(narrow: csr_array, centroids: Centroids) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
    """The nearest centroid of each row (int64, n; ties: the first) and the cosine to it (float32, n), in single precision."""
    group = np.zeros(narrow.shape[0], np.int64)
    closeness = np.full(narrow.shape[0], -np.inf, np.float32)
    for some in _centroid_blocks(centroids):
        across = np.ascontiguousarray(_dense(centroids, some).T, np.float32)

        def nearest(
            block: slice, across: NDArray[np.float32] = across
        ) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
            cosines = np.asarray(narrow[block] @ across)
            own = cosines.argmax(axis=1)
            return own, cosines[np.arange(len(own)), own]

        found, cosine = map(
            np.concatenate,
            zip(*over_blocks(nearest, blocks(narrow.shape[0], _ROWS_AT_ONCE)), strict=True),
        )
        nearer = cosine > closeness
        group[nearer], closeness[nearer] = found[nearer] + some.start, cosine[nearer]
    return group, closeness


def _centroid_blocks(centroids: Centroids) -> list[slice]:
    """So many centroids at a time that they can be dense."""
    return blocks(centroids.shape[0], min(max(_DENSE_CELLS // max(centroids.shape[1], 1), 1), _MOST_DENSE))


def _own_cosines(x: csr_array, centroids: Centroids, assigned: NDArray[np.int64]) -> NDArray[np.float64]:
    """The cosine of each row to the centroid of its group (float64, n)."""
    closeness = np.zeros(len(assigned))
    for some in _centroid_blocks(centroids):
        across = np.ascontiguousarray(_dense(centroids, some).T)
        for block in blocks(x.shape[0], _ROWS_AT_ONCE):
            own = assigned[block] - some.start
            inside = np.flatnonzero((own >= 0) & (own < across.shape[1]))
            rows = x[block] if len(inside) == len(own) else x[block][inside]
            cosines = np.asarray(rows @ across)
            closeness[block][inside] = cosines[np.arange(len(inside)), own[inside]]
    return closeness


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


def centroids_of(x: csr_array, assigned: NDArray[np.int64], k: int) -> Centroids:
    """The sum of each group's rows, brought to length 1 (float64, k × m): dense where they are few, else as sparse as the rows
    are together."""
    m = x.shape[1]
    found = []
    for some in blocks(k, min(max(_SUMMED_CELLS // max(m, 1), 1), k)):
        rows, own = x, assigned
        if some.stop - some.start < k:
            inside = np.flatnonzero((assigned >= some.start) & (assigned < some.stop))
            rows, own = x[inside], assigned[inside] - some.start
        cells = np.repeat(own * m, np.diff(rows.indptr))
        cells += rows.indices
        count = some.stop - some.start
        sums = np.bincount(cells, rows.data, minlength=count * m).astype(np.float64).reshape(count, m)
        lengths = np.linalg.norm(sums, axis=1, keepdims=True)
        sums /= np.where(lengths > 0, lengths, 1)
        if count == k:
            return sums
        found.append(csr_array(sums))
    return csr_array(vstack(found, format="csr"))


def _sparse(centroids: Centroids) -> csr_array:
    return csr_array(centroids)


def _dense(centroids: Centroids, some: slice) -> NDArray[np.float64]:
    part = centroids[some]
    return part if isinstance(part, np.ndarray) else np.asarray(part.toarray())


def _grouping(group: NDArray[np.int32], centroids: Centroids, closeness: NDArray[np.float64], k: int) -> Grouping:
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
        _sparse(centroids[order] if k else centroids).astype(np.float32),
        closeness.astype(np.float32),
        float(closeness[members].mean()) if members.any() else 0.0,
        sizes[order].astype(np.int32),
        (totals / np.maximum(sizes[order], 1)).astype(np.float32),
    )
