# SPDX-License-Identifier: GPL-3.0-or-later
"""Two lenses on the same documents: whose neighbours changed, how groups flow into groups, which pairs only one lists."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Neighbours, Pairs
from jagged_lens.contrast.matched import matched
from jagged_lens.group import Grouping, adjusted_rand, counted_together
from jagged_lens.map import NEAREST
from jagged_lens.weigh import VectorSpace


@dataclass(frozen=True, eq=False)
class Seen:
    """The view of n documents by one lens. rows: int32, n, corpus rows, rising; positions: float32, n × 2."""

    rows: NDArray[np.int32]
    neighbours: Neighbours
    grouping: Grouping
    positions: NDArray[np.float32]
    pairs: Pairs


@dataclass(frozen=True, eq=False)
class TwoLenses:
    """The differences between two lenses on the c documents they share.

    rows: int32, c, corpus rows; at_first, at_second: int64, c, where each stands in either lens. kept: float32, c, the share of its 12
    nearest that are the same in both (1 where it has none in either). elsewhere: bool, c, whether it goes another way than most of its
    group. flows: int64, g × h, how many documents of a group of the first are in a group of the second. adjusted_rand: of their groups;
    by_chance: the largest that the same groups reach in 99 random orders of the documents, which equal ones pass once in a hundred.
    positions: float64, p × 2, the map of the second laid over that of the first; apart: what is left between them, as of `matched`.
    only_first, only_second: int64, places among the pairs of either that the other does not list, of documents that both have.
    """

    rows: NDArray[np.int32]
    at_first: NDArray[np.int64]
    at_second: NDArray[np.int64]
    kept: NDArray[np.float32]
    elsewhere: NDArray[np.bool_]
    flows: NDArray[np.int64]
    adjusted_rand: float
    by_chance: float
    positions: NDArray[np.float64]
    apart: float
    only_first: NDArray[np.int64]
    only_second: NDArray[np.int64]

    @property
    def mean_kept(self) -> float:
        """The mean share of nearest that are the same; NaN where the lenses have no document in common."""
        return float(self.kept.mean()) if len(self.kept) else float("nan")

    @property
    def moved(self) -> NDArray[np.int64]:
        """For those whose neighbours changed, the place in `rows`, the one that kept fewest first (int64)."""
        order = np.argsort(self.kept, kind="stable")
        return order[self.kept[order] < 1]


def two_lenses(first: Seen, second: Seen) -> TwoLenses:
    """The differences between two lenses for the documents they share."""
    rows, at_first, at_second = np.intersect1d(first.rows, second.rows, assume_unique=True, return_indices=True)
    own, other = first.grouping.group[at_first], second.grouping.group[at_second]
    flows = counted_together(own, other, len(first.grouping), len(second.grouping))
    grouped = (own >= 0) & (other >= 0)
    most = flows.argmax(axis=1) if flows.size else np.zeros(len(flows), np.int64)
    elsewhere = np.zeros(len(rows), np.bool_)
    elsewhere[grouped] = most[own[grouped]] != other[grouped]
    fitted = matched(first.positions, second.positions, at_first, at_second)
    return TwoLenses(
        rows.astype(np.int32),
        at_first,
        at_second,
        _kept(_nearest(first)[at_first], _nearest(second)[at_second]),
        elsewhere,
        flows,
        adjusted_rand(flows) if flows.sum() else float("nan"),
        _by_chance(own[grouped], other[grouped], flows.shape),
        fitted.positions,
        fitted.apart,
        _alone(first, second),
        _alone(second, first),
    )


_ORDERS, _SEED = 99, 1


def _by_chance(own: NDArray[np.integer], other: NDArray[np.integer], shape: tuple[int, ...]) -> float:
    """The largest adjusted Rand index of the same groups in random, seeded orders (a permutation test: Good, "Permutation tests", 2000)."""
    if not len(own):
        return float("nan")
    draw = np.random.default_rng(_SEED)
    return max(adjusted_rand(counted_together(own, draw.permutation(other), *shape)) for _ in range(_ORDERS))


def _nearest(seen: Seen) -> NDArray[np.int64]:
    """The corpus rows of each document's nearest: int64, n × 12; -1 where there are fewer."""
    row = seen.neighbours.row[:, :NEAREST]
    return np.where(row >= 0, seen.rows[np.maximum(row, 0)], -1) if len(seen.rows) else row.astype(np.int64)


def _kept(own: NDArray[np.int64], other: NDArray[np.int64]) -> NDArray[np.float32]:
    """The share of its nearest that each document keeps: of the larger number of them in either."""
    same = np.zeros(len(own), np.int64)
    for place in range(other.shape[1]):
        same += ((own == other[:, place, None]) & (own >= 0)).sum(axis=1)
    most = np.maximum((own >= 0).sum(axis=1), (other >= 0).sum(axis=1))
    return np.where(most > 0, same / np.maximum(most, 1), 1.0).astype(np.float32)


def _alone(seen: Seen, other: Seen) -> NDArray[np.int64]:
    """The places of the pairs of one lens that the other does not list, of documents that both have."""
    span = int(max(seen.rows.max(initial=-1), other.rows.max(initial=-1))) + 1

    def number(of: Seen) -> NDArray[np.int64]:
        return of.rows[of.pairs.first].astype(np.int64) * span + of.rows[of.pairs.second]

    own = number(seen)
    both = np.isin(seen.rows, other.rows)
    return np.flatnonzero(both[seen.pairs.first] & both[seen.pairs.second] & ~np.isin(own, number(other)))


@dataclass(frozen=True, eq=False)
class TermShift:
    """The composition of a document in each lens. terms: names, from the largest gain to the largest loss. before, after: float64, the
    share of the squared length of the document that each accounts for (0 if absent)."""

    terms: tuple[str, ...]
    before: NDArray[np.float64]
    after: NDArray[np.float64]


def term_shift(first: VectorSpace, row: int, second: VectorSpace, other: int) -> TermShift:
    """The terms of one document, which is `row` of the first lens and `other` of the second, by how much their share changes: x̂_t² after
    less x̂_t² before. Terms are told by how they are written most often."""
    before, after = _shares(first, row), _shares(second, other)
    names = sorted(set(before) | set(after), key=lambda name: (before.get(name, 0.0) - after.get(name, 0.0), name))
    return TermShift(
        tuple(names),
        np.array([before.get(name, 0.0) for name in names], np.float64),
        np.array([after.get(name, 0.0) for name in names], np.float64),
    )


def _shares(space: VectorSpace, row: int) -> dict[str, float]:
    own = slice(int(space.weights.indptr[row]), int(space.weights.indptr[row + 1]))
    squares = space.weights.data[own].astype(np.float64) ** 2
    whole = float(squares.sum()) or 1.0
    found: dict[str, float] = {}
    for column, square in zip(space.weights.indices[own].tolist(), squares.tolist(), strict=True):
        name = space.terms.shown[column]
        found[name] = found.get(name, 0.0) + square / whole
    return found
