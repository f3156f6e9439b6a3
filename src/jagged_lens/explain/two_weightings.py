"""What another weighting would make of a document or a term: the same counts ranked by two formulas."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.weigh import VectorSpace


@dataclass(frozen=True, eq=False)
class Ranking:
    """What weighs most, in falling order of the absolute weight, then by place. of: int64, columns of a document or rows of a term.
    weights: float64."""

    of: NDArray[np.int64]
    weights: NDArray[np.float64]


def terms_ranked(space: VectorSpace, row: int) -> Ranking:
    """All terms that a document holds, by their weight in it; those that weigh nothing last."""
    counts = space.terms.counts
    held = counts.indices[counts.indptr[row] : counts.indptr[row + 1]].astype(np.int64)
    weights = np.zeros(counts.shape[1])
    own = slice(int(space.weights.indptr[row]), int(space.weights.indptr[row + 1]))
    weights[space.weights.indices[own]] = space.weights.data[own]
    return _ranked(held, weights[held])


def documents_ranked(space: VectorSpace, column: int) -> Ranking:
    """All documents that hold a term, by its weight in them; those in which it weighs nothing last."""
    counts = space.terms.counts
    held = np.flatnonzero(np.bincount(_owner(counts)[counts.indices == column], minlength=counts.shape[0]))
    weights = np.zeros(counts.shape[0])
    at = space.weights.indices == column
    weights[_owner(space.weights)[at]] = space.weights.data[at]
    return _ranked(held, weights[held])


def _owner(matrix: csr_array) -> NDArray[np.int64]:
    return np.repeat(np.arange(matrix.shape[0]), np.diff(matrix.indptr))


def _ranked(of: NDArray[np.int64], weights: NDArray[np.float64]) -> Ranking:
    order = np.lexsort((of, -np.abs(weights)))
    return Ranking(of[order], weights[order])
