# SPDX-License-Identifier: GPL-3.0-or-later
"""The text that a rule of Clean removed, in its context."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import Reason, Tokens
from jagged_lens.gather import Corpus

_AROUND = 60  # characters on either side
_GAP = 3  # tokens of one stretch stand no farther apart


@dataclass(frozen=True)
class Hit:
    """row: of the corpus. start, end: in its text. before, taken, after: the text itself, on one line."""

    row: int
    start: int
    end: int
    before: str
    taken: str
    after: str


def rule_hits(corpus: Corpus, tokens: Tokens, reason: Reason, most: int = 300) -> list[Hit]:
    """Examples of what a rule took, spread evenly over the documents; tokens of one stretch are one hit."""
    at = np.flatnonzero(tokens.reason == reason)
    if not len(at):
        return []
    row = np.searchsorted(tokens.row_starts, at, "right") - 1
    ends = tokens.start[at] + tokens.length[at]
    whole = reason < Reason.NUMBER or reason == Reason.NEVER
    apart = np.ones(len(at), np.bool_)
    if whole and len(at) > 1:
        apart[1:] = (row[1:] != row[:-1]) | (np.diff(at) > 1) | (tokens.start[at[1:]] - ends[:-1] > _GAP)
    first = np.flatnonzero(apart)
    last = np.concatenate((first[1:], [len(at)])) - 1
    chosen = np.unique(np.linspace(0, len(first) - 1, min(most, len(first))).round().astype(int))
    return [_hit(corpus, int(row[first[i]]), int(tokens.start[at[first[i]]]), int(ends[last[i]])) for i in chosen]


def _hit(corpus: Corpus, row: int, start: int, end: int) -> Hit:
    text = corpus.texts[row]
    before, after = text[max(start - _AROUND, 0) : start], text[end : end + _AROUND]
    return Hit(row, start, end, *(" ".join(part.split("\n")) for part in (before, text[start:end], after)))


def cleaned_spans(tokens: Tokens, row: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """The positions of kept and removed tokens in a document; spans in code points, each int64, k × 2."""
    own = slice(int(tokens.row_starts[row]), int(tokens.row_starts[row + 1]))
    start = tokens.start[own].astype(np.int64)
    spans = np.column_stack((start, start + tokens.length[own]))
    reason = tokens.reason[own]
    # A part of a phrase is not gone: the phrase before it covers its place.
    return spans[reason == Reason.KEPT], spans[(reason != Reason.KEPT) & (reason != Reason.JOINED)]
