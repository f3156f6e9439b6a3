# SPDX-License-Identifier: GPL-3.0-or-later
"""Many strings as two arrays: they cross processes without copying and weigh what their UTF-8 weighs."""

from __future__ import annotations

import itertools
import re
from array import array
from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import overload

import numpy as np
from numpy.typing import NDArray

_AT_ONCE = 20_000  # as much as stays near the processor; and the window has its turn in between
_STEP = 7  # bytes that are compared at once
_FIRST = np.array(
    [(1 << 64) - (1 << 8 * (8 - count)) for count in range(_STEP + 1)], np.uint64
)  # so many bytes of eight


@dataclass(frozen=True, eq=False)
class Strings(Sequence[str]):
    """An immutable sequence of n strings.

    data: uint8, the UTF-8 of all strings one after the other. starts: int64, n + 1 offsets into data.

    >>> words = Strings.of(["slug", "frost", "büne"])
    >>> len(words), words[2], list(words[1:])
    (3, 'büne', ['frost', 'büne'])
    """

    data: NDArray[np.uint8]
    starts: NDArray[np.int64]

    @classmethod
    def of(cls, items: Iterable[str]) -> Strings:
        """Pack strings; unpaired surrogates become U+FFFD, since no open format can carry them."""
        several = list(items)
        starts = np.zeros(len(several) + 1, np.int64)
        try:
            whole = "".join(several).encode("utf-8")
            np.cumsum(np.fromiter(map(len, several), np.int64, len(several)), out=starts[1:])
        except UnicodeEncodeError:
            encoded = [_utf8(item) for item in several]
            whole = b"".join(encoded)
            np.cumsum([len(item) for item in encoded], out=starts[1:])
            return cls(np.frombuffer(whole, np.uint8), starts)
        data = np.frombuffer(whole, np.uint8)
        if len(whole) > starts[-1]:  # from code points to bytes
            starts = np.append(np.flatnonzero((data & 0xC0) != 0x80), len(whole))[starts]
        return cls(data, starts)

    @classmethod
    def joined(cls, several: Sequence[Strings]) -> Strings:
        """The strings of several, one after the other."""
        starts = [np.zeros(1, np.int64)]
        end = 0
        for one in several:
            starts.append(one.starts[1:] - one.starts[0] + end)
            end += int(one.starts[-1] - one.starts[0])
        data = [one.data[one.starts[0] : one.starts[-1]] for one in several]
        return cls(np.concatenate([np.zeros(0, np.uint8), *data]), np.concatenate(starts))

    def __len__(self) -> int:
        return len(self.starts) - 1

    @overload
    def __getitem__(self, index: int) -> str: ...
    @overload
    def __getitem__(self, index: slice) -> Sequence[str]: ...
    def __getitem__(self, index: int | slice) -> str | Sequence[str]:
        if isinstance(index, slice):
            first, last, step = index.indices(len(self))
            if step != 1:
                return [self[i] for i in range(first, last, step)]
            bounds = self.starts[first : max(last, first) + 1]
            whole, bounds = self.data[bounds[0] : bounds[-1]].tobytes(), (bounds - bounds[0]).tolist()
            return [whole[start:end].decode("utf-8") for start, end in itertools.pairwise(bounds)]
        if index < 0:
            index += len(self)
        if not 0 <= index < len(self):
            raise IndexError(index)
        return self.data[self.starts[index] : self.starts[index + 1]].tobytes().decode("utf-8")

    def __iter__(self) -> Iterator[str]:
        whole, starts = self.data.tobytes(), self.starts.tolist()
        for start, end in itertools.pairwise(starts):
            yield whole[start:end].decode("utf-8")

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, Strings)
            and np.array_equal(self.starts, other.starts)
            and np.array_equal(self.data, other.data)
        )

    def __hash__(self) -> int:
        return hash((len(self), self.data[:64].tobytes()))

    def take(self, rows: NDArray[np.integer]) -> Strings:
        """The strings at `rows`, in that order. rows: integers, int64 or int32."""
        lengths = np.diff(self.starts)[rows]
        starts = np.zeros(len(rows) + 1, np.int64)
        np.cumsum(lengths, out=starts[1:])
        data = np.empty(int(starts[-1]), np.uint8)
        for first in range(0, len(rows), _AT_ONCE):  # the places of single bytes take eight times their room
            some = slice(first, first + _AT_ONCE)
            begin = self.starts[:-1][rows[some]] - starts[:-1][some]
            end = int(starts[min(first + _AT_ONCE, len(rows))])
            places = np.repeat(begin, lengths[some]) + np.arange(int(starts[first]), end)
            data[starts[first] : end] = self.data[places]
        return Strings(data, starts)

    def between(self, first: int, last: int) -> Strings:
        """The strings from `first` to before `last`; the bytes are shared."""
        starts = self.starts[first : last + 1]
        return Strings(self.data[starts[0] : starts[-1]], starts - starts[0])

    def folded_lines(self) -> Strings:
        """The strings without regard to case (`fold`), in one line each, with its break behind it.

        >>> list(Strings.of(["Late\\nFrost", "Weiße Bete"]).folded_lines())
        ['late frost\\n', 'weisse bete\\n']
        """
        lines = np.full(len(self.data) + len(self), ord("\n"), np.uint8)
        inside = np.ones(len(lines), np.bool_)
        inside[self.starts[1:] + np.arange(len(self))] = False
        lines[inside] = np.where(self.data == ord("\n"), np.uint8(ord(" ")), self.data)
        data = np.frombuffer(fold(lines.tobytes().decode()).encode(), np.uint8)
        return Strings(data, np.append(0, np.flatnonzero(data == ord("\n")) + 1))

    def lines_with(self, words: str) -> NDArray[np.bool_]:
        """The lines made by `folded_lines` that contain the words, folded too. One search through all of them.

        bool, one for each line.
        """
        found = np.zeros(len(self), np.bool_)
        sought = re.compile(re.escape(words.encode("utf-8", "replace")))
        hits = [hit.start() for hit in sought.finditer(self.data.data)]
        found[np.searchsorted(self.starts, hits, "right") - 1] = True
        return found

    def at_rows(self, rows: NDArray[np.integer]) -> Strings:
        """The same as `take`: what is spelled already is taken. rows: integers, int64 or int32."""
        return self.take(rows)

    def in_order(self) -> NDArray[np.int64]:
        """The positions of the strings by code point, which is the order of their UTF-8; alike ones stay in their order.

        int64, one for each.
        """
        return np.argsort(self.ranks(), kind="stable")

    def ranks(self) -> NDArray[np.int64]:
        """The number of strings before each by code point; equal ones share their rank. int64, one for each."""
        padded = np.concatenate((self.data, np.zeros(8, np.uint8)))
        eight = np.ndarray((len(self.data) + 1,), ">u8", padded, strides=(1,))
        ranks = np.zeros(len(self), np.int64)
        rows, at = np.arange(len(self)), 0
        # Seven bytes at a time and their count as one number; from then on only among those that are alike so far.
        while len(rows):
            there = np.clip(self.starts[rows + 1] - self.starts[rows] - at, 0, _STEP)
            key = (eight[np.minimum(self.starts[rows] + at, len(self.data))] & _FIRST[there]) | there.astype(np.uint64)
            order = np.lexsort((key, ranks[rows])) if at else np.argsort(key, kind="stable")
            rows, key = rows[order], key[order]
            known, place = ranks[rows], np.arange(len(rows))
            apart = np.ones(len(rows) + 1, np.bool_)  # each from the one before
            apart[1:-1] = (known[1:] != known[:-1]) | (key[1:] != key[:-1])
            first = np.maximum.accumulate(np.where(apart[:-1], place, 0))
            ranks[rows] = known + first - np.searchsorted(known, known)
            rows = rows[~(apart[:-1] & apart[1:]) & (there[order] == _STEP)]
            at += _STEP
        return ranks

    def rows_of(self, wanted: Collection[str]) -> dict[str, int]:
        """The positions of those of the wanted strings that are here; the last place of one that is here several times."""
        return {text: row for row, text in enumerate(self) if text in wanted} if wanted else {}

    def spaced(self, rows: NDArray[np.integer], counts: NDArray[np.int64]) -> Strings:
        """Strings made of several each: the first counts[0] of those at `rows`, joined by one space, and so on.

        rows: integers; counts: int64, how many of them make each string.

        >>> list(Strings.of(["late", "frost", "slug"]).spaced(np.array([0, 1, 2]), np.array([2, 1])))
        ['late frost', 'slug']
        """
        # Every string with a space behind it; the last space of each result is taken away again.
        ends = self.starts[1:] - self.starts[0] + np.arange(1, len(self) + 1)
        data = np.full(int(ends[-1]) if len(ends) else 0, ord(" "), np.uint8)
        filled = np.ones(len(data), np.bool_)
        filled[ends - 1] = False
        data[filled] = self.data[self.starts[0] : self.starts[-1]]
        words = Strings(data, np.concatenate((np.zeros(1, np.int64), ends))).take(rows)
        bounds = words.starts[np.concatenate(([0], np.cumsum(counts)))]
        inside = np.ones(len(words.data), np.bool_)
        inside[bounds[1:] - 1] = False
        return Strings(words.data[inside], bounds - np.arange(len(bounds)))


class StringsBuilder:
    """Strings that grow: each is packed as it comes, so that a big source is never held as so many Python texts."""

    def __init__(self) -> None:
        self._data = bytearray()
        self._ends = array("q", [0])

    def __len__(self) -> int:
        return len(self._ends) - 1

    def append(self, text: str) -> None:
        """Add one string at the end."""
        self._data += _utf8(text)
        self._ends.append(len(self._data))

    def strings(self) -> Strings:
        """The packed strings. The builder must not be used any more."""
        return Strings(np.frombuffer(self._data, np.uint8), np.array(self._ends, np.int64))


def fold(text: str) -> str:
    """A text without regard to case, so that two that a regular expression takes for the same become the same.

    >>> fold("Straße, İstanbul")
    'strasse, istanbul'
    """
    return text.replace("İ", "i").replace("ı", "i").casefold()


def _utf8(text: str) -> bytes:
    try:
        return text.encode("utf-8")
    except UnicodeEncodeError:
        return text.encode("utf-16", "surrogatepass").decode("utf-16", "replace").encode("utf-8")
