# SPDX-License-Identifier: GPL-3.0-or-later
"""The explanation of a pair's similarity: the contribution of each term; the contributions add up to the number."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import rows_of, similarities
from jagged_lens.weigh import Themes, VectorSpace

_WORD_PAIRS = 40
_NAMED = 200


@dataclass(frozen=True, eq=False)
class Contributions:
    """The contribution of each term to one pair's similarity.

    similarity: as in Pairs. total: what the contributions add up to: the similarity itself, or the squared distance under
    euclidean. columns (int64), values (float64): the terms that make it up and how much each adds, most first; under cosine
    and hellinger the terms both have, under euclidean all terms of either. only_first, only_second (int64): columns that only
    one has, heaviest first. themes: in how many themes the rows were compared, 0: in the terms themselves; in themes the terms of the
    first make up a cosine. learned: those are not themes, but the dimensions of learned vectors. word_pairs:
    under cosine on learned vectors, the strongest pairs of a term of the first and one of the second (columns) and what each adds;
    over all such pairs they add up to the similarity. given: the rows were compared by vectors from outside, which have no parts; the values
    are then those of the terms alone, and `total` their sum, which is not the similarity.
    """

    similarity: float
    total: float
    columns: NDArray[np.int64]
    values: NDArray[np.float64]
    only_first: NDArray[np.int64]
    only_second: NDArray[np.int64]
    measure: str
    themes: int = 0
    learned: bool = False
    given: bool = False
    word_pairs: tuple[tuple[int, int, float], ...] = ()

    def named(self, shown: Sequence[str]) -> list[tuple[str, float]]:
        """The terms that add most, a few hundred, with what each adds. shown: the terms of the space, as they are written."""
        return [
            (shown[int(column)], float(value))
            for column, value in zip(self.columns[:_NAMED], self.values[:_NAMED], strict=True)
        ]


def contributions(
    space: VectorSpace, measure: str, first: int, second: int, themes: Themes | None = None
) -> Contributions:
    """Take the similarity of two rows apart.

    cosine: a_t b_t / (‖a‖‖b‖). hellinger: √(p_t q_t). euclidean: (a_t − b_t)², whose sum is d². themes: those in which the rows were
    compared, with V; then cosine: a_t (V Vᵀ b)_t / (‖Vᵀa‖‖Vᵀb‖), euclidean: (a − b)_t (V Vᵀ (a − b))_t.
    """
    pair = _two_rows(space, first, second)
    rows = rows_of(pair, measure)
    used = np.unique(np.concatenate((_columns(space, first), _columns(space, second))))
    a, b = rows.matrix.toarray()
    has_a, has_b = a != 0, b != 0
    both = has_a & has_b if rows.unit else has_a | has_b
    values = a * b if rows.unit else (a - b) ** 2
    if themes is None or not len(themes):
        similarity = float(similarities(rows, np.array([0]), np.array([1]))[0])
    elif themes.given:
        similarity = _of_vectors(themes.documents[first], themes.documents[second], rows.unit)
    else:
        similarity, values = _through_themes(a, b, themes.terms[used].astype(np.float64), rows.unit)
        both = has_a if rows.unit else has_a | has_b
    contributing = np.flatnonzero(both)
    pairs = _word_pairs(a, b, used, themes) if themes is not None and themes.learned and rows.unit else ()
    order = contributing[np.argsort(-values[contributing], kind="stable")]
    only_first = np.flatnonzero(has_a & ~has_b)
    only_second = np.flatnonzero(has_b & ~has_a)
    return Contributions(
        similarity,
        float(values[order].sum()),
        used[order],
        values[order],
        used[only_first[np.argsort(-np.abs(a[only_first]), kind="stable")]],
        used[only_second[np.argsort(-np.abs(b[only_second]), kind="stable")]],
        measure,
        len(themes) if themes is not None else 0,
        themes is not None and themes.learned,
        themes is not None and themes.given,
        pairs,
    )


def _of_vectors(first: NDArray[np.float32], second: NDArray[np.float32], unit: bool) -> float:
    """The similarity of two vectors: their cosine, or 1 ÷ (1 + their distance)."""
    a, b = first.astype(np.float64), second.astype(np.float64)
    if unit:
        lengths = float(np.linalg.norm(a) * np.linalg.norm(b))
        return float(np.float32(a @ b / lengths)) if lengths > 0 else 0.0
    return float(np.float32(1 / (1 + np.linalg.norm(a - b))))


def _through_themes(
    a: NDArray[np.float64], b: NDArray[np.float64], v: NDArray[np.float64], unit: bool
) -> tuple[float, NDArray[np.float64]]:
    """The similarity of two rows in themes and what each of their u terms adds. v: the u rows of V."""
    if unit:
        in_a, in_b = a @ v, b @ v
        lengths = float(np.linalg.norm(in_a) * np.linalg.norm(in_b))
        values = a * (v @ in_b) / lengths if lengths > 0 else np.zeros(len(a))
        return float(np.float32(values.sum())), values
    apart = a - b
    values = apart * (v @ (apart @ v))
    return float(np.float32(1 / (1 + np.sqrt(max(float(values.sum()), 0.0))))), values


def _word_pairs(
    a: NDArray[np.float64], b: NDArray[np.float64], used: NDArray[np.int64], vectors: Themes
) -> tuple[tuple[int, int, float], ...]:
    """The strongest pairs of a term of each row: columns, and a_s b_t e_s·e_t ÷ (‖aE‖‖bE‖), largest first. used: int64, u, columns."""
    e = vectors.terms[used].astype(np.float64)
    lengths = float(np.linalg.norm(a @ e) * np.linalg.norm(b @ e))
    if lengths == 0:
        return ()
    first, second = np.flatnonzero(a), np.flatnonzero(b)
    values = (a[first, None] * e[first]) @ (b[second, None] * e[second]).T / lengths
    strongest = np.argsort(-values.ravel(), kind="stable")[:_WORD_PAIRS]
    at, other = np.unravel_index(strongest, values.shape)
    return tuple(
        (int(used[first[s]]), int(used[second[t]]), float(values[s, t])) for s, t in zip(at, other, strict=True)
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
