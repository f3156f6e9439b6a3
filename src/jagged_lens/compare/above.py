# SPDX-License-Identifier: GPL-3.0-or-later
"""All pairs at or above a limit, exactly, without comparing every pair.

Order each row's terms rare first. The prefix of a row ends where the length of its rest falls below t, the least cosine that a
partner must reach. By Cauchy and Schwarz the rest alone cannot reach t, so two rows at or above it share a term in the
prefixes of both (Chaudhuri, Ganti & Kaushik, "A primitive operator for similarity joins in data cleaning", 2006;
Bayardo, Ma & Srikant, "Scaling up all pairs similarity search", 2007). Only those that meet there, and whose block norms can
reach the limit, are compared.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array, csr_array

from jagged_lens.compare.block_norms import block_norms, upper_bounds
from jagged_lens.compare.index_kind import index_kind
from jagged_lens.compare.measure import Rows, distances_squared, rounding, similarities
from jagged_lens.errors import TooManyError
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress
from jagged_lens.weigh import row_sums

MOST_PAIRS = 5_000_000
"""So many pairs are listed at most."""
_SLACK = 1e-6  # candidates are found with room for rounding, then compared exactly
_MEETINGS_AT_ONCE = 20_000_000
_UNITS = 2.0**36  # of a row's squared length
_FULL = 0.5  # share of cells from which rows are multiplied densely
_ROWS_AT_ONCE = 8_000
_CELLS_AT_ONCE = 4_000_000

Met = Iterator[tuple[NDArray[np.integer], NDArray[np.integer]]]
Allowed = Callable[[NDArray[np.integer], NDArray[np.integer]], NDArray[np.bool_]]
"""Of pairs of rows (int, p each): which may be listed (bool, p)."""


@dataclass(frozen=True, eq=False)
class Above:
    """p pairs of rows and their similarity: first < second int32, similarity float32; `limit`: all at or above it are there."""

    first: NDArray[np.int32]
    second: NDArray[np.int32]
    similarity: NDArray[np.float32]
    limit: np.float32


def pairs_above(rows: Rows, limit: float, allowed: Allowed, progress: Progress, most: int = MOST_PAIRS) -> Above:
    """All allowed pairs whose similarity, rounded to float32, is at or above the limit; empty rows are in none.

    Where there are more than `most`, the limit is raised so far that no more are left. TooManyError where that does not help
    since so many are equally alike.
    """
    floor = np.float32(limit)
    lengths = block_norms(rows)
    kept: list[tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.float32]]] = []
    total = 0
    for first, second in _meeting(rows, limit, progress):
        may = allowed(first, second)
        first, second = first[may], second[may]
        hopeful = upper_bounds(rows, lengths, first, second) >= floor - _SLACK
        first, second = first[hopeful], second[hopeful]
        similarity = similarities(rows, first, second)
        at = similarity >= floor
        total += int(at.sum())
        kept.append((first[at].astype(np.int32), second[at].astype(np.int32), similarity[at]))
        if total > most:
            first, second, similarity = _joined(kept)
            beyond = np.partition(similarity, len(similarity) - most - 1)[len(similarity) - most - 1]
            floor = np.nextafter(beyond, np.float32(2))
            at = similarity >= floor
            total = int(at.sum())
            if not total:
                raise TooManyError(
                    f"more than {most:,} pairs have a similarity of exactly {beyond:.3g} alike",
                    "pairs-from",
                    "Set frequent copies aside, or list only pairs within a label.",
                )
            kept = [(first[at], second[at], similarity[at])]
    return Above(*_joined(kept), floor)


def _joined(
    kept: list[tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.float32]]],
) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.float32]]:
    if not kept:
        return np.zeros(0, np.int32), np.zeros(0, np.int32), np.zeros(0, np.float32)
    a, b, s = zip(*kept, strict=True)
    return np.concatenate(a), np.concatenate(b), np.concatenate(s)


def _meeting(rows: Rows, limit: float, progress: Progress) -> Met:
    """Pairs among which all that reach the limit are."""
    least = _least_cosines(rows, limit)
    if rows.unit and rows.matrix.nnz > _FULL * rows.matrix.shape[0] * rows.matrix.shape[1]:
        return _by_products(rows, limit, progress)  # rows of themes: everything meets everything in any prefix
    return _by_blocks(rows, limit, progress) if least is None else _by_prefixes(rows, least, progress)


def _least_cosines(rows: Rows, limit: float) -> NDArray[np.float64] | None:
    """The least cosine that any partner of each row must have; None where it cannot be told from the cosine.

    Euclidean: d <= D = 1/limit - 1 and d² >= ‖a‖²(1 - cos²) give cos >= √(1 - D²/‖a‖²).
    """
    if rows.unit:
        return np.full(len(rows.squares), limit - _SLACK)
    farthest = 1 / limit - 1
    squares = np.where(rows.empty, np.inf, rows.squares)
    if (farthest**2 >= 0.99 * squares).any():
        return None
    return np.sqrt(1 - farthest**2 / squares) - _SLACK


def _by_prefixes(rows: Rows, least: NDArray[np.float64], progress: Progress) -> Met:
    prefixes = _prefixes(rows, least)
    documents = np.bincount(prefixes.indices, minlength=prefixes.shape[1])
    across = prefixes.T.tocsr()

    def meet(stretch: slice) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
        met = coo_array(prefixes[stretch] @ across)
        first, second = met.row + stretch.start, met.col
        after = second > first
        return first[after], second[after]

    yield from over_blocks(meet, stretches(prefixes, documents, _MEETINGS_AT_ONCE), progress)


def stretches(rows: csr_array, documents: NDArray[np.integer], at_once: int) -> list[slice]:
    """Slices of rows, in each of which about so many rows of another matrix are met. documents: int64, m, how many of those hold each column."""
    meetings = np.cumsum(row_sums(rows, documents[rows.indices].astype(np.float64)))
    edges = np.searchsorted(meetings, np.arange(0, meetings[-1] if len(meetings) else 0, at_once))
    edges = np.unique(np.concatenate(([0], edges, [rows.shape[0]])))
    return [slice(int(a), int(b)) for a, b in itertools.pairwise(edges)]


def _prefixes(rows: Rows, least: NDArray[np.float64]) -> csr_array:
    """The pattern of each row up to where the length of its rest falls below the least cosine of a partner, rare terms first."""
    matrix = rows.matrix
    documents = np.bincount(matrix.indices, minlength=matrix.shape[1])
    rank = np.empty(matrix.shape[1], np.int32)
    rank[np.lexsort((np.arange(matrix.shape[1]), documents))] = np.arange(matrix.shape[1])
    squares = np.where(rows.squares > 0, rows.squares, 1.0)
    bounds = (np.maximum(least, 0) ** 2 - 1e-9) * _UNITS
    kept, sizes = [np.zeros(0, np.int32)], [np.zeros(0, np.int64)]
    for block in blocks(matrix.shape[0], _ROWS_AT_ONCE):
        part = matrix[block]
        ordered = csr_array((part.data, rank[part.indices], part.indptr), shape=part.shape)
        ordered.sort_indices()
        owner = np.repeat(np.arange(part.shape[0]), np.diff(ordered.indptr))
        # Each entry's share of its row, rounded up to whole units: one running sum over all rows is exact in whole numbers,
        # whatever stands before a row, and no rest comes out too small.
        units = np.ceil(ordered.data**2 / squares[block][owner] * _UNITS).astype(np.int64)
        running = np.concatenate((np.zeros(1, np.int64), np.cumsum(units)))
        rest = running[ordered.indptr[1:]][owner] - running[:-1]  # from this entry to the row's end
        keep = rest >= bounds[block][owner]
        kept.append(ordered.indices[keep].astype(np.int32))
        sizes.append(np.bincount(owner[keep], minlength=part.shape[0]))
    indices, starts = np.concatenate(kept), np.concatenate(([0], np.cumsum(np.concatenate(sizes))))
    return csr_array((np.ones(len(indices), np.int32), indices, starts.astype(index_kind(starts))), shape=matrix.shape)


def _by_blocks(rows: Rows, limit: float, progress: Progress) -> Met:
    """Every pair, block by block; for distances so wide that documents without a common term pass too."""
    n = len(rows.squares)
    across = rows.matrix.T.tocsr()
    filled = ~rows.empty
    farthest = (1 / max(limit - _SLACK, 1e-300) - 1) ** 2

    def meet(block: slice) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        squared = distances_squared(rows, block, (rows.matrix[block] @ across).toarray())
        near = squared - rounding(rows, block) <= farthest
        first, second = np.nonzero(near & filled[block, None] & filled)
        first += block.start
        after = second > first
        return first[after], second[after]

    yield from over_blocks(meet, blocks(n, max(1, _CELLS_AT_ONCE // max(n, 1))), progress)


def _by_products(rows: Rows, limit: float, progress: Progress) -> Met:
    """Every pair of dense unit rows that may reach the limit, by products in single precision: the slack covers their rounding,
    which is below 2⁻²⁴ times the number of columns (Higham, "Accuracy and Stability of Numerical Algorithms", 2002, ch. 3)."""
    n, m = rows.matrix.shape
    dense = rows.matrix.astype(np.float32).toarray()
    least = np.float32(limit - _SLACK - (m + 8) * 2.0**-24)
    across = np.ascontiguousarray(dense.T)

    def meet(block: slice) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        near = dense[block] @ across[:, block.start :]
        first, second = np.nonzero(near >= least)
        after = (second > first) & ~rows.empty[block][first]
        return first[after] + block.start, second[after] + block.start

    yield from over_blocks(meet, blocks(n, max(1, _CELLS_AT_ONCE // max(n, 1))), progress)
