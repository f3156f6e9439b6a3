"""Spherical k-means: rows and centroids of length 1, quality = mean cosine to the own centroid.

Dhillon & Modha, "Concept decompositions for large sparse text data using clustering", 2001; starts spread by
distance-weighted seeding (Arthur & Vassilvitskii 2007).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.group.grouping import Centroids, centroids_of, nearest_centroid, own_cosines
from jagged_lens.group.rounds import FEW_ROWS, InRounds, RowsInRounds, TablesInRounds, table_of
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, Told, unheard

_MOST_ROUNDS = 100
_GAIN = 1e-7  # a round that raises the mean cosine by less ends a start
_PARTS_TOGETHER = 10
_ROUNDING = 1e-7
_CELLS_TOGETHER = (
    400_000  # of the centroids of all starts that go through their rounds at once: more do not stay in the cache
)


def best_of_starts(
    x: csr_array, groups: int, starts: int, seed: int, progress: Progress = unheard
) -> tuple[NDArray[np.int64], int]:
    """Which group each row is in (int64, n), the best of some starts, and how many groups there are: never more than rows.

    x: float64 CSR, n × m, rows of length 1, none of them empty.
    """
    k = min(groups, x.shape[0])
    if k == 0:
        return np.zeros(0, np.int64), 0
    if x.shape[0] <= FEW_ROWS:
        return next(best_of_tables([table_of(x)], k, starts, seed, progress)), k
    rows = RowsInRounds(x)
    together = max(_CELLS_TOGETHER // max(k * x.shape[1], 1), 1)

    def some(numbers: slice) -> list[tuple[NDArray[np.int64], float]]:
        randoms = [np.random.default_rng([seed, number]) for number in range(numbers.start, numbers.stop)]
        if together == 1:
            return [_one_start(rows, k, random, done.again) for random in randoms]
        return _starts_together(rows, k, randoms, done.again)

    done = Told(progress)
    tried = [one for found in over_blocks(some, blocks(starts, together), done.at) for one in found]
    return _best(tried), k


def best_of_tables(
    tables: Sequence[NDArray[np.float32]], k: int, starts: int, seed: int, progress: Progress = unheard
) -> Iterator[NDArray[np.int64]]:
    """Which of k groups each row of each part is in, part by part: what `best_of_starts` gives of it.

    tables: of the cosines of each part, float32, n × n, equally many rows in all. All starts of a few parts go through their rounds
    together.
    """

    def some(numbers: slice) -> list[tuple[NDArray[np.int64], float]]:
        randoms = [np.random.default_rng([seed, number]) for _ in tables[numbers] for number in range(starts)]
        return _starts_together(TablesInRounds.of_parts(tables[numbers], starts), k, randoms, done.again)

    done = Told(progress)
    for found in over_blocks(some, blocks(len(tables), _PARTS_TOGETHER), done.at):
        for first in range(0, len(found), starts):
            yield _best(found[first : first + starts])


def _best(tried: list[tuple[NDArray[np.int64], float]]) -> NDArray[np.int64]:
    """The start of highest quality; a later one must be better by more than rounding to replace an earlier one."""
    best, most = tried[0]
    for own, quality in tried[1:]:
        if quality > most + _ROUNDING:
            best, most = own, quality
    return best


def _one_start(
    rows: RowsInRounds, k: int, random: np.random.Generator, progress: Progress
) -> tuple[NDArray[np.int64], float]:
    """One start, of groups that are so many that their centroids are sparse."""
    x, narrow = rows.x, rows.narrow
    centroids: Centroids = csr_array(x[_spread(rows, k, [random])[0]])
    assigned, closeness = nearest_centroid(narrow, centroids)
    last = -np.inf
    for _ in range(_MOST_ROUNDS):
        progress(0.0)
        assigned = _refill(assigned, closeness, k)
        centroids = centroids_of(x, assigned, k)
        moved, closeness = nearest_centroid(narrow, centroids)
        quality = float(closeness.mean(dtype=np.float64))
        settled = np.array_equal(moved, assigned) or quality - last < _GAIN
        assigned, last = moved, quality
        if settled:
            break
    # Whatever ended the rounds, no group is left empty.
    assigned = _refill(assigned, closeness, k)
    return assigned, float(own_cosines(x, centroids_of(x, assigned, k), assigned).mean())


def _starts_together(
    rows: InRounds, k: int, randoms: list[np.random.Generator], progress: Progress
) -> list[tuple[NDArray[np.int64], float]]:
    """Several starts, all of them in one product a round; one that has settled is left out of those that follow."""
    own, closeness = rows.nearest_rows(_spread(rows, k, randoms))
    left, going = rows, np.arange(len(randoms))
    last = np.full(len(randoms), -np.inf)
    ended, sums = own.copy(), None
    for number in range(_MOST_ROUNDS):
        progress(0.0)
        own = _refilled(own, closeness, k)
        (moved, closeness), sums = left.nearest_means(own, k, sums)
        quality = closeness.mean(axis=0, dtype=np.float64)
        settled = (moved == own).all(axis=0) | (quality - last < _GAIN) | (number == _MOST_ROUNDS - 1)
        if settled.any():
            ended[:, going[settled]] = _refilled(moved[:, settled], closeness[:, settled], k)
            if settled.all():
                break
            moved, closeness, quality = moved[:, ~settled], closeness[:, ~settled], quality[~settled]
            going, left, sums = going[~settled], left.of(~settled), sums.of(~settled) if sums is not None else None
        own, last = moved, quality
    return list(zip(ended.T, rows.quality(ended, k).tolist(), strict=True))


def _spread(rows: InRounds, k: int, randoms: list[np.random.Generator]) -> NDArray[np.int64]:
    """Of each start k rows as first centroids, each drawn with a chance that grows with its distance from those before it:
    int64, starts × k."""
    n, starts = len(rows), len(randoms)
    chosen = np.zeros((starts, k), np.int64)
    chosen[:, 0] = [int(random.integers(n)) for random in randoms]
    distance = np.ones((n, starts))
    for number in range(1, k):
        distance = np.minimum(distance, np.maximum(1 - rows.to_rows(chosen[:, number - 1]), 0))
        distance[distance < 1e-6] = 0
        running = np.cumsum(distance, axis=0)
        for at, random in enumerate(randoms):
            whole = running[-1, at]
            if whole > 0:
                drawn = int(np.searchsorted(running[:, at], random.random() * whole, side="right"))
            else:  # all others are copies of those chosen
                drawn = int(np.setdiff1d(np.arange(n), chosen[at, :number])[0])
            chosen[at, number] = drawn
    return chosen


def _refilled(own: NDArray[np.int64], closeness: NDArray[np.float32], k: int) -> NDArray[np.int64]:
    """The groups of several starts (n × S), none of them empty."""
    columns = own + np.arange(own.shape[1]) * k
    sizes = np.bincount(columns.ravel(), minlength=own.shape[1] * k).reshape(-1, k)
    lacking = np.flatnonzero(sizes.min(axis=1) == 0)
    if len(lacking):
        own = own.copy()
        for start in lacking:
            own[:, start] = _refill(own[:, start], closeness[:, start], k)
    return own


def _refill(assigned: NDArray[np.int64], closeness: NDArray[np.float32], k: int) -> NDArray[np.int64]:
    """Give each emptied group the row farthest from its centroid, out of a group that has another."""
    sizes = np.bincount(assigned, minlength=k)
    if sizes.min() > 0:
        return assigned
    assigned, closeness = assigned.copy(), closeness.copy()
    for group in np.flatnonzero(sizes == 0):
        free = np.where(sizes[assigned] > 1, closeness, np.inf)
        row = int(free.argmin())
        sizes[assigned[row]] -= 1
        assigned[row], closeness[row] = group, 1.0
        sizes[group] = 1
    return assigned
