# SPDX-License-Identifier: GPL-3.0-or-later
"""t-SNE: near documents pull each other, all push each other apart, until they hold the balance.

van der Maaten & Hinton, "Visualizing data using t-SNE", 2008, with a start from two principal components (Kobak & Berens, "The art of
using t-SNE for single-cell transcriptomics", 2019) and an attraction that can be turned up, from neighbour embedding to a spectral
layout (Böhm, Berens & Kobak, "Attraction-repulsion spectrum in neighbor embeddings", 2022).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array, csr_array, triu

from jagged_lens.compare import Neighbours
from jagged_lens.map.affinities import affinities
from jagged_lens.map.laid import Laid, with_rim
from jagged_lens.map.repulsion import Repulsion
from jagged_lens.map.settings import MapSettings
from jagged_lens.parallel import blocks
from jagged_lens.progress import Progress, never, unheard, unseen

FIRST_ROUNDS = 250  # at the first pull
LAST_TURN = 600  # from here on at the pull that was asked for
ROUNDS = 750
_FIRST_PULL = 12.0
_START = 1e-4  # deviation of the places at the start
_STEP = 0.5
_MOMENTUM = 0.8
_FARTHEST = 5.0  # units of the map that a point moves in one round at most
_SHOWN_EVERY = 5
_TIES_AT_ONCE = 100_000

Floats = NDArray[np.float64]


def t_sne(
    neighbours: Neighbours,
    start: NDArray[np.floating],
    measure: str,
    settings: MapSettings,
    progress: Progress = unheard,
    preview: Callable[[Laid], None] = unseen,
    enough: Callable[[], bool] = never,
) -> Laid:
    """Places of n rows in which near ones lie together.

    neighbours: at least settings.near of each row, where there are so many. start: float32, n × 2, NaN for empty rows. preview: shown the
    layout every few rounds. enough: asked after each round; where it says so, what is there is the result.
    """
    empty = np.isnan(start[:, 0])
    ties = affinities(neighbours, settings.near, measure)
    rows = np.flatnonzero(np.diff(ties.indptr) > 0)
    if len(rows) < 3:  # two pull and push each other with the same force at any distance
        return with_rim(start[rows], rows, empty)
    ties = csr_array(ties[rows][:, rows])
    places = _started(start[rows].astype(np.float64), settings.seed)
    push, draw, speed = Repulsion(), Attraction(ties), np.zeros_like(places)
    degree = np.asarray(ties.sum(axis=1)).reshape(-1, 1)
    for done in range(ROUNDS):
        progress(done / ROUNDS)
        pull = _pull(done, settings.pull)
        total, pushed = push.at(places)
        slope = pull * draw.at(places) - pushed / max(total, 1e-12)
        # A point that many are tied to moves in smaller steps, so that hubs of copies do not overshoot.
        speed = _MOMENTUM * speed - _STEP / (pull * degree + 1 / len(rows)) * slope
        far = np.hypot(speed[:, 0], speed[:, 1])[:, None]
        speed *= np.minimum(1, _FARTHEST / np.maximum(far, 1e-300))
        places += speed
        places -= places.mean(axis=0)
        places, speed = _kept_open(places, speed)
        if done + 1 < ROUNDS:
            if enough():
                return with_rim(places, rows, empty, done + 1, ROUNDS)
            if done % _SHOWN_EVERY == 0:
                preview(with_rim(places, rows, empty, done + 1, ROUNDS))
    return with_rim(places, rows, empty, ROUNDS, ROUNDS)


def _pull(done: int, last: float) -> float:
    """The attraction in a round: strong at first, so that the large shape is found; then, little by little, the one that was asked for.

    Going over to it at once tears groups apart that have not come to rest: on the demo a tenth fewer neighbours share their crop.
    """
    turned = min(max((done - FIRST_ROUNDS) / (LAST_TURN - FIRST_ROUNDS), 0), 1)
    return float(_FIRST_PULL * (last / _FIRST_PULL) ** turned)


def _started(start: Floats, seed: int) -> Floats:
    """The places at the start, brought to their deviation; a little noise parts what lies on one another and widens a line."""
    deviation = float(start.std())
    noise = np.random.default_rng(seed).standard_normal(start.shape)
    scaled = (start - start.mean(axis=0)) / deviation if deviation > 1e-9 else noise
    return (scaled + 0.01 * noise) * _START


def _kept_open(places: Floats, speed: Floats) -> tuple[Floats, Floats]:
    """The places and their speed, widened along each principal axis whose deviation has fallen below that of the start.

    So strong a pull lets all fall together, by the smoothest axis last: only the shape counts then, and it has two axes.
    """
    values, axes = np.linalg.eigh(places.T @ places / len(places))
    deviation = np.sqrt(np.maximum(values, 0))
    if (deviation >= _START).all() or deviation[0] < 1e-300:
        return places, speed
    wider = (axes * np.maximum(_START / deviation, 1)) @ axes.T
    return places @ wider, speed @ wider


class Attraction:
    """The attraction between linked points. Each tie is looked at once, in chunks that stay in the cache. On one thread: what is added up
    holds the interpreter, and threads only wait for each other."""

    def __init__(self, ties: csr_array) -> None:
        """ties: n × n, symmetric, the joint probabilities p."""
        upper = coo_array(triu(ties, 1))
        self._one, self._other = upper.row.astype(np.intp), upper.col.astype(np.intp)
        self._ties = upper.data
        self._size = ties.shape[0]

    def at(self, places: Floats) -> Floats:
        """Σ_j p_ij (y_i - y_j) / (1 + |y_i - y_j|²) at each point (float64, n × 2)."""
        x, y = np.ascontiguousarray(places.T)
        found = np.zeros((2, self._size))
        for chunk in blocks(len(self._ties), _TIES_AT_ONCE):
            one, other = self._one[chunk], self._other[chunk]
            apart = np.stack((x[one], y[one]))
            apart[0] -= x[other]
            apart[1] -= y[other]
            apart *= self._ties[chunk] / (1 + apart[0] ** 2 + apart[1] ** 2)
            for along, way in zip(found, apart, strict=True):
                along += np.bincount(one, way, self._size)
                along -= np.bincount(other, way, self._size)
        return found.T
