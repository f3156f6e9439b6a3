"""Copies on a map: rows that are the same lie on one another, and tie nothing to themselves."""

from __future__ import annotations

import numpy as np

from jagged_lens.compare import Distinct, Neighbours, best_of, from_distance, rows_of
from jagged_lens.map.laid import Laid
from jagged_lens.parallel import blocks
from jagged_lens.weigh import VectorSpace

_CELLS_AT_ONCE = 4_000_000


def spread(laid: Laid, distinct: Distinct) -> Laid:
    """The layout of all n rows, of one of the d that differ."""
    of = distinct.of
    return Laid(laid.positions[of], laid.rim[of], laid.rounds, laid.of, laid.stress)


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
