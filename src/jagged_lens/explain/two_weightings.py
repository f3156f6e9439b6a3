# SPDX-License-Identifier: GPL-3.0-or-later
"""A document or a term under another weighting: the same counts ranked by two formulas."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.explain.document_terms import document_terms
from jagged_lens.weigh import VectorSpace


@dataclass(frozen=True, eq=False)
class Ranking:
    """The largest weights, in falling order of the absolute weight, then by place. of: int64, columns of a document or rows of a term.
    weights: float64."""

    of: NDArray[np.int64]
    weights: NDArray[np.float64]


def ranked_terms(space: VectorSpace, row: int) -> Ranking:
    """All terms that a document holds, by their weight in it; those that weigh nothing last."""
    found = document_terms(space, row)
    return Ranking(found.columns, found.weights)


def ranked_documents(space: VectorSpace, column: int) -> Ranking:
    """All documents that hold a term, by its weight in them; those in which it weighs nothing last."""
    held = np.flatnonzero(space.terms.counts[:, [column]].toarray().ravel())
    weights = space.weights[held][:, [column]].toarray().ravel().astype(np.float64)
    order = np.lexsort((held, -np.abs(weights)))
    return Ranking(held[order], weights[order])
