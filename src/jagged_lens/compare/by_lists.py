# SPDX-License-Identifier: GPL-3.0-or-later
"""For every document of many its nearest others, by lists: each term has the documents in which it weighs most, a document asks with all its
terms, and the best sums are compared exactly.

What that misses is measured, on some documents whose nearest are looked for in full.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare.distinct_rows import Distinct, distinct_rows
from jagged_lens.compare.index_kind import index_kind
from jagged_lens.compare.measure import Rows, rows_of, similarities
from jagged_lens.compare.neighbours import Neighbours, best_of, nearest_in_full, nearest_neighbours
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.weigh import VectorSpace

EXACT_TO = 20_000
"""Up to so many documents neighbours are always exact."""
_LISTED = 384  # documents of a term
_PER_NEIGHBOUR = 10  # sums that are compared exactly, for each neighbour that is wanted
_ROWS_AT_ONCE = 512
_SAME_LENGTH = 1e-5  # share by which squared lengths may differ by rounding alone
_MEASURED_ON = 500
_SEED = 1

Found = tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float32]]
"""Pairs: row, other, similarity."""


def neighbours_by_lists(space: VectorSpace, measure: str, k: int, progress: Progress = unheard) -> Neighbours:
    """The k nearest of each of n documents among its 10 k best sums over the lists of its terms, with their recall.

    A list has 384 documents. The recall is measured on 500 documents.

    Copies would fill the lists, so that each wording asks and is listed once; its copies share what it finds. Distances of rows of
    different lengths are looked for in full: those near to a row need not weigh much in anything.
    """
    rows = rows_of(space, measure)
    k = min(k, max(len(rows.squares) - 1, 0))
    if k == 0 or not of_one_length(rows):
        return nearest_neighbours(space, measure, k, progress)
    kinds = distinct_rows(rows.matrix)
    once = rows_once(rows, kinds)
    nearest = with_copies(rows, kinds, among_lists(once, k, portion(progress, 0, 0.85)), portion(progress, 0.85, 0.9))
    return dataclasses.replace(nearest, recall=_recall(rows, nearest, k, portion(progress, 0.9, 1)))


def of_one_length(rows: Rows) -> bool:
    """True if all rows that are not empty have the same length, but for rounding."""
    lengths = rows.squares[~rows.empty]
    return rows.unit or not len(lengths) or bool(np.ptp(lengths) <= _SAME_LENGTH * lengths.max())


def rows_once(rows: Rows, kinds: Distinct) -> Rows:
    """The rows of which each wording is there once."""
    if len(kinds.first) == len(kinds.of):
        return rows
    return Rows(rows.matrix[kinds.first], rows.squares[kinds.first], rows.measure, rows.empty[kinds.first])


def among_lists(once: Rows, k: int, progress: Progress) -> Neighbours:
    """The k nearest of each row among the best sums over the lists of its terms. once: rows of one length, no two the same."""
    found = Neighbours.none(len(once.squares), k)
    lists = _lists(once.matrix)
    asking = once.narrow
    squares = once.squares.astype(np.float32)
    keep = _PER_NEIGHBOUR * k

    def best(block: slice) -> Found:
        sums = (asking[block] @ lists).tocsr()
        scores = sums.data if once.unit else 2 * sums.data - squares[sums.indices]
        owner, other = _highest(sums.indptr, sums.indices, scores, keep + 1)
        owner += block.start
        inside = (owner != other) & ~once.empty[owner]
        owner, other = owner[inside], other[inside]
        return owner, other, similarities(once, owner, other)

    for owner, other, similarity in over_blocks(best, blocks(len(once.squares), _ROWS_AT_ONCE), progress):
        best_of(found, owner, other, similarity)
    return found


def with_copies(rows: Rows, kinds: Distinct, found: Neighbours, progress: Progress) -> Neighbours:
    """The nearest of all rows, of those that each wording found."""
    nearest = found
    if len(kinds.first) < len(kinds.of):
        nearest = Neighbours.none(len(kinds.of), found.row.shape[1])
        for owner, other, similarity in _with_copies(rows, kinds, found, progress):
            best_of(nearest, owner, other, similarity)
    nearest.row[rows.empty], nearest.similarity[rows.empty] = -1, 0
    return nearest


def _lists(matrix: csr_array) -> csr_array:
    """For each term the documents in which it weighs most, ties by row: float32 CSR, m × n.

    matrix: float64 CSR, n × m.
    """
    n, m = matrix.shape
    across = matrix.T.tocsr()  # the rows of each term, rising
    sizes = np.diff(across.indptr)
    kept = np.ones(across.nnz, np.bool_)
    for term in np.flatnonzero(sizes > _LISTED).tolist():
        own = slice(int(across.indptr[term]), int(across.indptr[term + 1]))
        weight = across.data[own]
        least = np.partition(weight, len(weight) - _LISTED)[-_LISTED]
        more = weight > least
        ties = np.flatnonzero(weight == least)[: _LISTED - int(more.sum())]
        more[ties] = True
        kept[own] = more
    ends = np.concatenate(([0], np.cumsum(np.minimum(sizes, _LISTED))))
    data, indices = across.data[kept].astype(np.float32), across.indices[kept].astype(np.int32)
    return csr_array((data, indices, ends.astype(index_kind(ends))), shape=(m, n))


def _highest(
    starts: NDArray[np.integer], columns: NDArray[np.integer], scores: NDArray[np.float32], keep: int
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """The entries with the highest scores of each row of a CSR matrix: row and column, int64.

    Rows are taken in classes of length, so that those of a class make a table; a selection over ragged rows would be slow.
    """
    sizes = np.diff(starts)
    owners, others = [], []
    short = np.flatnonzero((sizes > 0) & (sizes <= keep))
    if len(short):
        places = _places(starts[short], sizes[short])
        owners.append(np.repeat(short, sizes[short]))
        others.append(columns[places])
    longer = np.flatnonzero(sizes > keep)
    width = np.ceil(np.log2(sizes[longer])).astype(np.int64)
    for power in np.unique(width):
        own = longer[width == power]
        table = np.full((len(own), 2 ** int(power)), -np.inf, np.float32)
        within = np.arange(table.shape[1]) < sizes[own, None]
        table[within] = scores[_places(starts[own], sizes[own])]
        best = np.argpartition(table, table.shape[1] - keep, axis=1)[:, -keep:]
        owners.append(np.repeat(own, keep))
        others.append(columns[(starts[own, None] + best).ravel()])
    if not owners:
        return np.zeros(0, np.int64), np.zeros(0, np.int64)
    return np.concatenate(owners).astype(np.int64), np.concatenate(others).astype(np.int64)


def _places(starts: NDArray[np.integer], sizes: NDArray[np.integer]) -> NDArray[np.int64]:
    """The places of some stretches, one behind the other: int64."""
    ends = np.cumsum(sizes)
    found: NDArray[np.int64] = np.arange(int(ends[-1])) + np.repeat(starts - (ends - sizes), sizes)
    return found


def _with_copies(rows: Rows, kinds: Distinct, found: Neighbours, progress: Progress) -> Iterator[Found]:
    """The pairs that each row finds: its own copies, and the copies of what its wording found; of each at most the first k + 1."""
    k = found.row.shape[1]
    members = np.argsort(kinds.of, kind="stable")
    sizes = np.minimum(np.bincount(kinds.of, minlength=len(kinds.first)), k + 1)
    starts = np.searchsorted(kinds.of[members], np.arange(len(kinds.first)))
    own = similarities(rows, kinds.first, kinds.first)  # of a wording with itself
    parts = blocks(len(kinds.of), _ROWS_AT_ONCE)
    for at, part in enumerate(parts):
        progress(at / len(parts))
        asked = np.arange(part.start, part.stop)
        kind = kinds.of[asked]
        near, alike = found.row[kind].astype(np.int64), found.similarity[kind]
        filled = near >= 0
        owner = np.concatenate((asked, np.repeat(asked, filled.sum(axis=1))))
        other = np.concatenate((kind, near[filled]))
        similarity = np.concatenate((own[kind], alike[filled]))
        counts = sizes[other]
        row = members[_places(starts[other], counts)]
        owner, similarity = np.repeat(owner, counts), np.repeat(similarity, counts)
        apart = (owner != row) & ~rows.empty[owner]
        yield owner[apart], row[apart], similarity[apart]


def _recall(rows: Rows, found: Neighbours, k: int, progress: Progress) -> float:
    """The share of true neighbours that were found, of 500 seeded rows. One as alike as the last true one is as good."""
    filled = np.flatnonzero(~rows.empty)
    if not len(filled):
        return 1.0
    chosen = np.sort(np.random.default_rng(_SEED).choice(filled, min(_MEASURED_ON, len(filled)), replace=False))
    true = Neighbours.none(len(rows.squares), k)
    nearest_in_full(rows, chosen, true, progress)
    wanted = (true.row[chosen] >= 0).sum(axis=1)
    least = np.where(wanted > 0, true.similarity[chosen, np.maximum(wanted - 1, 0)], np.inf)
    reached = ((found.row[chosen] >= 0) & (found.similarity[chosen] >= least[:, None])).sum(axis=1)
    total = int(wanted.sum())
    return float(np.minimum(reached, wanted).sum() / total) if total else 1.0
