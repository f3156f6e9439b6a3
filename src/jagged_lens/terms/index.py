# SPDX-License-Identifier: GPL-3.0-or-later
"""An index of kept tokens by word: where a term stands is looked up, never searched for in the texts."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import Tokens
from jagged_lens.distinct import distinct
from jagged_lens.terms.ngrams import continues, in_order


@dataclass(frozen=True, eq=False)
class TermIndex:
    """For the k kept tokens of the documents in the lens, in order of the text:

    token: int64, place in `Tokens`; row: int32, corpus row; word: int32, into `Tokens.words`; follows: bool, the next kept token
    continues its run; sentence: int32, number of its sentence. order: int64, the k places sorted by word; starts: int64, for
    each word where its places begin in `order`. words: number of each word.
    """

    tokens: Tokens
    token: NDArray[np.int64]
    row: NDArray[np.int32]
    word: NDArray[np.int32]
    follows: NDArray[np.bool_]
    sentence: NDArray[np.int32]
    order: NDArray[np.int64]
    starts: NDArray[np.int64]
    words: dict[str, int]

    @cached_property
    def sentences_of(self) -> NDArray[np.float64]:
        """In how many sentences each word stands (float64)."""
        width = np.int64(len(self.words))
        pairs = distinct(self.sentence * width + self.word)
        return np.bincount(pairs % width, minlength=int(width)).astype(np.float64)

    @cached_property
    def sentence_count(self) -> int:
        """The number of sentences that hold kept tokens."""
        return int(np.count_nonzero(np.diff(self.sentence))) + 1 if len(self.sentence) else 0

    def places_of(self, term: str) -> NDArray[np.int64]:
        """The start of a term among the kept tokens, in order of the text. Its rarest word is looked up, the others are checked beside
        it.

        int64, rising.
        """
        numbers = [self.words.get(word, -1) for word in term.split(" ")]
        if min(numbers) < 0:
            return np.zeros(0, np.int64)
        sizes = [int(self.starts[number + 1] - self.starts[number]) for number in numbers]
        rarest = int(np.argmin(sizes))
        first = self.order[self.starts[numbers[rarest]] : self.starts[numbers[rarest] + 1]] - rarest
        first = first[(first >= 0) & (first + len(numbers) <= len(self.word))]
        for step, number in enumerate(numbers):
            first = first[self.word[first + step] == number]
            if step:
                first = first[self.follows[first + step - 1]]
        return np.sort(first)


def index_of(tokens: Tokens, rows: NDArray[np.int32], bridge: bool) -> TermIndex:
    """The index of the documents at `rows`. rows: int32, n corpus rows, rising. bridge: as in TermSettings."""
    in_lens = np.zeros(len(tokens.row_starts) - 1, np.bool_)
    in_lens[rows] = True
    row = np.repeat(np.arange(len(in_lens), dtype=np.int32), np.diff(tokens.row_starts))
    kept = np.flatnonzero(tokens.kept & in_lens[row])
    word = tokens.word[tokens.form[kept]]
    breaks = tokens.sentence_end.copy()
    ends = tokens.row_starts[1:][np.diff(tokens.row_starts) > 0] - 1
    breaks[ends] = True
    sentence = np.concatenate(([0], np.cumsum(breaks)[:-1])) if len(breaks) else np.zeros(0, np.int64)
    rising, order = in_order(word.astype(np.int64), len(tokens.words))
    starts = np.searchsorted(rising, np.arange(len(tokens.words) + 1))
    return TermIndex(
        tokens,
        kept,
        row[kept],
        word,
        continues(tokens, kept, row[kept], bridge),
        sentence[kept].astype(np.int32),
        order,
        starts.astype(np.int64),
        {text: number for number, text in enumerate(tokens.words)},
    )
