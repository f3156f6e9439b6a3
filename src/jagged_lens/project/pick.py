# SPDX-License-Identifier: GPL-3.0-or-later
"""The pick: the documents and the terms that are selected, one and the same in every view."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather import Corpus
from jagged_lens.signal import Signal

_REMEMBERED = 100
_Place = tuple[tuple[int, ...], int, tuple[str, ...]]


class Picked:
    """The pick, and the ways to change it, in the rows of one corpus."""

    changed: Signal
    terms_changed: Signal

    @property
    def rows(self) -> tuple[int, ...]:
        """The corpus rows that are picked, in rising order."""
        raise NotImplementedError

    @property
    def reading(self) -> int:
        """The one among them that is read; -1: none."""
        raise NotImplementedError

    @property
    def terms(self) -> tuple[str, ...]:
        """The terms that are picked, as they are counted, in the order in which they were."""
        raise NotImplementedError

    def set(self, rows: Iterable[int], reading: int = -1) -> None:
        """Pick these documents; `reading` is shown first if it is one of them."""
        raise NotImplementedError

    def set_terms(self, terms: Iterable[str]) -> None:
        """Pick these terms."""
        raise NotImplementedError

    def clear(self) -> None:
        """Pick no document and no term."""
        raise NotImplementedError

    def back(self) -> None:
        """To what was picked before."""
        raise NotImplementedError

    def forward(self) -> None:
        """To what was picked when `back` was called."""
        raise NotImplementedError

    @property
    def one(self) -> int:
        """The document that is read, or else the first that is picked; -1 where there is none."""
        return self.reading if self.reading >= 0 else self.rows[0] if self.rows else -1

    def among(self, rows: NDArray[np.integer]) -> tuple[NDArray[np.int64], int]:
        """The picked ones of some corpus rows (their places, int64), and the place of the one that is read; -1 if absent."""
        read = np.flatnonzero(rows == self.reading)
        return np.flatnonzero(np.isin(rows, np.array(self.rows, np.int64))), int(read[0]) if len(read) else -1

    def add(self, rows: Iterable[int]) -> None:
        """Pick these documents, too."""
        self.set((*self.rows, *rows), self.reading)

    def toggle(self, row: int) -> None:
        """Pick a document, or pick it no more."""
        self.set(set(self.rows) ^ {row}, row)

    def __len__(self) -> int:
        return len(self.rows)


class Pick(Picked):
    """Corpus rows, in rising order, and the one among them that is being read (-1: none).

    Beside them terms, as they are counted, in the order in which they were picked. It remembers what both were.
    """

    def __init__(self) -> None:
        self.corpus: Corpus | None = None
        """Whose rows they are."""
        self.changed = Signal()
        self.terms_changed = Signal()
        self._now: _Place = ((), -1, ())
        self._before: list[_Place] = []
        self._after: list[_Place] = []

    @property
    def rows(self) -> tuple[int, ...]:
        """The corpus rows that are picked, in rising order."""
        return self._now[0]

    @property
    def reading(self) -> int:
        """The one among them that is read; -1: none."""
        return self._now[1]

    @property
    def terms(self) -> tuple[str, ...]:
        """The terms that are picked, as they are counted, in the order in which they were."""
        return self._now[2]

    def set(self, rows: Iterable[int], reading: int = -1) -> None:
        """Pick these documents; `reading` is shown first if it is one of them."""
        wanted = tuple(sorted(set(rows)))
        reading = reading if reading in wanted else (wanted[0] if len(wanted) == 1 else -1)
        self._move((wanted, reading, self.terms))

    def set_terms(self, terms: Iterable[str]) -> None:
        """Pick these terms."""
        self._move((self.rows, self.reading, tuple(dict.fromkeys(terms))))

    def clear(self) -> None:
        """Pick no document and no term."""
        self._move(((), -1, ()))

    def back(self) -> None:
        """To what was picked before."""
        if self._before:
            if self.rows or self.terms:
                self._after.append(self._now)
            self._go(self._before.pop())

    def forward(self) -> None:
        """To what was picked when `back` was called."""
        if self._after:
            if self.rows or self.terms:
                self._before.append(self._now)
            self._go(self._after.pop())

    def forget(self) -> None:
        """Pick no document and remember nothing: the rows mean other documents now."""
        self._before.clear()
        self._after.clear()
        self._go(((), -1, self.terms))

    def follow(self, corpus: Corpus) -> None:
        """Other rows are there: the same documents stay picked, by their keys."""
        before, self.corpus = self.corpus, corpus
        rows, reading = self._now[:2]
        keys = {before.keys[row] for row in rows} if before is not None else set[str]()
        read = before.keys[reading] if before is not None and reading >= 0 else ""
        there = {key: row for row, key in enumerate(corpus.keys) if key in keys} if keys else {}
        self.forget()
        self.set(there.values(), there.get(read, -1))

    def leave(self) -> None:
        """The documents are gone: of another project others will come."""
        self.corpus = None
        self.forget()

    def _move(self, place: _Place) -> None:
        if place != self._now:
            if self.rows or self.terms:
                self._before = [*self._before[-_REMEMBERED:], self._now]
                self._after.clear()
            self._go(place)

    def _go(self, place: _Place) -> None:
        before, self._now = self._now, place
        if place[:2] != before[:2]:
            self.changed.emit()
        if place[2] != before[2]:
            self.terms_changed.emit()
