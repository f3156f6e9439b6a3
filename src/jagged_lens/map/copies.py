"""Copies on a map: rows that are the same lie on one another, and tie nothing to themselves."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from hashlib import blake2b

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Neighbours, best_of, from_distance, rows_of
from jagged_lens.map.laid import Laid
from jagged_lens.parallel import blocks
from jagged_lens.weigh import VectorSpace

_CELLS_AT_ONCE = 4_000_000


@dataclass(frozen=True, eq=False)
class Distinct:
    """d rows that differ, of n. first: int64, d, the lowest row of each. of: int64, n, which of them each row is."""

    first: NDArray[np.int64]
    of: NDArray[np.int64]

    def spread(self, laid: Laid) -> Laid:
        """The layout of all n rows, of one of the d."""
        return Laid(laid.positions[self.of], laid.rim[self.of], laid.rounds, laid.of, laid.stress)

    def showing(self, preview: Callable[[Laid], None]) -> Callable[[Laid], None]:
        """A preview of all rows, from one of the d."""
        return lambda laid: preview(self.spread(laid))


def distinct_rows(space: VectorSpace) -> Distinct:
    """Which rows hold the very same weights."""
    matrix = space.weights
    starts, indices, data = matrix.indptr.tolist(), matrix.indices.data, matrix.data.data
    number: dict[bytes, int] = {}
    first: list[int] = []
    of = np.empty(len(starts) - 1, np.int64)
    for row in range(len(of)):
        key = blake2b(indices[starts[row] : starts[row + 1]], digest_size=16)
        key.update(data[starts[row] : starts[row + 1]])
        of[row] = number.setdefault(key.digest(), len(first))
        if of[row] == len(first):
            first.append(row)
    return Distinct(np.array(first, np.int64), of)


def neighbours_of_distinct(
    space: VectorSpace, measure: str, neighbours: Neighbours, near: int, distinct: Distinct
) -> Neighbours:
    """The `near` nearest of each of the d rows among the others of them.

    neighbours: of all n rows. Where copies leave fewer than `near` in a list that was full, the row is compared with all others.
    """
    first, of = distinct.first, distinct.of
    d = len(first)
    wanted = min(near, max(d - 1, 0))
    found = Neighbours(np.full((d, wanted), -1, np.int32), np.zeros((d, wanted), np.float32), neighbours.recall)
    if not wanted:
        return found
    listed = neighbours.row[first]
    owner, rank = np.nonzero(listed >= 0)
    other, similarity = of[listed[owner, rank]], neighbours.similarity[first][owner, rank]
    apart = owner != other
    owner, other, similarity = owner[apart], other[apart], similarity[apart]
    _, once = np.unique(owner * d + other, return_index=True)  # copies of another row are as near as it
    owner, other, similarity = owner[once], other[once], similarity[once]
    counts = np.bincount(owner, minlength=d)
    lacking = np.flatnonzero((counts < wanted) & (listed[:, -1] >= 0))
    enough = ~np.isin(owner, lacking)
    best_of(found, owner[enough], other[enough], similarity[enough])
    rows = rows_of(space, measure)
    matrix = rows.matrix[first]
    across, squares, empty = matrix.T.tocsr(), rows.squares[first], rows.empty[first]
    for part in blocks(len(lacking), max(1, _CELLS_AT_ONCE // d)):
        some = lacking[part]
        alike = (matrix[some] @ across).toarray()
        if not rows.unit:
            alike = from_distance(squares[some, None] + squares - 2 * alike)
        alike[:, empty] = 0
        alike[np.arange(len(some)), some] = 0
        best = np.argpartition(-alike, wanted - 1, axis=1)[:, :wanted]
        own = np.repeat(some, wanted)
        best_of(found, own, best.ravel(), np.take_along_axis(alike, best, axis=1).ravel().astype(np.float32))
    return found
