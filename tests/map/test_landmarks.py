# SPDX-License-Identifier: GPL-3.0-or-later
"""Maps of many documents: a third of them as landmarks first, then all."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.sparse import block_diag, csr_array

from compare.test_compare import space_of
from jagged_lens.compare import nearest_neighbours
from jagged_lens.map import Laid, MapSettings, pca, t_sne, trusted
from jagged_lens.map.landmarks import along, landmarks_of
from map.test_tsne import topics

module = __import__("jagged_lens.map.tsne", fromlist=["t_sne"])


def ring(n: int) -> csr_array:
    """A graph in which each of n rows is tied to the next one."""
    at = np.arange(n)
    one_way = csr_array((np.ones(n), (at, (at + 1) % n)), shape=(n, n))
    both = csr_array(one_way + one_way.T)
    return csr_array(both / both.sum())


def test_landmarks_are_tied_by_ways_of_two_steps() -> None:
    some = landmarks_of(ring(30), 15, 1)
    assert len(some.rows) == 10
    ties = some.ties.toarray()
    assert ties == pytest.approx(ties.T)
    assert ties.sum() == pytest.approx(1)
    assert not ties.diagonal().any()
    away = np.abs(some.rows[:, None] - some.rows)
    away = np.minimum(away, 30 - away)
    strong = ties > 1e-5  # weaker ones hold those that no way leads from
    assert (away[strong] <= 2).all()
    assert strong[away == 2].all()


def test_every_row_begins_at_the_mean_of_the_landmarks_it_reaches() -> None:
    some = landmarks_of(ring(30), 15, 1)
    reach = some.reach.toarray()
    assert reach.sum(axis=1) == pytest.approx(np.ones(30))
    assert reach[some.rows] == pytest.approx(np.eye(10))
    between = next(at for at in range(30) if {(at - 1) % 30, (at + 1) % 30} <= set(some.rows.tolist()) - {at})
    if between not in some.rows:
        assert sorted(reach[between])[-2:] == pytest.approx([0.5, 0.5])
    places = np.random.default_rng(0).normal(size=(10, 2))
    assert some.spread(places)[some.rows] == pytest.approx(places * np.sqrt(3))


def test_what_leads_to_no_landmark_begins_in_the_middle() -> None:
    pair = csr_array(np.array([[0.0, 1], [1, 0]]))
    ties = csr_array(block_diag((*[pair] * 20,)))
    some = landmarks_of(csr_array(ties / ties.sum()), 15, 1)
    reach = np.asarray(some.reach.sum(axis=1))
    with_landmark = np.isin(np.arange(40) // 2, some.rows // 2)
    assert reach == pytest.approx(with_landmark.astype(float))
    assert np.isfinite(some.spread(np.ones((len(some.rows), 2)))).all()


def test_points_that_lie_together_follow_one_another() -> None:
    corners = np.array([[0, 0], [10, 10], [0.1, 0], [10, 0], [0, 10], [10, 9.9]])
    assert along(corners).tolist() == [0, 2, 3, 4, 5, 1]


def test_topics_lie_apart_after_landmarks_too(monkeypatch: pytest.MonkeyPatch) -> None:
    space = space_of(topics(1, 60), global_="none")
    neighbours, projection = nearest_neighbours(space, "cosine", 15), pca(space, 1)
    whole = t_sne(neighbours, projection.positions, "cosine", MapSettings())
    monkeypatch.setattr(module, "WHOLE_TO", 100)
    shown: list[Laid] = []
    laid = t_sne(neighbours, projection.positions, "cosine", MapSettings(), preview=shown.append)
    assert (laid.rounds, laid.of) == (1050, 1050)
    assert all(np.isfinite(one.positions).all() for one in shown)
    first, second = (trusted(one, projection, neighbours).overall for one in (whole, laid))
    assert second > 0.9 * first > 0.2


def test_a_map_stopped_among_its_landmarks_has_a_place_for_all(monkeypatch: pytest.MonkeyPatch) -> None:
    space = space_of(topics(1, 30), global_="none")
    neighbours, start = nearest_neighbours(space, "cosine", 15), pca(space, 1).positions
    monkeypatch.setattr(module, "WHOLE_TO", 100)
    for after in (40, 800):
        asked: list[int] = []

        def enough(asked: list[int] = asked, after: int = after) -> bool:
            asked.append(1)
            return len(asked) == after

        laid = t_sne(neighbours, start, "cosine", MapSettings(), enough=enough)
        assert laid.stopped
        assert laid.rounds in (after, after + 1)  # the last round of the landmarks is not asked about
        assert np.isfinite(laid.positions).all()
