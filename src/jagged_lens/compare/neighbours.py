"""For every document its nearest others, exactly, in blocks.

The few terms that stand in very many documents cause most of the work of a sparse product: they are multiplied
densely, the others sparsely. Blocks are selected in float32 with room for rounding; what is selected is computed anew in
float64.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare.measure import Rows, rows_of, similarities
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, unheard
from jagged_lens.weigh import VectorSpace

_DENSE_FROM = 0.06  # share of documents from which a term is multiplied densely
_MOST_DENSE = 400
_CELLS_AT_ONCE = 4_000_000
_SLACK = np.float32(4e-6)


@dataclass(frozen=True, eq=False)
class Neighbours:
    """The k nearest of each of n documents, best first; ties by row.

    row: int32, n × k; similarity: float32, n × k. Fewer than k are padded with -1 and 0. Only similarities above 0,
    never the document itself.
    """

    row: NDArray[np.int32]
    similarity: NDArray[np.float32]

    def nearest(self, k: int) -> Neighbours:
        """The first k of them."""
        return self if k >= self.row.shape[1] else Neighbours(self.row[:, :k], self.similarity[:, :k])


class DotBlocks:
    """Dot products of a block of rows with all rows, float32 and dense."""

    def __init__(self, rows: Rows) -> None:
        n, m = rows.matrix.shape
        matrix = csr_array((rows.matrix.data.astype(np.float32), rows.matrix.indices, rows.matrix.indptr), shape=(n, m))
        documents = np.bincount(matrix.indices, minlength=m)
        often = np.argsort(-documents, kind="stable")[:_MOST_DENSE]
        often = often[documents[often] > max(_DENSE_FROM * n, 8)]
        tail = np.ones(m, np.bool_)
        tail[often] = False
        self.size = n
        self._dense: NDArray[np.float32] = np.ascontiguousarray(matrix[:, often].toarray(), np.float32)
        self._tail = matrix[:, np.flatnonzero(tail)].tocsr()
        self._across = self._tail.T.tocsr()
        self.blocks = blocks(n, max(1, _CELLS_AT_ONCE // max(n, 1)))

    def of(self, block: slice) -> NDArray[np.float32]:
        """The products of the rows of `block` (b × n)."""
        sparsely: NDArray[np.float32] = np.asarray((self._tail[block] @ self._across).toarray(), np.float32)
        sparsely += self._dense[block] @ self._dense.T
        return sparsely


def likeness_block(rows: Rows, dots: DotBlocks, block: slice) -> NDArray[np.float32]:
    """The similarities of the rows of `block` with all rows (b × n), in float32; -1 with empty rows."""
    found = dots.of(block)
    if not rows.unit:
        squares = rows.squares.astype(np.float32)
        found = 1 / (1 + np.sqrt(np.maximum(squares[block, None] + squares - 2 * found, 0)))
    found[rows.empty[block]] = -1
    found[:, rows.empty] = -1
    return found


def nearest_neighbours(space: VectorSpace, measure: str, k: int, progress: Progress = unheard) -> Neighbours:
    """The k nearest documents of each document under `measure`."""
    rows = rows_of(space, measure)
    n = len(rows.squares)
    k = min(k, max(n - 1, 0))
    row = np.full((n, k), -1, np.int32)
    similarity = np.zeros((n, k), np.float32)
    if k == 0:
        return Neighbours(row, similarity)
    dots = DotBlocks(rows)

    def nearest(block: slice) -> tuple[slice, NDArray[np.int64], NDArray[np.int64], NDArray[np.float32]]:
        owner, other = _candidates(likeness_block(rows, dots, block), block.start, k)
        return block, owner, other, similarities(rows, owner, other)

    for _block, owner, other, exact in over_blocks(nearest, dots.blocks, progress):
        positive = exact > 0
        owner, other, exact = owner[positive], other[positive], exact[positive]
        order = np.lexsort((other, -exact, owner))
        owner, other, exact = owner[order], other[order], exact[order]
        rank = np.arange(len(owner)) - np.searchsorted(owner, owner)
        best = rank < k
        row[owner[best], rank[best]] = other[best]
        similarity[owner[best], rank[best]] = exact[best]
    return Neighbours(row, similarity)


def _candidates(likeness: NDArray[np.float32], start: int, k: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Pairs (row, other) of which each row's k nearest are certainly some; at most a few times k a row.

    Where very many are as near as the k-th (copies), those of the lowest rows are enough, since ties go by row.
    """
    b, n = likeness.shape
    own = np.arange(b)
    likeness[own, own + start] = -1
    near = likeness > np.maximum(_at_least_kth(likeness, k) - _SLACK, 0)[:, None]
    found = np.flatnonzero(near)
    owner = found // n
    counts = np.bincount(owner, minlength=b)
    most = 4 * k + 16
    if counts.max(initial=0) > most:
        values = likeness.ravel()[found]
        order = np.lexsort((found, -values, owner))
        rank = np.empty(len(found), np.int64)
        rank[order] = np.arange(len(found)) - np.repeat(np.cumsum(counts) - counts, counts)
        found, owner = found[rank < most], owner[rank < most]
    return owner + start, found - owner * n


def _at_least_kth(likeness: NDArray[np.float32], k: int) -> NDArray[np.float32]:
    """A bound that the k-th highest value of each row reaches: the k-th highest of the maxima of many shares of the row, of
    which each is a value of its own. It takes a fraction of a selection among all, and is hardly ever much lower."""
    b, n = likeness.shape
    shares = 32 * k
    if n < 4 * shares:
        return np.partition(likeness, n - k, axis=1)[:, n - k]
    whole = n // shares * shares
    maxima = likeness[:, :whole].reshape(b, -1, shares).max(axis=1)
    rest = likeness[:, whole:]
    np.maximum(maxima[:, : n - whole], rest, out=maxima[:, : n - whole])
    return np.partition(maxima, shares - k, axis=1)[:, shares - k]
