# SPDX-License-Identifier: GPL-3.0-or-later
"""Themes that add up: worked by hand, against a plain reference, planted topics, the same bytes twice."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.sparse import csr_array

from compare.test_compare import random_counts, space_of
from conftest import Silent
from jagged_lens.compare import CompareSettings, find_pairs, shingles_of
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import RecipeError
from jagged_lens.explain import contributions
from jagged_lens.lens import (
    CORPUS,
    GROUPING,
    SPACE,
    THEMES,
    THEMES_AHEAD,
    Job,
    Recent,
    compute,
    read_recipe,
    with_needs,
)
from jagged_lens.parallel import set_threads, threads
from jagged_lens.weigh import Themes, adding_themes, in_themes, themes


def left(x: NDArray[np.float64], found: Themes) -> float:
    rest = x - found.amounts.astype(np.float64) @ found.terms.astype(np.float64).T
    return float((rest**2).sum() / (x**2).sum())


def reference(x: NDArray[np.float64], k: int, seed: int, rounds: int = 600) -> float:
    """The share that plain multiplicative updates leave from a random start (Lee & Seung, 2001)."""
    random = np.random.default_rng(seed)
    w, h = random.random((len(x), k)), random.random((k, x.shape[1]))
    for _ in range(rounds):
        h *= (w.T @ x) / np.maximum(w.T @ w @ h, 1e-12)
        w *= (x @ h.T) / np.maximum(w @ h @ h.T, 1e-12)
    return float(((x - w @ h) ** 2).sum() / (x**2).sum())


def test_two_kinds_of_rows_are_two_themes() -> None:
    space = space_of(np.array([[2, 0], [4, 0], [0, 3]]))
    x = space.weights.toarray().astype(float)
    found = adding_themes(space, 2)
    assert sorted(np.abs(found.terms.astype(float)).max(axis=0)) == pytest.approx([1, 1], abs=1e-6)
    assert found.left == pytest.approx(0, abs=1e-6)
    assert found.values[0] >= found.values[1]
    assert found.values == pytest.approx(sorted(np.linalg.norm(x, axis=0), reverse=True), rel=1e-4)


@pytest.mark.parametrize(("seed", "shape", "k"), [(2, (60, 40), 5), (3, (40, 90), 6), (4, (150, 30), 4)])
def test_they_leave_no_more_than_the_best_of_ten_seeds_of_a_plain_reference(
    seed: int, shape: tuple[int, int], k: int
) -> None:
    space = space_of(random_counts(seed, *shape))
    x = space.weights.toarray().astype(float)
    found = adding_themes(space, k)
    assert (found.terms >= 0).all()
    assert (found.amounts >= 0).all()
    assert left(x, found) == pytest.approx(found.left, abs=1e-5)
    assert found.left <= 1.01 * min(reference(x, k, start) for start in range(10))
    assert np.linalg.norm(found.terms, axis=0) == pytest.approx(np.ones(k), abs=1e-5)
    assert (np.diff(found.values) <= 0).all()


def test_planted_topics_are_recovered() -> None:
    random = np.random.default_rng(5)
    topics = [np.arange(20 * at, 20 * at + 20) for at in range(6)]
    counts = np.zeros((300, 120), np.int64)
    for row in range(300):
        for topic in random.choice(6, 2, replace=False):
            np.add.at(counts[row], random.choice(topics[topic], 15), 1)
    found = adding_themes(space_of(counts), 6)
    overlaps = []
    for theme in range(6):
        top = set(np.argsort(-found.terms[:, theme])[:20].tolist())
        overlaps.append(max(len(top & set(topic.tolist())) / 20 for topic in topics))
    assert min(overlaps) >= 0.8


def test_the_same_bytes_on_any_number_of_threads() -> None:
    space = space_of(random_counts(7, 400, 200))
    first = adding_themes(space, 8)
    before = threads()
    set_threads(1)
    try:
        second = adding_themes(space, 8)
    finally:
        set_threads(before)
    assert first.amounts.tobytes() == second.amounts.tobytes()
    assert first.terms.tobytes() == second.terms.tobytes()


def test_an_empty_space_has_no_themes() -> None:
    space = space_of(np.zeros((3, 4), np.int64))
    assert len(adding_themes(space, 3)) == 0
    assert len(themes(space, 3)) == 0


def test_later_steps_work_on_them_and_a_pair_is_told_in_terms() -> None:
    path = demo_recipe()
    recipe = read_recipe(path).with_settings("weigh", {"themes": 10, "themes-by": "adding"})
    results = compute(Job(recipe, path.parent), Recent(), Silent(), lambda: with_needs([SPACE, THEMES, THEMES_AHEAD]))
    found, space = results[THEMES], results[SPACE]
    assert found.adding
    assert results[THEMES_AHEAD] is found
    rows = in_themes(space, found)
    assert isinstance(rows.weights, csr_array)
    assert (rows.weights.data >= 0).all()
    pairs = find_pairs(rows, shingles_of(results[CORPUS]), CompareSettings(pairs_from=0.95))
    place = {int(row): at for at, row in enumerate(space.terms.rows)}
    first, second = place[int(pairs.first[0])], place[int(pairs.second[0])]
    parts = contributions(space, "cosine", first, second, found)
    assert parts.values.sum() == pytest.approx(float(pairs.similarity[0]), abs=1e-5)


def test_groups_are_the_strongest_theme() -> None:
    path = demo_recipe()
    recipe = read_recipe(path).with_settings("weigh", {"themes": 10, "themes-by": "adding"})
    recipe = recipe.with_setting("group", "by", "theme")
    results = compute(Job(recipe, path.parent), Recent(), Silent(), lambda: with_needs([THEMES, GROUPING]))
    found, grouping = results[THEMES], results[GROUPING]
    strongest = found.amounts.argmax(axis=1)
    for group in range(len(grouping)):
        assert len(np.unique(strongest[grouping.group == group])) == 1
    assert len(grouping) == 10
    assert (np.diff(grouping.sizes) <= 0).all()
    assert set(np.flatnonzero(grouping.group < 0)) == set(np.flatnonzero(found.amounts.max(axis=1) <= 0))


def test_groups_by_theme_need_themes_that_add_up() -> None:
    with pytest.raises(RecipeError, match="needs themes that add up"):
        read_recipe(demo_recipe()).with_setting("group", "by", "theme")
