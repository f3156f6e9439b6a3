# SPDX-License-Identifier: GPL-3.0-or-later
"""Landmarks of a map: a part of the rows that is laid out first, and from which all others begin.

Landmarks are tied by the ways of two steps between them through the graph of near rows, as a walker goes who takes each tie in
proportion to its strength: so the shape of the whole is in the ties of a part (the walk as in Coifman & Lafon, "Diffusion maps", 2006).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array, diags_array

_SHARE = 3  # one row of so many is a landmark
_SPREADINGS = 12  # steps in which rows far from any landmark are reached
_JITTER = 0.05  # units of the map by which rows that begin at one place are parted
_ROWS_AT_ONCE = 20_000
_CELLS = 1 << 16  # along a side, for the order along the plane

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Landmarks:
    """l landmarks of n rows.

    rows: int64, l, rising. ties: float64 CSR, l × l, symmetric, its sum 1. reach: float64 CSR, n × l, the share of each landmark in where a
    row begins; rows sum to 1. grown: by how much the map of all is wider. noise: float64, n × 2, what parts those that begin at one place.
    """

    rows: NDArray[np.int64]
    ties: csr_array
    reach: csr_array
    grown: float
    noise: Floats

    def spread(self, places: Floats) -> Floats:
        """The places at which all rows begin (float64, n × 2), of those of the landmarks (float64, l × 2)."""
        return np.asarray(self.reach @ places) * self.grown + self.noise


def landmarks_of(ties: csr_array, near: int, seed: int) -> Landmarks:
    """A seeded third of n rows as landmarks, each tied to at most `near` others.

    ties: float64 CSR, n × n, symmetric, none of its rows empty.
    """
    n = ties.shape[0]
    random = np.random.default_rng(seed)
    rows = np.sort(random.choice(n, max(n // _SHARE, 3), replace=False)).astype(np.int64)
    degree = np.asarray(ties.sum(axis=1)).ravel()
    step = csr_array(diags_array(1 / degree) @ ties)
    to_landmarks = csr_array(step[:, rows])
    noise = random.standard_normal((n, 2)) * _JITTER
    noise[rows] = 0
    tied = _tied(csr_array(step[rows]), to_landmarks, near)
    return Landmarks(rows, tied, _reach(step, to_landmarks, rows), float(np.sqrt(n / len(rows))), noise)


def _tied(from_landmarks: csr_array, to_landmarks: csr_array, near: int) -> csr_array:
    """The ties of l landmarks: of each the `near` strongest ways of two steps, made symmetric, their sum 1."""
    parts = []
    count = from_landmarks.shape[0]
    for start in range(0, count, _ROWS_AT_ONCE):
        ways = csr_array(from_landmarks[start : start + _ROWS_AT_ONCE] @ to_landmarks)
        parts.append(_strongest(ways, start, near))
    row = np.concatenate([one for one, _, _ in parts])
    one_way = csr_array(
        (np.concatenate([one for _, _, one in parts]), (row, np.concatenate([one for _, one, _ in parts]))),
        (count, count),
    )
    both = csr_array(one_way + one_way.T)
    alone = np.flatnonzero(np.diff(both.indptr) == 0)
    if len(
        alone
    ):  # no way of two steps leads to another landmark: it is tied to the next one, weakly, so that it takes part
        weak = csr_array((np.full(len(alone), 1e-6), (alone, (alone + 1) % count)), shape=(count, count))
        both = csr_array(both + weak + weak.T)
    return csr_array(both / both.sum())


def _strongest(
    ways: csr_array, first: int, near: int
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float64]]:
    """The `near` strongest entries of each row but for itself, ties by column: row, column, and its share of the row."""
    row = np.repeat(np.arange(ways.shape[0]), np.diff(ways.indptr))
    apart = ways.indices != row + first
    row, column, value = row[apart], ways.indices[apart].astype(np.int64), ways.data[apart]
    order = np.lexsort((column, -value, row))
    row, column, value = row[order], column[order], value[order]
    rank = np.arange(len(row)) - np.searchsorted(row, row)
    best = rank < near
    row, column, value = row[best], column[best], value[best]
    total = np.bincount(row, value, ways.shape[0])
    return row + first, column, value / total[row]


def _reach(step: csr_array, to_landmarks: csr_array, rows: NDArray[np.int64]) -> csr_array:
    """The share of each landmark in where each row begins: a landmark at itself, a row at those it is tied to, one that is tied to none
    where its neighbours begin. What is tied to nothing that leads to a landmark begins in the middle."""
    n, count = to_landmarks.shape
    kept = np.ones(n)
    kept[rows] = 0
    own = csr_array((np.ones(count), (rows, np.arange(count))), shape=(n, count))
    reach = csr_array(diags_array(kept) @ to_landmarks)
    reach.eliminate_zeros()
    reach = csr_array(reach + own)
    for _ in range(_SPREADINGS):
        lacking = np.flatnonzero(np.diff(reach.indptr) == 0)
        if not len(lacking):
            break
        further = csr_array(step[lacking] @ reach)
        if not further.nnz:
            break
        entries = further.tocoo()
        reach = csr_array(reach + csr_array((entries.data, (lacking[entries.row], entries.col)), shape=(n, count)))
    total = np.asarray(reach.sum(axis=1)).ravel()
    return csr_array(diags_array(1 / np.maximum(total, 1e-300)) @ reach)


def along(places: Floats) -> NDArray[np.int64]:
    """An order of n points in which those that lie together follow one another (int64, n): by the bits of both coordinates in turn
    (Morton, "A computer oriented geodetic data base", 1966)."""
    low = places.min(axis=0)
    wide = max(float(np.ptp(places, axis=0).max()), 1e-300)
    cells = np.minimum((places - low) / wide * _CELLS, _CELLS - 1).astype(np.uint64)
    code = _apart(cells[:, 0]) | (_apart(cells[:, 1]) << np.uint64(1))
    return np.argsort(code, kind="stable")


def _apart(bits: NDArray[np.uint64]) -> NDArray[np.uint64]:
    """The low 16 bits of each number, with a free bit after each."""
    for shift, mask in ((8, 0x00FF00FF), (4, 0x0F0F0F0F), (2, 0x33333333), (1, 0x55555555)):
        bits = (bits | (bits << np.uint64(shift))) & np.uint64(mask)
    return bits
