"""Which documents hold a term, and how often: term by term, so that a few of many terms are quickly taken out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_array, csr_array

_BITS = 63  # of a number that is not negative


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
        """The columns of counts, documents × terms."""
        columns = csc_array(counts)
        columns.sort_indices()
        sizes = np.diff(columns.indptr).astype(np.int32)
        return cls(columns.indptr[:-1].astype(np.int64), sizes, columns.indices, columns.data.astype(np.int32))

    def at(self, terms: NDArray[np.integer]) -> Postings:
        """The terms at some places, in that order; the entries are shared."""
        return Postings(self.starts[terms], self.sizes[terms], self.document, self.count)

    def within(self, inside: NDArray[np.bool_]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """Of each term how often it occurs in some of the documents, and in how many of them."""
        there = inside[self.document]
        ends = self.starts + self.sizes
        sums = []
        for of_entry in (np.where(there, self.count, 0), there):
            running = np.concatenate((np.zeros(1, np.int64), np.cumsum(of_entry, dtype=np.int64)))
            sums.append(running[ends] - running[self.starts])
        return sums[0], sums[1]

    def counts(self, terms: NDArray[np.integer], once: NDArray[np.int32], documents: int) -> csr_array:
        """How often each document holds each of some terms, and of terms behind them that stand once in one document each:
        int32 CSR, documents × all of these terms."""
        sizes = self.sizes[terms].astype(np.int64)
        bounds = np.concatenate((np.zeros(1, np.int64), np.cumsum(sizes)))
        entries = np.repeat(self.starts[terms] - bounds[:-1], sizes)
        entries += np.arange(bounds[-1])
        count = np.concatenate((self.count[entries], np.ones(len(once), np.int32)))
        document = np.concatenate((self.document[entries], once))
        sizes = np.concatenate((sizes, np.ones(len(once), np.int64)))
        return _by_document(document, sizes, count, documents)


def _by_document(
    document: NDArray[np.int32], sizes: NDArray[np.int64], count: NDArray[np.int32], documents: int
) -> csr_array:
    """Entries that stand term by term, so many of each, as documents × terms.

    An entry is packed into one number (document, term, count) and sorted: no write goes far, which the usual transposition of
    a sparse matrix spends its time on.
    """
    of_count = int(count.max(initial=1)).bit_length()
    of_term = max(len(sizes) - 1, 1).bit_length()
    starts = np.zeros(documents + 1, np.int32)
    np.cumsum(np.bincount(document, minlength=documents), out=starts[1:])
    shape = (documents, len(sizes))
    if of_count + of_term + documents.bit_length() > _BITS:
        ends = np.concatenate((np.zeros(1, np.int32), np.cumsum(sizes, dtype=np.int32)))
        return csc_array((count, document, ends), shape=shape).tocsr()
    entry = document.astype(np.int64)
    entry <<= of_term
    entry |= np.repeat(np.arange(len(sizes)), sizes)
    entry <<= of_count
    entry |= count
    entry.sort()
    count = (entry & ((1 << of_count) - 1)).astype(np.int32)
    entry >>= of_count
    entry &= (1 << of_term) - 1
    return csr_array((count, entry.astype(np.int32), starts), shape=shape)
