# SPDX-License-Identifier: GPL-3.0-or-later
"""Rules that the collection itself suggests: words that are nearly everywhere, and likely spelling variants."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.take_out import Reason
from jagged_lens.clean.tokens import Tokens
from jagged_lens.clean.variants import spelling_variants
from jagged_lens.clean.word_forms import is_known_word
from jagged_lens.distinct import distinct
from jagged_lens.language import UNKNOWN, negations

_SHARE = 0.3
_MOST_WORDS = 25
_MOST_VARIANTS = 60


@dataclass(frozen=True)
class Suggestion:
    """rule: as a list of own rules writes it. why: in words. documents: how many it would touch."""

    rule: str
    why: str
    documents: int


def suggestions(tokens: Tokens, share: float = _SHARE) -> list[Suggestion]:
    """Words in at least `share` of all documents, most first, to be never used; then variants to be merged.

    Variants are those of the language of most documents: a word that a dictionary knows is none, nor is one that stands in documents of
    another language alone.
    """
    rows = len(tokens.row_starts) - 1
    kept = np.flatnonzero(tokens.reason == Reason.KEPT)
    if not len(kept):
        return []
    row = np.searchsorted(tokens.row_starts, kept, "right") - 1
    spelling = tokens.folded[tokens.form[kept]].astype(np.int64)
    pairs = distinct(row * np.int64(len(tokens.spellings)) + spelling)
    documents = np.bincount(pairs % len(tokens.spellings), minlength=len(tokens.spellings))
    times = np.bincount(spelling, minlength=len(tokens.spellings))
    found = []
    for number in np.argsort(-documents, kind="stable")[:_MOST_WORDS].tolist():
        if documents[number] < max(share * rows, 2):
            break
        word = tokens.spellings[number]
        if word in negations(tokens.language):
            continue  # a switch of its own
        why = f"in {documents[number] / rows:.0%} of the documents, so it hardly distinguishes them"
        found.append(Suggestion(f"never: {word.replace('_', ' ')}", why, int(documents[number])))
    used = np.flatnonzero(times)
    words = list(tokens.spellings.take(used))
    foreign = _in_other_languages(tokens, kept, row, spelling)
    for rare, common in spelling_variants(words, times[used], most=_MOST_VARIANTS):
        if foreign[used[rare]] or is_known_word(words[rare], tokens.language):
            continue
        why = f"{times[used[rare]]:,} × beside {times[used[common]]:,} ×, one letter apart"
        found.append(Suggestion(f"{words[rare]} = {words[common]}", why, int(documents[used[rare]])))
    return found


def _in_other_languages(
    tokens: Tokens, kept: NDArray[np.int64], row: NDArray[np.int64], spelling: NDArray[np.int64]
) -> NDArray[np.bool_]:
    """For each spelling, True if it occurs only in documents in another language than most."""
    count = len(tokens.spellings)
    if not len(tokens.languages):
        return np.zeros(count, np.bool_)
    main = tokens.main
    own = (tokens.languages == main) | (tokens.languages == UNKNOWN)
    inside = np.bincount(spelling[own[row]], minlength=count)
    return np.asarray((np.bincount(spelling, minlength=count) > 0) & (inside == 0))
