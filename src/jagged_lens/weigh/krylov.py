# SPDX-License-Identifier: GPL-3.0-or-later
"""Leading eigenvectors of a symmetric operator, from a space that is grown block by block, all blocks kept.

Musco & Musco, "Randomized block Krylov methods for stronger and faster approximate singular value decomposition", 2015; Golub & Van
Loan, "Matrix computations", 2013, ch. 10, for block Lanczos.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import qr

from jagged_lens.progress import Progress, unheard

_BLOCK = 12
_WIDE_BLOCK = 16
_MOST_BLOCKS = 60
_MOST_SEARCHES = 20
_ACCURACY = 1e-8

Floats = NDArray[np.float64]


def leading_eigenvectors(
    gram: Callable[[Floats], Floats],
    side: int,
    wanted: int,
    seed: int,
    progress: Progress = unheard,
    accuracy: float | None = None,
) -> tuple[Floats, Floats, bool]:
    """The leading eigenvectors (columns) and eigenvalues of a symmetric operator on `side` dimensions, by block Lanczos with all blocks
    kept and orthogonalised anew. When there is no more room, it begins again from the best so far. Last: whether they satisfy their
    equation: to 1e-8 of the largest eigenvalue, or, where an accuracy is given, each to that share of its own eigenvalue."""
    width = min(_BLOCK if wanted <= _BLOCK else _WIDE_BLOCK, side)
    most = min(side, max(_BLOCK * _MOST_BLOCKS, 6 * wanted))
    basis = np.zeros((side, most + width), order="F")
    inner = np.zeros((most + width, most + width))
    block = np.linalg.qr(np.random.default_rng(seed).standard_normal((side, width)))[0]
    size, searches = 0, 1
    while True:
        progress(size / most)
        new = slice(size, size + block.shape[1])
        basis[:, new] = block
        size = new.stop
        own = basis[:, :size]
        images = gram(block)
        inner[:size, new] = own.T @ images
        inner[new, :size] = inner[:size, new].T
        energies, turns = np.linalg.eigh(inner[:size, :size])
        values, best = np.maximum(energies[::-1][:wanted], 0), turns[:, ::-1][:, :wanted]
        scale = max(float(energies[-1]), 1e-300)
        rest = images - own @ inner[:size, new]
        rest -= own @ (own.T @ rest)  # once more: rounding of the first time is of the order of what is left
        fresh, coupling, order = qr(rest, mode="economic", pivoting=True)
        kept = np.abs(np.diag(coupling)) > 1e-11 * scale
        # gram(V y) = V inner y + fresh coupling y, so what is missing is the coupling of the last block's share.
        error = np.linalg.norm(coupling @ best[new][order], axis=0)
        enough = _ACCURACY * scale if accuracy is None else accuracy * values + _ACCURACY * scale
        settled = (size >= wanted and bool((error <= enough).all())) or not kept.any() or size == side
        if settled or (size + int(kept.sum()) > most and searches == _MOST_SEARCHES):
            return own @ best, values, settled
        if size + int(kept.sum()) > most and size + width <= side:
            block = np.linalg.qr(own @ turns[:, ::-1][:, :width])[0]
            inner[:], size, searches = 0, 0, searches + 1
            continue
        kept[np.flatnonzero(kept)[side - size :]] = False
        block = fresh[:, kept] - own @ (own.T @ fresh[:, kept])
        block = np.linalg.qr(block)[0]


def right_vectors(
    times: Callable[[Floats], Floats],
    back: Callable[[Floats], Floats],
    shape: tuple[int, int],
    wanted: int,
    seed: int,
    progress: Progress = unheard,
    accuracy: float | None = None,
) -> tuple[Floats, Floats, bool]:
    """The first right singular vectors of a matrix A (columns, m × wanted), their squared singular values, and a flag for convergence, as
    of `leading_eigenvectors`. The space is grown on the shorter side: of AAᵀ where n < m, else of AᵀA.

    times: gives A v, back: Aᵀ u, both of a few columns. shape: n, m. float64 throughout.
    """
    n, m = shape
    if n >= m:
        return leading_eigenvectors(lambda block: back(times(block)), m, wanted, seed, progress, accuracy)
    vectors, squares, settled = leading_eigenvectors(
        lambda block: times(back(block)), n, wanted, seed, progress, accuracy
    )
    return back(vectors) / np.sqrt(np.where(squares > 0, squares, 1.0)), squares, settled


def upright(vectors: Floats) -> Floats:
    """Columns turned so that the entry of largest absolute value of each is positive (float64, of the same shape)."""
    signs = np.sign(vectors[np.abs(vectors).argmax(axis=0), np.arange(vectors.shape[1])])
    return vectors * np.where(signs == 0, 1, signs)
