# SPDX-License-Identifier: GPL-3.0-or-later
"""Rounds of k-means of several starts at once: a product with many columns costs little more than one with a few.

Rows are taken in the form in which such a round costs least: few rows as the table of all their cosines, of which a round multiplies only
what has moved; rows that are mostly filled as a dense array; all others as they are. Of parts of the same rows, equally many each, the
starts of all go through their rounds together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.group.grouping import mostly_filled
from jagged_lens.parallel import blocks, over_blocks

FEW_ROWS = 1_000
"""So many rows have a table of their cosines."""
_ROWS_AT_ONCE = 8_000
_TINY = 1e-24

_Found = tuple[NDArray[np.int64], NDArray[np.float32]]


class InRounds(Protocol):
    """n rows of length 1 that S starts go through. `own` is int64, n × S, the group of each row in each start. Groups of all starts
    together are numbered start · k + group."""

    def __len__(self) -> int:
        """The number of rows."""

    def to_rows(self, rows: NDArray[np.int64]) -> NDArray[np.float64]:
        """For each start the cosine of every row to one of them (float64, n × S). rows: int64, S."""

    def nearest_rows(self, chosen: NDArray[np.int64]) -> _Found:
        """For each start the nearest of its k rows and the cosine to it (n × S). chosen: int64, S × k."""

    def nearest_means(self, own: NDArray[np.int64], k: int, before: Sums | None) -> tuple[_Found, Sums | None]:
        """For each start the nearest centroid of its k groups (int64, n × S) and the cosine to it (float32). before: what the last round
        gave, of the same starts."""

    def quality(self, own: NDArray[np.int64], k: int) -> NDArray[np.float64]:
        """For each start the mean cosine of its rows to their centroids: Σ of the lengths of the groups' sums ÷ n (float64, S)."""

    def of(self, starts: NDArray[np.bool_]) -> InRounds:
        """For some of the starts alone: bool, S."""


@dataclass(eq=False)
class Sums:
    """The results of a round for S starts. The next round reuses the memory. own: int64, n × S. products: float32, n × S k, of every row
    with the sum of each group. lengths: float32, S k, of those sums. cosines: float32, room for the products divided by the lengths."""

    own: NDArray[np.int64]
    products: NDArray[np.float32]
    lengths: NDArray[np.float32]
    cosines: NDArray[np.float32]

    def of(self, starts: NDArray[np.bool_]) -> Sums:
        """For some of the starts only: bool, S."""
        columns = np.repeat(starts, self.products.shape[1] // len(starts))
        products = self.products[:, columns]
        return Sums(self.own[:, starts], products, self.lengths[columns], np.empty_like(products))


def table_of(x: csr_array) -> NDArray[np.float32]:
    """The cosines of all rows of length 1 with each other: float32, n × n, of a float64 CSR, n × m, with few rows."""
    return np.asarray((x @ x.T).toarray(), np.float32)


class TablesInRounds:
    """Rows by the tables of their cosines. tables: float32, P × n × n, of P parts. part: int64, S, rising, the part of each start."""

    def __init__(self, tables: NDArray[np.float32], part: NDArray[np.int64]) -> None:
        self._tables = tables
        self._part = part

    @classmethod
    def of_parts(cls, tables: Sequence[NDArray[np.float32]], starts: int) -> TablesInRounds:
        """For so many starts in each of some parts. tables: float32, n × n each."""
        return cls(np.stack(tables), np.repeat(np.arange(len(tables)), starts))

    def __len__(self) -> int:
        return len(self._tables[0])

    def of(self, starts: NDArray[np.bool_]) -> TablesInRounds:
        """For some of the starts alone: bool, S."""
        return TablesInRounds(self._tables, self._part[starts])

    def to_rows(self, rows: NDArray[np.int64]) -> NDArray[np.float64]:
        """The cosine of every row to one of each start: float64, n × S."""
        return self._tables[self._part, rows].T.astype(np.float64)

    def nearest_rows(self, chosen: NDArray[np.int64]) -> _Found:
        """The nearest of the k rows of each start (int64, n × S), and the cosine to it (float32)."""
        cosines = self._tables[self._part[:, None], chosen]  # starts × k × n, as each table is its own transpose
        return _nearest(np.ascontiguousarray(cosines.reshape(-1, len(self)).T), chosen.shape[1])

    def nearest_means(self, own: NDArray[np.int64], k: int, before: Sums | None) -> tuple[_Found, Sums | None]:
        """The nearest centroid in each start (int64, n × S), and the cosine to it (float32)."""
        found = self._sums(own, k, before)
        np.divide(found.products, found.lengths, out=found.cosines)
        return _nearest(found.cosines, k), found

    def quality(self, own: NDArray[np.int64], k: int) -> NDArray[np.float64]:
        """The mean cosine to the own centroid in each start: float64, S."""
        return _of_lengths(self._sums(own, k, None).lengths, k, len(self))

    def _sums(self, own: NDArray[np.int64], k: int, before: Sums | None) -> Sums:
        n, starts = own.shape
        products = before.products if before is not None else np.empty((n, starts * k), np.float32)
        edges = np.flatnonzero(np.diff(self._part, prepend=-1, append=len(self._tables)))
        for first, last in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
            table, some, columns = self._tables[self._part[first]], own[:, first:last], slice(first * k, last * k)
            was = before.own[:, first:last] if before is not None else some
            moved = np.flatnonzero((some != was).any(axis=1))
            if before is None:
                np.matmul(table, _members(some, k), out=products[:, columns])
            elif len(moved):
                products[:, columns] += table[moved].T @ (_members(some[moved], k) - _members(was[moved], k))
        cells = own + np.arange(starts) * k
        within = products[np.arange(n)[:, None], cells]
        squares = np.bincount(cells.ravel(), within.ravel(), minlength=starts * k)
        lengths = np.sqrt(np.maximum(squares, _TINY)).astype(np.float32)
        return Sums(own, products, lengths, before.cosines if before is not None else np.empty_like(products))


class RowsInRounds:
    """Rows as they are. x: float64 CSR, n × m; narrow: the same in single precision."""

    def __init__(self, x: csr_array) -> None:
        self.x = x
        self.narrow = x.astype(np.float32)
        self._dense: NDArray[np.float32] | None = self.narrow.toarray() if mostly_filled(x) else None

    def __len__(self) -> int:
        return int(self.x.shape[0])

    def of(self, starts: NDArray[np.bool_]) -> RowsInRounds:
        """For some of the starts alone: bool, S; the rows serve any."""
        return self

    def to_rows(self, rows: NDArray[np.int64]) -> NDArray[np.float64]:
        """The cosine of every row to one of each start: float64, n × S."""
        return np.asarray(self.x @ np.ascontiguousarray(self.x[rows].toarray().T))

    def nearest_rows(self, chosen: NDArray[np.int64]) -> _Found:
        """The nearest of the k rows of each start (int64, n × S), and the cosine to it (float32)."""
        return self._nearest_of(np.ascontiguousarray(self.narrow[chosen.ravel()].toarray().T), chosen.shape[1])

    def nearest_means(self, own: NDArray[np.int64], k: int, before: Sums | None) -> tuple[_Found, Sums | None]:
        """The nearest centroid in each start (int64, n × S), and the cosine to it (float32)."""
        sums = self._sums(own, k)
        lengths = np.sqrt(np.einsum("ij,ij->j", sums, sums))
        return self._nearest_of((sums / np.where(lengths > 0, lengths, 1)).astype(np.float32), k), None

    def quality(self, own: NDArray[np.int64], k: int) -> NDArray[np.float64]:
        """The mean cosine to the own centroid in each start: float64, S."""
        sums = self._sums(own, k)
        return _of_lengths(np.sqrt(np.einsum("ij,ij->j", sums, sums)), k, len(self))

    def _sums(self, own: NDArray[np.int64], k: int) -> NDArray[np.floating]:
        """The sum of the rows of each group (m × S k)."""
        if self._dense is not None:
            return np.asarray(self._dense.T @ _members(own, k))
        wide = own.shape[1] * k
        columns = own + np.arange(own.shape[1]) * k
        # Each cell's place is that of its row's group in its column's stretch: one count over all starts.
        base = self.x.indices.astype(np.int64) * wide
        cells = np.repeat(columns, np.diff(self.x.indptr), axis=0).T + base
        weights = np.broadcast_to(self.x.data, cells.shape)
        sums = np.bincount(cells.ravel(), weights.ravel(), minlength=self.x.shape[1] * wide)
        return np.asarray(sums.reshape(-1, wide), np.float64)

    def _nearest_of(self, across: NDArray[np.float32], k: int) -> _Found:
        rows = self._dense if self._dense is not None else self.narrow
        found = over_blocks(
            lambda block: _nearest(np.asarray(rows[block] @ across), k), blocks(len(self), _ROWS_AT_ONCE)
        )
        own, cosine = map(np.concatenate, zip(*found, strict=True))
        return own, cosine


def _of_lengths(lengths: NDArray[np.floating], k: int, n: int) -> NDArray[np.float64]:
    return np.asarray(lengths.reshape(-1, k).sum(axis=1, dtype=np.float64) / n)


def _members(own: NDArray[np.int64], k: int) -> NDArray[np.float32]:
    """1 where a row is in a group of a start: float32, n × S k."""
    member = np.zeros((own.shape[0], own.shape[1] * k), np.float32)
    member[np.arange(len(own))[:, None], own + np.arange(own.shape[1]) * k] = 1
    return member


def _nearest(cosines: NDArray[np.float32], k: int) -> _Found:
    own = cosines.reshape(len(cosines), -1, k).argmax(axis=2)
    columns = own + np.arange(own.shape[1]) * k
    return own, cosines[np.arange(len(own))[:, None], columns]
