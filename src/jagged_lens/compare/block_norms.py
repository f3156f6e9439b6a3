# SPDX-License-Identifier: GPL-3.0-or-later
"""Block norms of rows, how long each row is within each of a few blocks of the terms, and the upper bound that they give.

Within one block a·b is at most ‖a‖‖b‖ (Cauchy and Schwarz), so the sum of these over all blocks is at least the dot product of
the whole rows. Texts that have little to do with each other rarely meet in the same block, so that the bound tells most of
them apart at a small part of the cost.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare.measure import Rows, from_distance

_BLOCKS = 64
_SPREAD = np.uint64(0x9E3779B97F4A7C15)
_AT_ONCE = 20_000
_ROUNDING = 1e-5


def block_norms(rows: Rows) -> NDArray[np.float32]:
    """The length of each row within each block of the terms: float32, n × blocks."""
    n, m = rows.matrix.shape
    block = ((np.arange(m, dtype=np.uint64) * _SPREAD) >> np.uint64(64 - (_BLOCKS - 1).bit_length())).astype(np.int64)
    owner = np.repeat(np.arange(n, dtype=np.int64), np.diff(rows.matrix.indptr))
    squares = np.bincount(owner * _BLOCKS + block[rows.matrix.indices], rows.matrix.data**2, minlength=n * _BLOCKS)
    return np.sqrt(squares).reshape(n, _BLOCKS).astype(np.float32)


def upper_bounds(
    rows: Rows, lengths: NDArray[np.float32], first: NDArray[np.integer], second: NDArray[np.integer]
) -> NDArray[np.float64]:
    """An upper bound of the similarity of each pair of rows (p): float64. lengths: as of `block_norms`."""
    upper = np.empty(len(first))
    for start in range(0, len(first), _AT_ONCE):
        some = slice(start, start + _AT_ONCE)
        upper[some] = np.einsum("ij,ij->i", lengths[first[some]], lengths[second[some]])
    # A sum of so many products in single precision is wrong by a few millionths of itself at most. This must be made good
    # here: of two copies the distance is a small difference of large numbers.
    upper *= 1 + _ROUNDING
    return upper if rows.unit else from_distance(rows.squares[first] + rows.squares[second] - 2 * upper)
