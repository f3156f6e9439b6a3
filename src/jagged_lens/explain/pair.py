"""Why a pair is as alike as it is: what each term adds to its similarity; the contributions add up to the number."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import rows_of, similarities
from jagged_lens.weigh import VectorSpace


@dataclass(frozen=True, eq=False)
class Contributions:
    """What each term adds to one pair's similarity.

    similarity: as in Pairs. total: what the contributions add up to: the similarity itself, or the squared distance under
    euclidean. columns (int64), values (float64): the terms that make it up and how much each adds, most first; under cosine
    and hellinger the terms both have, under euclidean all terms of either. only_first, only_second (int64): columns that only
    one has, heaviest first.
    """

    similarity: float
    total: float
    columns: NDArray[np.int64]
    values: NDArray[np.float64]
    only_first: NDArray[np.int64]
    only_second: NDArray[np.int64]
    measure: str


def contributions(space: VectorSpace, measure: str, first: int, second: int) -> Contributions:
    """Take the similarity of two rows apart.

    cosine: a_t b_t / (‖a‖‖b‖). hellinger: √(p_t q_t). euclidean: (a_t − b_t)², whose sum is d².
    """
    pair = _two_rows(space, first, second)
    rows = rows_of(pair, measure)
    dense = rows.matrix.toarray()
    a, b = dense
    has_a, has_b = a != 0, b != 0
    if rows.unit:
        values = a * b
        contributing = np.flatnonzero(has_a & has_b)
    else:
        values = (a - b) ** 2
        contributing = np.flatnonzero(has_a | has_b)
    order = contributing[np.argsort(-values[contributing], kind="stable")]
    used = np.unique(np.concatenate((_columns(space, first), _columns(space, second))))
    only_first = np.flatnonzero(has_a & ~has_b)
    only_second = np.flatnonzero(has_b & ~has_a)
    return Contributions(
        float(similarities(rows, np.array([0]), np.array([1]))[0]),
        float(values[order].sum()),
        used[order],
        values[order],
        used[only_first[np.argsort(-np.abs(a[only_first]), kind="stable")]],
        used[only_second[np.argsort(-np.abs(b[only_second]), kind="stable")]],
        measure,
    )


def _columns(space: VectorSpace, row: int) -> NDArray[np.int64]:
    counts = space.terms.counts
    return counts.indices[counts.indptr[row] : counts.indptr[row + 1]].astype(np.int64)


def _two_rows(space: VectorSpace, first: int, second: int) -> VectorSpace:
    """The space of two rows and the columns that either has, so that nothing else is touched."""
    used = np.unique(np.concatenate((_columns(space, first), _columns(space, second))))
    at = np.array([first, second])
    terms = space.terms
    counts = terms.counts[at].tocsc()[:, used].tocsr()
    weights = space.weights[at].tocsc()[:, used].tocsr()
    small = dataclasses.replace(terms, counts=counts, kept=terms.kept[used], rows=terms.rows[at])
    return VectorSpace(weights, space.global_weights[used], space.empty[at], small)
