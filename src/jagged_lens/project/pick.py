"""The pick: the documents that are selected, one and the same in every view."""

from __future__ import annotations

from collections.abc import Iterable

from jagged_lens.signal import Signal


class Pick:
    """Corpus rows, in rising order, and the one among them that is being read (-1: none)."""

    def __init__(self) -> None:
        self.rows: tuple[int, ...] = ()
        self.reading = -1
        self.changed = Signal()

    def set(self, rows: Iterable[int], reading: int = -1) -> None:
        """Pick these documents; `reading` is shown first if it is one of them."""
        wanted = tuple(sorted(set(rows)))
        reading = reading if reading in wanted else (wanted[0] if len(wanted) == 1 else -1)
        if (wanted, reading) != (self.rows, self.reading):
            self.rows, self.reading = wanted, reading
            self.changed.emit()

    def add(self, rows: Iterable[int]) -> None:
        self.set((*self.rows, *rows), self.reading)

    def toggle(self, row: int) -> None:
        self.set(set(self.rows) ^ {row}, row)

    def clear(self) -> None:
        self.set(())

    def __len__(self) -> int:
        return len(self.rows)
