# SPDX-License-Identifier: GPL-3.0-or-later
"""Neighbours by candidates against those found in full, and what is said of them."""

import numpy as np
import pytest

from compare.test_compare import space_of
from jagged_lens.compare import nearest_neighbours, neighbours_by_candidates
from jagged_lens.weigh import themes

topics = __import__("map.test_tsne", fromlist=["topics"]).topics


@pytest.mark.parametrize("measure", ["cosine", "euclidean", "hellinger"])
def test_with_enough_candidates_neighbours_are_the_true_ones(measure: str) -> None:
    space = space_of(topics(1, 10))
    true = nearest_neighbours(space, measure, 12)
    found = neighbours_by_candidates(space, themes(space, 60), measure, 12)
    assert found.recall == pytest.approx(1, abs=0.02)
    assert found.similarity[:, 0] == pytest.approx(true.similarity[:, 0], abs=1e-6)
    assert not (found.row == np.arange(60)[:, None]).any()
    assert (found.row[space.empty] == -1).all()


def test_a_document_without_terms_has_no_neighbour_and_is_none() -> None:
    counts = topics(1, 10)
    counts[[3, 17]] = 0
    space = space_of(counts)
    assert np.flatnonzero(space.empty).tolist() == [3, 17]
    found = neighbours_by_candidates(space, themes(space, 60), "cosine", 12)
    assert (found.row[[3, 17]] == -1).all()
    assert (found.similarity[[3, 17]] == 0).all()
    assert not np.isin(found.row, [3, 17]).any()


def test_recall_is_the_share_of_true_neighbours_that_were_found(monkeypatch: pytest.MonkeyPatch) -> None:
    module = __import__("jagged_lens.compare.candidates", fromlist=["x"])
    monkeypatch.setattr(module, "_FEWEST", 8)
    monkeypatch.setattr(module, "_PER_NEIGHBOUR", 1)
    space = space_of(topics(2, 50))
    true = nearest_neighbours(space, "cosine", 8)
    found = neighbours_by_candidates(space, themes(space, 3), "cosine", 8)
    rows = np.flatnonzero(~space.empty)
    least = true.similarity[rows, -1]
    reached = (found.similarity[rows] >= least[:, None]) & (found.row[rows] >= 0)
    assert found.recall == pytest.approx(reached.sum() / (8 * len(rows)), abs=1e-9)
    assert 0.05 < found.recall < 0.95


def test_candidates_under_the_euclidean_measure_are_near_and_not_only_in_the_same_direction(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    module = __import__("jagged_lens.compare.candidates", fromlist=["x"])
    monkeypatch.setattr(module, "_FEWEST", 8)
    monkeypatch.setattr(module, "_PER_NEIGHBOUR", 1)
    counts = topics(3, 40) * np.random.default_rng(3).integers(1, 9, 240)[:, None]
    space = space_of(counts, local="count", length="none")
    assert neighbours_by_candidates(space, themes(space, 60), "euclidean", 6).recall > 0.6


def test_of_hardly_anything_there_are_no_candidates() -> None:
    for counts in (np.zeros((0, 3), int), np.zeros((4, 3), int), np.ones((1, 2), int)):
        space = space_of(counts, global_="none")
        found = neighbours_by_candidates(space, themes(space, 5), "cosine", 3)
        assert (found.row == -1).all()
        assert found.recall == 1


def test_where_few_documents_have_terms_none_is_its_own_neighbour() -> None:
    counts = np.zeros((300, 12), int)
    counts[:20] = np.random.default_rng(5).integers(0, 3, (20, 12))
    space = space_of(counts)
    found = neighbours_by_candidates(space, themes(space, 6), "cosine", 12)
    assert not (found.row == np.arange(300)[:, None]).any()
    assert (found.row[20:] == -1).all()
    assert (found.row[:20] < 20).all()
