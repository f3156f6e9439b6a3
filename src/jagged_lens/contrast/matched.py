# SPDX-License-Identifier: GPL-3.0-or-later
"""Two maps of the same documents laid over each other: one is turned, mirrored, moved and scaled until it fits the other best.

Orthogonal Procrustes analysis: Schönemann, "A generalized solution of the orthogonal Procrustes problem", 1966; with scale, Gower &
Dijksterhuis, "Procrustes problems", 2004.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True, eq=False)
class Matched:
    """positions: float64, p × 2, the second map laid over the first. apart: the share of the spread of the first map that is left between
    a point and itself, √(Σ d² ÷ Σ spread²): 0 for the same picture, 1 where nothing fits. NaN where fewer than two documents are on both.
    """

    positions: NDArray[np.float64]
    apart: float


def matched(
    first: NDArray[np.floating],
    second: NDArray[np.floating],
    at_first: NDArray[np.integer],
    at_second: NDArray[np.integer],
) -> Matched:
    """All points of the second map, laid over the first by those that are on both.

    first, second: float, n × 2 and p × 2, NaN for a point without a place. at_first, at_second: int64, c, where the documents that both
    maps have stand in either.
    """
    target, own = first.astype(np.float64), second.astype(np.float64)
    there = ~(np.isnan(target[at_first, 0]) | np.isnan(own[at_second, 0]))
    a, b = target[at_first[there]], own[at_second[there]]
    if len(a) < 2:
        return Matched(own, float("nan"))
    middle_a, middle_b = a.mean(axis=0), b.mean(axis=0)
    a, b = a - middle_a, b - middle_b
    left, values, right = np.linalg.svd(b.T @ a)
    spread_a, spread_b = float((a**2).sum()), float((b**2).sum())
    scale = float(values.sum()) / spread_b if spread_b else 1.0
    turned = (own - middle_b) @ (left @ right) * scale + middle_a
    left_over = float(((b @ (left @ right) * scale - a) ** 2).sum())
    return Matched(turned, float(np.sqrt(left_over / spread_a)) if spread_a else 0.0)
