# SPDX-License-Identifier: GPL-3.0-or-later
"""How many themes add up: what each number leaves, stability over halves, and the share that each document leaves."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray

from compare.test_compare import random_counts, space_of
from jagged_lens.weigh import Themes, adding_themes, left_by_document, theme_numbers
from jagged_lens.weigh.theme_numbers import matches


def planted(topics: int, rows: int, seed: int) -> NDArray[np.int64]:
    """Counts of rows that are each of one topic, with twelve words of its own, and a few words that all share."""
    random = np.random.default_rng(seed)
    counts = np.zeros((rows, 12 * topics + 6), np.int64)
    for row in range(rows):
        topic = row % topics
        own = random.choice(12, 8, replace=False) + 12 * topic
        counts[row, own] = random.integers(1, 5, 8)
        counts[row, 12 * topics + random.integers(0, 6)] = 1
    return counts


def of_terms(terms: list[list[float]]) -> Themes:
    found = np.array(terms, np.float32).T
    k = found.shape[1]
    return Themes(found, np.ones(k), np.zeros((0, k), np.float32), 1.0, "adding")


def test_themes_are_matched_one_to_one() -> None:
    one = of_terms([[1, 0, 0], [0, 1, 0], [0, 0.6, 0.8]])
    other = of_terms([[0, 1, 0], [0.8, 0, 0.6], [0, 0, 1]])
    # The second and the third of one are both nearest to the second place; only one can have it.
    assert matches(one, other) == pytest.approx([0.8, 1.0, 0.8])
    assert matches(one, of_terms([[0, 1, 0]])) == pytest.approx([0, 1, 0])


def test_the_planted_number_of_topics_is_the_most_stable() -> None:
    space = space_of(planted(6, 240, 1))
    own = adding_themes(space, 6)
    found = theme_numbers(space, own, (3, 6, 12))
    assert found.numbers.tolist() == [3, 6, 12]
    assert (np.diff(found.left) < 0).all()
    assert found.stable.argmax() == 1
    assert found.stable[1] > 0.95
    assert found.own.min() > 0.9
    again = theme_numbers(space, own, (3, 6, 12))
    assert found.left.tobytes() + found.stable.tobytes() == again.left.tobytes() + again.stable.tobytes()


def test_numbers_that_the_documents_cannot_have_are_left_out() -> None:
    space = space_of(planted(2, 12, 2))
    assert theme_numbers(space, adding_themes(space, 2), (2, 5, 7, 40)).numbers.tolist() == [2, 5]


def test_what_documents_leave_adds_up_to_what_is_left() -> None:
    space = space_of(random_counts(5, 50, 30))
    found = adding_themes(space, 4)
    x = space.weights.toarray().astype(np.float64)
    rest = ((x - found.amounts.astype(np.float64) @ found.terms.astype(np.float64).T) ** 2).sum(axis=1)
    squares = (x**2).sum(axis=1)
    left = left_by_document(space, found)
    np.testing.assert_allclose(left, np.where(squares > 0, rest / np.where(squares > 0, squares, 1), 0), atol=1e-5)
    assert (left * squares).sum() / squares.sum() == pytest.approx(found.left, abs=1e-5)
