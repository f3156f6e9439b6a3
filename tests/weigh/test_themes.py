# SPDX-License-Identifier: GPL-3.0-or-later
"""Themes against dense and ARPACK decompositions, and later steps on them against the rows of X V."""

import numpy as np
import pytest
from scipy.sparse.linalg import svds

from compare.test_compare import random_counts, space_of
from jagged_lens.compare import CompareSettings, find_pairs, nearest_neighbours, shingles_of
from jagged_lens.explain import contributions
from jagged_lens.group import GroupSettings, k_means
from jagged_lens.parallel import set_threads, threads
from jagged_lens.weigh import Themes, in_themes, themes

topics = __import__("map.test_tsne", fromlist=["topics"]).topics


@pytest.mark.parametrize("shape", [(60, 40), (30, 90), (200, 12)])
def test_themes_equal_the_dense_decomposition(shape: tuple[int, int]) -> None:
    space = space_of(random_counts(2, *shape))
    dense = space.weights.toarray().astype(float)
    _, sizes, right = np.linalg.svd(dense, full_matrices=False)
    found = themes(space, 5)
    assert found.values == pytest.approx(sizes[:5], rel=1e-3)
    assert found.energy == pytest.approx((dense**2).sum())
    assert found.shares == pytest.approx(found.values**2 / (dense**2).sum())
    for theme in range(3):
        vector = right[theme] * np.sign(right[theme][np.abs(right[theme]).argmax()])
        assert found.terms[:, theme] @ vector > 0.999
        assert found.terms[np.abs(found.terms[:, theme]).argmax(), theme] > 0
    assert np.linalg.norm(found.terms, axis=0) == pytest.approx(np.ones(5), abs=1e-5)
    assert found.documents == pytest.approx(dense @ found.terms, abs=1e-5)


def test_many_themes_hold_as_much_as_those_of_arpack() -> None:
    space = space_of(random_counts(5, 400, 300))
    sizes = svds(space.weights.astype(float), k=80, return_singular_vectors=False)
    found = themes(space, 80)
    assert (found.values**2).sum() >= 0.9995 * (sizes**2).sum()
    before = threads()
    set_threads(1)
    again = themes(space, 80)
    set_threads(before)
    assert again.terms.tobytes() == found.terms.tobytes()


def test_there_are_never_more_themes_than_the_weights_have() -> None:
    counts = np.zeros((6, 8), int)
    counts[:3, :4], counts[3:, 4:] = 1, 1
    found = themes(space_of(counts, global_="none"), 5)
    assert len(found) == 2
    assert found.shares.sum() == pytest.approx(1)
    for nothing in (np.zeros((3, 3), int), np.zeros((0, 2), int)):
        space = space_of(nothing)
        assert len(themes(space, 4)) == 0
        assert in_themes(space, themes(space, 4)) is space


def test_the_elbow_is_the_theme_farthest_below_the_line() -> None:
    values = np.sqrt([10.0, 4, 3, 2.5, 2])
    assert Themes(np.zeros((1, 5), np.float32), values, np.zeros((1, 5), np.float32), 30.0).elbow == 2
    assert Themes(np.zeros((1, 2), np.float32), values[:2], np.zeros((1, 2), np.float32), 30.0).elbow == 0
    straight = np.sqrt([3.0, 2, 1])
    assert Themes(np.zeros((1, 3), np.float32), straight, np.zeros((1, 3), np.float32), 30.0).elbow == 0


def test_later_steps_work_on_the_rows_of_x_v() -> None:
    space = space_of(topics(1, 15))
    found = themes(space, 6)
    inside = in_themes(space, found)
    rows = found.documents.astype(float)
    unit = rows / np.where(np.linalg.norm(rows, axis=1) > 0, np.linalg.norm(rows, axis=1), 1)[:, None]
    cosine = unit @ unit.T
    np.fill_diagonal(cosine, -1)
    neighbours = nearest_neighbours(inside, "cosine", 4)
    filled = np.flatnonzero(~inside.empty)
    for row in filled:
        assert neighbours.similarity[row] == pytest.approx(np.sort(cosine[row])[::-1][:4], abs=1e-5)
    texts = shingles_of(__import__("conftest").corpus_of(*(f"text {number}" for number in range(90))))
    pairs = find_pairs(inside, texts, CompareSettings(pairs_from=0.9))
    expected = {(a, b) for a, b in np.argwhere(cosine >= 0.9).tolist() if a < b}
    close = {(a, b) for a, b in np.argwhere(np.abs(cosine - 0.9) < 1e-6).tolist()}
    assert set(zip(pairs.first.tolist(), pairs.second.tolist(), strict=True)) ^ expected <= close
    assert len(expected) > 20
    grouping = k_means(inside, GroupSettings(groups=6))
    assert grouping.centroids.shape == (6, 6)
    assert grouping.quality > 0.7


def test_a_document_outside_all_themes_is_empty_there() -> None:
    counts = np.zeros((5, 6), int)
    counts[:4, :3] = [[2, 1, 1], [1, 2, 1], [1, 1, 2], [3, 3, 1]]
    counts[4, 5] = 1
    space = space_of(counts, global_="none", length="none")
    inside = in_themes(space, themes(space, 1))
    assert inside.empty.tolist() == [False] * 4 + [True]
    assert inside.weights[[4]].nnz == 0
    assert not space.empty[4]


@pytest.mark.parametrize("measure", ["cosine", "euclidean"])
def test_a_similarity_in_themes_is_taken_apart_in_terms(measure: str) -> None:
    space = space_of(random_counts(7, 40, 30), length="none")
    found = themes(space, 4)
    x, v = space.weights.toarray().astype(float), found.terms.astype(float)
    first, second = np.flatnonzero(~space.empty)[[2, 9]]
    parts = contributions(space, measure, int(first), int(second), found)
    a, b = x[first], x[second]
    if measure == "cosine":
        expected = a * (v @ (v.T @ b)) / (np.linalg.norm(a @ v) * np.linalg.norm(b @ v))
        assert parts.similarity == pytest.approx(expected.sum(), abs=1e-6)
    else:
        expected = (a - b) * (v @ (v.T @ (a - b)))
        assert parts.similarity == pytest.approx(1 / (1 + np.sqrt(expected.sum())), abs=1e-6)
    assert parts.total == pytest.approx(expected.sum(), abs=1e-6)
    assert parts.themes == 4
    assert parts.values == pytest.approx(expected[parts.columns], abs=1e-6)
    pair = nearest_neighbours(in_themes(space, found), measure, 39)
    at = np.flatnonzero(pair.row[first] == second)
    if len(at):
        assert pair.similarity[first, at[0]] == pytest.approx(parts.similarity, abs=1e-5)
