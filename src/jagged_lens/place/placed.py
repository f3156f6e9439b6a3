# SPDX-License-Identifier: GPL-3.0-or-later
"""New documents in a lens that stays as it is: their nearest documents, copies of old ones, group, and place on the map."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.clean import CleanSettings, Known, Tokens
from jagged_lens.compare import Kind, Neighbours, compared_by_runs, nearest_between, shingles_of
from jagged_lens.gather import Corpus
from jagged_lens.group import Grouping, filled_rows
from jagged_lens.parallel import blocks
from jagged_lens.place.through import NOTHING, Through, through, with_rows, with_rows_in_themes
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.strings import Strings
from jagged_lens.terms import TermSettings
from jagged_lens.weigh import Themes, VectorSpace, WeighSettings, in_themes

NEAR = 10
"""So many nearest documents are found of each new one; the place on the map is made of them."""
_ROWS_AT_ONCE = 500


@dataclass(frozen=True, eq=False)
class Placed:
    """d new documents in a lens of n.

    corpus: the new documents. through: their weights and unknown words. nearest: d × 10, rows of the lens. kind: uint8, d, the Kind of each
    with its nearest, by runs (SUBJECT where it has none). copy_of: int32, d, of those documents of the lens that it is a copy of, by runs,
    the one that resembles it most, -1 where there is none; copy_kind: uint8, d. group: int32, d, of the nearest centroid, -1 for a document
    without known terms; closeness: float32, d, the cosine to it. positions: float32, d × 2, NaN where none of its nearest has a place.
    """

    corpus: Corpus
    through: Through
    nearest: Neighbours
    kind: NDArray[np.uint8]
    copy_of: NDArray[np.int32]
    copy_kind: NDArray[np.uint8]
    group: NDArray[np.int32]
    closeness: NDArray[np.float32]
    positions: NDArray[np.float32]

    def __len__(self) -> int:
        return len(self.corpus)

    @classmethod
    def none(cls, m: int) -> Placed:
        """No new documents, in a lens of m terms."""
        nothing = Strings.of([])
        empty = np.zeros(0, np.int32)
        tokens = Tokens(
            np.zeros(1, np.int64),
            empty,
            empty,
            empty,
            np.zeros(0, np.uint8),
            np.zeros(0, np.bool_),
            nothing,
            empty,
            empty,
            nothing,
            nothing,
            (),
        )
        rows = csr_array(np.zeros((0, m), np.float32))
        number = np.zeros(0, np.int64)
        return cls(
            Corpus(nothing, nothing, nothing, nothing),
            Through(tokens, rows.astype(np.int32), rows, number, number, np.zeros(0, np.bool_)),
            Neighbours.none(0, 0),
            np.zeros(0, np.uint8),
            empty,
            np.zeros(0, np.uint8),
            empty,
            np.zeros(0, np.float32),
            np.zeros((0, 2), np.float32),
        )


@dataclass(frozen=True, eq=False)
class Lens:
    """The part of a lens that new documents need.

    texts: of its n documents. space: of the terms. known: its language, and the lines that recur in it. positions: float32, n × 2.
    """

    texts: Strings
    space: VectorSpace
    themes: Themes
    grouping: Grouping
    positions: NDArray[np.float32]
    measure: str
    known: Known = NOTHING


def placed(
    new: Corpus,
    lens: Lens,
    cleaning: CleanSettings,
    limits: TermSettings,
    weighing: WeighSettings,
    folder: Path,
    progress: Progress = unheard,
    vectors: NDArray[np.float32] | None = None,
) -> Placed:
    """New documents seen through the lens: its vocabulary, document frequencies, themes, centroids and map stay as they are.

    The place of a document is the mean of those of its ten nearest, weighted by their similarity. vectors: float32, d × k, of the new
    documents, where the lens works on vectors that were given.
    """
    space, n, d = lens.space, len(lens.texts), len(new)
    found = through(new, space, cleaning, limits, weighing, folder, lens.known, portion(progress, 0, 0.3))
    if vectors is not None:
        found = dataclasses.replace(found, vectors=vectors)
    both = in_themes(with_rows(space, found), with_rows_in_themes(lens.themes, found))
    own = np.arange(n, n + d)
    nearest = nearest_between(both, lens.measure, NEAR, own, np.arange(n), portion(progress, 0.3, 0.7))
    kind, copy_of, copy_kind = _copies(new, lens, nearest, portion(progress, 0.7, 0.98))
    group, closeness = _groups(both, n, lens.grouping)
    return Placed(new, found, nearest, kind, copy_of, copy_kind, group, closeness, _positions(nearest, lens.positions))


def _groups(space: VectorSpace, n: int, grouping: Grouping) -> tuple[NDArray[np.int32], NDArray[np.float32]]:
    """The nearest centroid of each row from n on, and the cosine to it; ties: the first group."""
    rows = filled_rows(space)
    new = np.flatnonzero(rows.at >= n)
    group = np.full(rows.n - n, -1, np.int32)
    closeness = np.zeros(rows.n - n, np.float32)
    across = grouping.centroids.astype(np.float64).T.tocsr()
    for some in blocks(len(new), _ROWS_AT_ONCE) if len(grouping) else ():
        cosines = np.asarray((rows.x[new[some]] @ across).toarray())
        best = cosines.argmax(axis=1)
        group[rows.at[new[some]] - n] = best
        closeness[rows.at[new[some]] - n] = cosines[np.arange(len(best)), best]
    return group, closeness


def _positions(nearest: Neighbours, old: NDArray[np.float32]) -> NDArray[np.float32]:
    d, k = nearest.row.shape
    if not k:
        return np.full((d, 2), np.nan, np.float32)
    places = old[np.maximum(nearest.row, 0)].astype(np.float64)
    weight = np.where(nearest.row >= 0, nearest.similarity, 0).astype(np.float64)
    whole = weight.sum(axis=1, keepdims=True)
    # Row 0 stands in for what is not there; it may have no place, and has no weight.
    mean = (np.where(weight[:, :, None] > 0, places, 0) * weight[:, :, None]).sum(axis=1) / np.where(
        whole > 0, whole, 1
    )
    return np.where(whole > 0, mean, np.nan).astype(np.float32)


def _copies(
    new: Corpus, lens: Lens, nearest: Neighbours, progress: Progress
) -> tuple[NDArray[np.uint8], NDArray[np.int32], NDArray[np.uint8]]:
    """The kind of each with its nearest. And the old document that it is a copy of: the same first, then by resemblance, then by row."""
    d, n = len(new), len(lens.texts)
    texts = Strings.joined([lens.texts, new.texts])
    shingles = shingles_of(Corpus(texts, texts, texts, texts), portion(progress, 0, 0.6))
    kind = np.full(d, Kind.SUBJECT, np.uint8)
    copy_of, copy_kind = np.full(d, -1, np.int32), np.full(d, Kind.SUBJECT, np.uint8)
    if not n or not d:
        return kind, copy_of, copy_kind
    there = np.flatnonzero(nearest.row[:, 0] >= 0) if nearest.row.shape[1] else np.zeros(0, np.int64)
    kind[there], _ = compared_by_runs(shingles, nearest.row[there, 0], there + n)
    across = shingles.sets[:n].T.tocsr()
    for some in blocks(d, _ROWS_AT_ONCE):
        progress(0.6 + 0.4 * some.start / d)
        met = (shingles.sets[n + some.start : n + some.stop] @ across).tocoo()
        one, other = met.row.astype(np.int64) + some.start, met.col.astype(np.int64)
        kinds, resemblance = compared_by_runs(shingles, other, one + n)
        copy = kinds != Kind.SUBJECT
        one, other, kinds, resemblance = one[copy], other[copy], kinds[copy], resemblance[copy]
        order = np.lexsort((other, -resemblance, kinds != Kind.SAME, one))
        first = order[np.diff(one[order], prepend=-1) > 0]
        copy_of[one[first]], copy_kind[one[first]] = other[first], kinds[first]
    return kind, copy_of, copy_kind
