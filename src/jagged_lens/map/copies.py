# SPDX-License-Identifier: GPL-3.0-or-later
"""Copies on a map: rows that are the same lie on one another, and tie nothing to themselves."""

from __future__ import annotations

import numpy as np

from jagged_lens.compare import Distinct, Neighbours, Rows, best_of, nearest_in_full, rows_of
from jagged_lens.map.laid import Laid
from jagged_lens.weigh import VectorSpace


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
    found = Neighbours.none(d, wanted, neighbours.recall)
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
    if len(lacking):
        rows = rows_of(space, measure)
        different = Rows(rows.matrix[first], rows.squares[first], measure, rows.empty[first])
        nearest_in_full(different, lacking, found)
    return found
