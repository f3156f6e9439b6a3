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
from jagged_lens.weigh import VectorSpace

_BLOCK = 12
_MOST_BLOCKS = 60
_ACCURACY = 1e-9


@dataclass(frozen=True, eq=False)
class Projection:
    """Two dimensions of n documents.

    positions: float32, n × 2, NaN for an empty row. axes: float32, 2 × m, each of length 1, its entry of largest absolute
    value positive. mean: float32, m, of the rows that are not empty. explained: the share of the variance along each axis.
    """

    positions: NDArray[np.float32]
    axes: NDArray[np.float32]
    mean: NDArray[np.float32]
    explained: tuple[float, float]


def pca(space: VectorSpace, seed: int, progress: Progress = unheard) -> Projection:
    """The projection of the weights on their first two principal components."""
    n, m = space.weights.shape
    filled = np.flatnonzero(~space.empty)
    positions = np.full((n, 2), np.nan, np.float32)
    if not len(filled):
        return Projection(positions, np.zeros((2, m), np.float32), np.zeros(m, np.float32), (0.0, 0.0))
    weights = space.weights[filled]
    x = csr_array((weights.data.astype(np.float64), weights.indices, weights.indptr), shape=weights.shape)
    mean = np.asarray(x.sum(axis=0)).ravel() / len(filled)
    with steady_blas():
        axes, spread = _right_vectors(x, mean, 2, seed, progress)
    places = np.asarray(x @ axes.T) - mean @ axes.T
    positions[filled] = places
    total = float((x.data**2).sum() - len(filled) * (mean @ mean))
    shares = [float(value / total) if total > 1e-12 else 0.0 for value in spread]
    return Projection(positions, axes.astype(np.float32), mean.astype(np.float32), (shares[0], shares[1]))


def _right_vectors(
    x: csr_array, mean: NDArray[np.float64], wanted: int, seed: int, progress: Progress
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The first `wanted` right singular vectors (rows) of x - 1 meanᵀ, and their squared singular values.

    Vectors beyond the rank are zero.
    """
    _n, m = x.shape
    across = x.T.tocsr()

    def times(vectors: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.asarray(x @ vectors) - mean @ vectors

    def back(vectors: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.asarray(across @ vectors) - np.outer(mean, vectors.sum(axis=0))

    block = _fresh(np.zeros((m, 0)), np.random.default_rng(seed).standard_normal((m, min(_BLOCK, m))))
    basis, images = block, times(block)
    vectors = np.zeros((m, wanted))
    values = np.zeros(wanted)
    for round_ in range(_MOST_BLOCKS):
        progress(round_ / _MOST_BLOCKS)
        energies, turns = np.linalg.eigh(images.T @ images)
        best = turns[:, ::-1][:, :wanted]
        count = best.shape[1]
        values[:count] = np.maximum(energies[::-1][:count], 0)
        vectors[:, :count] = basis @ best
        if values[0] <= 1e-24:
            return np.zeros((wanted, m)), np.zeros(wanted)
        error = np.linalg.norm(back(images @ best) - vectors[:, :count] * values[:count], axis=0)
        if (error <= _ACCURACY * values[0]).all():
            break
        block = _fresh(basis, back(images[:, -block.shape[1] :]))
        if block.shape[1] == 0:
            break
        basis = np.hstack((basis, block))
        images = np.hstack((images, times(block)))
    vectors[:, values <= 1e-20 * values[0]] = 0
    signs = np.sign(vectors[np.abs(vectors).argmax(axis=0), np.arange(wanted)])
    return (vectors * np.where(signs == 0, 1, signs)).T, values


def _fresh(basis: NDArray[np.float64], block: NDArray[np.float64]) -> NDArray[np.float64]:
    """An orthonormal basis of what `block` adds to `basis`."""
    before = np.linalg.norm(block, axis=0).max(initial=0.0)
    for _ in range(2):  # twice is enough to be orthogonal to working accuracy
        block = block - basis @ (basis.T @ block)
    left, sizes, _ = np.linalg.svd(block, full_matrices=False)
    left = left[:, sizes > 1e-11 * max(before, 1e-300)]
    left = left - basis @ (basis.T @ left)
    return np.linalg.qr(left)[0] if left.shape[1] else left
