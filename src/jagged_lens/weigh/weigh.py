# SPDX-License-Identifier: GPL-3.0-or-later
"""The step Weigh: counts to weights, local × global, then length. Computed in float64, kept as float32.

Formulas as in docs/formulas.md; Manning, Raghavan & Schütze, "Introduction to Information Retrieval", 2008, ch. 6, and
Dumais, "Improving the retrieval of information from external sources", 1991, for the entropy weight.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.terms import TermCounts
from jagged_lens.weigh.settings import WeighSettings

_BASES = {"e": math.e, "2": 2.0, "10": 10.0}


@dataclass(frozen=True, eq=False)
class VectorSpace:
    """n documents as weighted rows.

    weights: float32 CSR, n × m, without stored zeros. global_weights: float64, m. empty: bool, n, rows that are all
    zero. terms: the counts that they came from.
    """

    weights: csr_array
    global_weights: NDArray[np.float64]
    empty: NDArray[np.bool_]
    terms: TermCounts

    @property
    def filled(self) -> float:
        """The share of cells that are not zero."""
        cells = self.weights.shape[0] * self.weights.shape[1]
        return float(self.weights.nnz / cells) if cells else 0.0


def local_weights(counts: csr_array, kind: str) -> NDArray[np.float64]:
    """The local weight of each stored count, in the order of `counts.data`.

    counts: int32 CSR, n × m; gives float64, one for each of its entries.
    """
    c = counts.data.astype(np.float64)
    if kind == "presence":
        return np.ones_like(c)
    if kind == "count":
        return c
    if kind == "share":
        return c / np.repeat(row_sums(counts, c), np.diff(counts.indptr))
    return 1 + np.log(c)


def global_weights(counts: csr_array, kind: str, log_base: str) -> NDArray[np.float64]:
    """The global weight of each of the m columns. N is the number of rows; empty ones count.

    counts: int32 CSR, n × m; gives float64 (m).
    """
    n = counts.shape[0]
    df = np.bincount(counts.indices, minlength=counts.shape[1]).astype(np.float64)
    base = math.log(_BASES[log_base])
    with np.errstate(divide="ignore", invalid="ignore"):
        if kind == "plain":
            return np.log(n / df) / base
        if kind == "guarded":
            return np.log(n / (1 + df)) / base
        if kind == "lifted":
            return np.log((1 + n) / (1 + df)) / base + 1
        if kind == "probabilistic":
            return np.where(df < n, np.maximum(0, np.log((n - df) / df) / base), 0.0)
    if kind == "entropy":
        if n == 1:
            return np.zeros(len(df))
        times = np.bincount(counts.indices, counts.data, minlength=counts.shape[1])
        p = counts.data / times[counts.indices]
        entropy = 1 + np.bincount(counts.indices, p * np.log(p), minlength=counts.shape[1]) / math.log(n)
        # A term spread evenly over all documents weighs nothing; rounding must not leave it a weight of 1e-16.
        return np.where(np.abs(entropy) < 1e-12, 0.0, entropy)
    return np.ones(len(df))


def weigh(terms: TermCounts, settings: WeighSettings) -> VectorSpace:
    """Weigh the counts. A row that is all zero stays so."""
    counts = terms.counts
    across = global_weights(counts, settings.global_, settings.log_base)
    data = to_length(counts, local_weights(counts, settings.local) * across[counts.indices], settings.length)
    weights = csr_array((data.astype(np.float32), counts.indices.copy(), counts.indptr.copy()), shape=counts.shape)
    weights.eliminate_zeros()
    return VectorSpace(weights, across, np.diff(weights.indptr) == 0, terms)


def lengths_of_rows(counts: csr_array, products: NDArray[np.float64], kind: str) -> NDArray[np.float64]:
    """The divisor of each row: float64, n. 1 if it would be 0. kind: none, L1 or L2. products: local × global of each entry of the
    counts."""
    if kind == "none":
        return np.ones(counts.shape[0])
    sizes = row_sums(counts, np.abs(products)) if kind == "L1" else np.sqrt(row_sums(counts, products**2))
    return np.where(sizes > 0, sizes, 1.0)


def to_length(counts: csr_array, products: NDArray[np.float64], kind: str) -> NDArray[np.float64]:
    """The products local × global of each entry of the counts, each divided by the length of its row (float64)."""
    return products / np.repeat(lengths_of_rows(counts, products, kind), np.diff(counts.indptr))


def row_sums(matrix: csr_array, data: NDArray[np.float64]) -> NDArray[np.float64]:
    """The sum of `data` over the entries of each row.

    matrix: CSR, n × m. data: one for each of its entries; gives float64 (n).
    """
    owner = np.repeat(np.arange(matrix.shape[0]), np.diff(matrix.indptr))
    return np.bincount(owner, data, minlength=matrix.shape[0]).astype(np.float64, copy=False)
