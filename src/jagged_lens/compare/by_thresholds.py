# SPDX-License-Identifier: GPL-3.0-or-later
"""For every document of very many its nearest others, exactly, without comparing it with all.

Lists give each document others that are near, and so a similarity t that its k nearest reach. Terms of many documents cost most and tell
least: a document is multiplied without its most frequent terms, as many of them as keep the length of what is left out below .7 t. By
Cauchy and Schwarz the whole product is at most what was multiplied plus the lengths of what both left out; only where that reaches t is a
pair compared.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare.above import stretches
from jagged_lens.compare.by_lists import Found, among_lists, of_one_length, rows_once, with_copies
from jagged_lens.compare.distinct_rows import distinct_rows
from jagged_lens.compare.measure import Rows, rows_of, similarities
from jagged_lens.compare.neighbours import Neighbours, best_of, nearest_in_full, nearest_neighbours
from jagged_lens.parallel import over_blocks
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.weigh import VectorSpace

THRESHOLDS_FROM = 100_000
"""From so many documents this takes less time than comparing each with all."""
_LEFT_OUT = 0.7  # of the threshold, the length of what is left out
_LEVELS = 24  # of frequency, between which a document's terms may be parted
_STEP = 2**0.5  # from one level to the next
_UNIT = 2.0**-24  # half the distance of two neighbouring numbers of single precision, as a share
_MEETINGS_AT_ONCE = 4_000_000
_ESTIMATED_ON, _SEED = 300, 1
_MOST_LEFT = 0.35  # share of the products; with more, comparing each with all is as fast


def neighbours_by_thresholds(space: VectorSpace, measure: str, k: int, progress: Progress = unheard) -> Neighbours:
    """The k nearest of each of n documents, as `nearest_neighbours` finds them."""
    rows = rows_of(space, measure)
    k = min(k, max(len(rows.squares) - 1, 0))
    if k == 0 or not rows.unit or (rows.matrix.data < 0).any() or not of_one_length(rows):
        return nearest_neighbours(space, measure, k, progress)
    kinds = distinct_rows(rows.matrix)
    once = rows_once(rows, kinds)
    if _share_left(once, k, portion(progress, 0, 0.02)) > _MOST_LEFT:
        return nearest_neighbours(space, measure, k, portion(progress, 0.02, 1))
    near = among_lists(once, k, portion(progress, 0.02, 0.3))
    least = near.similarity[:, -1] if len(once.squares) > k else np.zeros(len(once.squares), np.float32)
    exact = _all_reaching(once, least, k, portion(progress, 0.3, 0.95))
    return with_copies(rows, kinds, exact, portion(progress, 0.95, 1))


def _share_left(once: Rows, k: int, progress: Progress) -> float:
    """The share of all products that are left with the thresholds of 300 seeded rows."""
    n, m = once.matrix.shape
    filled = np.flatnonzero(~once.empty)
    some = np.sort(np.random.default_rng(_SEED).choice(filled, min(_ESTIMATED_ON, len(filled)), replace=False))
    if not len(some):
        return 1.0
    near = Neighbours.none(n, k)
    nearest_in_full(once, some, near, progress)
    documents = np.bincount(once.matrix.indices, minlength=m)
    part = once.matrix[some]
    rest, of_entry = _rests(part, documents, n)
    owner = np.repeat(np.arange(len(some)), np.diff(part.indptr))
    met = documents[part.indices].astype(np.float64)
    left = met[of_entry <= _own_level(rest, near.similarity[some, -1])[owner]]
    return float(left.sum() / max(met.sum(), 1.0))


def _rests(matrix: csr_array, documents: NDArray[np.integer], n: int) -> tuple[NDArray[np.float32], NDArray[np.int8]]:
    """For each row and level the length of its terms above that level (float32, rows × levels, rounded up), and the level of each entry.

    Level 0 has the terms of the fewest of n documents; above the last level there is none.
    """
    level = np.ceil(np.log(np.maximum(documents, 1) / max(n, 1)) / np.log(_STEP)).astype(np.int64) + _LEVELS - 1
    of_entry = np.maximum(level, 0)[matrix.indices].astype(np.int8)
    count = matrix.shape[0]
    owner = np.repeat(np.arange(count), np.diff(matrix.indptr))
    squares = np.bincount(owner * _LEVELS + of_entry, matrix.data**2, minlength=count * _LEVELS)
    above = np.zeros((count, _LEVELS))
    above[:, :-1] = np.cumsum(squares.reshape(count, _LEVELS)[:, :0:-1], axis=1)[:, ::-1]
    return np.sqrt(above).astype(np.float32) * np.float32(1 + 4 * _UNIT), of_entry


def _own_level(rest: NDArray[np.float32], least: NDArray[np.float32]) -> NDArray[np.int64]:
    """The lowest level of each row above which is less than may be left out (int64). Above the last there is nothing."""
    low_enough = rest <= np.float32(_LEFT_OUT) * least[:, None]
    return np.asarray(low_enough.argmax(axis=1), np.int64)


def _all_reaching(once: Rows, least: NDArray[np.float32], k: int, progress: Progress) -> Neighbours:
    """The k nearest of each row, of which those found reach a similarity at least: float32, n; 0 where that is not known.

    once: rows of length 1 without negative entries, no two the same.
    """
    n, m = once.matrix.shape
    documents = np.bincount(once.matrix.indices, minlength=m)
    rest, of_entry = _rests(once.matrix, documents, n)
    owner = np.repeat(np.arange(n), np.diff(once.matrix.indptr))
    own_level = _own_level(rest, least)
    kept = of_entry <= own_level[owner]
    ends = np.concatenate(([0], np.cumsum(np.bincount(owner[kept], minlength=n))))
    narrow = once.narrow
    asking = csr_array((narrow.data[kept], narrow.indices[kept], ends.astype(narrow.indptr.dtype)), shape=(n, m))
    across = narrow.T.tocsr()
    by_level = np.ascontiguousarray(rest.T)
    left_out = rest[np.arange(n), own_level]
    # What single precision may hide of a sum of products, and of the threshold itself.
    error = ((np.diff(once.matrix.indptr) + 8) * 2 * _UNIT).astype(np.float32)
    bound = np.maximum(least - error, 0)
    found = Neighbours.none(n, k)

    def reaching(stretch: slice) -> Found:
        sums = csr_array(asking[stretch] @ across)
        sizes = np.diff(sums.indptr)
        own = np.repeat(np.arange(stretch.start, stretch.stop), sizes)
        most = by_level[own_level[own], sums.indices]
        most *= left_out[own]
        most += sums.data
        possible = np.flatnonzero(most >= bound[own])
        one, other = own[possible], sums.indices[possible].astype(np.int64)
        apart = one != other
        one, other = one[apart], other[apart]
        return one, other, similarities(once, one, other)

    for one, other, similarity in over_blocks(reaching, stretches(asking, documents, _MEETINGS_AT_ONCE), progress):
        best_of(found, one, other, similarity)
    return found
