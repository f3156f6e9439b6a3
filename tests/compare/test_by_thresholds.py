# SPDX-License-Identifier: GPL-3.0-or-later
"""Nearest others from thresholds: exactly those that comparing each with all finds."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from compare.test_compare import random_counts, space_of
from jagged_lens.compare import nearest_neighbours, neighbours_by_thresholds
from jagged_lens.parallel import set_threads, threads

module, lists = (__import__(f"jagged_lens.compare.{name}", fromlist=["x"]) for name in ("by_thresholds", "by_lists"))


def told(counts: np.ndarray, measure: str, k: int, left: float = 2.0) -> tuple[np.ndarray, np.ndarray]:
    """The neighbours from thresholds of short lists, whatever share of the products is left."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(module, "_MOST_LEFT", left)
        patch.setattr(module, "_MEETINGS_AT_ONCE", 500)
        patch.setattr(lists, "_LISTED", 4)
        patch.setattr(lists, "_PER_NEIGHBOUR", 1)
        found = neighbours_by_thresholds(space_of(counts), measure, k)
    return found.row, found.similarity


@given(
    st.integers(0, 1000), st.integers(2, 90), st.integers(1, 15), st.sampled_from(["cosine", "hellinger", "euclidean"])
)
def test_they_are_those_of_comparing_each_with_all(seed: int, n: int, k: int, measure: str) -> None:
    random = np.random.default_rng(seed)
    counts = np.minimum(random.poisson(random.pareto(1, 40) * 0.3, (n, 40)), 9)
    copied = random.integers(0, n, n // 3)
    counts[random.integers(0, n, n // 3)] = counts[copied]  # ties, and some without any term
    true = nearest_neighbours(space_of(counts), measure, k)
    row, similarity = told(counts, measure, k)
    assert np.array_equal(row, true.row)
    assert np.array_equal(similarity, true.similarity)


def test_terms_of_many_documents_are_left_out(monkeypatch: pytest.MonkeyPatch) -> None:
    random = np.random.default_rng(0)
    counts = np.zeros((300, 160), int)
    counts[:, 150:] = random.random((300, 10)) < 0.9
    for row in range(300):
        counts[row, 3 * (row // 6) : 3 * (row // 6) + 3] = 4 + row % 6, 4, 5
    shares: list[float] = []
    real = module._share_left
    monkeypatch.setattr(module, "_share_left", lambda *given: shares.append(real(*given)) or shares[-1])
    row, _ = told(counts, "cosine", 5, 0.35)
    assert shares[0] < 0.1
    assert (row // 6 == (np.arange(300) // 6)[:, None]).all()


def test_where_too_much_is_left_each_is_compared_with_all(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "_all_reaching", None)
    counts = random_counts(3, 60)
    true = nearest_neighbours(space_of(counts), "cosine", 5)
    assert np.array_equal(told(counts, "cosine", 5, -1.0)[0], true.row)


def test_the_same_on_any_number_of_threads() -> None:
    counts, before, found = random_counts(5, 120), threads(), []
    for count in (1, 3):
        set_threads(count)
        found.append([one.tobytes() for one in told(counts, "cosine", 6)])
    set_threads(before)
    assert found[0] == found[1]
