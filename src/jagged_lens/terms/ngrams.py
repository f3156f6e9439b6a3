"""Tokens to n-grams: every run of a to b kept tokens, counted by document.

A pair (n-gram of n - 1 words, next word) is packed into 64 bits and sorted; equal neighbours are one n-gram. Since
words are numbered by code point, and every character of a word comes after the space, the order of these numbers is the
order of the joined strings.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array, csr_array

from jagged_lens.clean import Reason, Tokens
from jagged_lens.progress import Progress, unheard
from jagged_lens.strings import Strings


@dataclass(frozen=True, eq=False)
class NgramCounts:
    """All T different n-grams of the n documents at `rows`, by times falling, then by code point.

    terms: T strings, words joined by one space. words: uint8, how many. times: int64, how often in all. documents:
    int32, in how many. counts: int32 CSR, n × T. example: int64, for each term the place, among the kept tokens, where it
    stands in its commonest spelling. spelling: int32, of each kept token, into `Tokens.spellings`.
    """

    rows: NDArray[np.int32]
    terms: Strings
    words: NDArray[np.uint8]
    times: NDArray[np.int64]
    documents: NDArray[np.int32]
    counts: csr_array
    example: NDArray[np.int64]
    spelling: NDArray[np.int32]


def count_ngrams(
    tokens: Tokens, rows: NDArray[np.int32], lengths: tuple[int, int], bridge: bool, progress: Progress = unheard
) -> NgramCounts:
    """Count the n-grams of lengths[0] to lengths[1] words in the documents at `rows`.

    An n-gram never crosses a sentence end or a document, and a token taken out by a rule of words (number, length, stop
    word) only with `bridge`. Stretches taken out before (markup, addresses) count as white space.
    """
    in_lens = np.zeros(len(tokens.row_starts) - 1, np.bool_)
    in_lens[rows] = True
    row_of_token = np.repeat(np.arange(len(in_lens), dtype=np.int32), np.diff(tokens.row_starts))
    kept = np.flatnonzero(tokens.kept & in_lens[row_of_token])
    place_of_row = np.full(len(in_lens), -1, np.int32)
    place_of_row[rows] = np.arange(len(rows), dtype=np.int32)
    document = place_of_row[row_of_token[kept]]

    alphabetical = sorted(range(len(tokens.words)), key=(words := list(tokens.words)).__getitem__)
    rank = np.empty(len(words), np.int64)
    rank[alphabetical] = np.arange(len(words))
    by_rank = [words[number] for number in alphabetical]
    word = rank[tokens.word[tokens.form[kept]]]
    spelling = tokens.folded[tokens.form[kept]]
    spelled_alike = len(np.unique(tokens.folded[tokens.word >= 0])) == len(words)
    follows = continues(tokens, kept, document, bridge)

    found: list[_Counted] = []
    documents_at, columns_at = [], []
    at = np.arange(len(kept))
    number = np.full(len(kept), -1, np.int64)  # of the n-gram that begins at each kept token
    total = 0
    for length in range(1, lengths[1] + 1):
        progress(0.6 * (length - 1) / lengths[1])
        if length == 1:
            key = word
        else:
            at = at[at + length - 1 < len(kept)]
            at = at[follows[at + length - 2]]
            key = number[at] * len(words) + word[at + length - 1]
        different, first, inverse = np.unique(key, return_index=True, return_inverse=True)
        if length == 1:
            strings = [by_rank[rank_] for rank_ in different.tolist()]
            parts = [different]
        else:
            before, last = np.divmod(different, len(words))
            tails = zip(before.tolist(), last.tolist(), strict=True)
            strings = [f"{strings[part]} {by_rank[rank_]}" for part, rank_ in tails]
            parts = [*(part[before] for part in parts), last]
        number = np.full(len(kept), -1, np.int64)
        number[at] = inverse
        if length >= lengths[0]:
            example = at[first] if spelled_alike else _commonest(inverse, at, length, spelling)
            found.append(_Counted(length, strings, np.bincount(inverse, minlength=len(different)), example, parts))
            documents_at.append(document[at])
            columns_at.append(inverse + total)
            total += len(different)
    progress(0.6)
    times = np.concatenate([one.times for one in found]).astype(np.int64)
    order = _order(found, times, lengths[1])
    all_strings = [string for one in found for string in one.strings]
    place = np.empty(total, np.int64)
    place[order] = np.arange(total)
    where = (np.concatenate(documents_at), place[np.concatenate(columns_at)])
    progress(0.8)
    counts = csr_array(coo_array((np.ones(len(where[0]), np.int32), where), shape=(len(rows), total)))
    counts.sum_duplicates()
    return NgramCounts(
        np.asarray(rows, np.int32),
        Strings.of([all_strings[at_] for at_ in order.tolist()]),
        np.concatenate([np.full(len(one.strings), one.length, np.uint8) for one in found])[order],
        times[order],
        np.bincount(counts.indices, minlength=total).astype(np.int32),
        counts,
        np.concatenate([one.example for one in found])[order],
        spelling,
    )


def continues(tokens: Tokens, kept: NDArray[np.int64], document: NDArray[np.int32], bridge: bool) -> NDArray[np.bool_]:
    """Of each kept token (places in `tokens`, and its document) whether the next kept one continues its run."""
    follows = np.zeros(len(kept), np.bool_)
    if len(kept) < 2:
        return follows
    ends = np.concatenate(([0], np.cumsum(tokens.sentence_end)))
    free = (document[1:] == document[:-1]) & (ends[kept[1:]] == ends[kept[:-1]])
    if not bridge:
        taken = (tokens.reason >= Reason.NUMBER) & (tokens.reason != Reason.JOINED)
        gone = np.concatenate(([0], np.cumsum(taken)))
        free &= gone[kept[1:]] == gone[kept[:-1]]
    follows[:-1] = free
    return follows


def _commonest(
    term: NDArray[np.int64], at: NDArray[np.int64], length: int, spelling: NDArray[np.int32]
) -> NDArray[np.int64]:
    """For each term a place where it is spelled in its commonest way; the way that comes first where several are."""
    way = spelling[at].astype(np.int64)
    for step in range(1, length):
        _, way = np.unique(way * (int(spelling.max()) + 1) + spelling[at + step], return_inverse=True)
    pairs, first, times = np.unique(term * (int(way.max(initial=0)) + 1) + way, return_index=True, return_counts=True)
    owner = pairs // (int(way.max(initial=0)) + 1)
    best_first = np.lexsort((first, -times, owner))
    leads = np.concatenate(([True], np.diff(owner[best_first]) > 0)) if len(owner) else np.zeros(0, np.bool_)
    return np.asarray(at[first[best_first[leads]]])


@dataclass(frozen=True)
class _Counted:
    """The different n-grams of one length: their strings, how often each occurs, an example, the numbers of their words."""

    length: int
    strings: list[str]
    times: NDArray[np.int64]
    example: NDArray[np.int64]
    parts: list[NDArray[np.int64]]


def _order(found: list[_Counted], times: NDArray[np.int64], longest: int) -> NDArray[np.int64]:
    """By times falling, then by code point: a shorter n-gram comes before those that continue it."""
    keys = []
    for place in range(longest):
        parts = [one.parts[place] if place < one.length else np.full(len(one.strings), -1, np.int64) for one in found]
        keys.append(np.concatenate(parts))
    return np.asarray(np.lexsort((*reversed(keys), -times)))
