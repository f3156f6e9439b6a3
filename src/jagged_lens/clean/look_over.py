# SPDX-License-Identifier: GPL-3.0-or-later
"""A look over the documents before anything is computed with them: what needs attention."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntFlag

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.tokens import Tokens
from jagged_lens.gather import Corpus
from jagged_lens.language import CODES, NAMES, UNKNOWN, is_spaceless

_FAR = 3.0  # interquartile ranges of the logarithm of the length, outside the quartiles
_LEAST_RANGE = 0.35
_ENOUGH = 12  # documents, below which nothing is unusual


class Flag(IntFlag):
    """The flags of a document: what is unusual about it."""

    EMPTY = 1
    SAME = 2
    LANGUAGE = 4
    LONG = 8
    SHORT = 16
    REPLACED = 32
    SPACELESS = 64


@dataclass(frozen=True, eq=False)
class Overview:
    """For n documents: words (int64, how many), flags (uint8, Flag), language (int8, index into CODES, or UNKNOWN).

    main: the language that most are in, UNKNOWN where none is known. unit: what `words` counts, words or characters.
    """

    words: NDArray[np.int64]
    flags: NDArray[np.uint8]
    language: NDArray[np.int8]
    main: int
    unit: str = "word"

    def rows(self, flag: Flag) -> NDArray[np.int64]:
        """The rows of the documents with a flag: int64, rising."""
        return np.flatnonzero(self.flags & np.uint8(flag))

    def language_name(self, row: int) -> str:
        """The likely language of the document at a row, in words."""
        return _name(int(self.language[row]))

    @property
    def main_name(self) -> str:
        """The language that most are in, in words; "" where none is known."""
        return _name(self.main)

    def other_languages(self) -> list[tuple[str, NDArray[np.int64]]]:
        """Each language that documents in another than most are in, in words, with their rows (int64, rising): most documents first."""
        rows = self.rows(Flag.LANGUAGE)
        codes, counts = np.unique(self.language[rows], return_counts=True)
        most_first = codes[np.argsort(-counts, kind="stable")].tolist()
        return [(_name(code), rows[self.language[rows] == code]) for code in most_first]


def _name(code: int) -> str:
    return NAMES[CODES[code]] if code != UNKNOWN else ""


def sizes_of(tokens: Tokens) -> tuple[NDArray[np.int64], str]:
    """The length of each document (int64, n), and its unit: words, or characters if most are in a script without spaces."""
    words = np.diff(tokens.row_starts)
    main = tokens.main
    if main == UNKNOWN or not is_spaceless(CODES[main]):
        return words, "word"
    sums = np.concatenate(([0], np.cumsum(tokens.length, dtype=np.int64)))
    return np.diff(sums[tokens.row_starts]), "character"


def look_over(corpus: Corpus, tokens: Tokens, wording: NDArray[np.int32]) -> Overview:
    """The flags of each document: what needs attention.

    wording: int32, equal where the word sequences of two documents are equal. Empty: without a word. Same: the words are
    those of another document, one after the other. Language: known, and not that of most. Long, short: ln(words) lies more
    than three interquartile ranges outside the quartiles (Tukey, "Exploratory data analysis", 1977). Replaced: holds
    U+FFFD, which stands for what could not be read. Spaceless: in a language without spaces between words, read as words.
    """
    words, unit = sizes_of(tokens)
    flags = np.zeros(len(words), np.uint8)
    flags[words == 0] |= np.uint8(Flag.EMPTY)
    if len(wording):
        times = np.bincount(wording)
        flags[(times[wording] > 1) & (words > 0)] |= np.uint8(Flag.SAME)
    language = tokens.languages if len(tokens.languages) else np.full(len(words), UNKNOWN, np.int8)
    main = tokens.main
    flags[(language != UNKNOWN) & (language != main)] |= np.uint8(Flag.LANGUAGE)
    filled = words > 0
    if filled.sum() >= _ENOUGH:
        size = np.log(np.maximum(words, 1))
        low, high = np.quantile(size[filled], (0.25, 0.75))
        far = _FAR * max(high - low, _LEAST_RANGE)
        flags[filled & (size > high + far)] |= np.uint8(Flag.LONG)
        flags[filled & (size < low - far)] |= np.uint8(Flag.SHORT)
    mark = np.frombuffer("\ufffd".encode(), np.uint8)
    data = corpus.texts.data
    if len(data) >= 3:
        at = np.flatnonzero((data[:-2] == mark[0]) & (data[1:-1] == mark[1]) & (data[2:] == mark[2]))
        flags[np.searchsorted(corpus.texts.starts, at, "right") - 1] |= np.uint8(Flag.REPLACED)
    if unit == "word" or not tokens.characters:
        flags[np.isin(language, [place for place, code in enumerate(CODES) if is_spaceless(code)])] |= np.uint8(
            Flag.SPACELESS
        )
    return Overview(words, flags, language, main, unit)
