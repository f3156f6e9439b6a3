# SPDX-License-Identifier: GPL-3.0-or-later
"""A chosen number of columns by hashing: for streams and huge vocabularies, and readable all the same.

The column of a term is its hash modulo the number of columns: h = sum of (byte_i + 1) * B^i modulo 2^64 over its UTF-8 bytes, then mixed
(the finaliser of splitmix64; Steele, Lea and Flood, "Fast splittable pseudorandom number generators", 2014). It depends on
nothing but the term, so that documents that come later fall into the same columns. Counts of terms that share a column are
added (Weinberger and others, "Feature hashing for large scale multitask learning", 2009, without their signs, which would
make counts unreadable).
"""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.mixing import mixed
from jagged_lens.strings import Strings
from jagged_lens.terms.spelled import Terms

_BASE = np.uint64(0x100000001B3)
_NAMED = 3


def hashed_columns(terms: Terms, columns: int) -> NDArray[np.int64]:
    """The column, from 0 to columns - 1, of each term. int64, one for each term."""
    terms = terms.take(np.arange(len(terms)))
    lengths = np.diff(terms.starts)
    hashes = np.zeros(len(terms), np.uint64)
    filled = np.flatnonzero(lengths)
    if len(filled):
        first = terms.starts[:-1] - terms.starts[0]
        data = terms.data[terms.starts[0] : terms.starts[-1]].astype(np.uint64)
        powers = np.multiply.accumulate(np.concatenate(([np.uint64(1)], np.full(int(lengths.max()), _BASE))))
        place = np.arange(len(data)) - np.repeat(first[filled], lengths[filled])
        hashes[filled] = np.add.reduceat((data + np.uint64(1)) * powers[place], first[filled])
    return (mixed(hashes) % np.uint64(columns)).astype(np.int64)


def fold_columns(counts: csr_array, to: NDArray[np.int64], columns: int) -> csr_array:
    """Counts with the columns that `to` sends to one place added up.

    counts: int32 CSR, n × T. to: int64, T, a column for each term. Gives int32 CSR, n × columns.
    """
    sender = csr_array((np.ones(len(to), np.int32), (np.arange(len(to)), to)), shape=(len(to), columns))
    folded = csr_array(counts @ sender)
    folded.sort_indices()
    return folded


def column_names(terms: Terms, column: NDArray[np.int64], columns: int) -> Strings:
    """The name of each column: its terms, in the order in which they come, the first three of them.

    column: int64, one for each term.
    """
    order = np.argsort(column, kind="stable")
    bounds = np.searchsorted(column[order], np.arange(columns + 1)).tolist()
    names = []
    for start, end in itertools.pairwise(bounds):
        own = [terms[int(at)] for at in order[start : min(end, start + _NAMED)]]
        names.append(" | ".join(own) + (f" | +{end - start - _NAMED}" if end - start > _NAMED else ""))
    return Strings.of(names)
