"""All pairs at or above a limit, exactly, without looking at most of them.

Terms are put in order, rare first, and each row is split where the length of its rest falls below the bound t that a
partner must reach. By Cauchy and Schwarz the rest alone cannot reach t, so two rows at or above it share a term in the
prefixes of both (Chaudhuri, Ganti & Kaushik, "A primitive operator for similarity joins in data cleaning", 2006;
Bayardo, Ma & Srikant, "Scaling up all pairs similarity search", 2007). Only those that meet there, and whose block norms can
reach the limit, are compared.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array, csr_array
from scipy.sparse.csgraph import connected_components

from jagged_lens.compare.block_norms import block_norms, upper_bounds
from jagged_lens.compare.measure import Rows, distances_squared, rounding, rows_of, similarities
from jagged_lens.compare.settings import CompareSettings
from jagged_lens.compare.shingles import Kind, Shingles, kinds_of_pairs
from jagged_lens.errors import TooManyError
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.weigh import VectorSpace, row_sums

MOST_PAIRS = 5_000_000
_SLACK = 1e-6  # candidates are found with room for rounding, then compared exactly
_MEETINGS_AT_ONCE = 20_000_000
_UNITS = 2.0**36  # of a row's squared length
_FULL = 0.5  # share of cells from which rows are multiplied densely
_CELLS_AT_ONCE = 4_000_000


@dataclass(frozen=True, eq=False)
class Pairs:
    """p pairs, by similarity falling, then first, second.

    first < second: int32 rows. similarity: float32. kind: uint8, a Kind. family: int32, from 0 by lowest row, of the
    documents connected by same, edited or holds; -1 for a pair of kind subject. documents: of how many;
    paired: how many of them are in a pair.
    """

    first: NDArray[np.int32]
    second: NDArray[np.int32]
    similarity: NDArray[np.float32]
    kind: NDArray[np.uint8]
    family: NDArray[np.int32]
    documents: int
    paired: int

    def __len__(self) -> int:
        return len(self.first)

    @property
    def families(self) -> int:
        """How many families there are."""
        return int(self.family.max(initial=-1)) + 1


def find_pairs(
    space: VectorSpace, shingles: Shingles, settings: CompareSettings, progress: Progress = unheard
) -> Pairs:
    """All pairs whose similarity, rounded to float32, is at or above settings.pairs_from. Empty rows are in none.

    TooManyError where there would be more than MOST_PAIRS.
    """
    rows = rows_of(space, settings.measure)
    limit = np.float32(settings.pairs_from)
    first, second, similarity = _above(rows, float(settings.pairs_from), limit, portion(progress, 0, 0.9))
    order = np.lexsort((second, first, -similarity))
    first, second, similarity = first[order], second[order], similarity[order]
    corpus_rows = space.terms.rows
    kind = kinds_of_pairs(shingles, corpus_rows[first], corpus_rows[second])
    family = _families(first, second, kind, len(space.empty))
    paired = len(np.unique(np.concatenate((first, second))))
    return Pairs(first, second, similarity, kind, family, len(space.empty), paired)


def _above(
    rows: Rows, limit: float, limit32: np.float32, progress: Progress
) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.float32]]:
    least = _least_cosines(rows, limit)
    filled = rows.matrix.nnz > _FULL * rows.matrix.shape[0] * rows.matrix.shape[1]
    if filled and rows.unit:  # rows of themes: everything meets everything in any prefix
        found = _by_products(rows, limit, progress)
    else:
        found = _by_blocks(rows, limit, progress) if least is None else _by_prefixes(rows, least, progress)
    kept: list[tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.float32]]] = []
    total = 0
    lengths = block_norms(rows)
    for first, second in found:
        hopeful = upper_bounds(rows, lengths, first, second) >= limit - _SLACK
        first, second = first[hopeful], second[hopeful]
        similarity = similarities(rows, first, second)
        at = similarity >= limit32
        total += int(at.sum())
        if total > MOST_PAIRS:
            raise TooManyError(
                f"more than {MOST_PAIRS:,} pairs are at {limit:g} or above",
                "pairs-from",
                "Raise the limit, or set very frequent copies aside.",
            )
        kept.append((first[at].astype(np.int32), second[at].astype(np.int32), similarity[at]))
    if not kept:
        return np.zeros(0, np.int32), np.zeros(0, np.int32), np.zeros(0, np.float32)
    a, b, s = zip(*kept, strict=True)
    return np.concatenate(a), np.concatenate(b), np.concatenate(s)


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


def _by_prefixes(rows: Rows, least: NDArray[np.float64], progress: Progress):  # type: ignore[no-untyped-def]
    prefixes = _prefixes(rows, least)
    documents = np.bincount(prefixes.indices, minlength=prefixes.shape[1])
    meetings = np.cumsum(row_sums(prefixes, documents[prefixes.indices].astype(np.float64)))
    edges = np.searchsorted(meetings, np.arange(0, meetings[-1] if len(meetings) else 0, _MEETINGS_AT_ONCE))
    edges = np.unique(np.concatenate(([0], edges, [prefixes.shape[0]])))
    stretches = [slice(int(a), int(b)) for a, b in itertools.pairwise(edges)]
    across = prefixes.T.tocsr()

    def meet(stretch: slice) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
        met = coo_array(prefixes[stretch] @ across)
        first, second = met.row + stretch.start, met.col
        after = second > first
        return first[after], second[after]

    yield from over_blocks(meet, stretches, progress)


def _prefixes(rows: Rows, least: NDArray[np.float64]) -> csr_array:
    """The pattern of each row up to where the length of its rest falls below the least cosine of a partner, rare terms first."""
    matrix = rows.matrix
    documents = np.bincount(matrix.indices, minlength=matrix.shape[1])
    rank = np.empty(matrix.shape[1], np.int32)
    rank[np.lexsort((np.arange(matrix.shape[1]), documents))] = np.arange(matrix.shape[1])
    ordered = csr_array((matrix.data, rank[matrix.indices], matrix.indptr), shape=matrix.shape, copy=True)
    ordered.sort_indices()
    owner = np.repeat(np.arange(matrix.shape[0]), np.diff(ordered.indptr))
    squares = np.where(rows.squares > 0, rows.squares, 1.0)
    # Each entry's share of its row, rounded up to whole units: one running sum over all rows is exact in whole numbers,
    # whatever stands before a row, and no rest comes out too small.
    units = np.ceil(ordered.data**2 / squares[owner] * _UNITS).astype(np.int64)
    running = np.concatenate((np.zeros(1, np.int64), np.cumsum(units)))
    rest = running[ordered.indptr[1:]][owner] - running[:-1]  # from this entry to the row's end
    keep = rest >= (np.maximum(least[owner], 0) ** 2 - 1e-9) * _UNITS
    starts = np.concatenate(([0], np.cumsum(keep)))[ordered.indptr]
    return csr_array((np.ones(int(keep.sum()), np.int32), ordered.indices[keep], starts), shape=matrix.shape)


def _by_blocks(rows: Rows, limit: float, progress: Progress):  # type: ignore[no-untyped-def]
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


def _by_products(rows: Rows, limit: float, progress: Progress):  # type: ignore[no-untyped-def]
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


def _families(
    first: NDArray[np.int32], second: NDArray[np.int32], kind: NDArray[np.uint8], n: int
) -> NDArray[np.int32]:
    near = kind != Kind.SUBJECT
    family = np.full(len(first), -1, np.int32)
    if not near.any():
        return family
    links = csr_array((np.ones(int(near.sum()), np.int8), (first[near], second[near])), shape=(n, n))
    _, component = connected_components(links, directed=False)
    members = np.unique(np.concatenate((first[near], second[near])))
    _, lowest = np.unique(component[members], return_index=True)
    number = np.full(int(component.max()) + 1, -1, np.int32)
    number[component[members[np.sort(lowest)]]] = np.arange(len(lowest))
    family[near] = number[component[first[near]]]
    return family
