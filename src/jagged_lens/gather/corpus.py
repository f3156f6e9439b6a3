# SPDX-License-Identifier: GPL-3.0-or-later
"""The corpus: all documents of a project, in an order that never changes."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from jagged_lens.strings import Strings

NO_DATE = np.iinfo(np.int32).min
"""Stands for a date that is not known."""


@dataclass(frozen=True, eq=False)
class Label:
    """One label of all documents, such as the crop. values: the distinct values; codes: int32, value of each row."""

    name: str
    values: Strings
    codes: NDArray[np.int32]

    @classmethod
    def of(cls, name: str, values: Iterable[str]) -> Label:
        """Distinct values in the order in which they first occur."""
        seen: dict[str, int] = {}
        codes = np.array([seen.setdefault(value, len(seen)) for value in values], np.int32)
        return cls(name, Strings.of(seen), codes)

    @property
    def none(self) -> int:
        """The code that stands for no value; -1 where every document has one."""
        return next((code for code, value in enumerate(self.values) if not value), -1)

    def value(self, row: int) -> str:
        """The value of the document at a row; "" where it has none."""
        return self.values[int(self.codes[row])]

    def take(self, rows: NDArray[np.integer]) -> Label:
        """The label of the documents at some rows (int64 or int32), in that order."""
        return Label(self.name, self.values, self.codes[rows])


@dataclass(frozen=True, eq=False)
class Number:
    """A column of numbers. values: float64, NaN where there is none."""

    name: str
    values: NDArray[np.float64]


@dataclass(frozen=True)
class Unread:
    """A file, page or row that gave no document, and why."""

    name: str
    reason: str


@dataclass(frozen=True)
class Doubt:
    """A file whose encoding is not certain. readings: the encodings that come into question, the one that was taken first, each with
    a line as it reads it. source: which of the sources it belongs to."""

    name: str
    readings: tuple[tuple[str, str], ...]
    source: int = 0

    @property
    def words(self) -> str:
        """The message about it."""
        (taken, line), *others = self.readings
        rest = "; ".join(f"as {encoding}: “{read}”" for encoding, read in others)
        return f"{self.name} was read as {taken}, which is not certain: “{line}”; {rest}."


@dataclass(frozen=True)
class Page:
    """The outcome of fetching one link.

    address: as it was asked for. landed: where it led to. status: of HTTP, 0 where there was no answer. kind: its media
    type, with the character set where its server says one that is not UTF-8. size: in bytes. problem: why it gave no document,
    "" where it did. day: when it was fetched, ISO 8601.
    """

    address: str
    landed: str
    status: int
    kind: str
    size: int
    problem: str
    day: str


@dataclass(frozen=True, eq=False)
class Corpus:
    """n documents. Outside, a document is its key; inside, its row.

    keys, texts (NFC), titles, origins (the file it came from): n strings each. dates: int32, days since 1970-01-01, or
    NO_DATE; empty where no document has one. source: int32, which source it came from. parents: the key of the whole
    document of each unit, and gaps: what stands before it there, behind the unit before; None where the units are whole documents.
    notices: what was found while reading, in words. unread: what gave no document. pages: the links that were fetched. doubts: encodings that
    are not certain.
    counts: how many documents each source gave; stamps: what was read of each, "" where that is not to be kept.
    """

    keys: Strings
    texts: Strings
    titles: Strings
    origins: Strings
    labels: tuple[Label, ...] = ()
    notices: tuple[str, ...] = ()
    dates: NDArray[np.int32] = field(default_factory=lambda: np.zeros(0, np.int32))
    numbers: tuple[Number, ...] = ()
    source: NDArray[np.int32] = field(default_factory=lambda: np.zeros(0, np.int32))
    parents: Strings | None = None
    gaps: Strings | None = None
    unread: tuple[Unread, ...] = ()
    pages: tuple[Page, ...] = ()
    counts: tuple[int, ...] = ()
    stamps: tuple[str, ...] = ()
    doubts: tuple[Doubt, ...] = ()

    def __len__(self) -> int:
        return len(self.keys)

    def take(self, rows: NDArray[np.integer]) -> Corpus:
        """The documents at some rows, in that order, without what was said of their sources as a whole.

        rows: int64 or int32, corpus rows.
        """
        return Corpus(
            self.keys.take(rows),
            self.texts.take(rows),
            self.titles.take(rows),
            self.origins.take(rows),
            tuple(label.take(rows) for label in self.labels),
            dates=self.dates[rows] if len(self.dates) else self.dates,
            numbers=tuple(Number(one.name, one.values[rows]) for one in self.numbers),
            source=self.source[rows] if len(self.source) else self.source,
            pages=self.pages,
        )

    def date(self, row: int) -> str:
        """The date of a document as ISO 8601; "" where it has none."""
        if not len(self.dates) or self.dates[row] == NO_DATE:
            return ""
        return str(np.datetime64(int(self.dates[row]), "D"))


def joined(corpora: Sequence[Corpus], names: Sequence[str]) -> Corpus:
    """The documents of several sources, one after the other.

    names: of the sources. A key that an earlier source has already gets the name of its own source in front, and a number
    where that is taken too.
    """
    if len(corpora) == 1:
        one = corpora[0]
        doubts = tuple(dataclasses.replace(doubt, source=0) for doubt in one.doubts)
        return dataclasses.replace(one, source=np.zeros(len(one), np.int32), counts=(len(one),), doubts=doubts)
    keys: list[str] = []
    seen: set[str] = set()
    notices: list[str] = []
    for one, name in zip(corpora, names, strict=True):
        changed = 0
        for key in one.keys:
            own, number = key, 1
            while own in seen:
                own = f"{name}/{key}" if number == 1 else f"{name} {number}/{key}"
                number += 1
            changed += own != key
            seen.add(own)
            keys.append(own)
        notices.extend(one.notices)
        if changed:
            notices.append(
                f"{name}: {changed:,} keys were already in use; the name of their source was put in front of them."
            )
    sizes = np.array([len(one) for one in corpora])
    ends = np.cumsum(sizes)
    total = int(ends[-1]) if len(ends) else 0
    dates = np.zeros(0, np.int32)
    if any(len(one.dates) for one in corpora):
        filled = [one.dates if len(one.dates) else np.full(len(one), NO_DATE, np.int32) for one in corpora]
        dates = np.concatenate(filled).astype(np.int32)
    return Corpus(
        Strings.of(keys),
        Strings.joined([one.texts for one in corpora]),
        Strings.joined([one.titles for one in corpora]),
        Strings.joined([one.origins for one in corpora]),
        _labels(corpora),
        tuple(notices),
        dates,
        _numbers(corpora, ends - sizes, total),
        np.repeat(np.arange(len(corpora), dtype=np.int32), sizes),
        unread=tuple(entry for one in corpora for entry in one.unread),
        pages=tuple(page for one in corpora for page in one.pages),
        counts=tuple(sizes.tolist()),
        doubts=tuple(
            dataclasses.replace(doubt, source=number) for number, one in enumerate(corpora) for doubt in one.doubts
        ),
    )


def _labels(corpora: Sequence[Corpus]) -> tuple[Label, ...]:
    names = dict.fromkeys(label.name for one in corpora for label in one.labels)
    found = []
    for name in names:
        seen: dict[str, int] = {}
        codes = []
        for one in corpora:
            own = next((label for label in one.labels if label.name == name), None)
            if own is None:
                codes.append(np.full(len(one), seen.setdefault("", len(seen)), np.int32))
            else:
                place = np.array([seen.setdefault(value, len(seen)) for value in own.values], np.int32)
                codes.append(place[own.codes] if len(own.codes) else np.zeros(0, np.int32))
        found.append(Label(name, Strings.of(seen), np.concatenate(codes)))
    return tuple(found)


def _numbers(corpora: Sequence[Corpus], starts: NDArray[np.int64], total: int) -> tuple[Number, ...]:
    names = dict.fromkeys(number.name for one in corpora for number in one.numbers)
    found = []
    for name in names:
        values = np.full(total, np.nan)
        for one, start in zip(corpora, starts.tolist(), strict=True):
            for number in one.numbers:
                if number.name == name:
                    values[start : start + len(one)] = number.values
        found.append(Number(name, values))
    return tuple(found)
