# SPDX-License-Identifier: GPL-3.0-or-later
"""Shingles of four words: what near-duplicates are told by, on the text as gathered, whatever the weights hide.

Resemblance and containment as in Broder, "On the resemblance and containment of documents", 1997, on sets of shingles.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from enum import IntEnum
from hashlib import blake2b

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.clean import split
from jagged_lens.compare.index_kind import index_kind
from jagged_lens.gather import Corpus
from jagged_lens.mixing import mixed
from jagged_lens.parallel import blocks
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.strings import Strings

RUN = 4
EDITED_FROM = 0.4
HOLDS_FROM = 0.8
_PAIRS_AT_ONCE = 100_000
_ROWS_AT_ONCE = 8_000


class Kind(IntEnum):
    """The kind of near-duplicate that two documents are."""

    SAME = 0
    EDITED = 1
    HOLDS = 2
    SUBJECT = 3


KINDS_LONG = ("word for word the same", "some words changed", "one contains the other", "same topic, other wording")
"""The kinds in words, in their order."""


@dataclass(frozen=True, eq=False)
class Shingles:
    """The runs of words of n documents, told apart by 64 bits.

    wording: int32, n, equal where the word sequences are equal. sizes: int32, n, how many different runs each has. sets: int32 CSR of ones,
    n × r, of the runs that two documents or more have: no other can be common to any.
    """

    wording: NDArray[np.int32]
    sizes: NDArray[np.int32]
    sets: csr_array


def shingles_of(corpus: Corpus, progress: Progress = unheard) -> Shingles:
    """The sets of shingles of four consecutive words, lower case, nothing taken out; a shorter text is one run."""
    texts = corpus.texts if isinstance(corpus.texts, Strings) else Strings.of(corpus.texts)
    parts = [_Runs.of(texts.between(block.start, block.stop)) for block in _told(len(texts), portion(progress, 0, 0.8))]
    wordings = np.concatenate([np.zeros(0, np.uint64), *(part.wording for part in parts)])
    sizes = np.concatenate([np.zeros(0, np.int32), *(part.sizes for part in parts)])
    runs = np.concatenate([np.zeros(0, np.uint64), *(part.runs for part in parts)])
    del parts
    ordered = np.sort(runs)
    again = ordered[1:][ordered[1:] == ordered[:-1]]
    shared = again[np.diff(again, prepend=again[:1] - np.uint64(1)) > 0]
    del ordered, again
    progress(0.9)
    columns, counts = [np.zeros(0, np.int32)], [np.zeros(0, np.int32)]
    ends = np.concatenate(([0], np.cumsum(sizes, dtype=np.int64)))
    for block in blocks(len(sizes), _ROWS_AT_ONCE):
        own = runs[ends[block.start] : ends[block.stop]]
        column = np.minimum(np.searchsorted(shared, own), max(len(shared) - 1, 0))
        there = shared[column] == own if len(shared) else np.zeros(len(own), np.bool_)
        columns.append(column[there].astype(np.int32))
        kept = np.concatenate(([0], np.cumsum(there)))[ends[block.start : block.stop + 1] - ends[block.start]]
        counts.append(np.diff(kept).astype(np.int32))
    column, starts = np.concatenate(columns), np.concatenate(([0], np.cumsum(np.concatenate(counts), dtype=np.int64)))
    index = index_kind(starts)
    sets = csr_array(
        (np.ones(len(column), np.int32), column.astype(index, copy=False), starts.astype(index)),
        shape=(len(sizes), len(shared)),
    )
    return Shingles(_numbered(wordings), sizes, sets)


@dataclass(frozen=True, eq=False)
class _Runs:
    """The wordings and runs of a block of documents, as numbers that tell them apart.

    wording: uint64, b. sizes: int32, b, the different runs of each. runs: uint64, those of one document after the other, each document's
    rising.
    """

    wording: NDArray[np.uint64]
    sizes: NDArray[np.int32]
    runs: NDArray[np.uint64]

    @classmethod
    def of(cls, texts: Strings) -> _Runs:
        found = split(texts)
        digests = b"".join(
            blake2b(form.lower().encode("utf-8", "surrogatepass"), digest_size=8).digest() for form in found.forms
        )
        word = np.frombuffer(digests, np.uint64)[found.form] if len(found.form) else np.zeros(0, np.uint64)
        starts = found.row_starts
        lengths = np.diff(starts)
        document = np.repeat(np.arange(len(lengths)), lengths)
        position = np.arange(len(word)) - np.repeat(starts[:-1], lengths)
        placed = np.concatenate((np.zeros(1, np.uint64), np.cumsum(mixed(word + mixed(position.astype(np.uint64))))))
        wording = placed[starts[1:]] - placed[starts[:-1]]  # sums of 64 bits, of which the overflow does not matter
        begins = np.flatnonzero((position == 0) | (position <= lengths[document] - RUN))
        run = mixed(word[begins])
        for step in range(1, RUN):
            inside = position[begins] + step < lengths[document[begins]]
            following = np.where(inside, word[np.minimum(begins + step, len(word) - 1)], 0) if len(word) else run
            run = mixed(run + following)
        owner = document[begins]
        order = np.lexsort((run, owner))
        owner, run = owner[order], run[order]
        new = np.ones(len(run), np.bool_)
        new[1:] = (owner[1:] != owner[:-1]) | (run[1:] != run[:-1])
        sizes = np.bincount(owner[new], minlength=len(lengths)).astype(np.int32)
        return cls(wording, sizes, run[new])


def _told(documents: int, progress: Progress) -> Iterator[slice]:
    """Blocks of documents, telling how many are done."""
    for block in blocks(documents, _ROWS_AT_ONCE):
        progress(block.start / documents)
        yield block


def _numbered(wordings: NDArray[np.uint64]) -> NDArray[np.int32]:
    """A number for each different one, by where it comes first (int32)."""
    _, first, of = np.unique(wordings, return_index=True, return_inverse=True)
    number = np.empty(len(first), np.int32)
    number[np.argsort(first)] = np.arange(len(first), dtype=np.int32)
    return number[of]


def compared_by_runs(
    shingles: Shingles, first: NDArray[np.integer], second: NDArray[np.integer]
) -> tuple[NDArray[np.uint8], NDArray[np.float32]]:
    """The Kind of each pair of documents (p), and their resemblance. The first that applies: same, holds whole (all runs of one are in
    the other, which has more), edited, holds, subject. And their resemblance.

    first, second: int64 or int32, p rows of each; gives uint8 (p) and float32 (p).
    """
    sizes = shingles.sizes
    kinds = np.full(len(first), Kind.SUBJECT, np.uint8)
    resemblance = np.zeros(len(first), np.float32)
    for start in range(0, len(first), _PAIRS_AT_ONCE):
        part_ = slice(start, start + _PAIRS_AT_ONCE)
        a, b = first[part_], second[part_]
        common = np.asarray(shingles.sets[a].multiply(shingles.sets[b]).sum(axis=1)).ravel()
        either = sizes[a] + sizes[b] - common
        smaller = np.minimum(sizes[a], sizes[b])
        own = kinds[part_]
        own[common / np.maximum(smaller, 1) >= HOLDS_FROM] = Kind.HOLDS
        resembling = common / np.maximum(either, 1)
        own[resembling >= EDITED_FROM] = Kind.EDITED
        own[(common == smaller) & (common < np.maximum(sizes[a], sizes[b])) & (common > 0)] = Kind.HOLDS
        own[(shingles.wording[a] == shingles.wording[b]) & (smaller > 0)] = Kind.SAME
        resemblance[part_] = resembling
    return kinds, resemblance
