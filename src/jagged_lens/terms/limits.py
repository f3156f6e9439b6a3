# SPDX-License-Identifier: GPL-3.0-or-later
"""The n-grams kept as terms, and why the others are not."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.clean import CleanSettings, Tokens, word_names
from jagged_lens.strings import Strings
from jagged_lens.terms.hashing import column_names, fold_columns, hashed_columns
from jagged_lens.terms.ngrams import NgramCounts
from jagged_lens.terms.settings import TermSettings
from jagged_lens.terms.spelled import Spelled, Terms

_AT_ONCE = 50_000
ALWAYS_KEEP, ALWAYS_DROP, UNLISTED = 1, 2, 4


class WhyNot(IntEnum):
    """The reason why a term is dropped; KEPT if it is kept."""

    KEPT = 0
    RARE = 1
    COMMON = 2
    LIMIT = 3
    DROPPED = 4
    UNLISTED = 5


@dataclass(frozen=True, eq=False)
class Vocabulary:
    """All T terms, kept or not, by times falling, then by code point.

    lengths: uint8, words in each; times: int32, how often in all; documents: int32, in how many; why_not: uint8, a
    WhyNot; named: uint8, on which lists it stands (ALWAYS_KEEP, ALWAYS_DROP, UNLISTED added up); None where there are none.
    """

    terms: Terms
    lengths: NDArray[np.uint8]
    times: NDArray[np.int32]
    documents: NDArray[np.int32]
    why_not: NDArray[np.uint8]
    named: NDArray[np.uint8] | None = None

    def __len__(self) -> int:
        return len(self.terms)


@dataclass(frozen=True, eq=False)
class TermCounts:
    """The number of times each of n documents holds each of m kept terms.

    counts: int32 CSR, n × m. kept: int64, the row of the vocabulary that each column is. terms: m strings, as terms are
    known; shown: m strings, each as it is written most often. rows: int32, the corpus row of each document.

    With hashed columns, kept is the commonest term of each column, terms and shown name all that fell into it, and column
    (int64, T) says of each term of the vocabulary in which it is counted, -1 for none; else column is None.
    """

    counts: csr_array
    vocabulary: Vocabulary
    kept: NDArray[np.int64]
    terms: Terms
    shown: Terms
    rows: NDArray[np.int32]
    column: NDArray[np.int64] | None = None

    def all_shown(self) -> Strings:
        """All T terms of the vocabulary: those that are kept as they are written most often, the others as they are counted.

        Where columns are hashed, all are as they are counted.
        """
        parts = []
        for first in range(0, len(self.vocabulary), _AT_ONCE):
            rows = np.arange(first, min(first + _AT_ONCE, len(self.vocabulary)))
            part = self.vocabulary.terms.take(rows)
            if self.column is None:
                columns = np.arange(*np.searchsorted(self.kept, (first, first + len(rows))))
                place = np.arange(len(rows))
                place[self.kept[columns] - first] = len(rows) + np.arange(len(columns))
                part = Strings.joined([part, self.shown.take(columns)]).take(place)
            parts.append(part)
        return Strings.joined(parts)

    def holders(self, column: int) -> NDArray[np.int64]:
        """The rows (int64) that hold what is counted in a column."""
        return np.flatnonzero(self.counts[:, [column]].toarray()[:, 0])

    def columns_of(self, wanted: NDArray[np.integer]) -> dict[str, int]:
        """The terms that are counted in some columns, and in which. wanted: int64 or int32, columns of the space."""
        if self.column is None:
            return {self.terms[int(column)]: int(column) for column in wanted}
        rows = np.flatnonzero(np.isin(self.column, wanted))
        return {self.vocabulary.terms[int(row)]: int(self.column[row]) for row in rows}


def why_not_kept(
    lengths: NDArray[np.uint8],
    times: NDArray[np.int32],
    documents: NDArray[np.int32],
    named: NDArray[np.uint8],
    n: int,
    settings: TermSettings,
) -> NDArray[np.uint8]:
    """The reason why each of T terms is dropped under the limits of `settings` (uint8, a WhyNot). The one place where that is decided.

    lengths, times, documents: of each term, by times falling. named: whether it stands on a list. n: of how many documents.
    Always drop wins over always keep, and both over all limits; an always kept term counts among the most terms.
    """
    shares = np.arange(n + 1) / max(n, 1)  # of so many documents: what holds of shares is told once, not for every term
    wanted = settings.least_of(n)
    least = int((shares < wanted).sum()) if wanted < 1 else wanted
    why_not = np.zeros(len(lengths), np.uint8)
    why_not[documents >= (shares <= settings.most_share).sum()] = WhyNot.COMMON
    why_not[(documents < least) | (times < settings.least_times)] = WhyNot.RARE
    why_not[(why_not == WhyNot.KEPT) & (named & UNLISTED > 0)] = WhyNot.UNLISTED
    dropped = named & ALWAYS_DROP > 0
    why_not[dropped] = WhyNot.DROPPED
    if settings.most_terms:
        each = np.unique(lengths).tolist() if settings.most_terms_of == "each-length" else [0]
        for length in each:
            within = np.flatnonzero((why_not == WhyNot.KEPT) & ((length == 0) | (lengths == length)))
            why_not[within[settings.most_terms :]] = WhyNot.LIMIT
    why_not[(named & ALWAYS_KEEP > 0) & ~dropped] = WhyNot.KEPT
    return why_not


def limit_terms(
    ngrams: NgramCounts,
    tokens: Tokens,
    settings: TermSettings,
    clean: CleanSettings,
    listed: tuple[str, ...] | None = None,
) -> TermCounts:
    """Keep the n-grams within the limits of `settings`; always keep and always drop win.

    Kept: documents >= least (a share of all n below 1), times >= least times, documents / n <= most share, then the
    most terms with the highest times. clean: how a listed word is brought to the form of a term.
    listed: the terms of `only_list`, if there is one.
    """
    named = np.zeros(len(ngrams.terms), np.uint8)
    if listed is not None:
        named[:] = UNLISTED
        named[_listed(listed, ngrams.terms, clean, tokens.codes)] = 0
    named[_listed(settings.always_drop, ngrams.terms, clean, tokens.codes)] |= ALWAYS_DROP
    named[_listed(settings.always_keep, ngrams.terms, clean, tokens.codes)] |= ALWAYS_KEEP
    why_not = why_not_kept(ngrams.lengths, ngrams.times, ngrams.documents, named, len(ngrams.rows), settings)

    kept = np.flatnonzero(why_not == WhyNot.KEPT)
    terms = ngrams.terms.at_rows(kept)
    counts = ngrams.counts(kept)
    vocabulary = Vocabulary(ngrams.terms, ngrams.lengths, ngrams.times, ngrams.documents, why_not, named)
    shown = _shown(ngrams, tokens, kept, terms, clean)
    if not settings.columns:
        return TermCounts(counts, vocabulary, kept, terms, shown, ngrams.rows)
    # Columns that hold anything, in the order of their commonest term.
    hashed = hashed_columns(terms, settings.columns)
    _, first, place = np.unique(hashed, return_index=True, return_inverse=True)
    order = np.argsort(first, kind="stable")
    rank = np.empty(len(order), np.int64)
    rank[order] = np.arange(len(order))
    to = rank[place] if len(place) else np.zeros(0, np.int64)
    column = np.full(len(why_not), -1, np.int64)
    column[kept] = to
    size = len(order)
    return TermCounts(
        fold_columns(counts, to, size),
        vocabulary,
        kept[first[order]],
        column_names(terms, to, size),
        column_names(shown, to, size),
        ngrams.rows,
        column,
    )


def _listed(entries: tuple[str, ...], terms: Terms, clean: CleanSettings, codes: tuple[str, ...]) -> NDArray[np.int64]:
    """The rows of the terms that are listed, as they are known or as they are written."""
    if not entries:
        return np.zeros(0, np.int64)
    formed = {entry: [" ".join(way) for way in word_names(entry.split(), clean, codes)] for entry in entries}
    row_of = terms.rows_of({*formed, *(way for ways in formed.values() for way in ways)})
    # A term by its own name is meant as it is; else the term that its words become.
    rows = {
        row_of.get(entry, -1) if entry in row_of else row_of.get(way, -1)
        for entry, ways in formed.items()
        for way in ways
    }
    return np.array(sorted(rows - {-1}), np.int64)


def _shown(ngrams: NgramCounts, tokens: Tokens, kept: NDArray[np.int64], terms: Terms, clean: CleanSettings) -> Terms:
    """The kept terms as they are shown: as they are written most often, runs of characters with their spaces visible."""
    if clean.tokens == "characters":
        return Strings.of(term.replace(" ", "␣") for term in terms)
    plain = clean.word_form == "written" and not (clean.own_rules or clean.word_lists)
    # The spellings of its words at the place of its example.
    if plain:
        return terms
    return Spelled(tokens.spellings.take(tokens.folded), ngrams.form, ngrams.example[kept], ngrams.lengths[kept])
