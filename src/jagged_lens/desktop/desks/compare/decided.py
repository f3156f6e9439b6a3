# SPDX-License-Identifier: GPL-3.0-or-later
"""The decisions on the listed pairs."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Pairs
from jagged_lens.lens import CORPUS, PAIRS, SPACE
from jagged_lens.project import BOTH, CHOICES, Decision, Shown, dropped, gone_of

OPEN, GOES = 0, 5
"""Codes of a pair: nothing is decided; one of its documents goes by another decision. Those between are the choices, from 1."""
WORDS = ("", "keep first", "keep second", "both stay", "later", "set one aside")
SHORT = ("", "first", "second", "both", "later", "set one aside")
"""The same, where it stands under the word *Decided*."""


class Decided:
    """The codes of all pairs, made anew when decisions or pairs change."""

    def __init__(self, bench: Shown) -> None:
        self._bench = bench
        self._of: tuple[object, object, object, object] = (None, None, None, None)
        self._codes = np.zeros(0, np.uint8)
        self._goes: tuple[object, object, object, dict[str, str]] = (None, None, None, {})
        self._sorted: tuple[object, NDArray[np.int64], NDArray[np.int64]] = (None, np.zeros(0, int), np.zeros(0, int))

    def codes(self) -> NDArray[np.uint8]:
        """For each listed pair, the decision: uint8."""
        results, decisions = self._bench.results, self._bench.state.decisions
        pairs, corpus = results.get(PAIRS), results.get(CORPUS)
        if pairs is None or corpus is None or SPACE not in results:
            return np.zeros(0, np.uint8)
        of = (decisions, pairs, corpus, self._bench.state.aside)
        if any(one is not other for one, other in zip(of, self._of, strict=True)):
            self._of = of
            self._codes = self._made(pairs, decisions)
        return self._codes

    def _made(self, pairs: Pairs, decisions: tuple[Decision, ...]) -> NDArray[np.uint8]:
        codes = np.zeros(len(pairs), np.uint8)
        if not decisions:
            return codes
        place = self._places(key for one in decisions for key in (one.first, one.second))
        gone = np.zeros(pairs.documents, np.bool_)
        gone[[place[key] for key in self.goes() if key in place]] = True
        codes[gone[pairs.first] | gone[pairs.second]] = GOES
        n = pairs.documents
        if self._sorted[0] is not pairs:
            found = pairs.first.astype(np.int64) * n + pairs.second
            by_key = np.argsort(found, kind="stable")
            self._sorted = (pairs, by_key, found[by_key])
        _, order, keys = self._sorted
        for one in decisions:
            if one.first not in place or one.second not in place:
                continue
            a, b = place[one.first], place[one.second]
            at = int(np.searchsorted(keys, min(a, b) * n + max(a, b)))
            if at < len(keys) and keys[at] == min(a, b) * n + max(a, b):
                code = CHOICES.index(one.choice) + 1
                codes[order[at]] = {1: 2, 2: 1}.get(code, code) if a > b else code
        return codes

    def _places(self, keys: Iterable[str]) -> dict[str, int]:
        """The row in the lens of those keys that are in it."""
        corpus, documents = self._bench.results[CORPUS], self._bench.documents
        found = ((corpus.keys[row], documents.place_of(row)) for row in documents.rows_of(keys))
        return {key: place for key, place in found if place >= 0}

    def key(self, place: int) -> str:
        """The key of a document of the lens."""
        results = self._bench.results
        return results[CORPUS].keys[int(results[SPACE].terms.rows[place])]

    def decide(self, pairs: Iterable[tuple[int, int, str]], words: str) -> None:
        """Note what was decided of some pairs of documents of the lens: (first, second, choice)."""
        new = [Decision(self.key(a), self.key(b), choice) for a, b, choice in pairs]
        bench = self._bench
        bench.change(bench.state.with_decisions(new), words)

    def choose(self, first: int, second: int, choice: int) -> None:
        """Decide on one pair, 1 to 4."""
        self.decide([(first, second, CHOICES[choice - 1])], f"decide: {WORDS[choice]}")

    def keep_of_family(self, kept: int, members: Iterable[int], choice: str) -> None:
        """Keep one document of a family, or all of them (both stay): a decision on each pair with it."""
        others = [member for member in members if member != kept]
        words = "decide: keep all" if choice == BOTH else "decide: later" if choice == "later" else "decide: keep one"
        self.decide(((kept, other, choice) for other in others), words)

    def touched(self) -> frozenset[int]:
        """The documents of the lens of which something is decided, or that go by it: rows."""
        decisions = self._bench.state.decisions
        return frozenset(self._places(key for one in decisions for key in one.pair).values())

    def goes(self) -> dict[str, str]:
        """The documents that go by what was decided, by key, and the key of that which stays."""
        decisions, aside, corpus = self._bench.state.decisions, self._bench.state.aside, self._bench.results.get(CORPUS)
        of = (decisions, aside, corpus)
        if any(one is not other for one, other in zip(of, self._goes[:3], strict=True)):
            gone = gone_of(decisions, self._there(), dict(aside))
            self._goes = (*of, dropped(decisions, gone))
        return self._goes[3]

    def _there(self) -> frozenset[str]:
        """The keys of decisions that exist in the documents; all of them before there are any."""
        corpus = self._bench.results.get(CORPUS)
        keys = frozenset(key for one in self._bench.state.decisions for key in one.pair)
        return keys if corpus is None else frozenset(corpus.keys.rows_of(keys))

    @property
    def waiting(self) -> int:
        """The number of documents that would be set aside now."""
        aside = {key for key, _ in self._bench.state.aside}
        return len(set(self.goes()) - aside)

    def apply(self) -> int:
        """Set aside what goes; how many documents that are."""
        count, bench = self.waiting, self._bench
        bench.change(bench.state.with_decisions_applied(self._there()), f"set {count:,} copies aside")
        return count
