# SPDX-License-Identifier: GPL-3.0-or-later
"""A large sparse table as a small picture: what each block of rows and columns holds, summed without forming the table."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array


def block_means(
    matrix: csr_array, down: NDArray[np.integer], across: NDArray[np.integer], high: int, wide: int
) -> NDArray[np.float32]:
    """The mean of the cells of each block, empty ones counting as 0: float32, high × wide at the most.

    matrix: CSR, n × m, of any kind of number. down: int64, the rows from top to bottom; across: int64, the columns from left to right,
    none of them twice. Where each block is one cell, those are the cells of the matrix.
    """
    high, wide = min(high, len(down)), min(wide, len(across))
    if not high or not wide:
        return np.zeros((high, wide), np.float32)
    rows, columns = blocks_of(len(down), high), blocks_of(len(across), wide)
    column = np.full(matrix.shape[1], -1, np.int64)
    column[across] = columns
    some = matrix[down]
    owner = np.repeat(rows, np.diff(some.indptr))
    at = column[some.indices]
    shown = at >= 0
    cells = owner[shown] * wide + at[shown]
    sums = np.bincount(cells, some.data[shown].astype(np.float64), minlength=high * wide).reshape(high, wide)
    size = np.bincount(rows, minlength=high)[:, None] * np.bincount(columns, minlength=wide)
    return (sums / size).astype(np.float32)


def blocks_of(length: int, cells: int) -> NDArray[np.int64]:
    """The block of each of so many places, all blocks about equally long: int64, rising."""
    edges = np.arange(cells + 1) * length // cells
    return np.repeat(np.arange(cells), np.diff(edges))
