# SPDX-License-Identifier: GPL-3.0-or-later
"""Near-duplicates by the runs of words that they share, whatever the weights say of them.

Two documents are edited copies from a resemblance of 2/5 on, and one holds the other from a containment of 4/5 on. Of a and b runs,
a ≤ b, they then have at least c in common: 2/7 (a + b) and so at least 4/7 a and 2/5 b, or 4/5 a. A document with c of its runs in
common with another shares one of its a − c + 1 rarest (the prefix filter: Chaudhuri, Ganti & Kaushik, "A primitive operator for
similarity joins in data cleaning", 2006). Rare runs stand in hardly any document, so that few meet; those are compared.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array, csr_array
from scipy.sparse.csgraph import connected_components, minimum_spanning_tree

from jagged_lens.compare.above import MOST_PAIRS, Allowed, stretches
from jagged_lens.compare.shingles import Kind, Shingles, compared_by_runs
from jagged_lens.parallel import over_blocks
from jagged_lens.progress import Progress, portion, unheard

_MEETINGS_AT_ONCE = 10_000_000


@dataclass(frozen=True, eq=False)
class Copies:
    """p pairs of near-duplicates, in no order.

    first < second: int32 rows. kind: uint8, any Kind but subject. resemblance: float32. left_out: how many more there are, where they
    were too many; all documents are then connected as they would be by all pairs.
    """

    first: NDArray[np.int32]
    second: NDArray[np.int32]
    kind: NDArray[np.uint8]
    resemblance: NDArray[np.float32]
    left_out: int


def find_copies(
    shingles: Shingles,
    rows: NDArray[np.integer],
    active: NDArray[np.bool_],
    allowed: Allowed,
    progress: Progress = unheard,
    most: int = MOST_PAIRS,
) -> Copies:
    """All allowed pairs of active rows of which one is a copy of the other: same, edited, or holds.

    rows: int32, n, the corpus row of each. active: bool, n.
    """
    wording = np.where(active, shingles.wording[rows], -1)
    by_wording = np.argsort(wording, kind="stable")
    by_wording = by_wording[np.searchsorted(wording[by_wording], 0) :]
    by_wording = by_wording[shingles.sizes[rows[by_wording]] > 0]
    starts = np.flatnonzero(np.diff(wording[by_wording], prepend=-1))
    sizes = np.diff(np.append(starts, len(by_wording)))
    different = by_wording[starts]  # the first row of each wording
    found = _Found(len(rows), most)
    for first, second in _within(by_wording, starts, sizes):
        may = allowed(first, second)
        same = np.full(int(may.sum()), Kind.SAME, np.uint8)
        found.add(first[may], second[may], same, np.ones(len(same), np.float32))
    own = rows[different]
    for wanted, a, b in _meeting(shingles.sets[own], shingles.sizes[own].astype(np.int64), progress):
        kind, resemblance = compared_by_runs(shingles, own[a], own[b])
        copy = kind == wanted
        a, b, kind, resemblance = a[copy], b[copy], kind[copy], resemblance[copy]
        of, first, second = _across(by_wording, starts, sizes, a, b)
        may = allowed(first, second)
        found.add(first[may], second[may], kind[of[may]], resemblance[of[may]])
    return found.all()


def copy_families(
    shingles: Shingles, rows: NDArray[np.integer], progress: Progress = unheard, most: int = MOST_PAIRS
) -> NDArray[np.int64]:
    """For each document, a number that it shares with all its copies, direct or indirect (int64, n).

    rows: int32, n, the corpus row of each.
    """

    def all_are(first: NDArray[np.integer], second: NDArray[np.integer]) -> NDArray[np.bool_]:
        return np.ones(len(first), np.bool_)

    found = find_copies(shingles, rows, np.ones(len(rows), np.bool_), all_are, progress, most)
    links = csr_array((np.ones(len(found.first), np.int8), (found.first, found.second)), shape=(len(rows), len(rows)))
    return connected_components(links, directed=False)[1].astype(np.int64)


class _Found:
    """The best found so far, at most about twice as many as are kept."""

    def __init__(self, n: int, most: int) -> None:
        self._n = n
        self._most = most
        self._parts: list[tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.uint8], NDArray[np.float32]]] = []
        self._held = 0
        self._total = 0

    def add(
        self,
        one: NDArray[np.integer],
        other: NDArray[np.integer],
        kind: NDArray[np.uint8],
        resemblance: NDArray[np.float32],
    ) -> None:
        first, second = np.minimum(one, other).astype(np.int32), np.maximum(one, other).astype(np.int32)
        self._parts.append((first, second, kind, resemblance))
        self._held += len(first)
        self._total += len(first)
        if self._held > 2 * self._most:
            self._thin()

    def all(self) -> Copies:
        if self._held > self._most:
            self._thin()
        first, second, kind, resemblance = self._joined()
        return Copies(first, second, kind, resemblance, self._total - self._held)

    def _joined(self) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.uint8], NDArray[np.float32]]:
        if not self._parts:
            return np.zeros(0, np.int32), np.zeros(0, np.int32), np.zeros(0, np.uint8), np.zeros(0, np.float32)
        a, b, kind, resemblance = zip(*self._parts, strict=True)
        return np.concatenate(a), np.concatenate(b), np.concatenate(kind), np.concatenate(resemblance)

    def _thin(self) -> None:
        """Leave only what connects the documents as before: the pairs that resemble each other most."""
        first, second, kind, resemblance = self._joined()
        cost = csr_array((2.0 - resemblance.astype(np.float64), (first, second)), shape=(self._n, self._n))
        tree = coo_array(minimum_spanning_tree(cost))
        order = np.argsort(first.astype(np.int64) * self._n + second, kind="stable")
        keys = (first.astype(np.int64) * self._n + second)[order]
        kept = order[np.searchsorted(keys, np.sort(tree.row.astype(np.int64) * self._n + tree.col))]
        self._parts = [(first[kept], second[kept], kind[kept], resemblance[kept])]
        self._held = len(kept)


def _within(
    order: NDArray[np.int64], starts: NDArray[np.int64], sizes: NDArray[np.int64]
) -> Iterator[tuple[NDArray[np.int64], NDArray[np.int64]]]:
    """All pairs of rows within each of some stretches of `order`."""
    for size in np.unique(sizes[sizes > 1]).tolist():
        begin = starts[sizes == size]
        per = size * (size - 1) // 2
        at_once = max(1, _MEETINGS_AT_ONCE // per)
        a, b = np.triu_indices(size, 1)
        for some in range(0, len(begin), at_once):
            from_ = begin[some : some + at_once, None]
            yield order[(from_ + a).ravel()], order[(from_ + b).ravel()]


def _across(
    order: NDArray[np.int64],
    starts: NDArray[np.int64],
    sizes: NDArray[np.int64],
    a: NDArray[np.integer],
    b: NDArray[np.integer],
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]:
    """Every row of stretch a with every row of stretch b, for p pairs of stretches: which pair it is of, and both rows."""
    many = sizes[a] * sizes[b]
    of = np.repeat(np.arange(len(a)), many)
    at = np.arange(len(of)) - np.repeat(np.cumsum(many) - many, many)
    wide = sizes[b][of]
    return of, order[starts[a][of] + at // wide], order[starts[b][of] + at % wide]


def _meeting(
    sets: csr_array, sizes: NDArray[np.int64], progress: Progress
) -> Iterator[tuple[Kind, NDArray[np.integer], NDArray[np.integer]]]:
    """Pairs of documents (smaller, larger): first those among which all edited ones are, then those among which all are that hold
    each other.

    sets: int32 CSR, documents × runs; no two alike in their wording. sizes: int64, the runs of each, with those it shares with none.
    """
    documents = np.bincount(sets.indices, minlength=sets.shape[1])
    shared = np.flatnonzero(documents > 1)  # the other runs, which are the rarest, nobody meets in
    rank = np.full(len(documents), -1, np.int32)
    rank[shared[np.lexsort((shared, documents[shared]))]] = np.arange(len(shared), dtype=np.int32)
    ranks = rank[sets.indices]
    met = ranks >= 0
    starts = np.concatenate((np.zeros(1, np.int64), np.cumsum(met)))[sets.indptr].astype(np.int64)
    data = np.ones(int(starts[-1]), np.int32)
    own: NDArray[np.int32] = ranks[met]
    ordered = csr_array((data, own, starts), shape=(len(sizes), len(shared)))
    ordered.sort_indices()
    left = np.diff(starts)  # runs of each that others have too
    size: NDArray[np.int64] = np.repeat(sizes, left)
    place = np.arange(len(size)) - np.repeat(starts[:-1], left) + np.repeat(sizes - left, left)

    def prefix(least: NDArray[np.int64]) -> csr_array:
        """The runs of which a document has to share one if it shares `least` of all."""
        kept = place <= size - least
        ends = np.concatenate((np.zeros(1, np.int64), np.cumsum(kept)))[ordered.indptr]
        return csr_array((data[: int(ends[-1])], ordered.indices[kept], ends), shape=ordered.shape)

    edited = (prefix((4 * size + 6) // 7), prefix((2 * size + 4) // 5))
    held = (prefix((4 * size + 4) // 5), ordered)
    for kind, (small, large), (from_, to) in ((Kind.EDITED, edited, (5, 2)), (Kind.HOLDS, held, (1, 0))):
        across = csr_array(large.T.tocsr())

        def meet(
            stretch: slice, small: csr_array = small, across: csr_array = across, from_: int = from_, to: int = to
        ) -> tuple[NDArray[np.integer], NDArray[np.integer]]:
            found = coo_array(small[stretch] @ across)
            a, b = found.row.astype(np.int64) + stretch.start, found.col.astype(np.int64)
            smaller = (sizes[a] < sizes[b]) | ((sizes[a] == sizes[b]) & (a < b))
            smaller &= from_ * sizes[a] >= to * sizes[b]
            return a[smaller], b[smaller]

        share = portion(progress, 0, 0.5) if kind == Kind.EDITED else portion(progress, 0.5, 1)
        for a, b in over_blocks(meet, stretches(small, np.diff(across.indptr), _MEETINGS_AT_ONCE), share):
            yield kind, a, b
