# SPDX-License-Identifier: GPL-3.0-or-later
"""A grouping: which rows belong together, the centroid of each group and how near each row is to it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array, vstack

from jagged_lens.compare import rows_of
from jagged_lens.group.draws import ids_by_place
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.weigh import VectorSpace

_ROWS_AT_ONCE = 8_000
_MOST_DENSE = 64  # centroids that are dense at a time, as far as they have together at most so many cells:
_DENSE_CELLS = 8_000_000
_MOSTLY_FILLED = 0.3  # share of filled cells
_SUMMED_CELLS = 2_000_000  # cells that are summed up densely at a time


Centroids = csr_array | NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class FilledRows:
    """The rows of a space that are not empty, at length 1: what is grouped.

    x: float64 CSR, f × m. at: int64, f, which of the n rows each is. ids: uint64, f, by which they are drawn, and by which ties go.
    """

    x: csr_array
    at: NDArray[np.int64]
    n: int
    ids: NDArray[np.uint64]

    def __len__(self) -> int:
        return len(self.at)

    def some(self, places: NDArray[np.integer]) -> FilledRows:
        """Some of them alone, by their places among these (int64)."""
        return FilledRows(self.x[places], self.at[places], self.n, self.ids[places])


def mostly_filled(x: csr_array) -> bool:
    """True if rows (float64 CSR, n × m) are quicker as a dense array, as those in themes are."""
    return bool(x.nnz > _MOSTLY_FILLED * x.shape[0] * x.shape[1])


def filled_rows(space: VectorSpace, ids: NDArray[np.uint64] | None = None) -> FilledRows:
    """The rows of a space that are not empty, brought to length 1. ids: uint64, n, of all rows; None: they go by their places."""
    rows = rows_of(space, "cosine")
    filled = np.flatnonzero(~rows.empty)
    own = ids_by_place(len(rows.empty)) if ids is None else ids
    return FilledRows(rows.matrix[filled], filled, len(rows.empty), own[filled])


@dataclass(frozen=True, eq=False)
class Grouping:
    """Groups 0, 1, … by falling size, then lowest id of a row.

    group: int32, n; -1 for a row in none. centroids: float32 CSR, g × m, length 1. closeness: float32, n, cosine to the own
    centroid, 0 for a row in none. quality: the mean closeness. sizes, tightness: g each; tightness is the mean closeness
    of a group's rows. names: of the values of a label, where those are the groups; else empty.
    """

    group: NDArray[np.int32]
    centroids: csr_array
    closeness: NDArray[np.float32]
    quality: float
    sizes: NDArray[np.int32]
    tightness: NDArray[np.float32]
    names: tuple[str, ...] = ()

    def __len__(self) -> int:
        return len(self.sizes)


def letter(group: int) -> str:
    """The letter of a group: A … Z, AA, AB, …

    >>> [letter(g) for g in (0, 25, 26, 27, 701, 702)]
    ['A', 'Z', 'AA', 'AB', 'ZZ', 'AAA']
    """
    letters = ""
    group += 1
    while group:
        group, rest = divmod(group - 1, 26)
        letters = chr(ord("A") + rest) + letters
    return letters


def nearest_centroid(narrow: csr_array, centroids: Centroids) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
    """The nearest centroid of each row (int64, n; ties: the first) and the cosine to it (float32, n), in single precision."""
    group = np.zeros(narrow.shape[0], np.int64)
    closeness = np.full(narrow.shape[0], -np.inf, np.float32)
    for some in centroid_blocks(centroids):
        across = turned(centroids, some).astype(np.float32)

        def nearest(
            block: slice, across: NDArray[np.float32] = across
        ) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
            cosines = np.asarray(narrow[block] @ across)
            own = cosines.argmax(axis=1)
            return own, cosines[np.arange(len(own)), own]

        found, cosine = map(
            np.concatenate,
            zip(*over_blocks(nearest, blocks(narrow.shape[0], _ROWS_AT_ONCE)), strict=True),
        )
        nearer = cosine > closeness
        group[nearer], closeness[nearer] = found[nearer] + some.start, cosine[nearer]
    return group, closeness


def centroid_blocks(centroids: Centroids) -> list[slice]:
    """So many centroids at a time that they can be dense."""
    return blocks(centroids.shape[0], min(max(_DENSE_CELLS // max(centroids.shape[1], 1), 1), _MOST_DENSE))


def own_cosines(x: csr_array, centroids: Centroids, assigned: NDArray[np.int64]) -> NDArray[np.float64]:
    """The cosine of each row to the centroid of its group (float64, n)."""
    closeness = np.zeros(len(assigned))
    for some in centroid_blocks(centroids):
        across = turned(centroids, some)
        for block in blocks(x.shape[0], _ROWS_AT_ONCE):
            own = assigned[block] - some.start
            inside = np.flatnonzero((own >= 0) & (own < across.shape[1]))
            rows = x[block] if len(inside) == len(own) else x[block][inside]
            cosines = np.asarray(rows @ across)
            closeness[block][inside] = cosines[np.arange(len(inside)), own[inside]]
    return closeness


def centroids_of(x: csr_array, assigned: NDArray[np.int64], k: int) -> Centroids:
    """The sum of each group's rows, brought to length 1 (float64, k × m): dense where they are few, else as sparse as the rows
    are together."""
    m = x.shape[1]
    found = []
    for some in blocks(k, min(max(_SUMMED_CELLS // max(m, 1), 1), k)):
        rows, own = x, assigned
        if some.stop - some.start < k:
            inside = np.flatnonzero((assigned >= some.start) & (assigned < some.stop))
            rows, own = x[inside], assigned[inside] - some.start
        cells = np.repeat(own * m, np.diff(rows.indptr))
        cells += rows.indices
        count = some.stop - some.start
        sums = np.bincount(cells, rows.data, minlength=count * m).astype(np.float64).reshape(count, m)
        lengths = np.linalg.norm(sums, axis=1, keepdims=True)
        sums /= np.where(lengths > 0, lengths, 1)
        if count == k:
            return sums
        found.append(csr_array(sums))
    return csr_array(vstack(found, format="csr"))


def turned(centroids: Centroids, some: slice) -> NDArray[np.float64]:
    """Some centroids as dense columns, to be multiplied with rows: float64, m × b."""
    part = centroids[some]
    return np.ascontiguousarray((part if isinstance(part, np.ndarray) else part.toarray()).T)


def numbered(assigned: NDArray[np.integer], k: int, ids: NDArray[np.uint64] | None = None) -> NDArray[np.int64]:
    """The number that each of k groups gets: by falling size, then lowest id. int64, k.

    assigned: int64, f; -1 for a row in none. ids: uint64, f; None: rows go by their places.
    """
    own = ids_by_place(len(assigned)) if ids is None else ids
    members = np.flatnonzero(assigned >= 0)
    sizes = np.bincount(assigned[members], minlength=k)
    lowest = np.full(k, np.iinfo(np.uint64).max, np.uint64)
    np.minimum.at(lowest, assigned[members], own[members])
    number = np.empty(k, np.int64)
    number[np.lexsort((lowest, -sizes))] = np.arange(k)
    return number


def grouping_of(rows: FilledRows, assigned: NDArray[np.integer], k: int, names: tuple[str, ...] = ()) -> Grouping:
    """The grouping that puts each of the filled rows into one of k groups, none of them empty.

    assigned: int64, f; -1 for a row that is in none. names: k of them, in the order of the numbers in `assigned`.
    """
    group = np.full(rows.n, -1, np.int32)
    close = np.zeros(rows.n)
    if not k:
        return Grouping(
            group,
            rows.x[:0].astype(np.float32),
            close.astype(np.float32),
            0.0,
            np.zeros(0, np.int32),
            np.zeros(0, np.float32),
        )
    number = numbered(assigned, k, rows.ids)
    inside = np.flatnonzero(assigned >= 0)
    own = number[assigned[inside]]
    x = rows.x if len(inside) == len(rows) else rows.x[inside]
    centroids = centroids_of(x, own, k)
    closeness = own_cosines(x, centroids, own)
    group[rows.at[inside]], close[rows.at[inside]] = own, closeness
    sizes = np.bincount(own, minlength=k)
    return Grouping(
        group,
        csr_array(centroids).astype(np.float32),
        close.astype(np.float32),
        float(closeness.mean()) if len(own) else 0.0,
        sizes.astype(np.int32),
        (np.bincount(own, closeness, minlength=k) / np.maximum(sizes, 1)).astype(np.float32),
        tuple(names[at] for at in np.argsort(number)) if names else (),
    )
