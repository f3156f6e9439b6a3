# SPDX-License-Identifier: GPL-3.0-or-later
"""The output of a reader of tables, and the text of a cell of any kind."""

from __future__ import annotations

import datetime
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

from jagged_lens.errors import SourceError
from jagged_lens.gather.corpus import Doubt
from jagged_lens.gather.encoding import Guess
from jagged_lens.gather.numbers import number_of

MOST_COLUMNS = 16_384  # as many as a sheet of a spreadsheet may have


@dataclass
class Table:
    """columns: their names. rows: the cells of each row as texts, read as they are asked for. share: how much of the file has been read.
    notices: what was found, in words. Complete when the rows are. settings: how it was read (encoding, separator, header, sheet). doubts:
    encodings that are not certain. choices: what could be chosen for such a setting, where it is a list."""

    columns: list[str]
    rows: Iterator[Sequence[str]]
    share: Callable[[], float] = lambda: 0.0
    notices: list[str] = field(default_factory=list)
    settings: dict[str, str] = field(default_factory=dict)
    choices: dict[str, list[str]] = field(default_factory=dict)
    close: Callable[[], None] = lambda: None
    doubts: list[Doubt] = field(default_factory=list)

    def say_encoding(self, name: str, wanted: str, guess: Guess) -> None:
        """Note how a file was read, unless that was `wanted` or goes without saying."""
        if guess.readings:
            self.doubts.append(Doubt(name, guess.readings))
        elif not wanted and self.settings["encoding"] not in ("utf-8", ""):
            self.notices.append(f"{name} was read as {self.settings['encoding']}.")


def cell_text(value: Any) -> str:
    """A cell as text: whole numbers without a point, dates as ISO 8601, lists joined by a comma."""
    if value is None:
        return ""
    if isinstance(value, str):
        return value
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float):
        if math.isnan(value):
            return ""
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    if isinstance(value, datetime.datetime):
        return value.date().isoformat() if value.time() == datetime.time() else value.isoformat(" ")
    if isinstance(value, datetime.date):
        return value.isoformat()
    if isinstance(value, bytes):
        return value.decode("utf-8", "replace")
    if isinstance(value, (list, tuple)):
        return ", ".join(map(cell_text, value))
    return str(value)


def named(header: Sequence[str]) -> list[str]:
    """The names of columns: stripped, an empty one by its place, one that is there already with a number."""
    seen: dict[str, int] = {}
    for place, name in enumerate(header, 1):
        plain = own = " ".join(name.split()) or f"column {place}"
        while own in seen:
            seen[plain] += 1
            own = f"{plain} {seen[plain]}"
        seen[own] = 1
    return list(seen)


def checked_width(columns: Sequence[str], name: str) -> None:
    """SourceError where a table has more columns than anyone can look at, or none."""
    if len(columns) > MOST_COLUMNS:
        raise SourceError(f"it has {len(columns):,} columns; at most {MOST_COLUMNS:,} are read", name)
    if not columns:
        raise SourceError("it has no columns", name)


def has_header(rows: Sequence[Sequence[str]]) -> bool:
    """True if the first of some rows names the columns: all of it filled, short and different, and no number in it."""
    if not rows:
        return False
    first = [cell.strip() for cell in rows[0]]
    filled = [cell for cell in first if cell]
    if not filled or len(set(filled)) < len(filled) or len(filled) < 0.6 * len(first):
        return False
    if any(len(cell) > 60 or number_of(cell) is not None for cell in filled):
        return False
    # One column of prose alone: its first line is a name only if it is a word or two.
    return len(first) > 1 or len(filled[0].split()) <= 2
