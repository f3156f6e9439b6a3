# SPDX-License-Identifier: GPL-3.0-or-later
"""The measures of similarity, all of them as a dot product of rows.

cosine: a·b/(‖a‖‖b‖), rows of length 1. hellinger: Σ√(p q), rows of √p for the shares p of kept counts (Bhattacharyya
1943), which have length 1 as well. euclidean: d = ‖a−b‖ of the weights as they are; 1/(1+d) ranks and is limited.
Everything is computed in float64 and rounded once, to float32.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.weigh import VectorSpace, row_sums

_PAIRS_AT_ONCE = 100_000


@dataclass(frozen=True, eq=False)
class Rows:
    """The operands of the product: rows (float64 CSR, n × m), their squared lengths (n), the measure, and which rows are empty."""

    matrix: csr_array
    squares: NDArray[np.float64]
    measure: str
    empty: NDArray[np.bool_]

    @property
    def unit(self) -> bool:
        """True if the dot product itself is the similarity."""
        return self.measure != "euclidean"

    @property
    def narrow(self) -> csr_array:
        """The rows in single precision (float32 CSR, n × m)."""
        matrix = self.matrix
        return csr_array((matrix.data.astype(np.float32), matrix.indices, matrix.indptr), shape=matrix.shape)


def rows_of(space: VectorSpace, measure: str) -> Rows:
    """The rows that a measure multiplies. Rows without any weight are empty under every measure."""
    if measure == "hellinger":
        counts = space.terms.counts
        data = np.sqrt(counts.data.astype(np.float64))
        sizes = np.diff(counts.indptr)
        # Rows without weight are left out into arrays of their own: those of the counts are never written.
        entries = np.repeat(~space.empty, sizes)
        starts = np.concatenate(([0], np.cumsum(np.where(space.empty, 0, sizes))))
        matrix = csr_array((data[entries], counts.indices[entries], starts), shape=counts.shape)
    else:
        weights = space.weights
        matrix = csr_array((weights.data.astype(np.float64), weights.indices, weights.indptr), shape=weights.shape)
    squares = row_sums(matrix, matrix.data**2)
    if measure != "euclidean":
        sizes = np.sqrt(np.where(squares > 0, squares, 1.0))
        data = matrix.data / np.repeat(sizes, np.diff(matrix.indptr))
        matrix = csr_array((data, matrix.indices, matrix.indptr), shape=matrix.shape)
        squares = (squares > 0).astype(np.float64)
    return Rows(matrix, squares, measure, space.empty)


def from_distance(squared: NDArray[np.float64]) -> NDArray[np.float64]:
    """1/(1+d) of squared distances; rounding below zero counts as zero. float64, of any shape; gives the same."""
    return 1 / (1 + np.sqrt(np.maximum(squared, 0)))


def distances_squared(rows: Rows, some: slice | NDArray[np.integer], dots: NDArray[np.float64]) -> NDArray[np.float64]:
    """‖a-b‖² of some rows with all rows (b × n), from their dot products; wrong by at most `rounding`.

    dots: float64, b × n; gives the same.
    """
    return rows.squares[some, None] + rows.squares - 2 * dots


def rounding(rows: Rows, some: slice | NDArray[np.integer]) -> NDArray[np.float64]:
    """An error bound for squared distances of some rows to all rows (b × n) from a dot product: for long rows that are nearly equal it is
    a small difference of large numbers (Higham, "Accuracy and Stability of Numerical Algorithms", 2002, ch. 3).

    float64, b × n.
    """
    terms = np.diff(rows.matrix.indptr)[some]
    return ((terms + 8) * 2.0**-52)[:, None] * (rows.squares[some, None] + rows.squares)


def similarities(rows: Rows, first: NDArray[np.integer], second: NDArray[np.integer]) -> NDArray[np.float32]:
    """The similarity of each pair of rows (p), exact: computed in float64, rounded once."""
    result = np.empty(len(first), np.float32)
    for start in range(0, len(first), _PAIRS_AT_ONCE):
        part = slice(start, start + _PAIRS_AT_ONCE)
        a, b = rows.matrix[first[part]], rows.matrix[second[part]]
        if rows.unit:
            result[part] = np.asarray(a.multiply(b).sum(axis=1)).ravel()
        else:
            difference = a - b
            result[part] = from_distance(np.asarray(difference.multiply(difference).sum(axis=1)).ravel())
    return result
