# SPDX-License-Identifier: GPL-3.0-or-later
"""Names and notes that the user gave to groups: they hang on the documents of the group, and follow it when it changes a little."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.group import Grouping

SAME = 0.5
"""A name follows a group that has at least this overlap (Jaccard) with the documents that it was given for."""


@dataclass(frozen=True)
class GroupName:
    """A name and a note, and the keys of the documents that were in the group when they were given."""

    name: str
    note: str
    keys: frozenset[str]


@dataclass(frozen=True, eq=False)
class GroupNames:
    """Assign names to groups greedily by falling overlap; names that fit no group are kept until one does."""

    of: Mapping[int, GroupName]
    waiting: tuple[GroupName, ...]

    @property
    def given(self) -> dict[int, tuple[str, str]]:
        """The name and the note of each group that has any."""
        return {group: (one.name, one.note) for group, one in self.of.items()}


def followed(
    given: Sequence[GroupName], group: NDArray[np.integer], groups: int, places: Mapping[str, int]
) -> GroupNames:
    """Each name to the group with the best overlap, one name a group, the best overlaps first.

    group: int32, n, the group of each row, -1: none. places: the row of each key that is there.
    """
    sizes = np.bincount(group[group >= 0], minlength=groups)
    fits: list[tuple[float, int, int]] = []
    for number, one in enumerate(given):
        rows = np.array([places[key] for key in one.keys if key in places], np.int64)
        own = group[rows]
        both = np.bincount(own[own >= 0], minlength=groups)
        overlap = both / np.maximum(len(one.keys) + sizes - both, 1)
        fits += [(-float(overlap[at]), number, int(at)) for at in np.flatnonzero(overlap >= SAME)]
    of: dict[int, GroupName] = {}
    placed: set[int] = set()
    for _, number, at in sorted(fits):
        if at not in of and number not in placed:
            of[at] = given[number]
            placed.add(number)
    return GroupNames(of, tuple(one for number, one in enumerate(given) if number not in placed))


def names_of(
    given: Sequence[GroupName], grouping: Grouping, keys: Sequence[str], lens_rows: Sequence[int]
) -> GroupNames:
    """Each name to its group. keys: of all documents; lens_rows: which of them the rows of the grouping are."""
    places = {keys[row]: at for at, row in enumerate(lens_rows)} if given else {}
    return followed(given, grouping.group, len(grouping), places)


def renamed(given: Iterable[GroupName], before: GroupName | None, new: GroupName) -> tuple[GroupName, ...]:
    """All names with one in place of another, or added; one without name and note goes."""
    others = tuple(one for one in given if one is not before)
    return (*others, new) if new.name or new.note else others
