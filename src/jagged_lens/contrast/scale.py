# SPDX-License-Identifier: GPL-3.0-or-later
"""The scales that can order documents: a date, a column of numbers, or a label whose values are numbers."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather import NO_DATE, Corpus, Label, Number, numbers_of

DATE = "date"
_MOSTLY = 0.9
_MOST_VALUES = 1_000  # that are all looked at, whatever the first ones are
_NUMBERED = re.compile(r"(\D*?)([-+−]?\d(?:[\d.,'’\u00a0\u202f]*\d)?)(\D*)")


@dataclass(frozen=True, eq=False)
class Scale:
    """One number a document. name: of the column; kind: "date" (days since 1970-01-01) or "number". values: float64, n, NaN where a
    document has none."""

    name: str
    kind: str
    values: NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Columns:
    """Dates (int32, n, or empty), numbers and labels, each of n, of the n documents of a lens."""

    dates: NDArray[np.int32]
    numbers: tuple[Number, ...]
    labels: tuple[Label, ...]

    @classmethod
    def of(cls, corpus: Corpus, labels: tuple[Label, ...], rows: NDArray[np.integer]) -> Columns:
        """Those of some documents of a corpus, with these labels. rows: int32, n corpus rows."""
        return cls(
            corpus.dates[rows] if len(corpus.dates) else corpus.dates,
            tuple(Number(one.name, one.values[rows]) for one in corpus.numbers),
            tuple(label.take(rows) for label in labels),
        )


def scales_of(columns: Columns) -> list[str]:
    """The names of what the documents can be laid along: the date first, then columns of numbers, then labels that are numbers."""
    names = [DATE] if bool((columns.dates != NO_DATE).any()) else []
    names += [number.name for number in columns.numbers if bool((~np.isnan(number.values)).any())]
    return names + [label.name for label in columns.labels if _as_numbers(label) is not None]


def scale_of(columns: Columns, name: str) -> Scale | None:
    """One of them by its name; None where there is none of that name."""
    if name == DATE and len(columns.dates):
        days = columns.dates.astype(np.float64)
        return Scale(name, "date", np.where(columns.dates == NO_DATE, np.nan, days))
    for number in columns.numbers:
        if number.name == name:
            return Scale(name, "number", number.values)
    for label in columns.labels:
        if label.name == name and (values := _as_numbers(label)) is not None:
            return Scale(name, "number", values[label.codes] if len(label.codes) else np.zeros(0))
    return None


def _as_numbers(label: Label) -> NDArray[np.float64] | None:
    """The number in each value of a label, where nearly all have one and the same words around it, such as "year 3"; else None. Values
    that are not such are NaN."""
    found, words = [], set()
    if len(label.values) > _MOST_VALUES and not any(map(str.isdigit, label.values[0] + label.values[1])):
        return None
    for value in label.values:
        fits = _NUMBERED.fullmatch(value.strip())
        found.append(fits[2] if fits else "")
        if fits:
            words.add((fits[1].strip(), fits[3].strip()))
    values = numbers_of(found)
    there = np.array([bool(value.strip()) for value in label.values])
    enough = there.any() and (~np.isnan(values[there])).mean() >= _MOSTLY
    return values if enough and len(words) == 1 and len(np.unique(values[~np.isnan(values)])) > 1 else None
