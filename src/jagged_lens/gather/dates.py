"""Dates as tables write them: ISO 8601, years alone, and the day, month and year in the orders that are common."""

from __future__ import annotations

import datetime
import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather.corpus import NO_DATE

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
    """Whether a text is a date of three parts, in any of the orders."""
    if not (_ISO.match(text.strip()) or _THREE.match(text.strip())):
        return False
    return any(day_of(text, order) != NO_DATE for order in ORDERS)
