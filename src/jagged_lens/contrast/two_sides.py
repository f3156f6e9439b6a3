# SPDX-License-Identifier: GPL-3.0-or-later
"""Two sides of one collection: what both have, what tells either, and how groups and themes lie between them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.contrast.ranks import rank_sums
from jagged_lens.group import document_frequencies
from jagged_lens.terms import log_likelihood

COMMON_FROM = 0.1
"""Share of documents from which a term is common, on both sides."""


@dataclass(frozen=True, eq=False)
class TwoSides:
    """m terms on two sides of l and r documents.

    left, right: int64, m, how many documents of either side hold each. ratio: float64, m, G² of the side that has more of it. tells_left,
    tells_right: int64, columns that tell either side, by falling G² (ties: by column). common: int64, columns that at least a tenth of
    both sides hold, by their smaller share, falling.
    """

    left: NDArray[np.int64]
    right: NDArray[np.int64]
    sizes: tuple[int, int]
    ratio: NDArray[np.float64]
    tells_left: NDArray[np.int64]
    tells_right: NDArray[np.int64]
    common: NDArray[np.int64]

    @property
    def share_left(self) -> NDArray[np.float64]:
        """The share of the documents of the left side that hold each term (float64, m)."""
        return self.left / max(self.sizes[0], 1)

    @property
    def share_right(self) -> NDArray[np.float64]:
        """The same of the right side (float64, m)."""
        return self.right / max(self.sizes[1], 1)


def two_sides(counts: csr_array, left: NDArray[np.bool_], right: NDArray[np.bool_]) -> TwoSides:
    """The terms of two sides against each other. left, right: bool, n, no document on both; those on neither count nowhere.

    G² of document counts, Dunning, "Accurate methods for the statistics of surprise and coincidence", 1993.
    """
    on_left, on_right = (document_frequencies(counts, side) for side in (left, right))
    size, other = int(left.sum()), int(right.sum())
    both = on_left + on_right
    if size and other:
        for_left = log_likelihood(on_left, both, float(size), float(size + other))
        for_right = log_likelihood(on_right, both, float(other), float(size + other))
    else:
        for_left = for_right = np.zeros(counts.shape[1])
    smaller = np.minimum(on_left / max(size, 1), on_right / max(other, 1))
    common = np.argsort(-smaller, kind="stable")
    return TwoSides(
        on_left.astype(np.int64),
        on_right.astype(np.int64),
        (size, other),
        np.maximum(for_left, for_right),
        _by_ratio(for_left),
        _by_ratio(for_right),
        common[smaller[common] >= COMMON_FROM],
    )


def _by_ratio(ratio: NDArray[np.float64]) -> NDArray[np.int64]:
    order = np.argsort(-ratio, kind="stable")
    return order[ratio[order] > 0]


def groups_by_side(
    group: NDArray[np.integer], groups: int, left: NDArray[np.bool_], right: NDArray[np.bool_]
) -> NDArray[np.int64]:
    """The number of documents of either side each group that has: int64, g × 2. group: int32, n, -1 for a document in none."""
    return np.stack([np.bincount(group[side & (group >= 0)], minlength=groups) for side in (left, right)], axis=1)


def themes_by_side(
    documents: NDArray[np.floating], left: NDArray[np.bool_], right: NDArray[np.bool_]
) -> NDArray[np.float64]:
    """For each theme the probability that a document of the left side lies higher on it than one of the right: float64, k. 0.5 where
    neither does, ties count half. documents: float32, n × k."""
    some = np.flatnonzero(left | right)
    present = left[some].astype(np.float64)
    return np.array(
        [rank_sums(one, csr_array(present[:, None])).superiority[0] for one in documents[some].T], np.float64
    )
