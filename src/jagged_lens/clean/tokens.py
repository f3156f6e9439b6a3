# SPDX-License-Identifier: GPL-3.0-or-later
"""The tokens of a corpus, each kept or taken for one reason, and the account of what was taken."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.take_out import Reason
from jagged_lens.language import CODES, UNKNOWN, most_common
from jagged_lens.strings import Strings


@dataclass(frozen=True)
class Loss:
    """One line of the account: the rule, how many tokens it took, how many were left after it."""

    rule: Reason
    taken: int
    left: int


@dataclass(frozen=True, eq=False)
class Tokens:
    """All t tokens of n documents, kept or not.

    row_starts: int64, n + 1. Of each token: form (int32, into the tables of forms), start and length (int32, its span
    in code points in the document's text), reason (uint8, a Reason), sentence_end (bool, one lies between it and the
    next). Of each form: written (as in the text), folded (int32 into `spellings`: after case, accents and elisions), word
    (int32 into `words`: after stems; -1 where the form is taken). words: what terms are made of. account: how many tokens each
    rule took. hits: of each rule that works on stretches of text, how many of them it took or replaced. recurring: lines that
    recur, and sentences, and in how many documents. languages: int8, n, the likely language of each document, an index into
    language.CODES, or UNKNOWN. language: code of the one by which words were read, "" where it is not known; each: whether every document
    was read in its own; characters: whether terms are to be runs of characters.
    """

    row_starts: NDArray[np.int64]
    form: NDArray[np.int32]
    start: NDArray[np.int32]
    length: NDArray[np.int32]
    reason: NDArray[np.uint8]
    sentence_end: NDArray[np.bool_]
    written: Strings
    folded: NDArray[np.int32]
    word: NDArray[np.int32]
    spellings: Strings
    words: Strings
    account: tuple[Loss, ...]
    hits: tuple[tuple[str, int], ...] = ()
    recurring: tuple[tuple[str, int], ...] = ()
    languages: NDArray[np.int8] = field(default_factory=lambda: np.zeros(0, np.int8))
    language: str = ""
    each: bool = False
    characters: bool = False

    @property
    def main(self) -> int:
        """The language that most documents are in, an index into CODES; UNKNOWN where none is known."""
        return most_common(self.languages, CODES.index(self.language) if self.language else UNKNOWN)

    @property
    def codes(self) -> tuple[str, ...]:
        """The codes of the languages by which words were read."""
        if not self.each:
            return (self.language,)
        there = (CODES[at] for at in np.unique(self.languages).tolist() if at != UNKNOWN)
        return tuple(dict.fromkeys((self.language, *there)))

    @property
    def kept(self) -> NDArray[np.bool_]:
        """For each token, True if it is kept: bool."""
        return np.asarray(self.reason == Reason.KEPT)

    def kept_by_row(self) -> NDArray[np.int64]:
        """The number of tokens each document keeps: int64."""
        return np.diff(np.concatenate(([0], np.cumsum(self.kept)))[self.row_starts])


def account(reasons: NDArray[np.uint8]) -> tuple[Loss, ...]:
    """The account of losses: all tokens, then each rule that took some, in the order of the work. The last `left` is kept.

    reasons: uint8, the Reason of each token.
    """
    by_reason = np.bincount(reasons, minlength=len(Reason))
    left = len(reasons)
    lines = [Loss(Reason.KEPT, 0, left)]
    for rule in Reason:
        if rule != Reason.KEPT and by_reason[rule]:
            left -= int(by_reason[rule])
            lines.append(Loss(rule, int(by_reason[rule]), left))
    return tuple(lines)
