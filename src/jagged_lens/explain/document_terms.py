# SPDX-License-Identifier: GPL-3.0-or-later
"""The terms of one document, with their counts and weights."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.weigh import VectorSpace


@dataclass(frozen=True, eq=False)
class DocumentTerms:
    """The k terms of a document, heaviest first; of equal ones the one that comes first in the space.

    columns: int64; times: int64, how often the document holds each; documents: int64, how many documents of the lens do;
    weights: float64, the stored weight in the document, 0 for a term that weighs nothing.
    """

    columns: NDArray[np.int64]
    times: NDArray[np.int64]
    documents: NDArray[np.int64]
    weights: NDArray[np.float64]


def document_terms(space: VectorSpace, row: int) -> DocumentTerms:
    """The composition of lens row `row`."""
    counts, weights = space.terms.counts, space.weights
    counted = slice(int(counts.indptr[row]), int(counts.indptr[row + 1]))
    weighed = slice(int(weights.indptr[row]), int(weights.indptr[row + 1]))
    columns = counts.indices[counted].astype(np.int64)
    own = np.zeros(counts.shape[1])
    own[weights.indices[weighed]] = weights.data[weighed]
    heaviest = np.lexsort((columns, -np.abs(own[columns])))
    columns = columns[heaviest]
    documents = np.bincount(counts.indices, minlength=counts.shape[1])[columns]
    return DocumentTerms(columns, counts.data[counted][heaviest].astype(np.int64), documents, own[columns])
