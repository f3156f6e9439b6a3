# SPDX-License-Identifier: GPL-3.0-or-later
"""The rank-sum test of many sets at once: do the documents that hold a term have larger values than those that do not?

Wilcoxon, "Individual comparisons by ranking methods", 1945; Mann & Whitney, "On a test of whether one of two random variables is
stochastically larger than the other", 1947; correction for ties and normal approximation as in Lehmann, "Nonparametrics", 1975.
Many tests: Benjamini & Hochberg, "Controlling the false discovery rate", 1995.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array
from scipy.special import ndtr


@dataclass(frozen=True, eq=False)
class RankSums:
    """For each of m sets: size (int64). Superiority (float64): the probability that a value in it is larger than one outside, ties
    counting half, 0.5 where it is nothing or all. P (float64): of so large a distance from 0.5 by chance, two-sided, by the normal
    approximation."""

    size: NDArray[np.int64]
    superiority: NDArray[np.float64]
    p: NDArray[np.float64]


def ranks_of(values: NDArray[np.floating]) -> NDArray[np.float64]:
    """The rank of each of n values from 1, equal ones sharing the mean of theirs (float64, n).

    >>> ranks_of(np.array([7.0, 3.0, 7.0])).tolist()
    [2.5, 1.0, 2.5]
    """
    _, place, times = np.unique(values, return_inverse=True, return_counts=True)
    ranks = np.cumsum(times) - (times - 1) / 2
    return np.asarray(ranks[place.ravel()], np.float64)


def rank_sums(values: NDArray[np.floating], present: csr_array) -> RankSums:
    """The rank sums of m sets of n values. present: CSR, n × m, an entry where a value is in a set (whatever it is).

    U = R - s(s + 1)/2 with R the sum of the ranks in the set, s its size; superiority U ÷ (s (n - s)). Variance
    s (n - s) ÷ 12 · (n + 1 - Σ(t³ - t) ÷ (n (n - 1))) with t the sizes of ties.

    >>> found = rank_sums(np.array([1.0, 2.0, 3.0, 4.0]), csr_array([[0], [0], [1], [1]]))
    >>> found.superiority.tolist(), round(float(found.p[0]), 3)
    ([1.0], 0.121)
    """
    n, m = present.shape
    ranks = ranks_of(values)
    size = np.bincount(present.indices, minlength=m)
    total = np.bincount(present.indices, np.repeat(ranks, np.diff(present.indptr)), minlength=m)
    outside = n - size
    pairs = (size * outside).astype(np.float64)
    possible = pairs > 0
    above = total - size * (size + 1) / 2
    superiority = np.where(possible, above / np.where(possible, pairs, 1), 0.5)
    _, ties = np.unique(values, return_counts=True)
    tied = float((ties.astype(np.float64) ** 3 - ties).sum()) / max(n * (n - 1), 1)
    variance = pairs / 12 * (n + 1 - tied)
    spread = np.sqrt(np.where(variance > 0, variance, 1))
    z = np.where(variance > 0, np.abs(above - pairs / 2) / spread, 0.0)
    return RankSums(size, superiority, 2 * ndtr(-z))


def corrected(p: NDArray[np.float64]) -> NDArray[np.float64]:
    """The probabilities of m tests, each as the share of false ones among all that are at least as clear (float64, m).

    The smallest p m ÷ rank of those that are no clearer.

    >>> corrected(np.array([0.01, 0.04, 0.03])).round(3).tolist()
    [0.03, 0.04, 0.04]
    """
    m = len(p)
    order = np.argsort(p, kind="stable")
    shared = np.minimum.accumulate((p[order] * m / np.arange(1, m + 1))[::-1])[::-1]
    found = np.empty(m)
    found[order] = shared
    return found
