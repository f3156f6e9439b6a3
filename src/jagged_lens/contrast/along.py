# SPDX-License-Identifier: GPL-3.0-or-later
"""Along a number or a date: which terms go with it, and how many documents each period has."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.contrast.ranks import corrected, rank_sums, ranks_of
from jagged_lens.contrast.scale import Scale

PARTS = 5


@dataclass(frozen=True, eq=False)
class Along:
    """m terms along the d documents that have a value.

    documents: int64, m, how many of them hold each term. superiority: float64, m, the probability that one with the term has a larger
    value than one without. chance: float64, m, how often so clear a finding is false, corrected for the number of terms. shares: float64,
    m × 5, the share of documents with the term in five parts of equally many, equal values together. edges: float64, 5 × 2, the smallest
    and the largest value of each part (NaN: it has none). sizes: int64, 5.
    """

    documents: NDArray[np.int64]
    superiority: NDArray[np.float64]
    chance: NDArray[np.float64]
    shares: NDArray[np.float64]
    edges: NDArray[np.float64]
    sizes: NDArray[np.int64]


def along(counts: csr_array, values: NDArray[np.float64]) -> Along:
    """The association of terms with a number. counts: CSR, n × m; values: float64, n, NaN for a document that is left out."""
    some = np.flatnonzero(~np.isnan(values))
    held, own = counts[some], values[some]
    m = counts.shape[1]
    found = rank_sums(own, held)
    # The middle of equal values says in which part they are, all together.
    middle = (ranks_of(own) - 0.5) / max(len(own), 1)
    part = np.minimum((middle * PARTS).astype(np.int64), PARTS - 1)
    sizes = np.bincount(part, minlength=PARTS)
    cells = held.indices.astype(np.int64) * PARTS + np.repeat(part, np.diff(held.indptr))
    inside = np.bincount(cells, minlength=m * PARTS).reshape(m, PARTS)
    edges = np.full((PARTS, 2), np.nan)
    for number in np.flatnonzero(sizes).tolist():
        edges[number] = own[part == number].min(), own[part == number].max()
    return Along(found.size, found.superiority, corrected(found.p), inside / np.maximum(sizes, 1), edges, sizes)


@dataclass(frozen=True, eq=False)
class Periods:
    """Equal stretches of a scale, one after the other. of: int64, n, the period of each document, -1 where it has none. names: of each,
    in words. sizes: int64, how many documents each has."""

    of: NDArray[np.int64]
    names: tuple[str, ...]
    sizes: NDArray[np.int64]

    def counted(self, inside: NDArray[np.bool_]) -> NDArray[np.int64]:
        """The number of documents in each period, among some documents (bool, n): int64."""
        return np.bincount(self.of[inside & (self.of >= 0)], minlength=len(self.names))


MOST_PERIODS = 40
_QUARTERS = 3


def periods(scale: Scale) -> Periods:
    """The periods of a scale: of dates years, or quarters, months, days, the shortest of which there are at most 40, and else stretches
    of years. Of numbers the values themselves, where they are few whole numbers, or else twenty equal stretches."""
    values = scale.values
    there = np.isfinite(values)
    if not there.any():
        return Periods(np.full(len(values), -1), (), np.zeros(0, np.int64))
    place = np.full(len(values), -1, np.int64)
    if scale.kind == "date":
        place[there], names = _of_dates(values[there].astype(np.int64))
    else:
        place[there], names = _of_numbers(values[there])
    return Periods(place, names, np.bincount(place[there], minlength=len(names)))


def _of_dates(days: NDArray[np.int64]) -> tuple[NDArray[np.int64], tuple[str, ...]]:
    dates = days.astype("datetime64[D]")
    months = dates.astype("datetime64[M]").astype(np.int64)
    first_day = int(days.min())
    if int(days.max()) - first_day < MOST_PERIODS:
        number = days - first_day
        return number, tuple(str(np.datetime64(first_day + at, "D")) for at in range(int(number.max()) + 1))
    for step, name in ((1, _month), (_QUARTERS, _quarter), (12, _year)):
        number = months // step
        low = int(number.min())
        if int(number.max()) - low < MOST_PERIODS:
            return number - low, tuple(name((low + at) * step) for at in range(int(number.max()) - low + 1))
    years = months // 12
    low, step = int(years.min()), -(-(int(years.max()) - int(years.min()) + 1) // MOST_PERIODS)
    number = (years - low) // step
    return number, tuple(
        f"{_year((low + at * step) * 12)}–{_year((low + at * step + step - 1) * 12)}"
        for at in range(int(number.max()) + 1)
    )


def _month(months: int) -> str:
    return str(np.datetime64(months, "M"))


def _quarter(months: int) -> str:
    return f"{_year(months)} {('Jan–Mar', 'Apr–Jun', 'Jul–Sep', 'Oct–Dec')[months % 12 // _QUARTERS]}"


def _year(months: int) -> str:
    return str(np.datetime64(months, "M").astype("datetime64[Y]"))


def _of_numbers(values: NDArray[np.float64]) -> tuple[NDArray[np.int64], tuple[str, ...]]:
    low, high = float(values.min()), float(values.max())
    if bool((values == np.floor(values)).all()) and high - low < MOST_PERIODS:
        number = (values - low).astype(np.int64)
        return number, tuple(f"{low + at:g}" for at in range(int(number.max()) + 1))
    if low == high:
        return np.zeros(len(values), np.int64), (f"{low:g}",)
    steps = 20
    width = (high - low) / steps
    number = np.minimum(((values - low) / width).astype(np.int64), steps - 1)
    return number, tuple(f"{low + at * width:.4g} to {low + (at + 1) * width:.4g}" for at in range(steps))
