# SPDX-License-Identifier: GPL-3.0-or-later
"""Distances on the map against those in the space."""

import numpy as np
import pytest

from compare.test_compare import brute, random_counts, space_of
from jagged_lens.errors import Stopped
from jagged_lens.map import scaling
from map.test_tsne import topics

module = __import__("jagged_lens.map.scaling", fromlist=["scaling"])


def stress(positions: np.ndarray, apart: np.ndarray) -> float:
    """Kruskal's stress-1, by hand."""
    distance = np.linalg.norm(positions[:, None] - positions[None], axis=2)
    return float(np.sqrt(((distance - apart) ** 2).sum() / (distance**2).sum()))


def majorised(apart: np.ndarray, start: np.ndarray, rounds: int) -> np.ndarray:
    """Plain majorisation."""
    places = start
    for _ in range(rounds):
        distance = np.linalg.norm(places[:, None] - places[None], axis=2)
        share = np.where(distance > 0, -apart / np.maximum(distance, 1e-12), 0)
        share[np.arange(len(apart)), np.arange(len(apart))] = -share.sum(1)
        places = share @ places / len(apart)
    return places


def test_the_stress_is_that_of_plain_majorisation_and_is_said() -> None:
    space = space_of(topics(1, 20))
    rows = np.flatnonzero(~space.empty)
    apart = 1 - brute(space, "cosine")[np.ix_(rows, rows)]
    np.fill_diagonal(apart, 0)
    laid = scaling(space, "cosine", 1)
    found = stress(laid.positions[rows].astype(float), apart)
    assert laid.stress == pytest.approx(found, abs=1e-4)
    centred = apart**2 - (apart**2).mean(0) - (apart**2).mean(1)[:, None] + (apart**2).mean()
    values, vectors = np.linalg.eigh(-centred / 2)
    plain = majorised(apart, vectors[:, -2:] * np.sqrt(np.maximum(values[-2:], 0)), 800)
    assert found <= 1.02 * stress(plain, apart)


def test_a_triangle_is_laid_out_as_it_is() -> None:
    space = space_of(np.array([[2, 1, 0], [0, 2, 1], [1, 0, 2]]), global_="none")
    laid = scaling(space, "euclidean", 1)
    sides = np.linalg.norm(laid.positions - np.roll(laid.positions, 1, axis=0), axis=1)
    weights = space.weights.toarray()
    assert sides == pytest.approx(np.linalg.norm(weights - np.roll(weights, 1, axis=0), axis=1), abs=1e-3)
    assert laid.stress == pytest.approx(0, abs=1e-3)


def test_of_many_rows_landmarks_are_scaled_and_the_others_fitted(monkeypatch: pytest.MonkeyPatch) -> None:
    counts = np.random.default_rng(2).integers(0, 40, (240, 2))
    space = space_of(counts, local="count", global_="none", length="none")
    whole = scaling(space, "euclidean", 1)
    monkeypatch.setattr(module, "MOST_ROWS", 100)
    monkeypatch.setattr(module, "LANDMARKS", 90)
    few = scaling(space, "euclidean", 1)
    rows = np.flatnonzero(~space.empty)
    apart = np.linalg.norm(counts[rows, None] - counts[None, rows], axis=2)
    for laid in (whole, few):
        places = laid.positions[rows].astype(float)
        assert np.abs(np.linalg.norm(places[:, None] - places[None], axis=2) - apart).max() < 1.5
        assert laid.stress < 0.02
    assert np.isfinite(few.positions[rows]).all()
    assert few.positions.tobytes() == scaling(space, "euclidean", 1).positions.tobytes()


def test_scaling_can_be_stopped_and_left_as_it_is() -> None:
    space = space_of(random_counts(4, 80))
    laid = scaling(space, "cosine", 1, enough=lambda: True)
    assert laid.stopped
    assert laid.rounds == 1

    def stop(share: float) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        scaling(space, "cosine", 1, stop)


def test_two_documents_lie_as_far_apart_as_they_are_unlike_and_one_alone_in_the_middle() -> None:
    counts = np.array([[3, 1, 0], [1, 2, 4], [0, 0, 0]])
    space = space_of(counts, global_="none")
    laid = scaling(space, "cosine", 1)
    apart = float(np.linalg.norm(laid.positions[0] - laid.positions[1]))
    assert apart == pytest.approx(1 - brute(space, "cosine")[0, 1], abs=1e-5)
    assert np.isnan(laid.positions[2]).all()
    assert laid.stress == pytest.approx(0, abs=1e-5)
    alone = scaling(space_of(counts[[0, 2]], global_="none"), "cosine", 1)
    assert alone.positions[0].tolist() == [0, 0]
