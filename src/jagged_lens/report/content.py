# SPDX-License-Identifier: GPL-3.0-or-later
"""The content of a report, whatever format it goes out in: sections of paragraphs, lists, tables and pictures."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Paragraph:
    """A paragraph of plain text."""

    text: str


@dataclass(frozen=True)
class Listing:
    """Lines below each other, each a plain text."""

    lines: tuple[str, ...]


@dataclass(frozen=True)
class Table:
    """Rows of cells in words. caption: its title. heads: of the columns. numbers: the columns that are set to the right. The first cell of a
    row is its head."""

    caption: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    numbers: frozenset[int] = frozenset()


@dataclass(frozen=True)
class Picture:
    """A picture as SVG, or else as PNG, with the words that stand for it where it cannot be seen."""

    svg: str
    alternative: str
    caption: str
    png: bytes = b""


@dataclass(frozen=True)
class Subheading:
    """A heading within a section."""

    text: str


@dataclass(frozen=True)
class Aside:
    """A line in small letters: where something comes from."""

    text: str


@dataclass(frozen=True)
class Quoted:
    """A text that is quoted, in runs: each a stretch and the name of its mark, "shared", "differs", "removed" or ""."""

    title: str
    runs: tuple[tuple[str, str], ...]


Part = Paragraph | Listing | Table | Picture | Subheading | Aside | Quoted


@dataclass(frozen=True)
class Section:
    """A heading and what stands below it. name: of the section among the standing parts."""

    name: str
    title: str
    parts: tuple[Part, ...]


@dataclass(frozen=True)
class Report:
    """A report. under: a line below the title. day: ISO 8601, "" for none."""

    title: str
    under: str
    sections: tuple[Section, ...]
    day: str = ""
