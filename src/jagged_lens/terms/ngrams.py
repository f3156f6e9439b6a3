# SPDX-License-Identifier: GPL-3.0-or-later
"""Tokens to n-grams: every run of a to b kept tokens, counted by document.

Words are numbered by code point, and every character of a word comes after the space, so that the order of (n-gram of n - 1
words, next word) is the order of the joined strings. Places are sorted by their word and cut into parts between words: an
n-gram stays in the part of its first word, so that the parts are counted apart, on all threads, each in the processor's own
memory. Within one, (n-gram before, next word, place) is packed into 64 bits and sorted; runs then give n-grams, documents and
counts at once. What occurs once goes on to n-grams that occur once: it is never sorted again. Strings are spelled when they
are looked at.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.clean import Reason, Tokens
from jagged_lens.parallel import over_blocks
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.terms.postings import Postings
from jagged_lens.terms.spelled import Spelled, Terms

_PART = 250_000  # places


@dataclass(frozen=True, eq=False)
class NgramCounts:
    """All T different n-grams of the n documents at `rows`, by times falling, then by code point.

    terms: T strings, words joined by one space. lengths: uint8, words in each. times: int32, how often in all. documents:
    int32, in how many. postings: of the first terms, which documents hold them and how often; the others occur once, in the
    document (int32, of each kept token) of their example. example: int32, for each term the place, among the kept tokens, where
    it stands in its commonest spelling. form: int32, of each kept token, into `Tokens.folded`.
    """

    rows: NDArray[np.int32]
    terms: Terms
    lengths: NDArray[np.uint8]
    times: NDArray[np.int32]
    documents: NDArray[np.int32]
    postings: Postings
    document: NDArray[np.int32]
    example: NDArray[np.int32]
    form: NDArray[np.int32]

    def counts(self, terms: NDArray[np.int64]) -> csr_array:
        """The number of times each document holds each of some terms, which are in rising order: int32 CSR, n × terms."""
        several = int(np.searchsorted(terms, len(self.postings)))
        return self.postings.counts(terms[:several], self.document[self.example[terms[several:]]], len(self.rows))

    def holders(self, term: int) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
        """The documents (0 to n - 1) that hold a term, and how often each does.

        Two of int32, one for each such document.
        """
        if term >= len(self.postings):
            return self.document[self.example[term : term + 1]], np.ones(1, np.int32)
        start = int(self.postings.starts[term])
        own = slice(start, start + int(self.postings.sizes[term]))
        return self.postings.document[own], self.postings.count[own]

    def within(self, inside: NDArray[np.bool_]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """The number of times each of the T terms occurs in some of the n documents, and in how many of them.

        inside: bool, n. Gives two of int64, T of each.
        """
        once = inside[self.document[self.example[len(self.postings) :]]].astype(np.int64)
        times, documents = self.postings.within(inside)
        return np.concatenate((times, once)), np.concatenate((documents, once))


def count_ngrams(
    tokens: Tokens, rows: NDArray[np.int32], lengths: tuple[int, int], bridge: bool, progress: Progress = unheard
) -> NgramCounts:
    """Count the n-grams of lengths[0] to lengths[1] words in the documents at `rows`.

    An n-gram never crosses a sentence end or a document, and a token taken out by a rule of words (number, length, stop word)
    only with `bridge`. Stretches taken out before (markup, addresses) count as white space. rows: int32, n corpus rows, rising.
    """
    place_of_row = np.full(len(tokens.row_starts) - 1, -1, np.int32)
    place_of_row[rows] = np.arange(len(rows), dtype=np.int32)
    document_of_token = np.repeat(place_of_row, np.diff(tokens.row_starts))
    kept = np.flatnonzero(tokens.kept & (document_of_token >= 0))
    document, form = document_of_token[kept], tokens.form[kept]

    vocabulary = len(tokens.words)
    alphabetical = tokens.words.in_order()
    rank = np.full(vocabulary + 1, -1, np.int32)  # the last for forms without a word
    rank[alphabetical] = np.arange(vocabulary, dtype=np.int32)
    runs = _Runs(
        rank[tokens.word][form],
        form,
        tokens.folded,
        document,
        _reach(continues(tokens, kept, document, bridge), lengths[1]),
        _varied(tokens)[alphabetical],
        lengths,
    )
    progress(0.1)
    parts = list(
        over_blocks(lambda one: _count(runs, *one), _blocks(runs.word, vocabulary), portion(progress, 0.15, 0.85))
    )
    times = np.concatenate([one.times for one in parts])
    most = int(times.max(initial=0))
    _, order = in_order(most - times.astype(np.int64), most)
    words = np.concatenate(
        [np.concatenate([one.lengths for one in parts])[order], *(one.once_lengths for one in parts)]
    )
    example = np.concatenate(
        [np.concatenate([one.example for one in parts])[order], *(one.once_example for one in parts)]
    )
    postings = Postings.joined([one.postings for one in parts]).at(order)
    once = np.ones(len(words) - len(order), np.int32)
    return NgramCounts(
        np.asarray(rows, np.int32),
        Spelled(tokens.words.take(alphabetical), runs.word, example, words),
        words,
        np.concatenate((times[order], once)),
        np.concatenate((postings.sizes, once)),
        postings,
        document,
        example,
        form,
    )


@dataclass(frozen=True, eq=False)
class _Runs:
    """For each of k kept tokens: word (int32, rank by code point), form (int32), document (int32), reach (uint8, how many words the
    longest n-gram has that begins there). folded: the spelling of each form. varied: bool, of each word whether it is spelled in several
    ways."""

    word: NDArray[np.int32]
    form: NDArray[np.int32]
    folded: NDArray[np.int32]
    document: NDArray[np.int32]
    reach: NDArray[np.uint8]
    varied: NDArray[np.bool_]
    lengths: tuple[int, int]

    @property
    def vocabulary(self) -> int:
        """The number of words there are."""
        return len(self.varied)


@dataclass(frozen=True, eq=False)
class _Block:
    """The n-grams of one part: the repeated ones by code point (words, occurrences, places, documents), and the single ones by code point
    (words, place)."""

    lengths: NDArray[np.uint8]
    times: NDArray[np.int32]
    example: NDArray[np.int32]
    postings: Postings
    once_lengths: NDArray[np.uint8]
    once_example: NDArray[np.int32]


@dataclass(frozen=True, eq=False)
class _Level:
    """The different n-grams of one length that go on from n-grams that occur more than once, in the order of their strings: the number of
    the n-gram of all their words but the last, among those of the level before. How often each occurs, where, and how many words the
    longest n-gram has that begins there. And the documents of those that occur more than once."""

    before: NDArray[np.int64]
    times: NDArray[np.int32]
    example: NDArray[np.int32]
    reach: NDArray[np.uint8]
    postings: Postings


def in_order(key: NDArray[np.int64], most: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Keys from 0 to `most` in rising order, and where each stood; alike ones stay in their order.

    Packed with its place into one number where both fit: that sorts several times as fast as an order does. key: int64, k of
    them; gives two of int64, k of each.
    """
    bits = max(len(key) - 1, 1).bit_length()
    if most.bit_length() + bits > 63:
        order = np.argsort(key, kind="stable")
        return key[order], order
    both = key << bits
    both |= np.arange(len(key))
    both.sort()
    order = both & ((1 << bits) - 1)
    both >>= bits
    return both, order


def _ranked(key: NDArray[np.int64]) -> NDArray[np.int64]:
    """The rank of each key among the different ones."""
    rising, order = in_order(key, int(key.max()))
    rank = np.empty(len(key), np.int64)
    rank[order] = np.cumsum(np.diff(rising, prepend=rising[:1]) > 0)
    return rank


def _reach(follows: NDArray[np.bool_], longest: int) -> NDArray[np.uint8]:
    """The number of words the longest n-gram has that begins at each place."""
    reach = np.ones(len(follows), np.uint8)
    for _ in range(longest - 1):
        reach[:-1] = 1 + follows[:-1] * reach[1:]
    return reach


def _varied(tokens: Tokens) -> NDArray[np.bool_]:
    """For each of `Tokens.words` whether it is spelled in several ways."""
    word = np.full(len(tokens.spellings), -1, np.int64)
    word[tokens.folded] = tokens.word  # a spelling has one word
    return np.asarray(np.bincount(word[word >= 0], minlength=len(tokens.words)) > 1)


def _blocks(word: NDArray[np.int32], vocabulary: int) -> list[tuple[NDArray[np.int64], NDArray[np.int32]]]:
    """All words in rising order and their places, cut between words into parts of about one size."""
    if not len(word):
        return [(np.zeros(0, np.int64), np.zeros(0, np.int32))]
    # The transpose of a matrix with one entry a row is a counting sort.
    rows = np.arange(len(word) + 1, dtype=np.int32)
    by_word = csr_array((np.ones(len(word), np.uint8), word, rows), shape=(len(word), vocabulary)).tocsc()
    ends, at = by_word.indptr[1:], by_word.indices
    cuts = np.unique(np.searchsorted(ends, np.arange(_PART, len(at) + _PART, _PART)).clip(max=vocabulary - 1) + 1)
    bounds = itertools.pairwise([0, *cuts.tolist()])
    return [
        (
            np.arange(first, last).repeat(np.diff(by_word.indptr[first : last + 1])),
            at[slice(*by_word.indptr[[first, last]])],
        )
        for first, last in bounds
    ]


def _count(runs: _Runs, word: NDArray[np.int64], places: NDArray[np.int32]) -> _Block:
    """Count the n-grams that begin at some places: all those of some words, in rising order, by word, then by place."""
    shortest, longest = runs.lengths
    levels: list[_Level] = []
    at = places.astype(np.int64)
    number = word  # of the n-gram of one word less, at each place
    # Far reads are slow: what is known of a place is read once and goes with it.
    reach = runs.reach[at]
    varied = runs.varied[word]
    for length in range(1, longest + 1):
        key = number
        if length > 1:  # words are in order already
            following = runs.word[at + length - 1]
            varied |= runs.varied[following]
            key, order = in_order(
                number * runs.vocabulary + following, (int(number.max(initial=0)) + 1) * runs.vocabulary
            )
            at, reach, varied = at[order], reach[order], varied[order]
        begins = np.ones(len(key), np.bool_)
        np.not_equal(key[1:], key[:-1], out=begins[1:])
        first = np.flatnonzero(begins)
        times = np.diff(first, append=len(at)).astype(np.int32)
        example = at[first].astype(np.int32)
        # From here on only what occurs more than once.
        alone = begins.copy()
        alone[:-1] &= begins[1:]
        again = np.flatnonzero(~alone)
        number = (np.cumsum(begins) - 1)[again]
        of_first = reach[first]
        at, begins, reach, varied = at[again], begins[again], reach[again], varied[again]
        if length < shortest:
            postings = Postings.none(int((times > 1).sum()))
        else:
            postings = _postings(runs.document[at], begins)
            example = _commonest(runs, number, varied, example, at, length)
        levels.append(_Level(key[first] // max(runs.vocabulary, 1), times, example, of_first, postings))
        goes_on = np.flatnonzero(reach > length)
        at, number, reach, varied = at[goes_on], number[goes_on], reach[goes_on], varied[goes_on]
    return _by_code_point(runs, levels)


def _postings(document: NDArray[np.int32], begins: NDArray[np.bool_]) -> Postings:
    """The documents of terms that stand at places one after the other, from their documents and where terms begin."""
    enters = begins.copy()
    enters[1:] |= document[1:] != document[:-1]
    entries = np.flatnonzero(enters)
    starts = np.flatnonzero(begins[entries])
    return Postings(
        starts,
        np.diff(starts, append=len(entries)).astype(np.int32),
        document[entries],
        np.diff(entries, append=len(document)).astype(np.int32),
    )


def _by_code_point(runs: _Runs, levels: list[_Level]) -> _Block:
    """The n-grams of all lengths in the order of their strings: a shorter one comes just before those that go on from it.
    They are a tree, so that is its order from the root, worked out from the sizes of its branches."""
    shortest, longest = runs.lengths
    sizes = [np.ones(len(one.times), np.int64) for one in levels]
    bounds = []  # of each n-gram, between which n-grams of the next length those stand that go on from it
    for length in range(len(levels) - 1, 0, -1):
        bound = np.zeros(len(sizes[length - 1]) + 1, np.int64)
        np.cumsum(np.bincount(levels[length].before, minlength=len(bound) - 1), out=bound[1:])
        running = np.concatenate((np.zeros(1, np.int64), np.cumsum(sizes[length])))
        sizes[length - 1] += np.diff(running[bound])
        bounds.append(bound)
    places = [np.cumsum(sizes[0]) - sizes[0]]
    for one, size, bound in zip(levels[1:], sizes[1:], reversed(bounds), strict=True):
        earlier = np.cumsum(size) - size
        base = places[-1] + 1 - np.append(earlier, 0)[bound[:-1]]
        places.append(base[one.before] + earlier)
    node = np.empty(int(sizes[0].sum()), np.int64)
    end = 0
    for place in places:
        node[place] = np.arange(end, end + len(place))
        end += len(place)
    times = np.concatenate([one.times for one in levels])[node]
    words = np.repeat(np.arange(1, longest + 1, dtype=np.uint8), [len(one.times) for one in levels])[node]
    example = np.concatenate([one.example for one in levels])[node]

    several = np.flatnonzero((times > 1) & (words >= shortest))
    of_level = np.cumsum(np.concatenate([one.times for one in levels]) > 1) - 1
    # What occurs once is followed by all that goes on from it, to the reach of its place.
    once = np.flatnonzero(times == 1)
    begin = np.maximum(words[once], shortest)
    reach = np.concatenate([one.reach for one in levels])[node[once]]
    more = np.maximum(reach.astype(np.int64) + 1 - begin, 0)
    step = np.arange(more.sum()) - np.repeat(np.cumsum(more) - more, more)
    return _Block(
        words[several],
        times[several],
        example[several],
        Postings.joined([one.postings for one in levels]).at(of_level[node[several]]),
        (np.repeat(begin, more) + step).astype(np.uint8),
        np.repeat(example[once], more),
    )


def continues(tokens: Tokens, kept: NDArray[np.int64], document: NDArray[np.int32], bridge: bool) -> NDArray[np.bool_]:
    """For each kept token (places in `tokens`, and its document) whether the next kept one continues its run.

    kept: int64, document: int32, k of each; gives bool (k).
    """
    follows = np.zeros(len(kept), np.bool_)
    if len(kept) < 2:
        return follows
    breaks = tokens.sentence_end
    if not bridge:
        breaks = breaks | ((tokens.reason >= Reason.NUMBER) & (tokens.reason != Reason.JOINED))
    # No kept token is gone itself, so that the breaks before two of them are as many if there is none between them.
    before = np.cumsum(breaks, dtype=np.int32)
    before = before[kept] - breaks[kept]
    follows[:-1] = (document[1:] == document[:-1]) & (before[1:] == before[:-1])
    return follows


def _commonest(
    runs: _Runs,
    term: NDArray[np.int64],
    varied: NDArray[np.bool_],
    example: NDArray[np.int32],
    at: NDArray[np.int64],
    length: int,
) -> NDArray[np.int32]:
    """For each term a place where it is spelled in its commonest way; the way that comes first where several are.

    term: of each place `at`, terms in order, their places rising; varied: of each place, whether the term may be spelled in
    other ways; example: of each term its first place.
    """
    chosen = np.flatnonzero(varied)
    term, at = term[chosen], at[chosen]
    if not len(at):
        return example
    way = runs.folded[runs.form[at]].astype(np.int64)
    for step in range(1, length):
        way = _ranked(way * (int(runs.folded.max()) + 1) + runs.folded[runs.form[at + step]])
    width = int(way.max()) + 1
    key, order = in_order(term * width + way, (int(term[-1]) + 1) * width)
    ways = np.flatnonzero(np.concatenate(([True], key[1:] != key[:-1])))
    counts, firsts, owner = np.diff(ways, append=len(key)), at[order[ways]], key[ways] // width
    best = np.lexsort((firsts, -counts, owner))
    leads = best[np.concatenate(([True], np.diff(owner[best]) > 0))]
    example = example.copy()
    example[owner[leads]] = firsts[leads]
    return example
