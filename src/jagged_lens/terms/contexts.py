# SPDX-License-Identifier: GPL-3.0-or-later
"""A term in its contexts, lined up, and the collocates."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jagged_lens.distinct import distinct
from jagged_lens.gather import Corpus
from jagged_lens.terms.index import TermIndex
from jagged_lens.terms.log_likelihood import log_likelihood

_AROUND = 80  # characters on either side


@dataclass(frozen=True)
class Context:
    """row: of the corpus. start, end: in its text. left, term, right: the text, on one line."""

    row: int
    start: int
    end: int
    left: str
    term: str
    right: str


def contexts(corpus: Corpus, index: TermIndex, term: str, most: int = 1000) -> list[Context]:
    """The contexts of a term, in order of the documents; spread evenly if there are more."""
    places = index.places_of(term)
    if len(places) > most:
        places = places[np.linspace(0, len(places) - 1, most).round().astype(int)]
    length = len(term.split(" "))
    tokens = index.tokens
    found = []
    texts: dict[int, str] = {}
    for place in places.tolist():
        row = int(index.row[place])
        first, last = int(index.token[place]), int(index.token[place + length - 1])
        start, end = int(tokens.start[first]), int(tokens.start[last] + tokens.length[last])
        text = texts[row] if row in texts else texts.setdefault(row, corpus.texts[row])
        left, right = text[max(start - _AROUND, 0) : start], text[end : end + _AROUND]
        found.append(Context(row, start, end, *(" ".join(part.split("\n")) for part in (left, text[start:end], right))))
    return found


@dataclass(frozen=True)
class Collocate:
    """word: that stands in the same sentences, as it is written most often. together: in so many of them; ratio: G²."""

    word: str
    together: int
    ratio: float


def collocates(index: TermIndex, term: str, most: int = 30) -> list[Collocate]:
    """The words that stand in the same sentences as a term more often than by chance, by falling log-likelihood ratio.

    G² of the 2 × 2 table of sentences (Dunning, "Accurate methods for the statistics of surprise and coincidence", 1993);
    only words that are over-represented. The words of the term itself are left out.
    """
    places = index.places_of(term)
    if not len(places) or not len(index.sentence):
        return []
    width = np.int64(len(index.words))
    own = np.zeros(int(index.sentence[-1]) + 1, np.bool_)
    own[index.sentence[places]] = True
    beside = np.flatnonzero(own[index.sentence])
    pairs = distinct(index.sentence[beside] * width + index.word[beside])
    together = np.bincount(pairs % width, minlength=int(width)).astype(np.float64)
    for part in term.split(" "):
        together[index.words[part]] = 0
    ratio = log_likelihood(together, index.sentences_of, float(own.sum()), float(index.sentence_count))
    best = np.lexsort((np.arange(int(width)), -ratio))[:most]
    return [
        Collocate(_shown(index, index.tokens.words[int(at)]), int(together[at]), float(ratio[at]))
        for at in best
        if ratio[at] > 0
    ]


@dataclass(frozen=True)
class Phrase:
    """Two words, one after the other, so many times; shown: as they are written most often. ratio: G²."""

    words: tuple[str, str]
    shown: str
    times: int
    ratio: float


def phrases(index: TermIndex, least: int = 5, most: int = 200) -> list[Phrase]:
    """Pairs of neighbouring words that follow each other more often than by chance, by falling log-likelihood ratio.

    least: so many times. The table is that of all neighbouring pairs: how often each word is the first, and the second.
    """
    at = np.flatnonzero(index.follows)
    if not len(at):
        return []
    width = np.int64(len(index.words))
    pairs, times = np.unique(index.word[at].astype(np.int64) * width + index.word[at + 1], return_counts=True)
    first = np.bincount(index.word[at], minlength=int(width)).astype(np.float64)
    second = np.bincount(index.word[at + 1], minlength=int(width)).astype(np.float64)
    enough = times >= least
    pairs, times = pairs[enough], times[enough]
    ratio = log_likelihood(times.astype(np.float64), second[pairs % width], first[pairs // width], float(len(at)))
    best = np.lexsort((pairs, -ratio))[:most]
    words = index.tokens.words
    found = []
    for i in best[ratio[best] > 0]:
        pair = (words[int(pairs[i] // width)], words[int(pairs[i] % width)])
        found.append(Phrase(pair, _shown(index, " ".join(pair)), int(times[i]), float(ratio[i])))
    return found


def _shown(index: TermIndex, term: str) -> str:
    ways = written_forms(index, term, 1)
    return ways[0][0] if ways else term


def written_forms(index: TermIndex, term: str, most: int = 12) -> list[tuple[str, int]]:
    """The ways in which a term is written, with how often, most first."""
    places = index.places_of(term)
    length = len(term.split(" "))
    tokens = index.tokens
    if not len(places):
        return []
    spelled = np.stack([tokens.folded[tokens.form[index.token[places + step]]] for step in range(length)])
    spelled = spelled[:, np.lexsort(spelled[::-1])]
    first = np.ones(len(places), np.bool_)
    first[1:] = (spelled[:, 1:] != spelled[:, :-1]).any(axis=0)
    ways, counts = spelled[:, first], np.diff(np.append(np.flatnonzero(first), len(places)))
    order = np.argsort(-counts, kind="stable")[:most]
    return [(" ".join(tokens.spellings[int(n)] for n in ways[:, at]), int(counts[at])) for at in order]
