# SPDX-License-Identifier: GPL-3.0-or-later
"""For every document its nearest others, exactly, in blocks.

The few terms that stand in very many documents cause most of the work of a sparse product: they are multiplied
densely, the others sparsely. Blocks are selected in float32 with room for its rounding, which grows with the length of a
document; what is selected is computed anew in
float64; rows of which float32 cannot say it are looked at in full.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare.distinct_rows import distinct_rows
from jagged_lens.compare.measure import Rows, distances_squared, from_distance, rounding, rows_of, similarities
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, unheard
from jagged_lens.weigh import VectorSpace

_DENSE_FROM = 0.06  # share of documents from which a term is multiplied densely
_MOST_DENSE = 400
_FEW_COPIES = 0.02  # share of the documents, from which on copies are left out
_CELLS_AT_ONCE = 4_000_000
_UNIT = 2.0**-24  # half the distance of two neighbouring numbers of single precision, as a share


@dataclass(frozen=True, eq=False)
class Neighbours:
    """The k nearest of each of n documents, best first; ties by row.

    row: int32, n × k; similarity: float32, n × k. Fewer than k are padded with -1 and 0. Only similarities above 0,
    never the document itself. recall: the share of the true ones that are here, measured where they were looked for by lists, else 1.
    """

    row: NDArray[np.int32]
    similarity: NDArray[np.float32]
    recall: float = 1.0

    @classmethod
    def none(cls, n: int, k: int, recall: float = 1.0) -> Neighbours:
        """A table of n rows in which none is found yet."""
        return cls(np.full((n, k), -1, np.int32), np.zeros((n, k), np.float32), recall)

    def nearest(self, k: int) -> Neighbours:
        """The first k of them."""
        return self if k >= self.row.shape[1] else Neighbours(self.row[:, :k], self.similarity[:, :k], self.recall)


class DotBlocks:
    """Dot products of a block of rows with all rows, float32 and dense."""

    def __init__(self, rows: Rows) -> None:
        n, m = rows.matrix.shape
        matrix = rows.narrow
        documents = np.bincount(matrix.indices, minlength=m)
        often = np.argsort(-documents, kind="stable")[:_MOST_DENSE]
        often = often[documents[often] > max(_DENSE_FROM * n, 8)]
        tail = np.ones(m, np.bool_)
        tail[often] = False
        self.size = n
        self._dense: NDArray[np.float32] = np.ascontiguousarray(matrix[:, often].toarray(), np.float32)
        self._tail = matrix[:, np.flatnonzero(tail)].tocsr()
        self._across = self._tail.T.tocsr()
        self.across = rows.matrix.T.tocsr()  # in double precision, for what single cannot say
        self.blocks = blocks(n, max(1, _CELLS_AT_ONCE // max(n, 1)))

    def of(self, block: slice) -> NDArray[np.float32]:
        """The products of the rows of `block` with all rows: float32, b × n."""
        sparsely: NDArray[np.float32] = np.asarray((self._tail[block] @ self._across).toarray(), np.float32)
        sparsely += self._dense[block] @ self._dense.T
        return sparsely


def likeness_block(rows: Rows, dots: DotBlocks, block: slice) -> NDArray[np.floating]:
    """The similarities of the rows of `block` with all rows (b × n), to be counted; -1 with empty rows.

    Under a measure of unit rows in single precision. Distances in double, since of long rows that are nearly alike they are a
    small difference of large numbers; where rounding hides whether two differ at all, they do not. float32 for a measure of unit
    rows, else float64.
    """
    if rows.unit:
        found: NDArray[np.floating] = dots.of(block)
    else:
        squared = distances_squared(rows, block, (rows.matrix[block] @ dots.across).toarray())
        squared[squared <= rounding(rows, block)] = 0
        found = from_distance(squared)
    found[rows.empty[block]] = -1
    found[:, rows.empty] = -1
    return found


class Scores:
    """Scores of a block of rows with all rows in single precision, and how far they can be from the true ones.

    Under a measure of unit rows the score of a and b is a·b; under the Euclidean 2 a·b - ‖b‖², which puts the others of a
    row in the order of their distances. The error of a sum of products in single precision is at most as many half steps of
    ‖a‖‖b‖ as it has terms (Higham, "Accuracy and Stability of Numerical Algorithms", 2002, ch. 3).
    """

    def __init__(
        self, rows: Rows, k: int, among: NDArray[np.bool_] | None = None, ranks: NDArray[np.int64] | None = None
    ) -> None:
        """among: bool, n, those that may be found. None: all. ranks: int64, n, how many copies stand before each, where that is known and
        all may be found."""
        self._rows = rows
        self._k = k
        self._dots = DotBlocks(rows)
        self.blocks = self._dots.blocks
        terms = np.diff(rows.matrix.indptr)
        self._error = (
            (terms + 8) * _UNIT * 1.05
        )  # shares of ‖a‖‖b‖; four more for rounding the rows, four for what is done to the score
        self._lengths = np.sqrt(rows.squares)
        self._cancels = bool((rows.matrix.data < 0).any())
        self._hidden = rows.empty.copy()
        if among is not None:
            self._hidden |= ~among
        if ranks is not None:
            self._hidden |= ranks > k
            return
        found = np.flatnonzero(~self._hidden)
        self._hidden[found] = copy_ranks(rows.matrix[found]) > k

    def of(self, block: slice) -> NDArray[np.float32]:
        """The scores of the rows of `block` with all rows (float32, b × n). -inf with itself, with empty rows, and with copies behind k
        identical others: ties go by row."""
        found = self._dots.of(block)
        if not self._rows.unit:
            found *= 2
            found -= self._rows.squares.astype(np.float32)
        own = np.arange(found.shape[0])
        found[own, own + block.start] = -np.inf
        found[self._rows.empty[block]] = -np.inf
        found[:, self._hidden] = -np.inf
        return found

    def possible(self, scores: NDArray[np.float32], block: slice) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
        """The candidates for the k nearest of each row (b × n), and the rows (b) that single precision cannot settle.

        scores: float32, b × n; gives bool, b × n and b.
        """
        error = self._error[block]
        doubtful = np.zeros(len(error), np.bool_)
        if self._rows.unit:
            least = at_least_kth(scores, self._k) - 2 * error
            if self._cancels:  # sums that cancel: rounding may take a score to zero and below
                doubtful = (least <= 0) & ~self._rows.empty[block]
            return scores > np.maximum(least, 0)[:, None].astype(np.float32), doubtful
        lengths = self._lengths
        wrong = np.outer(2 * error * lengths[block], lengths).astype(np.float32)
        wrong += (4 * _UNIT * self._rows.squares).astype(np.float32)
        surely = at_least_kth(scores - wrong, self._k)
        return (scores + wrong >= surely[:, None]) & (scores > -np.inf), doubtful

    def in_full(self, some: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float32]]:
        """For some rows the k nearest, perhaps with a few more (row, other, similarity), from products in double precision.

        some: int64, s rows; gives int64, int64 and float32, one for each found.
        """
        rows, k = self._rows, self._k
        n = len(rows.squares)
        dots = (rows.matrix[some] @ self._dots.across).toarray()
        likeness = dots if rows.unit else -distances_squared(rows, some, dots)
        likeness[:, self._hidden] = -np.inf
        likeness[np.arange(len(some)), some] = -np.inf
        if not rows.unit:
            wrong = rounding(rows, some)
            least = np.partition(likeness - wrong, n - k, axis=1)[:, n - k]
            own, other = np.nonzero((likeness + wrong >= least[:, None]) & (likeness > -np.inf))
            return some[own], other, similarities(rows, some[own], other)
        exact = likeness.astype(np.float32)
        kth = np.maximum(np.partition(exact, n - k, axis=1)[:, n - k, None], 0)
        nearer, alike = exact > kth, exact == kth
        alike &= np.cumsum(alike, axis=1, dtype=np.int32) <= k - np.count_nonzero(nearer, axis=1, keepdims=True)
        own, other = np.nonzero(nearer | alike)
        return some[own], other, exact[own, other]


def nearest_neighbours(space: VectorSpace, measure: str, k: int, progress: Progress = unheard) -> Neighbours:
    """The k nearest documents of each document under `measure`."""
    rows = rows_of(space, measure)
    n = len(rows.squares)
    k = min(k, max(n - 1, 0))
    all_nearest = Neighbours.none(n, k)
    if k == 0:
        return all_nearest
    # Of very many copies only the first k + 1 can be found, since ties go by row; the others find what the last of those finds.
    of = distinct_rows(rows.matrix).of
    ranks = _ranks(of)
    asked = np.flatnonzero(ranks <= k)
    if n - len(asked) < _FEW_COPIES * n:
        scores = Scores(rows, k, ranks=ranks)
        _find(scores, rows, all_nearest, scores.blocks, progress)
        return all_nearest
    fewer = Rows(rows.matrix[asked], rows.squares[asked], measure, rows.empty[asked])
    scores = Scores(fewer, k, ranks=ranks[asked])
    found = Neighbours.none(len(asked), k)
    _find(scores, fewer, found, scores.blocks, progress)
    last = np.zeros(int(of.max()) + 1, np.int64)
    last[of[asked]] = np.arange(len(asked))  # rising, so that the last of each kind stays
    place = last[of]
    place[asked] = np.arange(len(asked))
    row = np.where(found.row >= 0, asked[np.maximum(found.row, 0)], -1).astype(np.int32)
    return Neighbours(row[place], found.similarity[place])


def _find(scores: Scores, rows: Rows, found: Neighbours, parts: list[slice], progress: Progress) -> None:
    """Write the nearest of some rows, given in blocks, into the table."""
    n, k = found.row.shape

    def nearest(block: slice) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float32]]:
        owner, other, again = _candidates(scores, block, k)
        near = [(owner, other, similarities(rows, owner, other))]
        near += [scores.in_full(again[some]) for some in blocks(len(again), _rows_at_once(n))]
        return tuple(map(np.concatenate, zip(*near, strict=True)))  # type: ignore[return-value]

    for owner, other, exact in over_blocks(nearest, parts, progress):
        best_of(found, owner, other, exact)


def nearest_between(
    space: VectorSpace,
    measure: str,
    k: int,
    of: NDArray[np.integer],
    among: NDArray[np.integer],
    progress: Progress = unheard,
) -> Neighbours:
    """The k nearest of some rows among others of the same space, exactly.

    of: int64, o rows; among: int64, a rows, none of which is in `of`, rising. Gives o × k, its rows those of the space.
    """
    whole = rows_of(space, measure)
    order = np.concatenate((of, among))
    rows = Rows(whole.matrix[order], whole.squares[order], measure, whole.empty[order])
    k = min(k, len(among))
    found = Neighbours.none(len(order), k)
    if k and len(of):
        scores = Scores(rows, k, np.arange(len(order)) >= len(of))
        own = [slice(one.start, min(one.stop, len(of))) for one in scores.blocks if one.start < len(of)]
        _find(scores, rows, found, own, progress)
    row = found.row[: len(of)]
    return Neighbours(np.where(row >= 0, order[np.maximum(row, 0)], -1).astype(np.int32), found.similarity[: len(of)])


def nearest_in_full(rows: Rows, some: NDArray[np.int64], nearest: Neighbours, progress: Progress = unheard) -> None:
    """Write the k nearest of some rows into the table, each compared with all others in double precision.

    some: int64, s rows.
    """
    n, k = nearest.row.shape
    if not len(some) or not k:
        return
    scores = Scores(rows, k)
    parts = [some[part] for part in blocks(len(some), _rows_at_once(n))]
    for owner, other, similarity in over_blocks(scores.in_full, parts, progress):
        best_of(nearest, owner, other, similarity)


def best_of(
    nearest: Neighbours, owner: NDArray[np.int64], other: NDArray[np.int64], similarity: NDArray[np.float32]
) -> None:
    """Write the best of some pairs (row, other, similarity) into the table: of each row its k nearest, ties by row.

    owner, other: int64; similarity: float32; one for each pair. All pairs of a row must be among them.
    """
    k = nearest.row.shape[1]
    positive = similarity > 0
    owner, other, similarity = owner[positive], other[positive], similarity[positive]
    order = np.lexsort((other, -similarity, owner))
    owner, other, similarity = owner[order], other[order], similarity[order]
    rank = np.arange(len(owner)) - np.searchsorted(owner, owner)
    best = rank < k
    nearest.row[owner[best], rank[best]] = other[best]
    nearest.similarity[owner[best], rank[best]] = similarity[best]


def _candidates(scores: Scores, block: slice, k: int) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]:
    """Pairs (row, other) among which each row's k nearest certainly are, and the rows that must be looked at in full.

    Those are rows with more candidates than pay: where very many are as near as the k-th (copies), and where single
    precision hardly tells apart (very long documents).
    """
    found = scores.of(block)
    near, doubtful = scores.possible(found, block)
    n = near.shape[1]
    again = doubtful | (np.count_nonzero(near, axis=1) > 8 * k + 64)
    near[again] = False
    places = np.flatnonzero(near)
    owner = places // n
    return owner + block.start, places - owner * n, np.flatnonzero(again) + block.start


def copy_ranks(matrix: csr_array) -> NDArray[np.int64]:
    """The number of rows before each hold the very same entries (int64, n)."""
    return _ranks(distinct_rows(matrix).of)


def _ranks(of: NDArray[np.integer]) -> NDArray[np.int64]:
    """The number of before each are of the same kind."""
    order = np.argsort(of, kind="stable")
    ranks = np.empty(len(of), np.int64)
    ranks[order] = np.arange(len(of)) - np.searchsorted(of[order], of[order])
    return ranks


def _rows_at_once(n: int) -> int:
    return max(1, _CELLS_AT_ONCE // (4 * max(n, 1)))


def at_least_kth(likeness: NDArray[np.float32], k: int) -> NDArray[np.float32]:
    """A bound that the k-th highest value of each row reaches: the k-th highest of the maxima of many shares of the row, of
    which each is a value of its own. It takes a fraction of a selection among all, and is hardly ever much lower.

    likeness: float32, b × n; gives float32 (b).
    """
    b, n = likeness.shape
    shares = 32 * k
    if n < 4 * shares:
        return np.partition(likeness, n - k, axis=1)[:, n - k]
    whole = n // shares * shares
    maxima = likeness[:, :whole].reshape(b, -1, shares).max(axis=1)
    rest = likeness[:, whole:]
    np.maximum(maxima[:, : n - whole], rest, out=maxima[:, : n - whole])
    return np.partition(maxima, shares - k, axis=1)[:, shares - k]
