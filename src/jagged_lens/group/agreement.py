# SPDX-License-Identifier: GPL-3.0-or-later
"""The agreement of two groupings of the same rows."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def counted_together(
    first: NDArray[np.integer], second: NDArray[np.integer], high: int, wide: int
) -> NDArray[np.int64]:
    """The number of rows that are in group i of the first and j of the second: int64, high × wide. Rows below 0 in either are left out."""
    both = (first >= 0) & (second >= 0)
    cells = first[both].astype(np.int64) * wide + second[both]
    return np.bincount(cells, minlength=high * wide).reshape(high, wide)


def adjusted_rand(counts: NDArray[np.integer]) -> float:
    """The adjusted Rand index of a cross table: 1 where both groupings are the same, 0 on the average of chance.

    counts: int64, g × h. (Index - expected) / (maximum - expected) over pairs of rows; Hubert & Arabie, "Comparing partitions",
    1985. 1 where neither parts any rows, or both part all of them.

    >>> round(adjusted_rand(np.array([[2, 1], [0, 3]])), 4)
    0.3243
    """
    table = counts.astype(np.float64)
    together = _pairs(table).sum()
    down, across = _pairs(table.sum(axis=1)).sum(), _pairs(table.sum(axis=0)).sum()
    whole = _pairs(table.sum())
    expected = down * across / whole if whole else 0.0
    most = (down + across) / 2
    return float((together - expected) / (most - expected)) if most != expected else 1.0


def mean_of_tries(overlaps: NDArray[np.floating]) -> NDArray[np.float64]:
    """The stability of each group (float64, g): the mean of its overlaps over the tries in which any of it was drawn. NaN if it was in
    none. overlaps: tries × g, as of `best_overlaps`."""
    counted = (~np.isnan(overlaps)).sum(axis=0)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray(np.nansum(overlaps, axis=0) / counted, np.float64)


def _pairs(count: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(count * (count - 1) / 2)


def best_overlaps(counts: NDArray[np.integer]) -> NDArray[np.float64]:
    """For each group of the first grouping the highest Jaccard overlap with one of the second: float64, g; NaN for one without rows.

    counts: int64, g × h, as of `counted_together`.
    """
    down, across = counts.sum(axis=1, keepdims=True), counts.sum(axis=0, keepdims=True)
    with np.errstate(divide="ignore", invalid="ignore"):
        overlaps = counts / (down + across - counts)
    if not counts.shape[1]:
        return np.full(len(counts), np.nan)
    return np.where(down[:, 0] > 0, np.nan_to_num(overlaps).max(axis=1), np.nan)
