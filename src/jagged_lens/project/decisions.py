# SPDX-License-Identifier: GPL-3.0-or-later
"""Decisions on near-duplicates: of a pair, which document stays. They hang on document keys, and change a lens only when applied."""

from __future__ import annotations

from collections.abc import Container, Iterable, Mapping
from dataclasses import dataclass

FIRST, SECOND, BOTH, LATER = "first", "second", "both", "later"
CHOICES = (FIRST, SECOND, BOTH, LATER)
"""The decisions on a pair: keep the first, keep the second, keep both, later."""


@dataclass(frozen=True)
class Decision:
    """The decision on a pair of documents, by their keys. choice: one of CHOICES."""

    first: str
    second: str
    choice: str

    @property
    def pair(self) -> frozenset[str]:
        """Both keys, whichever comes first."""
        return frozenset((self.first, self.second))

    @property
    def kept(self) -> str:
        """The key of the document that stays alone; "" where both do."""
        return {FIRST: self.first, SECOND: self.second}.get(self.choice, "")

    @property
    def dropped(self) -> str:
        """The key of the document that goes; "" where none does."""
        return {FIRST: self.second, SECOND: self.first}.get(self.choice, "")


def decided(before: Iterable[Decision], new: Iterable[Decision]) -> tuple[Decision, ...]:
    """All decisions with some new ones, each in place of what was decided of its pair before."""
    found = {one.pair: one for one in before}
    for one in new:
        found.pop(one.pair, None)
        found[one.pair] = one
    return tuple(found.values())


def going(decisions: Iterable[Decision], gone: Container[str] = ()) -> dict[str, str]:
    """The documents that go, by key, and the key of that for which each was to go.

    A decision by which a document would go for one that itself goes for it, be it through others, is passed over: of every family
    one stays. So is one by which it would go for a document that is not there to stay. gone: the keys of those that are set aside, or
    document no longer exists.
    """
    stays: dict[str, str] = {}
    for one in decisions:
        if one.dropped and one.dropped not in stays and _end(stays, one.kept) != one.dropped:
            stays[one.dropped] = one.kept
    while lost := [key for key, kept in stays.items() if kept in gone and kept not in stays]:
        for key in lost:
            del stays[key]
    return stays


def dropped(decisions: Iterable[Decision], gone: Container[str] = ()) -> dict[str, str]:
    """The documents that go, by key, and the key of that which stays in place of each. gone: as in `going`."""
    stays = going(decisions, gone)
    return {key: _end(stays, kept) for key, kept in stays.items()}


def _end(stays: Mapping[str, str], key: str) -> str:
    while key in stays:
        key = stays[key]
    return key


def state_of(decision: Decision, there: Mapping[str, bool], goes: Mapping[str, str], aside: Container[str]) -> str:
    """The status of a decision, in words. there: for the keys that exist, whether they are in the lens. goes: as of `going`. aside: the
    keys that are set aside."""
    if any(key not in there for key in (decision.first, decision.second)):
        return "document no longer exists"
    if decision.dropped and decision.dropped in aside:
        return "applied"
    if any(not there[key] for key in (decision.first, decision.second)):
        return "not in this lens"
    if decision.dropped and decision.dropped not in goes and decision.kept in aside:
        return "skipped: the one to keep was set aside"
    if decision.dropped and goes.get(decision.dropped) != decision.kept:
        return "skipped: the one to keep would go, too" if decision.dropped not in goes else "goes anyway"
    return "to be applied" if decision.dropped else "noted"


def gone_of(decisions: Iterable[Decision], there: Container[str], aside: Container[str]) -> frozenset[str]:
    """The documents of decisions that are not there to stay, by key. there: the keys of all documents; aside: of those set aside."""
    return frozenset(key for one in decisions for key in one.pair if key not in there or key in aside)


def standing(
    decisions: Iterable[Decision], keys: Iterable[str], lens_rows: Iterable[int], aside: Container[str]
) -> list[tuple[Decision, str]]:
    """All decisions, and how each stands. keys: of the documents; lens_rows: those of them that are in the lens. aside: as of
    `state_of`."""
    made, inside = tuple(decisions), set(lens_rows)
    there = {key: row in inside for row, key in enumerate(keys)}
    goes = going(made, gone_of(made, there, aside))
    return [(one, state_of(one, there, goes, aside)) for one in made]
