# SPDX-License-Identifier: GPL-3.0-or-later
"""Multidimensional scaling: distances on the map as near to the dissimilarities in the space as can be.

Least squares by majorisation (de Leeuw & Heiser, "Multidimensional scaling with restrictions on the configuration", 1980; Borg & Groenen,
"Modern multidimensional scaling", 2005, ch. 8), from the classical solution (Torgerson 1952). Of many rows only landmarks are laid out so;
each other row goes where its distances to the landmarks nearest to it fit best (de Silva & Tenenbaum, "Sparse multidimensional scaling
using landmark points", 2004, in outline).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Rows, rows_of
from jagged_lens.map.laid import Laid
from jagged_lens.parallel import blocks, over_blocks, steady_blas
from jagged_lens.progress import Progress, never, portion, unheard, unseen
from jagged_lens.weigh import VectorSpace, leading_eigenvectors, upright

MOST_ROWS = 3_000
LANDMARKS = 1_500
_NEAREST_LANDMARKS = 30
_MOST_ROUNDS = 400
_SETTLED = 1e-5  # a round that lowers the loss by a smaller share of it is the last
_FITTING_ROUNDS = 60
_CELLS_AT_ONCE = 200_000

Floats = NDArray[np.float64]


def scaling(
    space: VectorSpace,
    measure: str,
    seed: int,
    progress: Progress = unheard,
    preview: Callable[[Laid], None] = unseen,
    enough: Callable[[], bool] = never,
) -> Laid:
    """Places of n rows whose distances are their dissimilarities: 1 - similarity, or the distance under the Euclidean measure.

    preview: shown the layout every few rounds. enough: asked after each round; where it says so, what is there is the result.
    """
    rows = rows_of(space, measure)
    filled = np.flatnonzero(~rows.empty)
    n = len(rows.empty)
    marks = filled
    if len(filled) > MOST_ROWS:
        marks = np.sort(np.random.default_rng(seed).choice(filled, LANDMARKS, replace=False))

    def laid(places: Floats, rounds: int, of: int, stress: float = float("nan")) -> Laid:
        positions = np.full((n, 2), np.nan, np.float32)
        positions[marks if len(places) == len(marks) else filled] = places
        return Laid(positions, np.zeros(n, np.bool_), rounds, of, stress)

    if len(filled) < 2:
        return laid(np.zeros((len(filled), 2)), 0, 0, 0.0)
    with steady_blas():
        apart = np.concatenate([_dissimilarities(rows, marks[part], marks) for part in blocks(len(marks), 500)])
        apart = (apart + apart.T) / 2
        np.fill_diagonal(apart, 0)
        places = _classical(apart, seed)
        last, rounds = np.inf, 0
        while rounds < _MOST_ROUNDS and not (rounds and enough()):
            progress(0.8 * rounds / _MOST_ROUNDS)
            moved, loss = _majorised(apart, places)
            rounds += 1
            if last - loss <= _SETTLED * loss:
                break
            # Twice the step: as safe, and about twice as fast (de Leeuw & Heiser 1980).
            places, last = 2 * moved - places, loss
            if rounds % 5 == 1:
                preview(laid(moved, rounds, _MOST_ROUNDS))
        places, _ = _majorised(apart, places)
        stopped = _MOST_ROUNDS if rounds < _MOST_ROUNDS and enough() else rounds
        if len(marks) < len(filled):
            places = _fitted(rows, filled, marks, places, portion(progress, 0.8, 1))
        return laid(places, rounds, stopped, _stress(rows, filled, marks, places))


def _dissimilarities(rows: Rows, some: NDArray[np.integer], others: NDArray[np.integer]) -> NDArray[np.float32]:
    """Between some rows and others (float32, s × o)."""
    dots: Floats = (rows.matrix[some] @ rows.matrix[others].T).toarray()
    if rows.unit:
        return np.asarray(np.maximum(1 - dots, 0), np.float32)
    squared = rows.squares[some, None] + rows.squares[others] - 2 * dots
    return np.asarray(np.sqrt(np.maximum(squared, 0)), np.float32)


def _classical(apart: NDArray[np.float32], seed: int) -> Floats:
    """The first two axes of the doubly centred squares; noise where there are fewer."""
    squares = apart.astype(np.float64) ** 2
    mean = squares.mean(axis=1)
    level = mean.mean()

    def gram(block: Floats) -> Floats:
        centred = squares @ block - np.outer(mean, block.sum(axis=0)) - mean @ block + level * block.sum(axis=0)
        return np.asarray(-0.5 * centred)

    axes, values, _ = leading_eigenvectors(gram, len(apart), 2, seed)
    places = np.zeros((len(apart), 2))
    places[:, : len(values)] = axes * np.sqrt(np.maximum(values, 0))
    noise = np.random.default_rng(seed).standard_normal(places.shape)
    return upright(places) + 1e-3 * float(apart.max()) * noise


def _majorised(apart: NDArray[np.float32], places: Floats) -> tuple[Floats, float]:
    """The places after one step, and the loss before it: Σ (distance - dissimilarity)² over all pairs."""
    x, y = places.astype(np.float32).T

    def pulled(block: slice) -> tuple[Floats, float]:
        distance, up = x[block, None] - x, y[block, None] - y
        distance *= distance
        up *= up
        distance += up
        np.sqrt(distance, out=distance)
        np.subtract(distance, apart[block], out=up)
        loss = float(np.einsum("ij,ij->", up, up, dtype=np.float64))
        share = np.divide(apart[block], np.maximum(distance, 1e-9, out=up), out=up)
        own = np.arange(len(distance))
        share[own, own + block.start] = 0
        own_sum = share.sum(axis=1, dtype=np.float64)[:, None]
        return own_sum * places[block] - share @ places.astype(np.float32), loss

    parts = list(over_blocks(pulled, blocks(len(places), max(1, _CELLS_AT_ONCE // len(places)))))
    moved = np.concatenate([part for part, _ in parts]) / len(places)
    return moved - moved.mean(axis=0), sum(loss for _, loss in parts) / 2


def _fitted(
    rows: Rows, filled: NDArray[np.int64], marks: NDArray[np.int64], landmarks: Floats, progress: Progress
) -> Floats:
    """The places of all rows that are not empty, from those of the landmarks."""

    def fit(block: slice) -> Floats:
        apart = _dissimilarities(rows, filled[block], marks)
        near = np.argpartition(apart, _NEAREST_LANDMARKS, axis=1)[:, :_NEAREST_LANDMARKS]
        wanted = np.take_along_axis(apart, near, axis=1).astype(np.float64)[:, :, None]
        of = landmarks[near]
        closeness = 1 / np.maximum(wanted, 1e-3)
        place = (closeness * of).sum(axis=1) / closeness.sum(axis=1)
        for _ in range(_FITTING_ROUNDS):
            way = place[:, None] - of
            length = np.maximum(np.linalg.norm(way, axis=2, keepdims=True), 1e-9)
            place = (of + wanted * way / length).mean(axis=1)
        return np.asarray(place)

    places = np.concatenate(list(over_blocks(fit, blocks(len(filled), 1_000), progress)))
    places[np.searchsorted(filled, marks)] = landmarks
    return places


def _stress(rows: Rows, filled: NDArray[np.int64], marks: NDArray[np.int64], places: Floats) -> float:
    """Kruskal's stress-1, √(Σ (distance - dissimilarity)² ÷ Σ distance²), over all pairs of a row and a landmark."""
    own = places[np.searchsorted(filled, marks)]

    def sums(block: slice) -> tuple[float, float]:
        apart = _dissimilarities(rows, filled[block], marks)
        distance = np.hypot(places[block, None, 0] - own[:, 0], places[block, None, 1] - own[:, 1])
        apart[filled[block, None] == marks] = 0
        return float(((distance - apart) ** 2).sum()), float((distance**2).sum())

    parts = list(over_blocks(sums, blocks(len(filled), 1_000)))
    above, below = sum(part for part, _ in parts), sum(part for _, part in parts)
    return float(np.sqrt(above / below)) if below > 0 else 0.0
