# SPDX-License-Identifier: GPL-3.0-or-later
"""Separation of labels, regions, rings and terms on the map, worked by hand."""

import numpy as np
import pytest

from compare.test_compare import space_of
from jagged_lens.compare import nearest_neighbours, one_against_all
from jagged_lens.errors import JaggedLensError, Stopped
from jagged_lens.group import GroupSettings
from jagged_lens.map import (
    Laid,
    MapSettings,
    pca,
    regions,
    rings,
    separation,
    strangers,
    term_places,
    term_points,
    trusted,
)
from jagged_lens.strings import Strings
from map.test_tsne import topics


def test_separation_is_the_share_of_neighbours_with_the_same_value() -> None:
    space = space_of(topics(1, 20))
    neighbours, projection = nearest_neighbours(space, "cosine", 12), pca(space, 1)
    layout = trusted(Laid(projection.positions, np.zeros(120, np.bool_)), projection, neighbours)
    codes = np.repeat(np.arange(3), 40).astype(np.int32)
    codes[[5, 70]] = 3  # without a value
    found = separation(codes, 3, neighbours, layout)
    for at, value in enumerate(found.values.tolist()):
        rows = np.flatnonzero(codes == value)
        shares = [np.mean(codes[neighbours.row[row][neighbours.row[row] >= 0]] == value) for row in rows]
        assert found.space[at] == pytest.approx(np.mean(shares))
        assert found.on_map[at] == pytest.approx(np.mean(codes[layout.nearest[rows]] == value))
        assert found.chance[at] == pytest.approx(len(rows) / 118)
    assert found.documents.tolist() == [40, 39, 39]
    assert found.values.tolist() == [2, 0, 1]
    assert found.all_chance == pytest.approx((40**2 + 39**2 + 39**2) / 118**2)
    assert found.all_space == pytest.approx((found.space * found.documents).sum() / 118)
    assert np.isnan(found.own_space[[5, 70]]).all()
    assert 5 not in strangers(found)
    assert all(found.own_space[row] == 0 for row in strangers(found))


def test_separation_of_nothing() -> None:
    space = space_of(np.zeros((2, 3), int))
    projection = pca(space, 1)
    neighbours = nearest_neighbours(space, "cosine", 12)
    layout = trusted(Laid(projection.positions, np.zeros(2, np.bool_)), projection, neighbours)
    found = separation(np.zeros(2, np.int32), -1, neighbours, layout)
    assert len(found.values) == 0
    assert np.isnan(found.all_space)
    assert len(strangers(found)) == 0


def test_crowded_places_are_named_by_their_terms() -> None:
    counts = topics(2, 30, 3)
    space = space_of(counts)
    random = np.random.default_rng(0)
    middles = np.array([[0.0, 0], [30, 0], [0, 30]])
    places = np.repeat(middles, 30, axis=0) + random.normal(size=(90, 2)) * 0.8
    found = regions(places, (-5, -5, 45, 45), space.terms)
    assert len(found) == 3
    for one in found:
        topic = int(np.bincount(one.rows // 30).argmax())
        assert np.hypot(*(np.array(one.middle) - middles[topic])) < 1
        assert set(one.rows // 30) == {topic}
        assert all(topic * 40 <= column < topic * 40 + 40 for column in one.columns)
    assert regions(places, (100, 100, 5, 5), space.terms) == []
    assert regions(np.full((90, 2), np.nan), (0, 0, 1, 1), space.terms) == []
    one = regions(places, (25, -5, 10, 10), space.terms, most=1)
    assert [set(region.rows // 30) for region in one] in ([], [{1}])


def test_rings_lie_at_the_exact_dissimilarity() -> None:
    space = space_of(topics(3, 15))
    likeness = one_against_all(space, "cosine", 7)
    assert np.isnan(likeness[7])
    group = np.repeat(np.arange(6), 15).astype(np.int32)
    places = rings(likeness, group, 7)
    others = np.flatnonzero(~np.isnan(likeness))
    assert np.linalg.norm(places[others], axis=1) == pytest.approx(1 - likeness[others], abs=1e-6)
    assert places[7].tolist() == [0, 0]
    turn = np.arctan2(places[others, 0], places[others, 1]) % (2 * np.pi)
    middle = [np.median(turn[group[others] == one]) for one in range(6)]
    assert middle == sorted(middle)


@pytest.mark.parametrize("measure", ["cosine", "euclidean", "hellinger"])
def test_one_against_all_is_a_row_of_all_against_all(measure: str) -> None:
    from compare.test_compare import brute

    space = space_of(topics(4, 5))
    found, expected = one_against_all(space, measure, 3), brute(space, measure)[3]
    for row in range(len(found)):
        if row != 3 and not space.empty[row]:
            assert found[row] == pytest.approx(expected[row], abs=1e-6)
        else:
            assert np.isnan(found[row])


def test_terms_lie_at_the_weighted_mean_of_their_documents() -> None:
    space = space_of(np.array([[1, 2, 0, 0], [1, 0, 3, 0], [0, 0, 1, 1]]), global_="none")
    positions = np.array([[0.0, 0], [4, 0], [np.nan, np.nan]])
    weights = space.weights.toarray()
    places = term_places(space, positions)
    assert places[0] == pytest.approx(np.array([4, 0]) * weights[1, 0] / (weights[0, 0] + weights[1, 0]))
    assert places[1].tolist() == [0, 0]
    assert places[2].tolist() == [4, 0]
    assert np.isnan(places[3]).all()


def test_terms_are_laid_out_like_documents() -> None:
    space = space_of(topics(5, 25, 4))
    keys = Strings.of(f"d{number}" for number in range(100))
    shown = []
    points = term_points(space, keys, MapSettings(), GroupSettings(groups=4), preview=shown.append)
    held = np.flatnonzero(np.diff(space.weights.tocsc().indptr) > 0)
    topic = points.columns // 40
    own = np.isin(points.columns, held) & (points.columns < 160)
    same = [topic[points.layout.nearest[row]] == topic[row] for row in np.flatnonzero(own)]
    assert np.mean(same) > 0.6
    assert shown
    assert len(points.grouping) == 4
    early = term_points(space, keys, MapSettings(), GroupSettings(), enough=lambda: True)
    assert early.stopped

    def stop(share: float) -> None:
        if share > 0.5:
            raise Stopped

    with pytest.raises(Stopped):
        term_points(space, keys, MapSettings(), GroupSettings(), stop)


def test_hashed_columns_are_no_terms() -> None:
    import dataclasses

    space = space_of(topics(5, 3))
    hashed = dataclasses.replace(space.terms, column=np.zeros(3, np.int32))
    with pytest.raises(JaggedLensError, match="hashed columns"):
        term_points(dataclasses.replace(space, terms=hashed), Strings.of([]), MapSettings(), GroupSettings())


def test_a_document_without_a_place_on_the_map_is_not_counted() -> None:
    space = space_of(topics(1, 20))
    neighbours, projection = nearest_neighbours(space, "cosine", 12), pca(space, 1)
    positions = projection.positions.copy()
    positions[7] = np.nan
    layout = trusted(Laid(positions, np.zeros(120, np.bool_)), projection, neighbours)
    codes = np.repeat(np.arange(3), 40).astype(np.int32)
    assert sorted(separation(codes, -1, neighbours, layout).documents.tolist()) == [39, 40, 40]
