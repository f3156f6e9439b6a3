# SPDX-License-Identifier: GPL-3.0-or-later
"""The positions of the terms of a document in its text."""

from __future__ import annotations

from array import array
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import Tokens
from jagged_lens.terms import TermCounts, TermSettings, continues


@dataclass(frozen=True, eq=False)
class Marks:
    """k places of kept terms in a document's text: column (int64), start and end (code points), in order of start."""

    column: NDArray[np.int64]
    start: NDArray[np.int64]
    end: NDArray[np.int64]


def term_marks(tokens: Tokens, terms: TermCounts, settings: TermSettings, row: int) -> Marks:
    """Every place in the text of lens row `row` where one of its kept terms stands."""
    counts = terms.counts
    own = counts.indices[counts.indptr[row] : counts.indptr[row + 1]]
    column_of = terms.columns_of(own)
    at = int(terms.rows[row])
    span = slice(int(tokens.row_starts[at]), int(tokens.row_starts[at + 1]))
    kept = np.flatnonzero(tokens.kept[span]) + span.start
    words = [tokens.words[int(number)] for number in tokens.word[tokens.form[kept]]]
    follows = continues(tokens, kept, np.zeros(len(kept), np.int32), settings.bridge)
    if any(term.startswith(" ") or term.endswith(" ") for term in column_of):
        return _run_marks(tokens, kept, words, column_of, settings)
    shortest, longest = settings.words
    follow, ends = follows.tolist(), len(kept)
    # Packed numbers: of a whole book these are hundreds of thousands, which a list of tuples would hold the window up with.
    columns, begins, lasts = array("q"), array("q"), array("q")
    for first in range(ends):
        for length in range(1, longest + 1):
            last = first + length - 1
            if last >= ends or (length > 1 and not follow[last - 1]):
                break
            column = column_of.get(" ".join(words[first : last + 1]), -1) if length >= shortest else -1
            if column >= 0:
                columns.append(column)
                begins.append(first)
                lasts.append(last)
    first_token, last_token = (kept[np.frombuffer(places, np.int64)] for places in (begins, lasts))
    ended = tokens.start[last_token].astype(np.int64) + tokens.length[last_token]
    return Marks(np.frombuffer(columns, np.int64), tokens.start[first_token].astype(np.int64), ended)


def _run_marks(
    tokens: Tokens, kept: NDArray[np.int64], words: list[str], column_of: dict[str, int], settings: TermSettings
) -> Marks:
    """Of terms that are runs of characters: the words that hold any, each marked once for the longest of its runs."""
    found = []
    for place, word in zip(kept.tolist(), words, strict=True):
        padded = f" {word} "
        runs = (
            padded[at : at + length]
            for length in range(settings.words[1], settings.words[0] - 1, -1)
            for at in range(len(padded) - length + 1)
        )
        column = next((column_of[run] for run in runs if run in column_of), -1)
        if column >= 0:
            found.append((column, tokens.start[place], tokens.start[place] + tokens.length[place]))
    marks = np.array(found, np.int64).reshape(-1, 3)
    return Marks(marks[:, 0], marks[:, 1], marks[:, 2])


def unshared_words(tokens: Tokens, row: int, other: int) -> list[tuple[int, int]]:
    """The kept words of corpus row `row` that the text of `other` does not have in any form: spans in code points."""
    own = np.arange(tokens.row_starts[row], tokens.row_starts[row + 1])
    own = own[tokens.kept[own]]
    theirs = tokens.form[tokens.row_starts[other] : tokens.row_starts[other + 1]]
    alone = own[~np.isin(tokens.word[tokens.form[own]], tokens.word[theirs])]
    return [
        (int(start), int(start + length))
        for start, length in zip(tokens.start[alone], tokens.length[alone], strict=True)
    ]
