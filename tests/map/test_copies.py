# SPDX-License-Identifier: GPL-3.0-or-later
"""Rows that are the same lie on one another, and their neighbours are those that differ."""

import numpy as np
import pytest

from compare.test_compare import brute, space_of
from jagged_lens.compare import distinct_rows, nearest_neighbours
from jagged_lens.map import MapSettings, lay_out, pca, trusted
from jagged_lens.map.copies import neighbours_of_distinct
from map.test_tsne import topics


def copied(times: int) -> np.ndarray:
    counts = topics(1, 8)
    return np.vstack((counts[:3], np.tile(counts[5], (times, 1)), counts))


@pytest.mark.parametrize("measure", ["cosine", "euclidean", "hellinger"])
@pytest.mark.parametrize("times", [1, 4, 40])
def test_neighbours_of_distinct_rows_equal_brute_force(measure: str, times: int) -> None:
    space = space_of(copied(times))
    distinct = distinct_rows(space.weights)
    assert len(distinct.first) == len(np.unique(space.weights.toarray(), axis=0))
    assert np.array_equal(space.weights.toarray()[distinct.first][distinct.of], space.weights.toarray())
    found = neighbours_of_distinct(space, measure, nearest_neighbours(space, measure, 12), 6, distinct)
    alike = brute(space, measure)[np.ix_(distinct.first, distinct.first)]
    np.fill_diagonal(alike, -1)
    for row in range(len(alike)):
        if not space.empty[distinct.first[row]]:
            expected = np.sort(alike[row])[::-1][:6]
            kept = found.similarity[row][found.row[row] >= 0]
            assert kept == pytest.approx(expected[: len(kept)], abs=1e-6)
            assert len(kept) == min(6, (expected > 0).sum())


def test_copies_by_the_hundred_are_one_pile_and_pull_nobody() -> None:
    space = space_of(copied(300), global_="none")
    neighbours, projection = nearest_neighbours(space, "cosine", 15), pca(space, 1)
    shown = []
    laid = lay_out(
        space,
        neighbours,
        projection,
        "cosine",
        MapSettings(),
        lambda _: None,
        shown.append,
        lambda: False,
        piled=True,
    )
    pile = laid.positions[3:303]
    assert (pile == pile[0]).all()
    assert np.array_equal(laid.positions[:3], laid.positions[303:306])
    assert len({tuple(place) for place in laid.positions.tolist()}) == len(distinct_rows(space.weights).first)
    layout = trusted(laid, projection, neighbours)
    assert (layout.trust[3:303] == 1).all()
    assert all(len(one.positions) == len(space.empty) for one in shown)
    assert not laid.rim.any()
