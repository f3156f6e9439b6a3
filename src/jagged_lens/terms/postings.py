# SPDX-License-Identifier: GPL-3.0-or-later
"""The documents that contain a term, and how often: term by term, so that a few of many terms are quickly extracted."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_array, csr_array

from jagged_lens.parallel import over_blocks

_PARTS = 8  # that are turned round at a time, whatever the number of threads
_BITS, _SHORT_BITS = 64, 32


@dataclass(frozen=True, eq=False)
class Postings:
    """Of T terms: starts (int64) and sizes (int32), which entries are theirs. Of each entry: document (int32, rising within a
    term) and count (int32, how often it holds the term).

    Zobel & Moffat, "Inverted files for text search engines", 2006.
    """

    starts: NDArray[np.int64]
    sizes: NDArray[np.int32]
    document: NDArray[np.int32]
    count: NDArray[np.int32]

    def __len__(self) -> int:
        return len(self.starts)

    @classmethod
    def none(cls, terms: int) -> Postings:
        """Terms without entries."""
        nothing = np.zeros(0, np.int32)
        return cls(np.zeros(terms, np.int64), np.zeros(terms, np.int32), nothing, nothing)

    @classmethod
    def joined(cls, several: Sequence[Postings]) -> Postings:
        """The terms of several, one after the other."""
        several = several or [cls.none(0)]
        ends = np.cumsum([len(one.document) for one in several])
        return cls(
            np.concatenate([one.starts + (end - len(one.document)) for one, end in zip(several, ends, strict=True)]),
            np.concatenate([one.sizes for one in several]),
            np.concatenate([one.document for one in several]),
            np.concatenate([one.count for one in several]),
        )

    @classmethod
    def of_columns(cls, counts: csr_array) -> Postings:
        """The columns of counts, documents × terms. counts: int32 CSR, n × T."""
        columns = csc_array(counts)
        columns.sort_indices()
        sizes = np.diff(columns.indptr).astype(np.int32)
        return cls(columns.indptr[:-1].astype(np.int64), sizes, columns.indices, columns.data.astype(np.int32))

    def at(self, terms: NDArray[np.integer]) -> Postings:
        """The terms at some places, in that order; the entries are shared.

        terms: integers, places among the T terms, int64 or int32.
        """
        return Postings(self.starts[terms], self.sizes[terms], self.document, self.count)

    def within(self, inside: NDArray[np.bool_]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """For each term how often it occurs in some of the documents, and in how many of them.

        inside: bool, one for each document. Gives two of int64, T of each.
        """
        there = inside[self.document]
        ends = self.starts + self.sizes
        sums = []
        for of_entry in (np.where(there, self.count, 0), there):
            running = np.concatenate((np.zeros(1, np.int64), np.cumsum(of_entry, dtype=np.int64)))
            sums.append(running[ends] - running[self.starts])
        return sums[0], sums[1]

    def counts(self, terms: NDArray[np.integer], once: NDArray[np.int32], documents: int) -> csr_array:
        """The number of times each document holds each of some terms, and of terms behind them that stand once in one document each:
        int32 CSR, documents × all of these terms.

        Parts of the terms are turned round on all threads, and laid beside each other document by document.
        """
        sizes = self.sizes[terms].astype(np.int64)
        bounds = np.concatenate((np.zeros(1, np.int64), np.cumsum(sizes)))
        edges = np.searchsorted(bounds, np.linspace(0, bounds[-1], _PARTS + 1)).tolist()
        edges[-1] = len(terms)

        def turned(span: tuple[int, int]) -> _Block:
            if span[0] == len(terms):
                ones = np.ones(len(once), np.int64)
                return _by_document(once, ones, ones.astype(np.int32), span[0], documents)
            own, starts = sizes[slice(*span)], bounds[span[0] : span[1] + 1] - bounds[span[0]]
            entries = np.repeat(self.starts[terms[slice(*span)]] - starts[:-1], own)
            entries += np.arange(starts[-1])
            return _by_document(self.document[entries], own, self.count[entries], span[0], documents)

        spans = [span for span in itertools.pairwise(edges) if span[0] < span[1]] + [(len(terms), len(terms))]
        parts = list(over_blocks(turned, spans))
        starts = np.zeros(documents + 1, np.int64)
        np.cumsum(sum(part.sizes for part in parts), out=starts[1:])
        column, count = np.empty(starts[-1], np.int32), np.empty(starts[-1], np.int32)

        def lay(part: tuple[_Block, NDArray[np.int64]]) -> None:
            own, begins = part
            places = np.repeat(begins - np.cumsum(own.sizes) + own.sizes, own.sizes)
            places += np.arange(len(places))
            column[places], count[places] = own.column, own.count

        before = np.cumsum([starts[:-1], *(part.sizes for part in parts)], axis=0)
        list(over_blocks(lay, list(zip(parts, before, strict=False))))
        return csr_array((count, column, starts), shape=(documents, len(terms) + len(once)))


@dataclass(frozen=True, eq=False)
class _Block:
    """Entries of some terms, document by document: column and count (int32) of each; sizes (int64): how many each document has."""

    column: NDArray[np.int32]
    count: NDArray[np.int32]
    sizes: NDArray[np.int64]


def _by_document(
    document: NDArray[np.int32], sizes: NDArray[np.int64], count: NDArray[np.int32], first: int, documents: int
) -> _Block:
    """Entries that stand term by term, so many of each from the column `first` on, document by document.

    An entry is packed into one number (document, term, count) and sorted: no write goes far, which the usual transposition of
    a sparse matrix spends its time on.
    """
    per_document = np.bincount(document, minlength=documents)
    of_count = int(count.max(initial=1)).bit_length()
    of_term = max(len(sizes) - 1, 1).bit_length()
    bits = of_count + of_term + documents.bit_length()
    if bits > _BITS:
        term = np.repeat(np.arange(first, first + len(sizes), dtype=np.int32), sizes)
        order = np.argsort(document, kind="stable")
        return _Block(term[order], count[order], per_document)
    kind = np.uint32 if bits <= _SHORT_BITS else np.uint64
    entry: NDArray[Any] = document.astype(kind)
    entry <<= of_term
    entry |= np.repeat(np.arange(len(sizes), dtype=kind), sizes)
    entry <<= of_count
    entry |= count.astype(kind)
    entry.sort()
    count = (entry & ((1 << of_count) - 1)).astype(np.int32)
    entry >>= of_count
    entry &= (1 << of_term) - 1
    column = entry.astype(np.int32)
    column += first
    return _Block(column, count, per_document)
