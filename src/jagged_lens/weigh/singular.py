# SPDX-License-Identifier: GPL-3.0-or-later
"""Products and singular vectors of a sparse matrix, block by block."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress
from jagged_lens.weigh.krylov import right_vectors, upright

_SEED = 1
_ACCURACY = 0.01  # a share of each squared singular value; what that does to their sum is far less
_ROUNDING = 1e-10
_ROWS_AT_ONCE = 8_000


def product(matrix: csr_array, columns: NDArray[np.float64]) -> NDArray[np.float64]:
    """A sparse matrix (float64 or float32, n × m) times a few columns (float64, m × k): float64, n × k, computed in the precision of the
    matrix."""
    columns = np.ascontiguousarray(columns, matrix.dtype)
    parts = list(over_blocks(lambda block: matrix[block] @ columns, blocks(matrix.shape[0], _ROWS_AT_ONCE)))
    return np.concatenate(parts).astype(np.float64, copy=False) if parts else np.zeros((0, columns.shape[1]))


def singular_vectors(
    matrix: csr_array, most: int, progress: Progress
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The first right singular vectors of a matrix (float64, m × k, columns of length 1, upright) and their squared singular values
    (float64, k, falling); fewer than `most` where the others are nothing but rounding. matrix: float64 CSR, n × m, not empty; of float32
    the products are computed in single precision, which takes half the memory traffic."""
    across = matrix.T.tocsr()
    vectors, squares, _ = right_vectors(
        lambda some: product(matrix, some),
        lambda some: product(across, some),
        matrix.shape,
        most,
        _SEED,
        progress,
        _ACCURACY,
    )
    real = squares > _ROUNDING * squares[0]
    return upright(vectors[:, real] / np.linalg.norm(vectors[:, real], axis=0)), squares[real]
