# SPDX-License-Identifier: GPL-3.0-or-later
"""One document against all others."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare.measure import distances_squared, from_distance, rounding, rows_of
from jagged_lens.weigh import VectorSpace


def one_against_all(space: VectorSpace, measure: str, row: int) -> NDArray[np.float32]:
    """The similarity of one row to each row (float32, n): NaN for itself and for empty rows, or where it is empty."""
    rows = rows_of(space, measure)
    own = np.array([row])
    dots = np.asarray((rows.matrix @ rows.matrix[own].T).toarray()).T
    if not rows.unit:
        squared = distances_squared(rows, own, dots)
        squared[squared <= rounding(rows, own)] = 0
        dots = from_distance(squared)
    found: NDArray[np.float32] = np.asarray(dots[0], np.float32).copy()
    found[rows.empty] = np.nan
    found[row] = np.nan
    if rows.empty[row]:
        found[:] = np.nan
    return found
