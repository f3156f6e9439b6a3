# SPDX-License-Identifier: GPL-3.0-or-later
"""The shown rows of a table and their order: worked out on whole columns, beside the window if there are many."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from enum import Enum, auto
from typing import Any

import numpy as np
from numpy.typing import NDArray

from jagged_lens.strings import Strings
from jagged_lens.terms.spelled import Spelled

_AT_ONCE = 50_000


class Cut(Enum):
    """The place to cut a text that has no room: its end; its middle, for paths and keys; nowhere, for terms."""

    END = auto()
    MIDDLE = auto()
    NEVER = auto()


@dataclass(frozen=True)
class Column:
    """One column: its title, the text of a row, and what it is sorted by (an array, or its texts).

    texts: those of all rows, where they are at hand or can be made at once; sorting and filtering are quicker with them.
    Where a table is long they are asked for in another thread. below: a second text of the row, which stands below the first;
    names: what both are called where each has a column of its own, in a file. hint: what a cell says of itself under the pointer,
    where that is more than its text. wide: in letters, of a cell that is drawn; 0: as wide as its texts. used: False where it is
    empty throughout, which hides it; None: that is seen from its texts.
    """

    title: str
    text: Callable[[int], str]
    key: NDArray[Any] | None = None
    right: bool = False
    searched: bool = False
    tip: str = ""
    share: Callable[[int], float] | None = None
    mark: Callable[[int], int | tuple[float, ...]] | None = None
    ink: Callable[[int], str | None] | None = None
    texts: Sequence[str] | Callable[[], Sequence[str]] | None = None
    cut: Cut = Cut.END
    wide: int = 0
    used: bool | None = None
    below: Callable[[int], str] | None = None
    names: tuple[str, str] = ("", "")
    hint: Callable[[int], str] | None = None


def text_rows(columns: Sequence[Column], rows: Iterable[int]) -> Iterator[list[str]]:
    """The titles of columns, then the texts of rows in them."""
    yield [column.title for column in columns]
    for row in rows:
        yield [column.text(row) for column in columns]


def apart(columns: Sequence[Column]) -> list[Column]:
    """The columns, with two for one that holds two texts."""
    found: list[Column] = []
    for column in columns:
        if column.below is None:
            found.append(column)
        else:
            found += [Column(column.names[0], column.text), Column(column.names[1], column.below)]
    return found


@dataclass(frozen=True)
class Wanted:
    """The view a user wants: sorted by a column (-1: original order), containing words, and only some rows."""

    column: int = -1
    falling: bool = False
    words: str = ""
    only: NDArray[np.bool_] | None = None

    @property
    def everything(self) -> bool:
        """True if all rows are wanted as they come."""
        return self.column < 0 and not self.words and self.only is None


@dataclass(eq=False)
class Arrangement:
    """The columns of a table of `size` rows, and what is known of their order. One thread at a time asks it."""

    columns: Sequence[Column] = ()
    size: int = 0
    _orders: dict[tuple[int, bool], NDArray[np.int64]] = field(default_factory=dict)
    _folded: dict[int, tuple[object, Strings]] = field(default_factory=dict)

    def after(self, columns: Sequence[Column], size: int) -> Arrangement:
        """The arrangement of other columns. Texts that are the same ones are not looked through again."""
        new = Arrangement(columns, size)
        for place, (texts, lines) in self._folded.items():
            if place < len(columns) and columns[place].texts is texts is not None and size == self.size:
                new._folded[place] = (texts, lines)
        return new

    def rows(self, wanted: Wanted) -> NDArray[np.int64]:
        """The rows that are wanted, in the order that is wanted."""
        order = self._in_order(wanted.column, wanted.falling)
        if wanted.only is not None and len(wanted.only) == self.size:
            order = order[wanted.only[order]]
        if wanted.words:
            order = order[self._holding(wanted.words)[order]]
        return order

    def _in_order(self, place: int, falling: bool) -> NDArray[np.int64]:
        """All rows by a column; ties stay in their own order, whichever way they are sorted."""
        if not 0 <= place < len(self.columns) or not self.size:
            return np.arange(self.size)
        if (place, falling) not in self._orders:
            column = self.columns[place]
            key = self._folded_texts(place).ranks() if column.key is None else column.key
            order = np.argsort(key[::-1] if falling else key, kind="stable")
            self._orders[place, falling] = (self.size - 1 - order)[::-1] if falling else order
        return self._orders[place, falling]

    def _holding(self, words: str) -> NDArray[np.bool_]:
        """For each row, True if a searched column holds the words."""
        found = np.zeros(self.size, np.bool_)
        for place, column in enumerate(self.columns):
            if column.searched:
                found |= self._folded_texts(place).lines_with(words)
        return found

    def _folded_texts(self, place: int) -> Strings:
        """The texts of a column as `folded` gives them."""
        if place not in self._folded:
            column = self.columns[place]
            texts = column.texts() if callable(column.texts) else column.texts
            if texts is None:
                second = column.below
                texts = [
                    column.text(row) if second is None else f"{column.text(row)} {second(row)}"
                    for row in range(self.size)
                ]
            self._folded[place] = (column.texts, folded(texts))
        return self._folded[place][1]


def folded(texts: Sequence[str]) -> Strings:
    """Texts as `Strings.folded_lines` gives them, by blocks, which leave the window its turn."""
    lines = []
    for at in range(0, len(texts), _AT_ONCE):
        end = min(at + _AT_ONCE, len(texts))
        if isinstance(texts, Spelled):
            some = texts.take(np.arange(at, end))
        else:
            some = texts.between(at, end) if isinstance(texts, Strings) else Strings.of(texts[at:end])
        lines.append(some.folded_lines())
    return Strings.joined(lines)
