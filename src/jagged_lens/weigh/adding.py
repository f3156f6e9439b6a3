# SPDX-License-Identifier: GPL-3.0-or-later
"""Themes that add up: X ≈ W H with both factors non-negative, by least squares.

Hierarchical alternating least squares (Cichocki & Phan, "Fast local algorithms for large scale nonnegative matrix and tensor
factorizations", 2009): each column of W and each row of H in turn takes its best value with all others fixed. The start is made of the
positive parts of the singular vectors (Boutsidis & Gallopoulos, "SVD based initialization: a head start for nonnegative matrix
factorization", 2008); what they leave at zero gets a little seeded noise.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.parallel import steady_blas
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.weigh.singular import product
from jagged_lens.weigh.themes import Themes, themes
from jagged_lens.weigh.weigh import VectorSpace

ROUNDS = 300
"""The most rounds."""
ENOUGH = 1e-5
"""The search ends when a round lowers the loss by less than this share of it."""
_SEED = 1
_NOISE = 0.01  # of the mean of what is there


@dataclass(frozen=True, eq=False)
class Factors:
    """w: float64, n × k, and h: float64, k × m, both ≥ 0, rows of h of length 1. left: ‖X − W H‖² ÷ ‖X‖². rounds: how many were made."""

    w: NDArray[np.float64]
    h: NDArray[np.float64]
    left: float
    rounds: int


def adding_themes(space: VectorSpace, most: int, progress: Progress = unheard) -> Themes:
    """The first `most` themes that add up, the largest first; fewer where the weights have fewer directions.

    Negative weights count as 0. The columns of `terms` are the rows of H, of length 1; `documents` is X Hᵀ, how much each document has of
    each theme alone; `amounts` is W, of which all themes together make the document. values: the lengths of the columns of W.
    """
    x = space.weights
    wide = csr_array((np.maximum(x.data.astype(np.float64), 0), x.indices, x.indptr), shape=x.shape)
    start = themes(space, most, portion(progress, 0, 0.3))
    if not len(start):
        return start
    found = factors(wide, start, portion(progress, 0.3, 1))
    sizes = np.linalg.norm(found.w, axis=0)
    order = np.argsort(-sizes, kind="stable")
    w, h = found.w[:, order], found.h[order]
    documents = product(wide, h.T)
    return Themes(
        h.T.astype(np.float32),
        sizes[order],
        documents.astype(np.float32),
        start.energy,
        "adding",
        w.astype(np.float32),
        found.left,
        found.rounds,
    )


def factors(x: csr_array, start: Themes, progress: Progress = unheard) -> Factors:
    """W and H of non-negative rows, from the start that the singular vectors give. x: float64 CSR, n × m, no entry below 0."""
    across = x.T.tocsr()
    total = float((x.data**2).sum())
    with steady_blas():
        w, h = _start(start)
        before, rounds = np.inf, 0
        for rounds in range(1, ROUNDS + 1):
            _better(h, product(across, w).T, w.T @ w)
            along = product(x, h.T)
            _better(w.T, along.T, h @ h.T)
            lengths = np.linalg.norm(h, axis=1)
            lengths[lengths == 0] = 1
            h /= lengths[:, None]
            w *= lengths
            loss = _loss(total, w, h, along / lengths)
            progress(min(rounds / ROUNDS, 1.0))
            if before - loss <= ENOUGH * max(loss, 1e-12 * total):
                break
            before = loss
    return Factors(w, h, max(loss, 0.0) / total if total else 0.0, rounds)


def _loss(total: float, w: NDArray[np.float64], h: NDArray[np.float64], across: NDArray[np.float64]) -> float:
    """‖X − W H‖², from X Hᵀ (float64, n × k), without forming W H."""
    return total - 2 * float((w * across).sum()) + float(((w.T @ w) * (h @ h.T)).sum())


def _better(rows: NDArray[np.float64], target: NDArray[np.float64], gram: NDArray[np.float64]) -> None:
    """Give each of k rows in turn its best non-negative value with the others fixed, in place.

    rows: float64, k × u. gram: float64, k × k, G Gᵀ of the fixed factor G; target: float64, k × u, its products with X.
    """
    for at in range(len(rows)):
        if gram[at, at] <= 0:
            continue
        step = (target[at] - gram[at] @ rows) / gram[at, at]
        rows[at] = np.maximum(rows[at] + step, 0)


def _start(start: Themes) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """W and H from the larger of the positive and the negative part of each pair of singular vectors; zeros get a little noise."""
    v = start.terms.astype(np.float64)
    u = start.documents.astype(np.float64) / np.where(start.values > 0, start.values, 1)
    w, h = np.zeros_like(u), np.zeros_like(v.T)
    for at in range(len(start)):
        sides = [(np.maximum(sign * u[:, at], 0), np.maximum(sign * v[:, at], 0)) for sign in (1.0, -1.0)]
        sizes = [float(np.linalg.norm(one) * np.linalg.norm(other)) for one, other in sides]
        side = int(sizes[1] > sizes[0])
        if sizes[side] > 0:
            one, other = sides[side]
            share = np.sqrt(start.values[at] * sizes[side])
            w[:, at], h[at] = share * one / np.linalg.norm(one), share * other / np.linalg.norm(other)
    noise = np.random.default_rng(_SEED)
    for factor in (w, h):
        empty = factor == 0
        factor[empty] = _NOISE * factor.mean() * noise.random(int(empty.sum()))
    return w, h
