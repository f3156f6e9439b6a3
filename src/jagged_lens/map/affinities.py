# SPDX-License-Identifier: GPL-3.0-or-later
"""The attraction between near documents in t-SNE: joint probabilities of the neighbour graph.

van der Maaten & Hinton, "Visualizing data using t-SNE", 2008: each row's distances become probabilities of one perplexity, which are
made symmetric.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare import Neighbours
from jagged_lens.parallel import blocks, over_blocks

_HALVINGS = 64
_ROWS_AT_ONCE = 4_000
_LEAST_PERPLEXITY = 2.0


def squared_distances(similarity: NDArray[np.floating], measure: str) -> NDArray[np.float64]:
    """The squared distance that a similarity stands for: 2 - 2 cos, 1 - affinity (Hellinger), or d² of 1 / (1 + d).

    float64, of the shape of the similarities, which are above 0.
    """
    alike = similarity.astype(np.float64)
    if measure == "euclidean":
        return np.asarray((1 / alike - 1) ** 2)
    return np.maximum(2 - 2 * alike if measure == "cosine" else 1 - alike, 0)


def affinities(neighbours: Neighbours, near: int, measure: str) -> csr_array:
    """The joint probabilities of n rows with their `near` nearest (float64 CSR, n × n, symmetric, its sum 1 where anything is near).

    The perplexity is near ÷ 3, at the least 2; a row with no more neighbours than that is tied to all of them alike.
    """
    nearest = neighbours.nearest(near)
    n = len(nearest.row)
    there = nearest.row >= 0
    squared = squared_distances(np.where(there, nearest.similarity, 1), measure)
    perplexity = max(near / 3, _LEAST_PERPLEXITY)
    found = over_blocks(
        lambda rows: _of_one_perplexity(squared[rows], there[rows], perplexity), blocks(n, _ROWS_AT_ONCE)
    )
    shares = np.concatenate([np.zeros((0, squared.shape[1])), *found])
    starts = np.concatenate(([0], np.cumsum(there.sum(axis=1))))
    one_way = csr_array((shares[there], nearest.row[there], starts), shape=(n, n))
    both = csr_array(one_way + one_way.T)
    total = both.sum()
    return csr_array(both / total) if total > 0 else both


def _of_one_perplexity(
    squared: NDArray[np.float64], there: NDArray[np.bool_], perplexity: float
) -> NDArray[np.float64]:
    """For each row exp(-β d²) brought to the sum 1, with the β at which its entropy is ln(perplexity); 0 where nothing is there."""
    if not squared.size:
        return np.zeros(squared.shape)
    nearest = np.where(there, squared, np.inf).min(axis=1, keepdims=True)
    more = np.where(there, squared - np.where(np.isfinite(nearest), nearest, 0), 0)
    # Halved on a logarithmic scale, between hardly any difference and only the nearest.
    scale = np.maximum(more.max(axis=1), 1e-12)
    low, high = np.log(1e-6 / scale), np.log(1e9 / scale)
    shares = there / np.maximum(there.sum(axis=1, keepdims=True), 1)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        raw = np.exp(-np.exp(middle)[:, None] * more) * there
        shares = raw / np.maximum(raw.sum(axis=1, keepdims=True), 1e-300)
        entropy = -(shares * np.log(np.where(shares > 0, shares, 1))).sum(axis=1)
        wide = entropy > np.log(perplexity)
        low, high = np.where(wide, middle, low), np.where(wide, high, middle)
    return np.asarray(shares)
