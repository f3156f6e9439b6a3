"""The pick: the documents and the terms that are selected, one and the same in every view."""

from __future__ import annotations

from collections.abc import Iterable

from jagged_lens.signal import Signal

_REMEMBERED = 100


class Pick:
    """Corpus rows, in rising order, and the one among them that is being read (-1: none). It remembers where it was.

    Beside them terms, as they are counted, in the order in which they were picked.
    """

    def __init__(self) -> None:
        self.rows: tuple[int, ...] = ()
        self.reading = -1
        self.changed = Signal()
        self.terms: tuple[str, ...] = ()
        self.terms_changed = Signal()
        self._before: list[tuple[tuple[int, ...], int]] = []
        self._after: list[tuple[tuple[int, ...], int]] = []

    def set(self, rows: Iterable[int], reading: int = -1) -> None:
        """Pick these documents; `reading` is shown first if it is one of them."""
        wanted = tuple(sorted(set(rows)))
        reading = reading if reading in wanted else (wanted[0] if len(wanted) == 1 else -1)
        if (wanted, reading) != (self.rows, self.reading):
            if self.rows:
                self._before = [*self._before[-_REMEMBERED:], (self.rows, self.reading)]
                self._after.clear()
            self._go((wanted, reading))

    def add(self, rows: Iterable[int]) -> None:
        self.set((*self.rows, *rows), self.reading)

    def toggle(self, row: int) -> None:
        self.set(set(self.rows) ^ {row}, row)

    def set_terms(self, terms: Iterable[str]) -> None:
        """Pick these terms."""
        wanted = tuple(dict.fromkeys(terms))
        if wanted != self.terms:
            self.terms = wanted
            self.terms_changed.emit()

    def clear(self) -> None:
        self.set(())
        self.set_terms(())

    def back(self) -> None:
        """To what was picked before."""
        if self._before:
            if self.rows:
                self._after.append((self.rows, self.reading))
            self._go(self._before.pop())

    def forward(self) -> None:
        """To what was picked when `back` was called."""
        if self._after:
            if self.rows:
                self._before.append((self.rows, self.reading))
            self._go(self._after.pop())

    def forget(self) -> None:
        """Pick nothing and remember nothing: the rows mean other documents now."""
        self._before.clear()
        self._after.clear()
        self._go(((), -1))

    def __len__(self) -> int:
        return len(self.rows)

    def _go(self, place: tuple[tuple[int, ...], int]) -> None:
        if place != (self.rows, self.reading):
            self.rows, self.reading = place
            self.changed.emit()
