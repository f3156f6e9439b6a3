# SPDX-License-Identifier: GPL-3.0-or-later
"""Findings: what the user saw and kept, with the way back to it; and what stands between them in the report."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from jagged_lens.lens import Recipe

Run = tuple[str, str]
"""A stretch of a text, and the name of its mark, one of MARKS."""
MARKS = ("", "shared", "differs", "removed")
Figures = tuple[tuple[str, str], ...]
"""Names of figures and their values as they are shown."""


@dataclass(frozen=True)
class Way:
    """The way back to what was seen: desk, face, the keys of the current row, of the picked documents, and of the document that was
    read; and the picked terms."""

    desk: str
    face: str = ""
    row: tuple[str, ...] = ()
    pick: tuple[str, ...] = ()
    reading: str = ""
    terms: tuple[str, ...] = ()


@dataclass(frozen=True)
class Drawing:
    """A picture as it was drawn. svg: as lines and areas; png: where it was made of pixels. One of them is empty."""

    svg: str = ""
    png: bytes = b""


@dataclass(frozen=True)
class Rows:
    """Rows of a table as they were shown. caption: the name of the table. of: how many rows it had."""

    caption: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    of: int


@dataclass(frozen=True)
class Quote:
    """A text that was read, in runs with their marks."""

    title: str
    runs: tuple[Run, ...]


@dataclass(frozen=True)
class Finding:
    """A view that was kept, and how it came about.

    number: names it within its project. named: whether the title is the user's, not the one that was proposed. day: ISO 8601.
    lens and recipe: as they were. figures: behind it, as they were shown.
    """

    number: int
    title: str
    note: str
    day: str
    lens: str
    recipe: Recipe
    way: Way
    figures: Figures = ()
    drawing: Drawing | None = None
    rows: Rows | None = None
    quotes: tuple[Quote, ...] = ()
    named: bool = False

    def noted(self, note: str) -> Finding:
        """This finding with another note of the user."""
        return dataclasses.replace(self, note=note)


@dataclass(frozen=True)
class Heading:
    """A heading of the user's own; the findings below it belong to it."""

    number: int
    text: str


@dataclass(frozen=True)
class Words:
    """A paragraph of the user's own."""

    number: int
    text: str


Entry = Finding | Heading | Words


def next_number(entries: Iterable[Entry]) -> int:
    """The number of an entry to come.

    >>> next_number([]), next_number([Heading(3, "Copies")])
    (1, 4)
    """
    return max((entry.number for entry in entries), default=0) + 1


def replaced(entries: tuple[Entry, ...], new: Entry) -> tuple[Entry, ...]:
    """The entries with one in place of that with its number."""
    return tuple(new if entry.number == new.number else entry for entry in entries)


def moved(entries: tuple[Entry, ...], number: int, to: int) -> tuple[Entry, ...]:
    """The entries with one at another place.

    >>> [entry.number for entry in moved((Words(1, "a"), Words(2, "b"), Words(3, "c")), 1, 2)]
    [2, 3, 1]
    """
    one = next(entry for entry in entries if entry.number == number)
    others = [entry for entry in entries if entry.number != number]
    others.insert(min(max(to, 0), len(others)), one)
    return tuple(others)


def worded(entry: Entry, text: str) -> Entry:
    """The entry with another text: the title of a finding, the words of the others."""
    return (
        dataclasses.replace(entry, title=text, named=True)
        if isinstance(entry, Finding)
        else dataclasses.replace(entry, text=text)
    )


def changed_figures(then: Figures, now: Mapping[str, str]) -> list[tuple[str, str, str]]:
    """Names of the figures that are others now, with their values then and now.

    >>> changed_figures((("documents", "69"), ("similarity", ".058")), {"documents": "71", "similarity": ".058"})
    [('documents', '69', '71')]
    """
    return [(name, value, now[name]) for name, value in then if name in now and now[name] != value]
