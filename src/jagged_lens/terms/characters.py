# SPDX-License-Identifier: GPL-3.0-or-later
"""Runs of characters within words, in place of n-grams of words: for text without spaces, noise, or typing errors."""

from __future__ import annotations

from collections import Counter

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.clean import Tokens
from jagged_lens.progress import Progress, unheard
from jagged_lens.strings import Strings
from jagged_lens.terms.ngrams import NgramCounts
from jagged_lens.terms.postings import Postings


def count_character_runs(
    tokens: Tokens, rows: NDArray[np.int32], lengths: tuple[int, int], progress: Progress = unheard
) -> NgramCounts:
    """Count the runs of lengths[0] to lengths[1] characters of every kept word, with one space before and after it.

    Each word is taken apart once; documents x words times words x runs gives the counts. A run of spaces alone is none. rows:
    int32, n corpus rows, rising.
    """
    in_lens = np.full(len(tokens.row_starts) - 1, -1, np.int64)
    in_lens[rows] = np.arange(len(rows))
    document = in_lens[np.repeat(np.arange(len(in_lens)), np.diff(tokens.row_starts))]
    kept = np.flatnonzero(tokens.kept & (document >= 0))
    word = tokens.word[tokens.form[kept]]
    shape = (len(rows), len(tokens.words))
    by_word = csr_array((np.ones(len(kept), np.int64), (document[kept], word)), shape=shape)
    used = np.unique(word)
    number_of: dict[str, int] = {}
    places: list[int] = []
    counts: list[int] = []
    starts = [0]
    for done, number in enumerate(used.tolist()):
        if done % 5000 == 0:
            progress(0.6 * done / max(len(used), 1))
        padded = f" {tokens.words[number]} "
        runs = Counter(
            padded[at : at + length]
            for length in range(lengths[0], lengths[1] + 1)
            for at in range(len(padded) - length + 1)
        )
        runs.pop(" ", None)
        places += [number_of.setdefault(run, len(number_of)) for run in runs]
        counts += runs.values()
        starts.append(len(places))
    of_word = csr_array(
        (np.array(counts, np.int64), np.array(places, np.int64), np.array(starts)), shape=(len(used), len(number_of))
    )
    progress(0.7)
    product = csr_array(by_word[:, used] @ of_word)
    terms = list(number_of)
    times = np.asarray(product.sum(axis=0)).ravel().astype(np.int64)
    order = np.array(sorted(range(len(terms)), key=lambda at: (-int(times[at]), terms[at])), np.int64)
    product = csr_array(product[:, order])
    ordered = [terms[at] for at in order.tolist()]
    return NgramCounts(
        np.asarray(rows, np.int32),
        Strings.of(ordered),
        np.array([len(term) for term in ordered], np.uint8),
        times[order].astype(np.int32),
        np.bincount(product.indices, minlength=len(terms)).astype(np.int32),
        Postings.of_columns(product),
        np.zeros(0, np.int32),
        np.full(len(terms), -1, np.int32),
        np.zeros(0, np.int32),
    )
