# SPDX-License-Identifier: GPL-3.0-or-later

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from compare.test_compare import brute, random_counts, space_of
from jagged_lens.compare import nearest_neighbours
from jagged_lens.map import Laid, Projection, nearest_on_map, pca, trusted


def plain(projection: Projection) -> Laid:
    """The two components as they are."""
    return Laid(projection.positions, np.zeros(len(projection.positions), np.bool_))


@pytest.mark.parametrize("shape", [(60, 40), (30, 90), (200, 12)])
def test_pca_equals_the_dense_decomposition(shape: tuple[int, int]) -> None:
    space = space_of(random_counts(2, *shape))
    found = pca(space, seed=1)
    filled = ~space.empty
    rows = space.weights.toarray().astype(float)[filled]
    centred = rows - rows.mean(0)
    _, sizes, right = np.linalg.svd(centred, full_matrices=False)
    for axis in range(2):
        vector = right[axis] * np.sign(right[axis][np.abs(right[axis]).argmax()])
        assert found.axes[axis] == pytest.approx(vector, abs=1e-4)
        assert found.positions[filled, axis] == pytest.approx(centred @ vector, abs=1e-4)
        assert found.explained[axis] == pytest.approx(sizes[axis] ** 2 / (sizes**2).sum(), abs=1e-6)
    assert np.isnan(found.positions[space.empty]).all()


def test_pca_finds_the_same_from_anywhere() -> None:
    space = space_of(random_counts(8, 150))
    assert pca(space, seed=1).positions == pytest.approx(pca(space, seed=99).positions, abs=1e-5, nan_ok=True)


@pytest.mark.parametrize(
    "counts",
    [np.ones((4, 3), int), np.ones((1, 3), int), np.zeros((2, 2), int), np.zeros((2, 0), int), np.eye(2, dtype=int)],
)
def test_hardly_anything_to_lay_out(counts: np.ndarray) -> None:
    space = space_of(counts, global_="none")
    found = pca(space, 1)
    assert np.isnan(found.positions).all(axis=1).tolist() == space.empty.tolist()
    layout = trusted(plain(found), found, nearest_neighbours(space, "cosine", 12))
    assert np.isnan(layout.trust[space.empty]).all()


@settings(deadline=None, max_examples=40)
@given(st.integers(2, 700), st.integers(1, 14), st.integers(0, 10), st.booleans())
def test_nearest_on_map_equals_an_oracle(n: int, k: int, seed: int, crowded: bool) -> None:
    random = np.random.default_rng(seed)
    points = np.round(random.normal(size=(n, 2)), 1 if crowded else 9)
    k = min(k, n - 1)
    found = nearest_on_map(points, k)
    squared = ((points[:, None] - points[None]) ** 2).sum(2)
    squared[np.arange(n), np.arange(n)] = np.inf
    assert np.array_equal(found, np.argsort(squared, axis=1, kind="stable")[:, :k])  # ties go by row


def test_trust_equals_brute_force() -> None:
    space = space_of(random_counts(6, 90))
    projection = pca(space, 1)
    layout = trusted(plain(projection), projection, nearest_neighbours(space, "cosine", 12))
    likeness = brute(space, "cosine").astype(np.float32)
    positions = projection.positions.astype(float)
    gaps = ((positions[:, None] - positions[None]) ** 2).sum(2)
    shares = []
    for row in np.flatnonzero(~space.empty):
        others = [at for at in range(90) if at != row and not space.empty[at]]
        near = sorted((at for at in others if likeness[row, at] > 0), key=lambda at: (-likeness[row, at], at))[:12]
        on_map = sorted(others, key=lambda at: (gaps[row, at], at))[: len(near)]
        shares.append(len(set(near) & set(on_map)) / max(len(near), 1))
        assert layout.trust[row] == pytest.approx(shares[-1])
    assert layout.components == layout.overall
    assert layout.overall == pytest.approx(np.mean(shares))
