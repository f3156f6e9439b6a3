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
    word = rank[tokens.word[tokens.form[kept]]]
    spelling = tokens.folded[tokens.form[kept]]
    spelled_alike = len(np.unique(tokens.folded[tokens.word >= 0])) == len(words)
    follows = continues(tokens, kept, document, bridge)

    levels: list[_Level] = []
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
        before, last = (np.zeros(0, np.int64), different) if length == 1 else np.divmod(different, len(words))
        number = np.full(len(kept), -1, np.int64)
        number[at] = inverse
        times = np.bincount(inverse, minlength=len(different))
        wanted = length >= lengths[0]
        example = at[first]
        if wanted and not spelled_alike:
            example = _commonest(inverse, times, example, at, length, spelling)
        levels.append(_Level(before, last, times, example))
        if wanted:
            documents_at.append(document[at])
            columns_at.append(inverse + total)
            total += len(different)
    progress(0.6)
    found = levels[lengths[0] - 1 :]
    times = np.concatenate([one.times for one in found]).astype(np.int64)
    preorder = np.concatenate(_preorder(levels)[lengths[0] - 1 :])
    order = np.argsort((times.max(initial=0) - times) * (preorder.max(initial=0) + 1) + preorder, kind="stable")
    place = np.empty(total, np.int64)
    place[order] = np.arange(total)
    where = (np.concatenate(documents_at), place[np.concatenate(columns_at)])
    progress(0.75)
    counts = csr_array(coo_array((np.ones(len(where[0]), np.int32), where), shape=(len(rows), total)))
    counts.sum_duplicates()
    progress(0.9)
    sizes = np.concatenate(
        [np.full(len(one.last), length, np.uint8) for length, one in enumerate(levels, 1)][lengths[0] - 1 :]
    )
    return NgramCounts(
        np.asarray(rows, np.int32),
        _joined_words(levels, lengths[0], Strings.of(words[number_] for number_ in alphabetical), order, sizes[order]),
        sizes[order],
        times[order],
        np.bincount(counts.indices, minlength=total).astype(np.int32),
        counts,
        np.concatenate([one.example for one in found])[order],
        spelling,
    )


@dataclass(frozen=True, eq=False)
class _Level:
    """The different n-grams of one length, in the order of their strings: the number of the n-gram of all their words but the
    last among those of the length before, the rank of the last word, how often each occurs, and where."""

    before: NDArray[np.int64]
    last: NDArray[np.int64]
    times: NDArray[np.int64]
    example: NDArray[np.int64]


def _preorder(levels: list[_Level]) -> list[NDArray[np.int64]]:
    """The place of each n-gram in the order of the strings of all lengths: a shorter one comes just before those that go on
    from it. The n-grams are a tree, so that is its order from the root, worked out from the sizes of its branches."""
    sizes = [np.ones(len(one.last), np.int64) for one in levels]
    for length in range(len(levels) - 1, 0, -1):
        sizes[length - 1] += np.bincount(levels[length].before, sizes[length], minlength=len(sizes[length - 1])).astype(
            np.int64
        )
    places = [np.cumsum(sizes[0]) - sizes[0]]
    for length in range(1, len(levels)):
        before = levels[length].before
        earlier = np.cumsum(sizes[length]) - sizes[length]
        first = np.searchsorted(before, before, "left")
        places.append(places[-1][before] + 1 + earlier - earlier[first] if len(before) else np.zeros(0, np.int64))
    return places


def _joined_words(
    levels: list[_Level], shortest: int, words: Strings, order: NDArray[np.int64], sizes: NDArray[np.uint8]
) -> Strings:
    """The strings of the n-grams of all lengths from the shortest, in an order: their words, joined by one space."""
    longest = len(levels)
    columns: list[NDArray[np.int32]] = []  # of each length: ranks of the words, n-grams x length
    for length, one in enumerate(levels, 1):
        ranks = np.empty((len(one.last), length), np.int32)
        ranks[:, -1] = one.last
        if length > 1:
            ranks[:, :-1] = columns[-1][one.before]
        columns.append(ranks)
    matrix = np.full((len(order), longest), -1, np.int32)
    at = 0
    for length in range(shortest, longest + 1):
        ranks = columns[length - 1]
        matrix[at : at + len(ranks), :length] = ranks
        at += len(ranks)
    matrix = matrix[order]
    return words.spaced(matrix[matrix >= 0], sizes.astype(np.int64))


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
    term: NDArray[np.int64],
    times: NDArray[np.int64],
    example: NDArray[np.int64],
    at: NDArray[np.int64],
    length: int,
    spelling: NDArray[np.int32],
) -> NDArray[np.int64]:
    """For each term a place where it is spelled in its commonest way; the way that comes first where several are.

    term: of each place `at`; times: of each term; example: a place of each. A term that occurs once has one way alone.
    """
    several = times[term] > 1
    term, at = term[several], at[several]
    if not len(at):
        return example
    way = spelling[at].astype(np.int64)
    for step in range(1, length):
        _, way = np.unique(way * (int(spelling.max()) + 1) + spelling[at + step], return_inverse=True)
    width = int(way.max(initial=0)) + 1
    pairs, first, counts = np.unique(term * width + way, return_index=True, return_counts=True)
    owner = pairs // width
    best_first = np.lexsort((first, -counts, owner))
    leads = np.concatenate(([True], np.diff(owner[best_first]) > 0))
    example = example.copy()
    example[owner[best_first[leads]]] = at[first[best_first[leads]]]
    return example
