# SPDX-License-Identifier: GPL-3.0-or-later
"""Going through pairs or the members of a family at the reading table, and deciding as one goes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Families, Kind
from jagged_lens.desktop.desks.compare.decided import OPEN, WORDS, Decided
from jagged_lens.desktop.look.words import KINDS_LONG
from jagged_lens.desktop.reading.reading_table import ReadingTable
from jagged_lens.lens import CORPUS, PAIRS, SPACE
from jagged_lens.project import BOTH, CHOICES, FIRST, LATER, SECOND, Shown

_SIGNS = {FIRST: "", SECOND: "", BOTH: "=", LATER: "?"}


class Review:
    """The queue that is gone through. It stands still whatever is decided: a list of pairs, or the members of a family.

    at: the place in it.
    """

    def __init__(self, bench: Shown, table: ReadingTable, decided: Decided) -> None:
        self._bench = bench
        self._table = table
        self._decided = decided
        self._queue: NDArray[np.int64] = np.zeros(0, np.int64)
        self._members: list[int] = []
        self._keys: list[str] = []  # of the members
        self._resemblance: list[float] = []
        self._family = -1
        self._alone = (-1, -1)
        self.at = 0

    @property
    def open(self) -> bool:
        """True if the reading table lies over the desk."""
        return self._table.isVisible()

    @property
    def pair(self) -> int:
        """The listed pair that is read; -1 where it is none."""
        return int(self._queue[self.at]) if len(self._queue) else -1

    def open_pairs(self, queue: NDArray[np.int64], pair: int) -> None:
        """Read listed pairs, beginning with one of them."""
        self._queue, self._members = queue.copy(), []
        found = np.flatnonzero(queue == pair)
        self.at = int(found[0]) if len(found) else 0
        self._table.show_family(None)
        self._show()

    def open_family(self, families: Families, family: int) -> None:
        """Read the members of a family against its standard."""
        self._queue, self._family = np.zeros(0, np.int64), family
        self._members = families.of(family).tolist()
        self._keys = [self._decided.key(member) for member in self._members]
        self._resemblance = families.resemblances(family).tolist()
        self.at = 1
        corpus, rows = self._bench.results[CORPUS], self._bench.results[SPACE].terms.rows
        self._table.show_family([corpus.titles[int(rows[member])] for member in self._members])
        self._show()
        self._table.draw_differences(self._members)

    def open_two(self, first: int, second: int) -> None:
        """Read two documents of the lens, whether they are listed as a pair or not."""
        pairs = self._bench.results[PAIRS]
        low, high = sorted((first, second))
        at = np.flatnonzero((pairs.first == low) & (pairs.second == high))
        if len(at):
            self.open_pairs(at, int(at[0]))
            return
        self._queue, self._members = np.zeros(0, np.int64), []
        self._alone = (first, second)
        self._table.show_family(None)
        self._show()

    def close(self) -> None:
        """Back to the desk."""
        self._table.hide()

    def step(self, by: int) -> None:
        """The next or the previous pair or member."""
        least = 1 if self._members else 0
        last = max(len(self._queue), len(self._members)) - 1
        self.at = min(max(self.at + by, least), max(last, least))
        self._show()

    def go_to_member(self, member: int) -> None:
        """Read another member of the family."""
        if self._members:
            self.at = max(member, 1)
            self._show()

    def choose(self, choice: int) -> None:
        """Decide, 1 to 4, and go on."""
        wanted = CHOICES[choice - 1]
        if self._members:
            kept = self._members[self.at if wanted == SECOND else 0]
            self._decided.keep_of_family(kept, self._members, FIRST if wanted == SECOND else wanted)
            self._show()
            return
        first, second = self._documents()
        if first < 0:
            return
        self._decided.choose(first, second, choice)
        self.step(1)

    def take_back(self) -> None:
        """Undo the last decision, and show what it was made on."""
        history = self._bench.history
        if history.undo_text is None or not history.undo_text.startswith("decide"):
            return
        before = self._decided.codes().copy()
        self._bench.undo()
        changed = np.flatnonzero(before != self._decided.codes())
        if self.open and len(self._queue):
            own = np.flatnonzero(np.isin(self._queue, changed))
            direct = [at for at in own.tolist() if before[self._queue[at]] < len(WORDS) - 1]
            if direct:
                self.at = direct[0]
        if self.open:
            self._show()

    def follow(self) -> None:
        """Decisions changed elsewhere."""
        if self.open:
            self._say()

    def _documents(self) -> tuple[int, int]:
        if self._members:
            return self._members[0], self._members[self.at]
        if not len(self._queue):
            return self._alone
        pairs = self._bench.results[PAIRS]
        return int(pairs.first[self.pair]), int(pairs.second[self.pair])

    def _show(self) -> None:
        first, second = self._documents()
        if first < 0:
            return
        self._table.show_pair(first, second, *self._words())
        if self._members:
            self._table.strip.show_current(self.at)
        self._say()
        if not self.open:
            self._table.show()
            self._table.raise_()
            self._table.setFocus()

    def _words(self) -> tuple[str, str]:
        pairs = self._bench.results[PAIRS]
        if self._members:
            title = f"Family {self._family + 1}, member {self.at + 1} of {len(self._members)}"
            return (
                title,
                f"resemblance to the standard {self._resemblance[self.at]:.2f} · standard on the left",
            )
        if self.pair < 0:
            return "Two documents", "not in the list of pairs"
        kind = Kind(int(pairs.kind[self.pair]))
        figures = f"{pairs.similarity[self.pair]:.3f} · {KINDS_LONG[kind]}"
        family = int(pairs.family[self.pair])
        if family >= 0:
            figures += f" · family {family + 1}"
        return f"Pair {self.at + 1:,} of {len(self._queue):,}", figures

    def _say(self) -> None:
        codes = self._decided.codes()
        if self._members:
            self._say_members()
            return
        listed = codes[self._queue] if len(self._queue) and int(self._queue.max()) < len(codes) else codes[:0]
        words = WORDS[int(codes[self.pair])] if 0 <= self.pair < len(codes) else ""
        done = int(((listed != OPEN) & (listed != 4)).sum())
        self._table.show_decision(words, done, len(listed), self._decided.waiting)

    def _say_members(self) -> None:
        keys = self._keys
        goes = self._decided.goes()
        known = {one.pair: one for one in self._bench.state.decisions}
        standard = keys[0]
        marks: list[str] = []
        done = 0
        for key in keys:
            own = known.get(frozenset((standard, key)))
            settled = key in goes or standard in goes or (own is not None and own.choice != LATER)
            done += settled and key != standard
            marks.append("×" if key in goes else _SIGNS[own.choice] if own is not None else "")
        self._table.strip.show_marks(marks)
        words = {"×": "set this one aside", "=": "stays", "?": "later"}.get(marks[self.at], "")
        if not words and standard in goes:
            words = "set the standard aside"
        self._table.show_decision(words, done, len(keys) - 1, self._decided.waiting)
