# SPDX-License-Identifier: GPL-3.0-or-later
"""The similarities of all documents as a picture: cells where it is near, means of blocks of cells where it is far.

The mean of the dot products of two blocks of rows is the dot product of their means, so that no cell is formed that is not shown.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare.measure import Rows, from_distance, similarities
from jagged_lens.weigh import blocks_of


def grid_of(
    rows: Rows, down: NDArray[np.integer], across: NDArray[np.integer], high: int, wide: int
) -> NDArray[np.float32]:
    """The similarities of some rows with some others as a picture of at most high × wide cells: float32, NaN where all are empty.

    down: int, the rows from top to bottom; across: int, those from left to right. Where there are more of them than cells, each cell is
    the mean of its block (under euclidean: of the squared distances, as a similarity); a row with itself counts. Where all fit, cells
    are exact.
    """
    high, wide = min(high, len(down)), min(wide, len(across))
    if not high or not wide:
        return np.zeros((high, wide), np.float32)
    if high == len(down) and wide == len(across):
        first, second = np.repeat(down, wide), np.tile(across, high)
        exact = similarities(rows, first, second)
        exact[rows.empty[first] | rows.empty[second]] = np.nan
        return exact.reshape(high, wide)
    top, top_squares, top_count = _means(rows, down, high)
    left, left_squares, left_count = _means(rows, across, wide)
    mean = np.asarray((top @ left.T.tocsr()).toarray())
    if not rows.unit:
        mean = from_distance(top_squares[:, None] + left_squares - 2 * mean)
    mean[top_count == 0] = np.nan
    mean[:, left_count == 0] = np.nan
    return mean.astype(np.float32)


def _means(
    rows: Rows, order: NDArray[np.integer], cells: int
) -> tuple[csr_array, NDArray[np.float64], NDArray[np.int64]]:
    """The mean row of each block of the order, its mean squared length, and how many rows it has that are not empty."""
    block = blocks_of(len(order), cells)
    filled = ~rows.empty[order]
    count = np.bincount(block[filled], minlength=cells)
    share = 1 / np.maximum(count, 1)[block[filled]]
    sums = csr_array((share, (block[filled], order[filled])), shape=(cells, len(rows.squares)))
    squares: NDArray[np.float64] = np.bincount(
        block[filled], rows.squares[order[filled]] * share, minlength=cells
    ).astype(np.float64)
    return csr_array(sums @ rows.matrix), squares, count.astype(np.int64)
