"""What documents can be laid along: a date, a column of numbers, or a label whose values are numbers."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather import NO_DATE, Corpus, Label

DATE = "date"
_MOSTLY = 0.9
_NUMBERED = re.compile(r"(\D*?)([-+−]?\d[\d,]*(?:\.\d+)?)(\D*)")


@dataclass(frozen=True, eq=False)
class Scale:
    """One number a document. name: of the column; kind: "date" (days since 1970-01-01) or "number". values: float64, n, NaN where a
    document has none."""

    name: str
    kind: str
    values: NDArray[np.float64]


def scales_of(corpus: Corpus) -> list[str]:
    """The names of what the documents can be laid along: the date first, then columns of numbers, then labels that are numbers."""
    names = [DATE] if bool((corpus.dates != NO_DATE).any()) else []
    names += [number.name for number in corpus.numbers if bool((~np.isnan(number.values)).any())]
    return names + [label.name for label in corpus.labels if _as_numbers(label) is not None]


def scale_of(corpus: Corpus, name: str) -> Scale | None:
    """One of them by its name; None where there is none of that name."""
    if name == DATE and len(corpus.dates):
        days = corpus.dates.astype(np.float64)
        return Scale(name, "date", np.where(corpus.dates == NO_DATE, np.nan, days))
    for number in corpus.numbers:
        if number.name == name:
            return Scale(name, "number", number.values)
    for label in corpus.labels:
        if label.name == name and (values := _as_numbers(label)) is not None:
            return Scale(name, "number", values[label.codes] if len(label.codes) else np.zeros(0))
    return None


def _as_numbers(label: Label) -> NDArray[np.float64] | None:
    """The number in each value of a label, where nearly all have one and the same words around it, such as "year 3"; else None. Values
    that are not such are NaN."""
    found, words = [], set()
    for value in label.values:
        fits = _NUMBERED.fullmatch(value.strip())
        found.append(float(fits[2].replace(",", "").replace("−", "-")) if fits else np.nan)
        if fits:
            words.add((fits[1].strip(), fits[3].strip()))
    values = np.array(found, np.float64)
    there = np.array([bool(value.strip()) for value in label.values])
    enough = there.any() and (~np.isnan(values[there])).mean() >= _MOSTLY
    return values if enough and len(words) == 1 and len(np.unique(values[~np.isnan(values)])) > 1 else None
