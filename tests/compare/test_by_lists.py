# SPDX-License-Identifier: GPL-3.0-or-later
"""Neighbours by lists against those found in full, and what is said of them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.sparse import csr_array

from compare.test_compare import space_of
from jagged_lens import parallel
from jagged_lens.compare import nearest_neighbours, neighbours_by_lists

topics = __import__("map.test_tsne", fromlist=["topics"]).topics


@pytest.mark.parametrize("measure", ["cosine", "euclidean", "hellinger"])
def test_where_lists_have_room_for_all_neighbours_are_the_true_ones(measure: str) -> None:
    space = space_of(topics(1, 10))
    true = nearest_neighbours(space, measure, 12)
    found = neighbours_by_lists(space, measure, 12)
    assert found.recall == pytest.approx(1, abs=0.02)
    assert found.similarity[:, 0] == pytest.approx(true.similarity[:, 0], abs=1e-6)
    assert not (found.row == np.arange(60)[:, None]).any()
    assert (found.row[space.empty] == -1).all()


def test_a_document_without_terms_has_no_neighbour_and_is_none() -> None:
    counts = topics(1, 10)
    counts[[3, 17]] = 0
    space = space_of(counts)
    assert np.flatnonzero(space.empty).tolist() == [3, 17]
    found = neighbours_by_lists(space, "cosine", 12)
    assert (found.row[[3, 17]] == -1).all()
    assert (found.similarity[[3, 17]] == 0).all()
    assert not np.isin(found.row, [3, 17]).any()


def test_recall_is_the_share_of_true_neighbours_that_were_found(monkeypatch: pytest.MonkeyPatch) -> None:
    module = __import__("jagged_lens.compare.by_lists", fromlist=["x"])
    monkeypatch.setattr(module, "_LISTED", 6)
    monkeypatch.setattr(module, "_PER_NEIGHBOUR", 1)
    space = space_of(topics(2, 50))
    true = nearest_neighbours(space, "cosine", 8)
    found = neighbours_by_lists(space, "cosine", 8)
    rows = np.flatnonzero(~space.empty)
    least = true.similarity[rows, -1]
    reached = (found.similarity[rows] >= least[:, None]) & (found.row[rows] >= 0)
    assert found.recall == pytest.approx(reached.sum() / (8 * len(rows)), abs=1e-9)
    assert 0.05 < found.recall < 0.95


def test_distances_of_rows_of_different_lengths_are_looked_for_in_full(monkeypatch: pytest.MonkeyPatch) -> None:
    module = __import__("jagged_lens.compare.by_lists", fromlist=["x"])
    monkeypatch.setattr(module, "_LISTED", 2)
    counts = topics(3, 40) * np.random.default_rng(3).integers(1, 9, 240)[:, None]
    space = space_of(counts, local="count", length="none")
    found, true = neighbours_by_lists(space, "euclidean", 6), nearest_neighbours(space, "euclidean", 6)
    assert found.recall == 1
    assert np.array_equal(found.row, true.row)


def test_of_hardly_anything_there_are_no_neighbours() -> None:
    for counts in (np.zeros((0, 3), int), np.zeros((4, 3), int), np.ones((1, 2), int)):
        space = space_of(counts, global_="none")
        found = neighbours_by_lists(space, "cosine", 3)
        assert (found.row == -1).all()
        assert found.recall == 1


def test_where_few_documents_have_terms_none_is_its_own_neighbour() -> None:
    counts = np.zeros((300, 12), int)
    counts[:20] = np.random.default_rng(5).integers(0, 3, (20, 12))
    space = space_of(counts)
    found = neighbours_by_lists(space, "cosine", 12)
    assert not (found.row == np.arange(300)[:, None]).any()
    assert (found.row[20:] == -1).all()
    assert (found.row[:20] < 20).all()


@pytest.mark.parametrize("measure", ["cosine", "euclidean"])
def test_copies_share_what_their_wording_finds_and_find_each_other_first(measure: str) -> None:
    counts = topics(4, 20)
    counts[40:70] = counts[40]  # thirty copies of one
    counts[90:93] = counts[90]
    space = space_of(counts)
    true = nearest_neighbours(space, measure, 12)
    found = neighbours_by_lists(space, measure, 12)
    assert found.recall > 0.95
    for row in (*range(40, 70), *range(90, 93)):
        assert found.row[row].tolist() == true.row[row].tolist()
    assert not (found.row == np.arange(len(counts))[:, None]).any()


def test_a_list_has_the_documents_in_which_its_term_weighs_most(monkeypatch: pytest.MonkeyPatch) -> None:
    module = __import__("jagged_lens.compare.by_lists", fromlist=["x"])
    monkeypatch.setattr(module, "_LISTED", 2)
    matrix = csr_array(np.array([[1.0, 0, 3], [2, 0, 3], [5, 0, 3], [0, 4, 0]]))
    assert module._lists(matrix).toarray().tolist() == [[0, 2, 5, 0], [0, 0, 0, 4], [3, 3, 0, 0]]


@given(st.lists(st.integers(0, 40), min_size=1, max_size=12), st.integers(1, 9), st.integers(0, 99))
def test_the_highest_of_ragged_rows_are_those_of_each_row(sizes: list[int], keep: int, seed: int) -> None:
    module = __import__("jagged_lens.compare.by_lists", fromlist=["x"])
    starts = np.concatenate(([0], np.cumsum(sizes)))
    rng = np.random.default_rng(seed)
    scores = rng.permutation(starts[-1]).astype(np.float32)
    columns = np.concatenate([np.arange(size) for size in sizes]).astype(np.int32)
    owner, other = module._highest(starts, columns, scores, keep)
    for row, size in enumerate(sizes):
        own = scores[starts[row] : starts[row + 1]]
        wanted = np.sort(np.argsort(-own)[:keep])
        assert np.sort(other[owner == row]).tolist() == wanted.tolist(), size


def test_neighbours_are_the_same_on_any_number_of_threads() -> None:
    space = space_of(topics(6, 120))
    before = parallel.threads()
    try:
        parallel.set_threads(1)
        one = neighbours_by_lists(space, "cosine", 12)
        parallel.set_threads(3)
        three = neighbours_by_lists(space, "cosine", 12)
    finally:
        parallel.set_threads(before)
    assert np.array_equal(one.row, three.row)
    assert np.array_equal(one.similarity, three.similarity)
