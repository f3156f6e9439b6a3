# SPDX-License-Identifier: GPL-3.0-or-later
"""Spherical k-means: rows and centroids of length 1, quality = mean cosine to the own centroid.

Dhillon & Modha, "Concept decompositions for large sparse text data using clustering", 2001; starts spread by
distance-weighted seeding (Arthur & Vassilvitskii 2007), in which each row draws by numbers of its own, so that groups stay when others
come and go.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.group.agreement import adjusted_rand, counted_together
from jagged_lens.group.draws import Draws, part_of
from jagged_lens.group.grouping import centroids_of, nearest_centroid, own_cosines
from jagged_lens.group.rounds import FEW_ROWS, InRounds, RowsInRounds, TablesInRounds, table_of
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, Told, portion, unheard

WHOLE_TO = 60_000
"""Up to so many rows all are grouped in every start; of more, samples are."""
SAMPLE = 20_000
"""The rows of a sample."""
SAMPLES = 3
_ROWS_A_GROUP = 20  # of a sample, at the least
_SAMPLE_DRAWS = 2_000_000  # no start has this number
_ROUNDS_OF_ALL = 12
_MOST_ROUNDS = 100
_GAIN = 1e-7  # a round that raises the mean cosine by less ends a start
_PARTS_TOGETHER = 10
_ROUNDING = 1e-7
_VOTERS = 3  # starts, the fewest that vote
_NEARLY, _CLEARLY = 0.01, 0.002  # shares of the quality
_CELLS_TOGETHER = (
    400_000  # of the centroids of all starts that go through their rounds at once: more do not stay in the cache
)


_Tried = tuple[NDArray[np.int64], float]
"""The group of each row (int64, n) and the quality, where a start has ended."""


def best_of_starts(
    x: csr_array, groups: int, starts: int, seed: int, ids: NDArray[np.uint64], progress: Progress = unheard
) -> tuple[NDArray[np.int64], int]:
    """The group of each row (int64, n) by a vote of some starts, and the number of groups: never more than rows.

    x: float64 CSR, n × m, rows of length 1, none of them empty. ids: uint64, n, by which rows are drawn.
    """
    k = min(groups, x.shape[0])
    if k == 0:
        return np.zeros(0, np.int64), 0
    if from_samples(x.shape[0], k):
        return _from_samples(x, k, starts, seed, ids, progress), k
    if x.shape[0] <= FEW_ROWS:
        return next(best_of_tables([table_of(x)], [ids], k, starts, seed, progress)), k
    rows = RowsInRounds(x)
    together = max(_CELLS_TOGETHER // max(k * x.shape[1], 1), 1)

    def some(numbers: slice) -> list[_Tried]:
        draws = Draws(_columns(ids, numbers.stop - numbers.start), tuple(range(numbers.start, numbers.stop)), seed)
        if together == 1:
            assigned, closeness = nearest_centroid(rows.narrow, csr_array(x[_spread(rows, k, draws)[0]]))
            return [_rounds_alone(rows, k, assigned, closeness, ids, done.again)]
        return _rounds(rows, k, *rows.nearest_rows(_spread(rows, k, draws)), draws.ids, done.again)

    done = Told(progress)
    tried = [one for found in over_blocks(some, blocks(starts, together), done.at) for one in found]
    voted = _voted(tried, k)
    if voted is None:
        return _best(tried)[0], k
    nothing = np.zeros(len(ids), np.float32)
    if together == 1:
        again = _rounds_alone(rows, k, voted, nothing, ids, done.again)
    else:
        again = _rounds(rows, k, voted[:, None], nothing[:, None], _columns(ids, 1), done.again)[0]
    return _settled(tried, again), k


def from_samples(rows: int, groups: int) -> bool:
    """True if so many rows are grouped by samples of them."""
    return rows > WHOLE_TO and groups <= SAMPLE // _ROWS_A_GROUP


def _from_samples(
    x: csr_array, k: int, starts: int, seed: int, ids: NDArray[np.uint64], progress: Progress
) -> NDArray[np.int64]:
    """The group of each row (int64, n): the groups of some samples, each given to all rows; the best of them goes on from there.

    Samples differ in what they find more than the starts in one of them do.
    """
    rows, best = RowsInRounds(x), (np.zeros(0, np.int64), np.zeros(0, np.float32))
    most = -np.inf
    for number in range(SAMPLES):
        within = portion(progress, 0.2 * number, 0.2 * (number + 1))
        drawn = part_of(ids, SAMPLE, seed, _SAMPLE_DRAWS, number)
        part = x[drawn]
        there, column = np.unique(part.indices, return_inverse=True)  # centroids have no column that the sample has not
        few = csr_array((part.data, column.astype(np.int32), part.indptr), shape=(SAMPLE, len(there)))
        own, _ = best_of_starts(few, k, max(starts // SAMPLES, 1), seed + number, ids[drawn], within)
        found = nearest_centroid(rows.narrow, centroids_of(part, own, k))
        quality = float(found[1].mean(dtype=np.float64))
        if quality > most:
            best, most = found, quality
    assigned, closeness = best
    own, _ = _rounds_alone(rows, k, assigned, closeness, ids, portion(progress, 0.6, 1), _ROUNDS_OF_ALL)
    return own


def best_of_tables(
    tables: Sequence[NDArray[np.float32]],
    ids: Sequence[NDArray[np.uint64]],
    k: int,
    starts: int,
    seed: int,
    progress: Progress = unheard,
) -> Iterator[NDArray[np.int64]]:
    """The group, of k, of each row of each part, part by part, as `best_of_starts` gives it.

    tables: of the cosines of each part, float32, n × n, equally many rows in all; ids: uint64, n, of each part. All starts of a few
    parts go through their rounds together.
    """

    def some(numbers: slice) -> list[NDArray[np.int64]]:
        own, part = np.stack(ids[numbers], axis=1), tables[numbers]
        draws = Draws(np.repeat(own, starts, axis=1), tuple(range(starts)) * len(part), seed)
        rows = TablesInRounds.of_parts(part, starts)
        found = _rounds(rows, k, *rows.nearest_rows(_spread(rows, k, draws)), draws.ids, done.again)
        tried = [found[first : first + starts] for first in range(0, len(found), starts)]
        voted = [groups for one in tried if (groups := _voted(one, k)) is not None]
        if not voted:
            return [_best(one)[0] for one in tried]
        begun = np.stack(voted, axis=1)
        nothing = np.zeros(begun.shape, np.float32)
        again = _rounds(TablesInRounds.of_parts(part, 1), k, begun, nothing, own, done.again)
        return [_settled(one, voted_on) for one, voted_on in zip(tried, again, strict=True)]

    done = Told(progress)
    for found in over_blocks(some, blocks(len(tables), _PARTS_TOGETHER), done.at):
        yield from found


def _columns(ids: NDArray[np.uint64], starts: int) -> NDArray[np.uint64]:
    return np.broadcast_to(ids[:, None], (len(ids), starts))


def _best(tried: Sequence[_Tried]) -> _Tried:
    """The first start that is nearly as good as the best: which is best by a hair changes with every document that comes or goes."""
    most = max(quality for _, quality in tried)
    return next(one for one in tried if one[1] >= most * (1 - _NEARLY) - _ROUNDING)


def _in_the_middle(tried: Sequence[_Tried], k: int) -> int:
    """The start whose groups agree most with those of all others; of equal ones the better, then the first."""
    agreed = np.zeros((len(tried), len(tried)))
    for (a, (one, _)), (b, (other, _)) in itertools.combinations(enumerate(tried), 2):
        agreed[a, b] = agreed[b, a] = adjusted_rand(counted_together(one, other, k, k))
    with_others = np.round(agreed.sum(axis=1), 6)
    return max(range(len(tried)), key=lambda at: (with_others[at], tried[at][1], -at))


def _voted(tried: Sequence[_Tried], k: int) -> NDArray[np.int64] | None:
    """The group of each row on which most starts agree (int64, n); None where there are too few starts to vote.

    Which start is best by a hair changes with every document that comes or goes; what most of them find does not. The groups of each
    are matched one to one with those of the start in the middle, so that most documents are in both (Dudoit & Fridlyand, "Bagging to
    improve the accuracy of a clustering procedure", 2003; the assignment by Kuhn, "The Hungarian method", 1955).
    """
    if len(tried) < _VOTERS:
        return None
    from scipy.optimize import (
        linear_sum_assignment,  # loading it takes half a second, which no start of the program is to pay for
    )

    middle = _in_the_middle(tried, k)
    order = [middle, *(at for at in range(len(tried)) if at != middle)]
    same = np.stack([tried[at][0] for at in order], axis=1)
    for column in range(1, same.shape[1]):
        both = counted_together(same[:, column], same[:, 0], k, k)
        own, other = linear_sum_assignment(both, maximize=True)
        name = np.empty(k, np.int64)
        name[own] = other
        same[:, column] = name[same[:, column]]
    votes = np.stack([(same == same[:, [column]]).sum(axis=1) for column in range(same.shape[1])], axis=1)
    return np.asarray(same[np.arange(len(same)), votes.argmax(axis=1)])  # of equal ones the middle, then the first


def _settled(tried: Sequence[_Tried], voted: _Tried) -> NDArray[np.int64]:
    """The result of the vote if it clearly beats every start, else the first start that is nearly the best."""
    most = max(quality for _, quality in tried)
    return voted[0] if voted[1] > most * (1 + _CLEARLY) else _best(tried)[0]


def _rounds_alone(
    rows: RowsInRounds,
    k: int,
    assigned: NDArray[np.int64],
    closeness: NDArray[np.float32],
    ids: NDArray[np.uint64],
    progress: Progress,
    most: int = _MOST_ROUNDS,
) -> _Tried:
    """The rounds of one start, of groups that are so many that their centroids are sparse."""
    x, narrow = rows.x, rows.narrow
    last = -np.inf
    for number in range(most):
        progress(number / most)
        assigned = _refill(assigned, closeness, k, ids)
        centroids = centroids_of(x, assigned, k)
        moved, closeness = nearest_centroid(narrow, centroids)
        quality = float(closeness.mean(dtype=np.float64))
        settled = np.array_equal(moved, assigned) or quality - last < _GAIN
        assigned, last = moved, quality
        if settled:
            break
    # Whatever ended the rounds, no group is left empty.
    assigned = _refill(assigned, closeness, k, ids)
    return assigned, float(own_cosines(x, centroids_of(x, assigned, k), assigned).mean())


def _rounds(
    rows: InRounds,
    k: int,
    own: NDArray[np.int64],
    closeness: NDArray[np.float32],
    ids: NDArray[np.uint64],
    progress: Progress,
) -> list[_Tried]:
    """The rounds of several starts, all of them in one product a round; one that has settled is left out of those that follow.

    own: int64, n × S, where each begins; closeness: float32, n × S; ids: uint64, n × S.
    """
    left, going = rows, np.arange(own.shape[1])
    last = np.full(own.shape[1], -np.inf)
    ended, sums = own.copy(), None
    for number in range(_MOST_ROUNDS):
        progress(0.0)
        own = _refilled(own, closeness, k, ids[:, going])
        (moved, closeness), sums = left.nearest_means(own, k, sums)
        quality = closeness.mean(axis=0, dtype=np.float64)
        settled = (moved == own).all(axis=0) | (quality - last < _GAIN) | (number == _MOST_ROUNDS - 1)
        if settled.any():
            some = ids[:, going[settled]]
            ended[:, going[settled]] = _refilled(moved[:, settled], closeness[:, settled], k, some)
            if settled.all():
                break
            moved, closeness, quality = moved[:, ~settled], closeness[:, ~settled], quality[~settled]
            going, left, sums = going[~settled], left.of(~settled), sums.of(~settled) if sums is not None else None
        own, last = moved, quality
    return list(zip(ended.T, rows.quality(ended, k).tolist(), strict=True))


def _spread(rows: InRounds, k: int, draws: Draws) -> NDArray[np.int64]:
    """For each start k rows as first centroids, each drawn with a chance that grows with its distance from those before it: int64, starts
    × k. A row that goes changes a start only where it was drawn."""
    starts = len(draws.starts)
    chosen = np.zeros((starts, k), np.int64)
    chosen[:, 0] = draws.noise(0).argmax(axis=0)
    distance = np.ones((len(rows), starts))
    for number in range(1, k):
        distance = np.minimum(distance, np.maximum(1 - rows.to_rows(chosen[:, number - 1]), 0))
        distance[distance < 1e-6] = 0
        noise = draws.noise(number)
        with np.errstate(divide="ignore"):
            drawn = np.log(distance) + noise
        for at in np.flatnonzero(distance.max(axis=0) == 0):  # all others are copies of those chosen
            drawn[:, at] = noise[:, at]
            drawn[chosen[at, :number], at] = -np.inf
        chosen[:, number] = drawn.argmax(axis=0)
    return chosen


def _refilled(
    own: NDArray[np.int64], closeness: NDArray[np.float32], k: int, ids: NDArray[np.uint64]
) -> NDArray[np.int64]:
    """The groups of several starts (n × S), none of them empty. ids: uint64, n × S."""
    columns = own + np.arange(own.shape[1]) * k
    sizes = np.bincount(columns.ravel(), minlength=own.shape[1] * k).reshape(-1, k)
    lacking = np.flatnonzero(sizes.min(axis=1) == 0)
    if len(lacking):
        own = own.copy()
        for start in lacking:
            own[:, start] = _refill(own[:, start], closeness[:, start], k, ids[:, start])
    return own


def _refill(
    assigned: NDArray[np.int64], closeness: NDArray[np.float32], k: int, ids: NDArray[np.uint64]
) -> NDArray[np.int64]:
    """Give each emptied group the row farthest from its centroid, out of a group that has another; ties go by id."""
    sizes = np.bincount(assigned, minlength=k)
    if sizes.min() > 0:
        return assigned
    assigned, closeness = assigned.copy(), closeness.copy()
    for group in np.flatnonzero(sizes == 0):
        free = np.where(sizes[assigned] > 1, closeness, np.inf)
        farthest = np.flatnonzero(free == free.min())
        row = int(farthest[ids[farthest].argmin()])
        sizes[assigned[row]] -= 1
        assigned[row], closeness[row] = group, 1.0
        sizes[group] = 1
    return assigned
