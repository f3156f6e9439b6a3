# SPDX-License-Identifier: GPL-3.0-or-later
"""The quality of suggestions: confusion table, precision, recall and F1, and calibration.

Manning, Raghavan & Schütze, "Introduction to Information Retrieval", 2008, ch. 8 and 13.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.group import counted_together

BANDS = (0.0, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 1.0)
"""Edges of the bands of probability in which it is counted how many suggestions are right."""


@dataclass(frozen=True, eq=False)
class Figures:
    """For the documents of one part: counts, int64, v × v: true × suggested. trivial: the share right if the most common value of the
    learned part is always suggested."""

    counts: NDArray[np.int64]
    trivial: float

    @property
    def documents(self) -> NDArray[np.int64]:
        """The number of documents that have each value (int64, v)."""
        return np.asarray(self.counts.sum(axis=1))

    @property
    def accuracy(self) -> float:
        """The share of documents whose own value is suggested; NaN where there are none."""
        n = int(self.counts.sum())
        return float(np.trace(self.counts) / n) if n else float("nan")

    @property
    def precision(self) -> NDArray[np.float64]:
        """For documents that get a value as a suggestion, the share that has it (float64, v); NaN if none gets it."""
        return _shares(np.diag(self.counts), self.counts.sum(axis=0))

    @property
    def recall(self) -> NDArray[np.float64]:
        """For documents that have a value, the share that gets it as a suggestion (float64, v); NaN if none has it."""
        return _shares(np.diag(self.counts), self.counts.sum(axis=1))

    @property
    def f1(self) -> NDArray[np.float64]:
        """2 right ÷ (given + suggested), the harmonic mean of precision and recall (float64, v); NaN where no document has the value."""
        found = _shares(2 * np.diag(self.counts), self.counts.sum(axis=0) + self.counts.sum(axis=1))
        return np.where(self.documents > 0, found, np.nan)

    @property
    def macro_f1(self) -> float:
        """The mean F1 of the values that documents have; NaN where none has any."""
        there = self.documents > 0
        return float(self.f1[there].mean()) if there.any() else float("nan")


def figures_of(given: NDArray[np.integer], suggested: NDArray[np.integer], values: int, commonest: int) -> Figures:
    """The figures of some documents. given, suggested: int32, n; commonest: the value that the trivial guess says."""
    trivial = float((given == commonest).mean()) if len(given) else float("nan")
    return Figures(counted_together(given, suggested, values, values), trivial)


@dataclass(frozen=True, eq=False)
class Bands:
    """For each band of probability, from low to high: documents (int64), the mean probability (float64) and the share that is right
    (float64. NaN where there are none)."""

    documents: NDArray[np.int64]
    probability: NDArray[np.float64]
    right: NDArray[np.float64]


def bands_of(probability: NDArray[np.floating], right: NDArray[np.bool_]) -> Bands:
    """The number of suggestions of each probability that are right. probability: float32, n; right: bool, n."""
    edges = np.array(BANDS[1:-1])
    band = np.searchsorted(edges, probability.astype(np.float64), side="right")
    documents = np.bincount(band, minlength=len(BANDS) - 1)
    mean = _shares(np.bincount(band, probability.astype(np.float64), minlength=len(documents)), documents)
    return Bands(documents, mean, _shares(np.bincount(band[right], minlength=len(documents)), documents))


def _shares(some: NDArray[np.generic], of: NDArray[np.integer]) -> NDArray[np.float64]:
    return np.where(of > 0, some / np.maximum(of, 1), np.nan)
