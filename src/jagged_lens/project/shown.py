# SPDX-License-Identifier: GPL-3.0-or-later
"""The bench as one picture shows it: everything that can be done, and of the results those alone that the picture was drawn from."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from jagged_lens.gather import Corpus
from jagged_lens.lens import CORPUS, Part
from jagged_lens.project.document_keys import DocumentKeys
from jagged_lens.project.pick import Pick, Picked
from jagged_lens.project.snapshot import Snapshot
from jagged_lens.project.verbs import Verbs


class Shown(Verbs):
    """The project as a picture, its answers, menus and clicks see it.

    results: a snapshot, which stays until `take` is called. documents: what hangs on those of the snapshot. pick: the one pick,
    in the rows of the snapshot.
    """

    results: Snapshot

    def __init__(self, bench: Verbs) -> None:
        super().__init__(bench._rooms)
        self.results = Snapshot(self.recipe, {}, {}, {})
        self.documents = DocumentKeys(lambda: self.results, self.current)
        self.pick: Picked = _PickShown(bench._rooms.pick, self)

    def take(self) -> None:
        """Show the newest results from now on."""
        self.results = self._front.snapshot

    def show(self, results: Snapshot) -> None:
        """Show from now on what another picture shows, which hands it on."""
        self.results = results

    def is_newest(self, part: Part[Any]) -> bool:
        """True if the newest result of a part is what is shown of it."""
        return self.newest((part,)) == self.results.keys_of((part,))

    def newest(self, parts: Iterable[Part[Any]]) -> tuple[str, ...]:
        """The keys of the newest results of some parts, "" for one that is not there or is out of date."""
        return self._front.keys_of(parts)


class _PickShown(Picked):
    """The pick in the rows of the documents that a picture shows, which may be those of before."""

    def __init__(self, pick: Pick, shown: Shown) -> None:
        self._pick = pick
        self._shown = shown
        self.changed = pick.changed
        self.terms_changed = pick.terms_changed
        self._places: tuple[Corpus | None, dict[str, int]] = (None, {})
        self._known: tuple[object, tuple[int, ...]] = (None, ())

    def _other(self) -> Corpus | None:
        """The documents that are shown, where the pick is of others."""
        corpus: Corpus | None = self._shown.results.get(CORPUS)
        return corpus if corpus is not self._pick.corpus else None

    @property
    def rows(self) -> tuple[int, ...]:
        corpus, newest = self._other(), self._pick.corpus
        if corpus is None:
            return self._pick.rows
        of = (corpus, newest, self._pick.rows)
        if self._known[0] != of:
            found = (self._place(corpus, newest.keys[row]) for row in self._pick.rows) if newest is not None else ()
            self._known = (of, tuple(sorted(row for row in found if row >= 0)))
        return self._known[1]

    @property
    def reading(self) -> int:
        corpus, newest, reading = self._other(), self._pick.corpus, self._pick.reading
        if corpus is None or reading < 0:
            return reading
        return self._place(corpus, newest.keys[reading]) if newest is not None else -1

    @property
    def terms(self) -> tuple[str, ...]:
        return self._pick.terms

    def set(self, rows: Iterable[int], reading: int = -1) -> None:
        corpus, newest = self._other(), self._pick.corpus
        if corpus is None:
            self._pick.set(rows, reading)
        elif newest is not None:
            wanted = {corpus.keys[row] for row in rows}
            read = corpus.keys[reading] if reading >= 0 else ""
            there = {key: row for row, key in enumerate(newest.keys) if key in wanted}
            self._pick.set(there.values(), there.get(read, -1))

    def set_terms(self, terms: Iterable[str]) -> None:
        self._pick.set_terms(terms)

    def clear(self) -> None:
        self._pick.clear()

    def back(self) -> None:
        self._pick.back()

    def forward(self) -> None:
        self._pick.forward()

    def _place(self, corpus: Corpus, key: str) -> int:
        if self._places[0] is not corpus:
            self._places = (corpus, {key: row for row, key in enumerate(corpus.keys)})
        return self._places[1].get(key, -1)
