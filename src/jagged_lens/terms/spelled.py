# SPDX-License-Identifier: GPL-3.0-or-later
"""Strings made of words, spelled when they are looked at: millions of n-grams of which a few hundred are ever seen."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from typing import overload

import numpy as np
from numpy.typing import NDArray

from jagged_lens.strings import Strings

_AT_ONCE = 200_000


@dataclass(frozen=True, eq=False)
class Spelled(Sequence[str]):
    """T strings of words joined by one space.

    words: the different words, by code point. word: int32, the word at each place of the text. at: int32, T, where each string
    begins; lengths: uint8, T, of how many words it is.
    """

    words: Strings
    word: NDArray[np.int32]
    at: NDArray[np.int32]
    lengths: NDArray[np.uint8]

    def __len__(self) -> int:
        return len(self.at)

    def at_rows(self, rows: NDArray[np.integer]) -> Spelled:
        """The strings at `rows`, in that order, not spelled yet. rows: integers, int64 or int32."""
        return Spelled(self.words, self.word, self.at[rows], self.lengths[rows])

    def take(self, rows: NDArray[np.integer]) -> Strings:
        """The strings at `rows`, in that order, spelled. rows: integers, int64 or int32."""
        return self.words.spaced(self.word[self._places(rows)], self.lengths[rows].astype(np.int64))

    def _places(self, rows: NDArray[np.integer]) -> NDArray[np.int64]:
        lengths = self.lengths[rows].astype(np.int64)
        return np.repeat(self.at[rows] - (np.cumsum(lengths) - lengths), lengths) + np.arange(lengths.sum())

    @overload
    def __getitem__(self, index: int) -> str: ...
    @overload
    def __getitem__(self, index: slice) -> Sequence[str]: ...
    def __getitem__(self, index: int | slice) -> str | Sequence[str]:
        if isinstance(index, slice):
            return list(self.take(np.arange(len(self))[index]))
        start = int(self.at[index])
        return " ".join(self.words[int(one)] for one in self.word[start : start + int(self.lengths[index])])

    def __iter__(self) -> Iterator[str]:
        for start in range(0, len(self), _AT_ONCE):
            yield from self.take(np.arange(start, min(start + _AT_ONCE, len(self))))

    def rows_of(self, wanted: Collection[str]) -> dict[str, int]:
        """The positions of those of the wanted strings that are here. Only strings of their words are spelled."""
        if not wanted:
            return {}
        parts = {word for one in wanted for word in one.split(" ")}
        known = np.array([word in parts for word in self.words], np.bool_)
        rows = np.flatnonzero(known[self.word[self.at]])
        for step in range(1, int(self.lengths[rows].max(initial=1))):
            longer = self.lengths[rows] > step
            fits = ~longer
            fits[longer] = known[self.word[self.at[rows[longer]] + step]]
            rows = rows[fits]
        return {text: int(row) for text, row in zip(self.take(rows), rows, strict=True) if text in wanted}


Terms = Strings | Spelled
"""Strings that are there, or that are spelled when they are looked at."""
