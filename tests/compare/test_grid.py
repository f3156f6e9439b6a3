# SPDX-License-Identifier: GPL-3.0-or-later
"""The grid of similarities, and loners."""

import numpy as np
import pytest

from compare.test_compare import MEASURES, brute, random_counts, space_of
from jagged_lens.compare import grid_of, loners, nearest_neighbours, rows_of, similarity_distribution
from jagged_lens.weigh import blocks_of


@pytest.mark.parametrize("measure", MEASURES)
def test_near_cells_are_exact(measure: str) -> None:
    space = space_of(random_counts(1, 20))
    order = np.random.default_rng(0).permutation(20)
    found = grid_of(rows_of(space, measure), order[:7], order[5:], 20, 20)
    expected = brute(space, measure)[np.ix_(order[:7], order[5:])]
    assert found.shape == (7, 15)
    assert np.isnan(found).tolist() == (expected == -1).tolist()
    assert found[~np.isnan(found)] == pytest.approx(expected[expected != -1], abs=1e-6)


@pytest.mark.parametrize("measure", ["cosine", "hellinger"])
def test_far_cells_are_means_of_their_blocks(measure: str) -> None:
    space = space_of(random_counts(1, 41))
    order = np.random.default_rng(0).permutation(41)
    found = grid_of(rows_of(space, measure), order, order, 6, 5)
    expected = np.where(brute(space, measure) == -1, np.nan, brute(space, measure))[np.ix_(order, order)]
    down, across = (np.searchsorted(blocks_of(41, cells), np.arange(cells + 1)) for cells in (6, 5))
    for i in range(6):
        for j in range(5):
            block = expected[down[i] : down[i + 1], across[j] : across[j + 1]]
            assert found[i, j] == pytest.approx(np.nanmean(block), abs=1e-6)


def test_far_distances_are_those_of_the_mean_square() -> None:
    space = space_of(random_counts(1, 12), length="none")
    found = grid_of(rows_of(space, "euclidean"), np.arange(12), np.arange(12), 1, 1)
    filled = ~space.empty
    dense = space.weights.toarray().astype(float)[filled]
    squared = ((dense[:, None] - dense) ** 2).sum(2)
    assert found[0, 0] == pytest.approx(1 / (1 + np.sqrt(squared.mean())), abs=1e-6)


def test_of_nothing_there_is_nothing() -> None:
    space = space_of(np.zeros((3, 2), int))
    assert np.isnan(grid_of(rows_of(space, "cosine"), np.arange(3), np.arange(3), 2, 2)).all()
    assert grid_of(rows_of(space, "cosine"), np.zeros(0, int), np.arange(3), 2, 2).shape == (0, 2)


def test_loners_have_no_near_neighbour() -> None:
    space = space_of(np.array([[2, 1, 0, 0], [1, 2, 0, 0], [0, 0, 3, 0], [0, 0, 0, 0], [0, 9, 0, 1]]), global_="none")
    nearest = nearest_neighbours(space, "cosine", 2)
    assert loners(nearest, space.empty, 0.1).tolist() == [2]
    assert loners(nearest, space.empty, 0.85).tolist() == [2, 4]
    assert loners(nearest, space.empty, 1.0).tolist() == [2, 4, 0, 1]


def test_a_block_of_empty_rows_has_no_value() -> None:
    space = space_of(np.array([[0, 0], [0, 0], [1, 2], [2, 1]]), global_="none")
    found = grid_of(rows_of(space, "cosine"), np.arange(4), np.arange(4)[::-1], 2, 2)
    assert np.isnan(found).tolist() == [[True, True], [False, True]]


def test_one_that_is_just_as_alike_is_no_loner() -> None:
    space = space_of(np.array([[2, 1, 0], [1, 2, 0], [0, 0, 3]]), global_="none")
    nearest = nearest_neighbours(space, "cosine", 1)
    assert loners(nearest, space.empty, float(nearest.similarity[0, 0])).tolist() == [2]


def test_the_error_of_a_sampled_distribution_comes_from_how_much_its_blocks_differ(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    module = __import__("jagged_lens.compare.distribution", fromlist=["_EXACT_TO"])
    space = space_of(random_counts(2, 90))
    exact = similarity_distribution(space, "cosine")
    assert exact.exact
    assert (exact.error == 0).all()
    monkeypatch.setattr(module, "_EXACT_TO", 10)
    monkeypatch.setattr(module, "_SAMPLED_BLOCKS", 3)
    blocks = [slice(start, start + 15) for start in range(0, 90, 15)]
    monkeypatch.setattr(module.DotBlocks, "blocks", blocks, raising=False)
    made = module.DotBlocks.__init__

    def in_blocks(self: object, rows: object) -> None:
        made(self, rows)
        self.blocks = blocks  # type: ignore[attr-defined]

    monkeypatch.setattr(module.DotBlocks, "__init__", in_blocks)
    found = similarity_distribution(space, "cosine")
    assert not found.exact
    likeness = np.where(brute(space, "cosine") == -1, np.nan, brute(space, "cosine"))
    np.fill_diagonal(likeness, np.nan)
    counts = []
    for block in (blocks[0], blocks[2], blocks[5]):
        own = likeness[block]
        counts.append(np.histogram(np.clip(own[~np.isnan(own)], 0, 1), found.edges)[0])
    table = np.array(counts, float)
    filled = int((~space.empty).sum())
    scale = filled * (filled - 1) / 2 / table.sum()
    assert found.counts == pytest.approx(table.sum(0) * scale, abs=3 * scale)
    expected = np.sqrt(3 * table.var(0, ddof=1) * (1 - 3 / 6)) * scale
    far = np.abs(found.error - expected) > 0.05 * expected.max()
    assert far.sum() <= 2  # a pair at the edge of a bin may fall to either side
    assert expected.max() > 0
