# SPDX-License-Identifier: GPL-3.0-or-later
"""Dates as tables write them: ISO 8601, years alone, and the day, month and year in the orders that are common."""

from __future__ import annotations

import dataclasses
import datetime
import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather.corpus import NO_DATE, Corpus, Label

_ISO = re.compile(r"\d{4}-\d\d-\d\d")
_THREE = re.compile(r"(\d{1,4})[./\-\s](\d{1,2})[./\-\s](\d{1,4})")
_YEAR = re.compile(r"\d{4}(?:\.0)?")
_EPOCH = datetime.date(1970, 1, 1).toordinal()
ORDERS = ("ymd", "dmy", "mdy")


def day_of(text: str, order: str = "dmy") -> int:
    """Days since 1970-01-01; NO_DATE where the text is no date. A year alone is its first day.

    order: of the three numbers of a date that is not ISO 8601: ymd, dmy or mdy.

    >>> day_of("1970-01-02"), day_of("2.1.1970"), day_of("1/2/1970", "mdy"), day_of("soon") == NO_DATE
    (1, 1, 1, True)
    """
    text = text.strip()
    try:
        if _ISO.match(text):
            return datetime.date.fromisoformat(text[:10]).toordinal() - _EPOCH
        if _YEAR.fullmatch(text):
            return datetime.date(int(text[:4]), 1, 1).toordinal() - _EPOCH
        if found := _THREE.match(text):
            parts = dict(zip(order, map(int, found.groups()), strict=True))
            year = parts["y"]
            if year < 100:
                year += 2000 if year < 70 else 1900
            return datetime.date(year, parts["m"], parts["d"]).toordinal() - _EPOCH
    except ValueError:
        return NO_DATE
    return NO_DATE


def days_of(texts: Sequence[str]) -> NDArray[np.int32]:
    """The days of a whole column, read in the order of day, month and year that makes dates of most of it.

    int32, days since 1970-01-01, one for each text; NO_DATE where there is none.
    """
    sample = [text for text in texts[:2000] if text.strip()]
    order = max(ORDERS[1:] + ORDERS[:1], key=lambda one: sum(day_of(text, one) != NO_DATE for text in sample))
    return np.array([day_of(text, order) for text in texts], np.int32)


def looks_like_date(text: str) -> bool:
    """True if a text is a date of three parts, in any of the orders."""
    if not (_ISO.match(text.strip()) or _THREE.match(text.strip())):
        return False
    return any(day_of(text, order) != NO_DATE for order in ORDERS)


def text_of_day(day: int) -> str:
    """A day as it is written, year first.

    >>> text_of_day(0)
    '1970-01-01'
    """
    return datetime.date.fromordinal(day + _EPOCH).isoformat()


def with_periods(corpus: Corpus) -> Corpus:
    """The corpus with the year and the month of its dates as labels, if they vary and no label has the name or values."""
    if not len(corpus.dates):
        return corpus
    texts = [text_of_day(int(day)) if day != NO_DATE else "" for day in corpus.dates.tolist()]
    taken = {label.name for label in corpus.labels}
    made = []
    for name, length in (("year", 4), ("month", 7)):
        label = Label.of(name if name not in taken else f"{name} of the date", (text[:length] for text in texts))
        known = any(one.values == label.values and np.array_equal(one.codes, label.codes) for one in corpus.labels)
        if sum(bool(value) for value in label.values) > 1 and label.name not in taken and not known:
            made.append(label)
    return dataclasses.replace(corpus, labels=(*corpus.labels, *made))
