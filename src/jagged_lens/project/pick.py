"""The pick: the documents and the terms that are selected, one and the same in every view."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather import Corpus
from jagged_lens.signal import Signal

_REMEMBERED = 100
_Place = tuple[tuple[int, ...], int, tuple[str, ...]]


class Pick:
    """Corpus rows, in rising order, and the one among them that is being read (-1: none).

    Beside them terms, as they are counted, in the order in which they were picked. It remembers what both were.
    """

    def __init__(self) -> None:
        self.rows: tuple[int, ...] = ()
        self.reading = -1
        self.changed = Signal()
        self.terms: tuple[str, ...] = ()
        self.terms_changed = Signal()
        self._before: list[_Place] = []
        self._after: list[_Place] = []

    @property
    def one(self) -> int:
        """The document that is read, or else the first that is picked; -1 where there is none."""
        return self.reading if self.reading >= 0 else self.rows[0] if self.rows else -1

    def among(self, rows: NDArray[np.integer]) -> tuple[NDArray[np.int64], int]:
        """Which of some corpus rows are picked (their places, int64), and the place of the one that is read; -1: it is not there."""
        read = np.flatnonzero(rows == self.reading)
        return np.flatnonzero(np.isin(rows, np.array(self.rows, np.int64))), int(read[0]) if len(read) else -1

    def set(self, rows: Iterable[int], reading: int = -1) -> None:
        """Pick these documents; `reading` is shown first if it is one of them."""
        wanted = tuple(sorted(set(rows)))
        reading = reading if reading in wanted else (wanted[0] if len(wanted) == 1 else -1)
        self._move((wanted, reading, self.terms))

    def add(self, rows: Iterable[int]) -> None:
        """Pick these documents, too."""
        self.set((*self.rows, *rows), self.reading)

    def toggle(self, row: int) -> None:
        """Pick a document, or pick it no more."""
        self.set(set(self.rows) ^ {row}, row)

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
                self._after.append(self._here)
            self._go(self._before.pop())

    def forward(self) -> None:
        """To what was picked when `back` was called."""
        if self._after:
            if self.rows or self.terms:
                self._before.append(self._here)
            self._go(self._after.pop())

    def forget(self) -> None:
        """Pick no document and remember nothing: the rows mean other documents now."""
        self._before.clear()
        self._after.clear()
        self._go(((), -1, self.terms))

    def follow(self, before: Corpus | None, after: Corpus) -> None:
        """Other rows are there: the same documents stay picked, by their keys."""
        keys = {before.keys[row] for row in self.rows} if before is not None else set[str]()
        reading = before.keys[self.reading] if before is not None and self.reading >= 0 else ""
        rows = {key: row for row, key in enumerate(after.keys) if key in keys} if keys else {}
        self.forget()
        self.set(rows.values(), rows.get(reading, -1))

    def __len__(self) -> int:
        return len(self.rows)

    @property
    def _here(self) -> _Place:
        return self.rows, self.reading, self.terms

    def _move(self, place: _Place) -> None:
        if place != self._here:
            if self.rows or self.terms:
                self._before = [*self._before[-_REMEMBERED:], self._here]
                self._after.clear()
            self._go(place)

    def _go(self, place: _Place) -> None:
        before = self._here
        self.rows, self.reading, self.terms = place
        if place[:2] != before[:2]:
            self.changed.emit()
        if place[2] != before[2]:
            self.terms_changed.emit()
