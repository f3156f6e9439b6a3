# SPDX-License-Identifier: GPL-3.0-or-later
"""Numbers as people write them: with a point or a comma before the decimals, and marks between thousands.

*1,200* can be read in two ways. The other numbers of its column say which.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

_SPACED = re.compile(r"(?<=\d)[\s'’\u00a0\u202f](?=\d{3}(?!\d))")
_PLAIN = re.compile(r"[-+]?(?:\d+(?:[.,]\d*)*|[.,]\d+)")
_EXPONENT = re.compile(r"[-+]?\d+(?:\.\d+)?[eE][-+]?\d{1,3}")
_THOUSANDS = re.compile(r"[-+]?[1-9]\d{0,2}(?:([.,])\d{3})(?:\1\d{3})*")
POINT, COMMA, EITHER = ".", ",", ""


def numbers_of(cells: Iterable[str]) -> NDArray[np.float64]:
    """The number in each cell of a column, NaN where there is none: float64.

    A single comma before three digits parts thousands, unless the column has numbers in which a comma can only stand before decimals;
    a single point stands before decimals, unless the column has numbers in which it can only part thousands.

    >>> numbers_of(["950", "1,200", "1,234,567", "2.5", "x"]).tolist()
    [950.0, 1200.0, 1234567.0, 2.5, nan]
    >>> numbers_of(["1,200", "0,75", "1.234.567,5"]).tolist()
    [1.2, 0.75, 1234567.5]
    """
    plain = [_plain(cell) for cell in cells]
    marks = {_decimal_mark(one) for one in plain} - {EITHER}
    mark = marks.pop() if len(marks) == 1 else EITHER
    return np.array([_value(one, mark) for one in plain], np.float64)


def number_of(cell: str) -> float | None:
    """The number in a single cell, read as in a column of its own; None where there is none.

    >>> number_of("2,5"), number_of("1,200"), number_of("plot 3")
    (2.5, 1200.0, None)
    """
    value = float(numbers_of([cell])[0])
    return None if math.isnan(value) else value


def _plain(cell: str) -> str:
    return _SPACED.sub("", cell.strip().replace("−", "-"))


def _decimal_mark(number: str) -> str:
    """The certain decimal mark of a number; EITHER if it is ambiguous."""
    if not _PLAIN.fullmatch(number):
        return EITHER
    points, commas = number.count("."), number.count(",")
    if points and commas:
        return POINT if number.rfind(".") > number.rfind(",") else COMMA
    if points + commas > 1:
        return COMMA if points else POINT
    if points + commas == 1 and not _THOUSANDS.fullmatch(number):
        return POINT if points else COMMA
    return EITHER


def _value(number: str, mark: str) -> float:
    if _EXPONENT.fullmatch(number):
        value = float(number)
        return value if math.isfinite(value) else math.nan
    if not _PLAIN.fullmatch(number):
        return math.nan
    own = _decimal_mark(number) or mark or POINT
    other = COMMA if own == POINT else POINT
    whole, _, decimals = number.partition(own)
    if other in decimals or own in decimals:
        return math.nan
    if other in whole and not _THOUSANDS.fullmatch(whole):
        return math.nan
    value = float(f"{whole.replace(other, '')}.{decimals or 0}")
    return value if math.isfinite(value) else math.nan
