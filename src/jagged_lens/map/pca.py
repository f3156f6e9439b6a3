# SPDX-License-Identifier: GPL-3.0-or-later
"""The first principal components of sparse rows, without making them dense.

Centring by the mean μ is implicit: (X - 1μᵀ)v = Xv - 1(μ·v). The right vectors come from a block Krylov space of XᵀX,
all blocks kept (Musco & Musco, "Randomized block Krylov methods for stronger and faster approximate singular value
decomposition", 2015), grown until they satisfy their equation.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.parallel import steady_blas
from jagged_lens.progress import Progress, unheard
from jagged_lens.weigh import VectorSpace, product, right_vectors, upright

EXACT_TO = 20_000
"""Up to so many documents the axes satisfy their equation to rounding."""
_ACCURACY = 0.01  # above, each to this share of its variance: two axes that differ little take long to tell apart
_ROUNDING = 1e-13


@dataclass(frozen=True, eq=False)
class Projection:
    """Two dimensions of n documents.

    positions: float32, n × 2, NaN for an empty row. axes: float32, 2 × m, each of length 1, its entry of largest absolute
    value positive; 0 where the rows vary along fewer axes. mean: float32, m, of the rows that are not empty. explained: the
    share of the variance along each axis. settled: whether the axes satisfy their equation; if not, a longer search would
    turn them a little further.
    """

    positions: NDArray[np.float32]
    axes: NDArray[np.float32]
    mean: NDArray[np.float32]
    explained: tuple[float, float]
    settled: bool = True


def pca(space: VectorSpace, seed: int, progress: Progress = unheard) -> Projection:
    """The projection of the weights on their first two principal components."""
    n, m = space.weights.shape
    filled = np.flatnonzero(~space.empty)
    positions = np.full((n, 2), np.nan, np.float32)
    if not len(filled):
        return Projection(positions, np.zeros((2, m), np.float32), np.zeros(m, np.float32), (0.0, 0.0))
    weights = space.weights if len(filled) == n else space.weights[filled]
    exact = len(filled) <= EXACT_TO
    data: NDArray[np.floating] = weights.data.astype(np.float64 if exact else np.float32, copy=False)
    x = csr_array((data, weights.indices, weights.indptr), shape=weights.shape)
    mean = np.asarray(x.sum(axis=0, dtype=np.float64)).ravel() / len(filled)
    with steady_blas():
        axes, spread, settled = _right_vectors(x, mean, 2, seed, progress, None if exact else _ACCURACY)
    places = product(x, axes.T) - mean @ axes.T
    positions[filled] = places
    total = float(np.square(x.data, dtype=np.float64).sum() - len(filled) * (mean @ mean))
    shares = [float(value / total) if total > 1e-12 else 0.0 for value in spread]
    return Projection(positions, axes.astype(np.float32), mean.astype(np.float32), (shares[0], shares[1]), settled)


def _right_vectors(
    x: csr_array,
    mean: NDArray[np.float64],
    wanted: int,
    seed: int,
    progress: Progress,
    accuracy: float | None,
) -> tuple[NDArray[np.float64], NDArray[np.float64], bool]:
    """The first `wanted` right singular vectors (rows) of A = x - 1 meanᵀ, their squared singular values, and whether they
    satisfy their equation.

    Vectors beyond the rank are zero: what is left of rounding is no axis.
    """
    n, m = x.shape
    across = x.T.tocsr()

    def times(vectors: NDArray[np.float64]) -> NDArray[np.float64]:
        return product(x, vectors) - mean @ vectors

    def back(vectors: NDArray[np.float64]) -> NDArray[np.float64]:
        return product(across, vectors) - np.outer(mean, vectors.sum(axis=0))

    vectors, values, settled = right_vectors(times, back, (n, m), wanted, seed, progress, accuracy)
    found = np.zeros((m, wanted))
    squares = np.zeros(wanted)
    # Products with x and mean cancel: they are wrong by some 1e-16 of |x| |A|, and so are these values.
    real = values > (_ROUNDING if accuracy is None else 1e-7) * np.sqrt((x.data**2).sum(dtype=np.float64) * values[0])
    found[:, : len(values)][:, real], squares[: len(values)][real] = vectors[:, real], values[real]
    return upright(found).T, squares, settled
