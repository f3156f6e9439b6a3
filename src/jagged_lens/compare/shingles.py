# SPDX-License-Identifier: GPL-3.0-or-later
"""Shingles of four words: what near-duplicates are told by, on the text as gathered, whatever the weights hide.

Resemblance and containment as in Broder, "On the resemblance and containment of documents", 1997, on sets of shingles.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.clean import split
from jagged_lens.gather import Corpus
from jagged_lens.progress import Progress, portion, unheard

RUN = 4
EDITED_FROM = 0.4
HOLDS_FROM = 0.8
_PAIRS_AT_ONCE = 100_000


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
    """For each of n documents: wording (int32, equal where the word sequences are equal) and shingles (bool CSR, n × shingles)."""

    wording: NDArray[np.int32]
    sets: csr_array


def shingles_of(corpus: Corpus, progress: Progress = unheard) -> Shingles:
    """The sets of shingles of four consecutive words, lower case, nothing taken out; a shorter text is one run."""
    found = split(corpus.texts, progress=portion(progress, 0, 0.7))
    lower: dict[str, int] = {}
    number = np.array([lower.setdefault(form.lower(), len(lower) + 1) for form in found.forms], np.int64)
    word = number[found.form] if len(found.form) else np.zeros(0, np.int64)
    starts = found.row_starts
    lengths = np.diff(starts)
    wordings: dict[bytes, int] = {}
    spans = zip(starts[:-1].tolist(), starts[1:].tolist(), strict=True)
    wording = np.array([wordings.setdefault(word[s:e].tobytes(), len(wordings)) for s, e in spans], np.int32)

    document = np.repeat(np.arange(len(lengths)), lengths)
    position = np.arange(len(word)) - np.repeat(starts[:-1], lengths)
    begins = np.flatnonzero((position == 0) | (position <= lengths[document] - RUN))
    key = word[begins]
    for step in range(1, RUN):
        _, key = np.unique(key, return_inverse=True)
        inside = position[begins] + step < lengths[document[begins]]
        following = np.where(inside, word[np.minimum(begins + step, len(word) - 1)], 0) if len(word) else key
        key = key * (len(lower) + 1) + following
    different, run = np.unique(key, return_inverse=True)
    progress(0.9)
    matrix = csr_array((np.ones(len(run), np.int32), (document[begins], run)), shape=(len(lengths), len(different)))
    matrix.sum_duplicates()
    matrix.data[:] = 1
    return Shingles(wording, matrix)


def compared_by_runs(
    shingles: Shingles, first: NDArray[np.integer], second: NDArray[np.integer]
) -> tuple[NDArray[np.uint8], NDArray[np.float32]]:
    """The Kind of each pair of documents (p), and their resemblance. The first that applies: same, holds whole (all runs of one are in
    the other, which has more), edited, holds, subject. And their resemblance.

    first, second: int64 or int32, p rows of each; gives uint8 (p) and float32 (p).
    """
    sizes = np.diff(shingles.sets.indptr)
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
