# SPDX-License-Identifier: GPL-3.0-or-later
"""The role of each column of a table: guessed from its first rows, and the faults of a choice, in words."""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jagged_lens.gather.dates import looks_like_date
from jagged_lens.gather.numbers import numbers_of
from jagged_lens.gather.source import Source
from jagged_lens.language import word_count

Role = Literal["text", "title", "key", "label", "date", "number", "link", "leave out"]
ROLES: tuple[Role, ...] = ("text", "title", "key", "label", "date", "number", "link", "leave out")

PREVIEW_ROWS = 200
_LINK = re.compile(r"(?:https?://|www\.)\S+$", re.IGNORECASE)
_TITLES = frozenset(["title", "subject", "headline", "heading"])
_KEYS = re.compile(r"(?:.*[ _-])?(?:id|key|no|nr|number|code)", re.IGNORECASE)
_PROSE = 4.0  # words in a cell, on average, from which a column holds prose
_MOST = 0.9


@dataclass(frozen=True)
class ColumnLook:
    """The look of a column in the first rows; shares are of the filled cells.

    filled: share of the rows. words: mean number of words. numbers, dates, links: shares. distinct: share of different values,
    different: their number. longest: characters of the longest cell.
    """

    name: str
    filled: float
    words: float
    numbers: float
    dates: float
    links: float
    distinct: float
    different: int
    longest: int


def look_at(columns: Sequence[str], rows: Sequence[Sequence[str]]) -> list[ColumnLook]:
    """The look of each column in the rows."""
    looks = []
    for place, name in enumerate(columns):
        cells = [row[place].strip() if place < len(row) else "" for row in rows]
        filled = [cell for cell in cells if cell]
        count = max(len(filled), 1)
        values = set(filled)
        looks.append(
            ColumnLook(
                name,
                len(filled) / max(len(cells), 1),
                sum(word_count(cell) for cell in filled) / count,
                float(np.isfinite(numbers_of(filled)).sum()) / count,
                sum(looks_like_date(cell) for cell in filled) / count,
                sum(bool(_LINK.match(cell)) for cell in filled) / count,
                len(values) / count,
                len(values),
                max(map(len, filled), default=0),
            )
        )
    return looks


def guess_roles(looks: Sequence[ColumnLook]) -> list[Role]:
    """A role for each column: the wordiest is the text, what names each row its key, what comes again a label."""
    roles: list[Role] = ["leave out"] * len(looks)
    for place, look in enumerate(looks):
        if not look.filled:
            continue
        if look.links >= _MOST:
            roles[place] = "link"
        elif look.dates >= _MOST:
            roles[place] = "date" if "date" not in roles else "leave out"
        elif look.numbers >= _MOST:
            few = look.different <= 12 and look.distinct < 0.5
            roles[place] = "label" if few else "number"
        elif look.words < _PROSE and look.longest <= 60 and look.different <= 60 and look.distinct <= 0.5:
            roles[place] = "label"
    prose = [place for place, look in enumerate(looks) if roles[place] == "leave out" and look.filled]
    if prose:
        best = max(prose, key=lambda place: looks[place].words * looks[place].filled)
        roles[best] = "text"
        prose.remove(best)
    for place, look in enumerate(looks):
        unique = look.filled == 1 and look.distinct == 1 and look.longest <= 40 and look.words < 1.5
        if unique and "key" not in roles and roles[place] in ("leave out", "number") and _KEYS.fullmatch(look.name):
            roles[place] = "key"
    named = [place for place in prose if looks[place].name.casefold() in _TITLES and roles[place] == "leave out"]
    short = [
        place
        for place in prose
        if roles[place] == "leave out" and 1.5 <= looks[place].words <= 14 and looks[place].distinct > 0.6
    ]
    if named or short:
        roles[(named or short)[0]] = "title"
    if "text" in roles:  # pages are fetched only where there is nothing else to read
        text = looks[roles.index("text")]
        roles = [("leave out" if role == "link" and text.words >= _PROSE else role) for role in roles]
        if "link" in roles and text.words < _PROSE:
            roles[roles.index("text")] = "title" if "title" not in roles else "leave out"
    return roles


def warning(look: ColumnLook, role: Role) -> str:
    """The oddities of a column in a role, in words; "" if there are none."""
    if role == "leave out":
        return ""
    if not look.filled:
        return "The column is empty."
    if role == "text":
        for share, what in ((look.numbers, "numbers"), (look.dates, "dates"), (look.links, "web addresses")):
            if share >= 0.5:
                return f"{share:.0%} of these are {what}, not prose."
        if look.words < 1.5 and look.distinct > 0.9 and look.longest <= 40:
            return "Each of these is one distinct word, like a key; this is not prose."
        if look.words < _PROSE and look.distinct < 0.2:
            return "The same few values repeat, like a label; this is not prose."
    if role == "key":
        if look.filled < 1:
            return f"{1 - look.filled:.0%} of the rows have no key."
        if look.distinct < 1:
            return "Some values occur more than once; keys must be unique."
    if role == "date" and look.dates < _MOST and look.numbers < _MOST:
        return f"{1 - max(look.dates, look.numbers):.0%} of these cannot be read as dates."
    if role == "number" and look.numbers < 1:
        return f"{1 - look.numbers:.0%} of these are not numbers and will be left empty."
    if role == "label" and look.distinct > 0.9 and look.different > 20:
        return "Nearly every row has its own value; the values of a label should repeat."
    if role == "link" and look.links < _MOST:
        return f"{1 - look.links:.0%} of these are not http or https addresses."
    return ""


def source_with(source: Source, columns: Sequence[str], roles: Sequence[Role]) -> Source:
    """The source with these roles of its columns."""

    def those(wanted: Role) -> tuple[str, ...]:
        return tuple(name for name, role in zip(columns, roles, strict=True) if role == wanted)

    def one(wanted: Role) -> str:
        return next(iter(those(wanted)), "")

    changed = dataclasses.replace(
        source,
        key=one("key"),
        text=those("text"),
        title=one("title"),
        labels=those("label"),
        date=one("date"),
        numbers=those("number"),
        column="",
    )
    if one("link"):
        changed = dataclasses.replace(changed, file="", links=source.links or source.file, column=one("link"))
    return changed


def roles_in(source: Source, columns: Sequence[str]) -> list[Role] | None:
    """The roles that a source says its columns have; None where it says none of them."""
    said: dict[str, Role] = {}
    said.update(dict.fromkeys(source.numbers, "number"))
    said.update(dict.fromkeys(source.labels, "label"))
    single: tuple[tuple[str, Role], ...] = (
        (source.date, "date"),
        (source.title, "title"),
        (source.key, "key"),
        (source.column, "link"),
    )
    said.update({name: role for name, role in single if name})
    said.update(dict.fromkeys(source.text, "text"))
    return [said.get(name, "leave out") for name in columns] if any(name in said for name in columns) else None
