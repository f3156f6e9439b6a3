# SPDX-License-Identifier: GPL-3.0-or-later
"""The output of a reader: records, one per document."""

from __future__ import annotations

import math
import re
from array import array

import numpy as np

from jagged_lens.errors import SourceError
from jagged_lens.gather.corpus import NO_DATE, Corpus, Doubt, Label, Number, Page, Unread
from jagged_lens.gather.dates import days_of
from jagged_lens.gather.encoding import clean_text
from jagged_lens.gather.numbers import numbers_of
from jagged_lens.strings import Strings, StringsBuilder

_TITLE_WORDS, _TITLE_CHARACTERS = 9, 70
_SENTENCE_END = re.compile(r"[.!?…]+(?=\s)|[。！？]")
_SHORTEST_SENTENCE = 12  # letters: what ends sooner may be an abbreviation
_NAME_CHARACTERS, _NAME_LETTERS = (
    40,
    0.7,
)  # of a key that reads as a name: how long it may be, and the share of letters in it


def reads_as_name(key: str) -> bool:
    """True if a key tells a reader what a document is: it is short, and mostly letters.

    >>> [reads_as_name(key) for key in ("Runner bean", "Otter Bank 3", "LM-0042", "17", "notes/beans.txt")]
    [True, True, False, False, False]
    """
    letters = sum(one.isalpha() for one in key)
    return (
        3 <= letters >= _NAME_LETTERS * len("".join(key.split()))
        and len(key) <= _NAME_CHARACTERS
        and not set(key) & set("/.\\@")
    )


def first_words(text: str) -> str:
    """The name of a document without a title: its first sentence or line, up to a limited number of words.

    >>> first_words("Late frost took the second sowing of the dwarf beans, and slugs the first.")
    'Late frost took the second sowing of the dwarf …'
    >>> first_words("Slugs took the beans. We sowed again."), first_words("Runner beans\\nplot 14, sown late")
    ('Slugs took the beans.', 'Runner beans')
    """
    whole = clean_text(text[:2_000]).strip()
    line = whole.split("\n", 1)[0]
    end = next(
        (found.end() for found in _SENTENCE_END.finditer(line) if found.start() >= _SHORTEST_SENTENCE), len(line)
    )
    words = line[:end].split(maxsplit=_TITLE_WORDS)
    shown = " ".join(words[:_TITLE_WORDS])
    if len(shown) > _TITLE_CHARACTERS:
        return shown[:_TITLE_CHARACTERS].rstrip() + "…"
    return f"{shown} …" if len(words) > _TITLE_WORDS else shown


class _Values:
    """One label while it grows: each distinct value once, and its code for every row."""

    def __init__(self, empty_rows: int) -> None:
        self.seen: dict[str, int] = {"": 0} if empty_rows else {}
        self.codes = array("i", [0]) * empty_rows

    def append(self, value: str) -> None:
        self.codes.append(self.seen.setdefault(value, len(self.seen)))


class Records:
    """Documents while they are gathered, grown by the readers."""

    def __init__(self) -> None:
        self._keys: list[str] = []
        self._texts = StringsBuilder()
        self._titles = StringsBuilder()
        self._any_title = False
        self._origins = StringsBuilder()
        self._dates: list[str] = []
        self._labels: dict[str, _Values] = {}
        self._numbers: dict[str, list[str]] = {}
        self.notices: list[str] = []
        self.unread: list[Unread] = []
        self.pages: list[Page] = []
        self.doubts: list[Doubt] = []

    def __len__(self) -> int:
        return len(self._keys)

    def add(
        self,
        key: str,
        text: str,
        title: str,
        origin: str,
        labels: dict[str, str],
        date: str = "",
        numbers: dict[str, str] | None = None,
    ) -> None:
        """Add one document: its key, text, title and origin, and its labels, date and numbers as they are written."""
        rows = len(self._keys)
        self._keys.append(clean_text(key))
        self._texts.append(clean_text(text))
        own = " ".join(clean_text(title).split())
        self._any_title = self._any_title or bool(own)
        self._titles.append(own or first_words(text) or key)
        self._origins.append(origin)
        self._dates.append(date)
        for name in labels:
            if name not in self._labels:
                self._labels[name] = _Values(rows)
        for name, values in self._labels.items():
            values.append(" ".join(clean_text(labels[name]).split()) if name in labels else "")
        for name in numbers or ():
            if name not in self._numbers:
                self._numbers[name] = [""] * rows
        for name, column in self._numbers.items():
            column.append((numbers or {}).get(name, ""))

    def miss(self, name: str, reason: str) -> None:
        """Something gave no document, and why."""
        self.unread.append(Unread(name, reason))

    def corpus(self) -> Corpus:
        """The corpus. SourceError where two documents have one key."""
        first: dict[str, int] = {}
        origins = self._origins.strings()
        for row, key in enumerate(self._keys, 1):
            if key in first:
                raise SourceError(
                    f'the key "{key}" is used by documents {first[key]} and {row}',
                    origins[row - 1],
                    "Keys must be unique. Choose another key column, or leave key empty.",
                )
            first[key] = row
        dates = np.zeros(0, np.int32)
        if any(self._dates):
            dates = days_of(self._dates)
            lost = sum(bool(date.strip()) for date in self._dates) - int((dates != NO_DATE).sum())
            if lost:
                self.notices.append(f"{lost:,} dates could not be read and were left empty.")
        keys = Strings.of(self._keys)
        numbers = tuple(self._number(name, cells) for name, cells in self._numbers.items())
        return Corpus(
            keys,
            self._texts.strings(),
            self._titles.strings() if self._any_title or not all(map(reads_as_name, self._keys)) else keys,
            origins,
            tuple(
                Label(name, Strings.of(values.seen), np.array(values.codes, np.int32))
                for name, values in self._labels.items()
            ),
            tuple(self.notices),
            dates,
            numbers,
            unread=tuple(self.unread),
            pages=tuple(self.pages),
            doubts=tuple(self.doubts),
        )

    def _number(self, name: str, cells: list[str]) -> Number:
        values = numbers_of(cells)
        wrong = [cell for cell, value in zip(cells, values.tolist(), strict=True) if cell.strip() and math.isnan(value)]
        if wrong:
            first = wrong[0].strip()[:40]
            self.notices.append(
                f'{len(wrong):,} cells of "{name}" are not numbers and were left empty, for example “{first}”.'
                if len(wrong) > 1
                else f'1 cell of "{name}" is not a number and was left empty: “{first}”.'
            )
        return Number(name, values)
