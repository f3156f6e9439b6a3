# SPDX-License-Identifier: GPL-3.0-or-later
"""t-SNE: near documents pull each other, all push each other apart, until they hold the balance.

van der Maaten & Hinton, "Visualizing data using t-SNE", 2008, with a start from two principal components (Kobak & Berens, "The art of
using t-SNE for single-cell transcriptomics", 2019) and an attraction that can be turned up, from neighbour embedding to a spectral
layout (Böhm, Berens & Kobak, "Attraction-repulsion spectrum in neighbor embeddings", 2022).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare import Neighbours
from jagged_lens.map.affinities import affinities
from jagged_lens.map.attraction import Attraction
from jagged_lens.map.laid import Laid, with_rim
from jagged_lens.map.landmarks import along, landmarks_of
from jagged_lens.map.repulsion import Repulsion
from jagged_lens.map.settings import MapSettings
from jagged_lens.progress import Progress, never, unheard, unseen

FIRST_ROUNDS = 250  # at the first pull
LAST_TURN = 600  # from here on at the pull that was asked for
ROUNDS = 750
"""Rounds of all rows, or of their landmarks."""
WHOLE_TO = 12_000
"""Up to so many rows all go through all rounds; of more, landmarks go first."""
ROUNDS_OF_ALL = 300
"""Rounds of all rows after those of their landmarks."""
_PULL_OF_ALL = 4.0
_LAST_TURN_OF_ALL = 200
_FIRST_PULL = 12.0
_START = 1e-4  # deviation of the places at the start
_STEP = 0.5
_MOMENTUM = 0.8
_FARTHEST = 5.0  # units of the map that a point moves in one round at most
_SHOWN_EVERY = 5
_SHOWN_OFTEN = 25_000  # rows; more are shown less often

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
    """Places of n rows in which near ones lie together. Many rows begin where landmarks among them have come to rest.

    neighbours: at least settings.near of each row, where there are so many. start: float32, n × 2, NaN for empty rows. preview: shown the
    layout every few rounds. enough: asked after each round; where it says so, what is there is the result.
    """
    empty = np.isnan(start[:, 0])
    ties = affinities(neighbours, settings.near, measure)
    rows = np.flatnonzero(np.diff(ties.indptr) > 0)
    if len(rows) < 3:  # two pull and push each other with the same force at any distance
        return with_rim(start[rows], rows, empty)
    ties = csr_array(ties[rows][:, rows])
    begun = start[rows].astype(np.float64)
    by_landmarks = len(rows) > WHOLE_TO
    of = ROUNDS + ROUNDS_OF_ALL if by_landmarks else ROUNDS

    def laid(places: Floats, done: int) -> Laid:
        return with_rim(places, rows, empty, done, of)

    def watched(before: int, shown: Callable[[Floats], Floats]) -> Callable[[Floats, int], bool]:
        def look(places: Floats, done: int) -> bool:
            progress((before + done) / of)
            if before + done == of or enough():
                return True
            if done % every == 1:
                preview(laid(shown(places), before + done))
            return False

        return look

    every = _SHOWN_EVERY * max(len(rows), _SHOWN_OFTEN) // _SHOWN_OFTEN
    progress(0)
    pulls = [_pull(done, settings.pull) for done in range(ROUNDS)]
    if not by_landmarks:
        places, done = settled(ties, _started(begun, settings.seed), pulls, watched(0, lambda places: places))
        return laid(places, done)
    some = landmarks_of(ties, settings.near, settings.seed)
    shape, done = settled(some.ties, _started(begun[some.rows], settings.seed), pulls, watched(0, some.spread))
    places = some.spread(shape)
    if done < ROUNDS:
        return laid(places, done)
    pulls = [_pull_of_all(done, settings.pull) for done in range(ROUNDS_OF_ALL)]
    # Those that lie together are brought together in memory too: each round reads along it.
    order = along(places)
    moved, done = settled(
        csr_array(ties[order][:, order]), places[order], pulls, watched(ROUNDS, lambda moved: _back(moved, order))
    )
    return laid(_back(moved, order), ROUNDS + done)


def settled(
    ties: csr_array, places: Floats, pulls: Sequence[float], look: Callable[[Floats, int], bool]
) -> tuple[Floats, int]:
    """The places of n points after rounds of attraction and repulsion, and the number of rounds.

    ties: n × n, symmetric, their sum 1. places: float64, n × 2, at the start. pulls: the attraction against repulsion, round by round.
    look: shown the places after each round and how many were done; what it says ends the rounds.
    """
    push, draw, speed = Repulsion(), Attraction(ties), np.zeros_like(places)
    degree = np.asarray(ties.sum(axis=1)).reshape(-1, 1)
    for done, pull in enumerate(pulls, 1):
        total, pushed = push.at(places)
        slope = pull * draw.at(places) - pushed / max(total, 1e-12)
        # A point that many are tied to moves in smaller steps, so that hubs of copies do not overshoot.
        speed = _MOMENTUM * speed - _STEP / (pull * degree + 1 / len(places)) * slope
        far = np.hypot(speed[:, 0], speed[:, 1])[:, None]
        speed *= np.minimum(1, _FARTHEST / np.maximum(far, 1e-300))
        places = places + speed
        places -= [places[:, 0].mean(), places[:, 1].mean()]
        places, speed = _kept_open(places, speed)
        if look(places, done):
            return places, done
    return places, len(pulls)


def _back(moved: Floats, order: NDArray[np.int64]) -> Floats:
    """The places of rows in their own order, of those in another."""
    places = np.empty_like(moved)
    places[order] = moved
    return places


def _pull(done: int, last: float) -> float:
    """The attraction in a round: strong at first, so that the large shape is found; then, little by little, the one that was asked for.

    Going over to it at once tears groups apart that have not come to rest: on the demo a tenth fewer neighbours share their crop.
    """
    turned = min(max((done - FIRST_ROUNDS) / (LAST_TURN - FIRST_ROUNDS), 0), 1)
    return float(_FIRST_PULL * (last / _FIRST_PULL) ** turned)


def _pull_of_all(done: int, last: float) -> float:
    """The attraction in a round of all rows after their landmarks: somewhat strong, then the one that was asked for."""
    return float(_PULL_OF_ALL * (last / _PULL_OF_ALL) ** min(done / _LAST_TURN_OF_ALL, 1))


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
