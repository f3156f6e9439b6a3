# SPDX-License-Identifier: GPL-3.0-or-later

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from compare.test_compare import random_counts, space_of
from jagged_lens.errors import JaggedLensError, RecipeError
from jagged_lens.explain import membership
from jagged_lens.gather import Label
from jagged_lens.group import (
    GroupSettings,
    Sweep,
    adjusted_rand,
    by_label,
    counted_together,
    cross_table,
    filled_rows,
    from_tree,
    holding_of,
    k_means,
    key_terms,
    key_terms_of_groups,
    quality_of,
    sweep_of,
    tree_of,
    ways,
)
from jagged_lens.group import parts as parting
from jagged_lens.group.agreement import best_overlaps
from jagged_lens.lens import recipe_of
from jagged_lens.weigh import in_themes, themes

from .test_group import clear_space


def label_of(space, values) -> Label:
    return Label.of("crop", [values[row] for row in range(len(space.empty))])


def plain_silhouette(x: np.ndarray, group: np.ndarray) -> np.ndarray:
    """By the definition, all pairs formed."""
    apart = 1 - x @ x.T
    found = np.full(len(x), np.nan)
    for i in np.flatnonzero(group >= 0):
        own = np.flatnonzero(group == group[i])
        if len(own) == 1:
            found[i] = 0
            continue
        a = apart[i, own[own != i]].mean()
        b = min(apart[i, group == other].mean() for other in set(group.tolist()) - {group[i], -1})
        found[i] = (b - a) / max(a, b) if max(a, b) > 1e-12 else 0
    return found


@pytest.mark.parametrize("groups", [2, 6, 70])
def test_silhouettes_are_those_of_all_pairs(groups: int) -> None:
    space = space_of(random_counts(3, 80))
    grouping = k_means(space, GroupSettings(groups=groups))
    quality = quality_of(filled_rows(space), grouping)
    x = space.weights.toarray().astype(float)
    expected = plain_silhouette(x / np.maximum(np.linalg.norm(x, axis=1, keepdims=True), 1e-12), grouping.group)
    assert quality.silhouette == pytest.approx(expected, abs=2e-6, nan_ok=True)
    assert quality.mean == pytest.approx(np.nanmean(expected), abs=1e-6)
    assert quality.groups == pytest.approx(
        [np.nanmean(expected[grouping.group == g]) for g in range(len(grouping))], abs=1e-5
    )
    assert quality.weak.tolist() == (np.nan_to_num(expected) < -1e-9).tolist()


def test_the_next_group_has_the_nearest_centroid_but_the_own() -> None:
    space = space_of(random_counts(4, 70))
    grouping = k_means(space, GroupSettings(groups=5))
    quality = quality_of(filled_rows(space), grouping)
    cosines = (space.weights @ grouping.centroids.T).toarray()
    for row in np.flatnonzero(grouping.group >= 0):
        assert cosines[row, grouping.group[row]] == pytest.approx(grouping.closeness[row], abs=1e-5)
        cosines[row, grouping.group[row]] = -1
        assert cosines[row].max() == pytest.approx(quality.next_closeness[row], abs=1e-5)
        assert quality.next[row] == cosines[row].argmax()
    nearness = (grouping.centroids @ grouping.centroids.T).toarray()
    assert quality.nearness == pytest.approx(nearness, abs=1e-5)


@pytest.mark.parametrize("counts", [np.zeros((3, 2), int), np.eye(1, 3, dtype=int), np.ones((5, 2), int)])
def test_quality_of_one_group_or_none_is_not_known(counts: np.ndarray) -> None:
    space = space_of(counts, global_="none")
    quality = quality_of(filled_rows(space), k_means(space, GroupSettings(groups=1)))
    assert np.isnan(quality.mean)
    assert np.isnan(quality.silhouette).all()
    assert (quality.next == -1).all()
    assert not quality.weak.any()


@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 3)), min_size=2, max_size=30))
def test_the_adjusted_rand_index_counts_pairs(rows: list[tuple[int, int]]) -> None:
    first, second = np.array(rows).T
    found = adjusted_rand(counted_together(first, second, 4, 4))
    pairs = list(itertools.combinations(range(len(rows)), 2))
    both = sum(first[a] == first[b] and second[a] == second[b] for a, b in pairs)
    down, across = (sum(side[a] == side[b] for a, b in pairs) for side in (first, second))
    expected, most = down * across / len(pairs), (down + across) / 2
    assert found == pytest.approx((both - expected) / (most - expected) if most != expected else 1.0)


def test_rows_in_none_are_left_out_of_an_overlap() -> None:
    counts = counted_together(np.array([0, 0, 0, 1, -1, 2]), np.array([0, 0, 1, 1, 1, -1]), 3, 2)
    assert counts.tolist() == [[2, 1], [0, 1], [0, 0]]
    assert best_overlaps(counts) == pytest.approx([2 / 3, 1 / 2, np.nan], nan_ok=True)


@pytest.mark.parametrize("by", ["k-means", "tree"])
def test_clear_groups_hold_and_a_number_too_many_does_not(by: str) -> None:
    space = clear_space()
    shown: list[int] = []
    for groups, holds in ((4, True), (9, False)):
        settings = GroupSettings(by=by, groups=groups, linkage="average")
        grouping = from_tree(space, tree_of(space, "average"), settings) if by == "tree" else k_means(space, settings)
        holding = holding_of(space, grouping, settings, preview=lambda one: shown.append(one.tries))
        assert holding.overlaps.shape == (20, groups)
        assert (holding.groups.min() > 0.99) == holds
        assert (holding.came_back.min() == 20) == holds
    assert shown == [*range(1, 21)] * 2


def test_holding_is_the_mean_of_the_best_overlaps_of_each_part() -> None:
    space = space_of(random_counts(6, 60))
    settings = GroupSettings(groups=6, seed=4)
    grouping, rows = k_means(space, settings), filled_rows(space)
    found = np.zeros(6)
    for part in parting.drawn(rows.ids, 4):
        assert len(part) == round(0.8 * len(rows)) == len(set(part.tolist()))
        anew = parting.best_of_starts(rows.x[part], 6, 5, 4, rows.ids[part])[0]
        for group in range(6):
            members = set(part[grouping.group[rows.at[part]] == group].tolist())
            others = [set(part[anew == other].tolist()) for other in range(6)]
            found[group] += max(len(members & other) / len(members | other) for other in others) / 20
    assert holding_of(space, grouping, settings).groups == pytest.approx(found, abs=1e-5)


def test_a_label_and_an_empty_collection_have_nothing_that_could_hold() -> None:
    space = clear_space()
    grouping = by_label(space, label_of(space, ["a", "b"] * 30))
    assert holding_of(space, grouping, GroupSettings(by="label", label="crop")).tries == 0
    empty = space_of(np.zeros((3, 2), int))
    assert holding_of(empty, k_means(empty, GroupSettings()), GroupSettings()).tries == 0


@pytest.mark.parametrize("by", ["k-means", "tree"])
def test_a_sweep_suggests_the_number_that_is_there_and_shows_each_as_it_comes(by: str) -> None:
    space, shown = clear_space(), []
    sweep = sweep_of(space, GroupSettings(by=by, sweep=(2, 7)), preview=lambda one: shown.append(len(one)))
    # Documents of different groups share nothing: a tree joins those three times at 1, and cannot be cut in between.
    tried = [2, 3, 4, 5, 6, 7] if by == "k-means" else [4, 5, 6, 7]
    assert shown == list(range(1, len(tried) + 1))
    assert sweep.groups.tolist() == tried
    assert sweep.suggested == 4
    assert sweep.holding[sweep.row(4)] == sweep.agreement[sweep.row(4)] == 1
    for at, groups in enumerate(sweep.groups):
        assert np.bincount(sweep.group[at]).tolist() == sorted(np.bincount(sweep.group[at]), reverse=True)
        settings = GroupSettings(groups=int(groups))
        alone = k_means(space, settings) if by == "k-means" else from_tree(space, tree_of(space, "average"), settings)
        assert sweep.group[at].tolist() == alone.group.tolist()
        assert sweep.tightness[at] == pytest.approx(alone.quality, abs=1e-6)
        assert sweep.silhouette[at] == pytest.approx(quality_of(filled_rows(space), alone).mean, abs=1e-6)
        holding = holding_of(space, alone, GroupSettings(by=by, groups=int(groups))).groups
        assert sweep.holding[at] == pytest.approx(holding.mean(), abs=1e-6)


def test_a_sweep_ends_before_the_number_of_documents_and_suggests_nothing_that_does_not_hold() -> None:
    space = space_of(np.eye(6, dtype=int), global_="none")
    sweep = sweep_of(space, GroupSettings(sweep=(2, 30)))
    assert sweep.groups.tolist() == [2, 3, 4, 5]
    assert sweep.suggested in (0, *sweep.groups.tolist())
    assert sweep_of(space, GroupSettings()).suggested == 0
    assert len(sweep_of(space_of(np.zeros((3, 2), int)), GroupSettings(sweep=(2, 5)))) == 0


def test_the_suggested_number_has_the_highest_silhouette_of_those_that_hold() -> None:
    nothing = np.zeros(4)
    silhouette, holding = np.array([0.2, 0.5, 0.3, 0.9]), np.array([0.9, 0.6, 0.8, 0.59])
    sweep = Sweep(np.array([2, 3, 4, 5]), nothing, silhouette, nothing, holding, np.zeros((4, 1), np.int32))
    assert sweep.suggested == 3
    assert sweep.row(4) == 2
    assert sweep.row(7) == -1


@pytest.mark.parametrize("value", [[2], [5, 3], [1, 4], [2, 201], ["a", "b"]])
def test_a_sweep_that_is_none_is_refused(value: list[object]) -> None:
    with pytest.raises(RecipeError, match="sweep"):
        recipe_of({"group": {"sweep": value}})


def test_a_wanted_size_takes_the_place_of_a_number() -> None:
    assert len(k_means(clear_space(), GroupSettings(groups=9, group_size=21))) == 2
    assert GroupSettings(group_size=1000).number(10) == 1


def test_values_of_a_label_are_groups_by_size_and_what_has_none_is_in_none(monkeypatch: pytest.MonkeyPatch) -> None:
    space = space_of(np.vstack((np.ones((6, 2), int), np.zeros((1, 2), int))), global_="none")
    grouping = by_label(space, label_of(space, ["pea", "kale", "", "kale", "pea", "kale", "pea"]))
    assert grouping.group.tolist() == [1, 0, -1, 0, 1, 0, -1]
    assert grouping.names == ("kale", "pea")
    assert grouping.sizes.tolist() == [3, 2]
    assert len(by_label(space, label_of(space, [""] * 7))) == 0
    monkeypatch.setattr(ways, "MOST_VALUES", 1)
    with pytest.raises(JaggedLensError, match="2 values"):
        by_label(space, label_of(space, ["pea", "kale", "", "kale", "pea", "kale", "pea"]))


def test_a_cross_table_worked_by_hand() -> None:
    space = space_of(np.ones((7, 2), int), global_="none")
    grouping = by_label(space, Label.of("plot", ["x", "x", "x", "x", "y", "y", "y"]))
    cross = cross_table(grouping, label_of(space, ["kale", "kale", "pea", "", "pea", "pea", "kale"]), np.arange(7))
    assert cross.values == ("kale", "pea")
    assert cross.counts.tolist() == [[2, 1], [1, 2]]
    assert cross.without.tolist() == [1, 0]
    assert cross.purity == pytest.approx(4 / 6)
    assert cross.misfits.tolist() == [2, 6]
    assert cross.expected.tolist() == [[1.5, 1.5], [1.5, 1.5]]
    assert cross.beyond_chance[0, 0] == pytest.approx(0.5 / 1.5**0.5)
    # index 2, expected 6 · 6 / 15 = 2.4, most 6
    assert cross.adjusted_rand == pytest.approx((2 - 2.4) / (6 - 2.4))
    rare_first = cross_table(grouping, label_of(space, ["kale", *["pea"] * 6]), np.arange(7))
    assert rare_first.values == ("pea", "kale")
    assert rare_first.counts.tolist() == [[3, 1], [3, 0]]
    assert rare_first.misfits.tolist() == [0]
    nothing = cross_table(grouping, label_of(space, [""] * 7), np.arange(7))
    assert nothing.counts.shape == (2, 0)
    assert np.isnan(nothing.purity)
    assert np.isnan(nothing.adjusted_rand)
    assert len(nothing.misfits) == 0
    assert nothing.commonest.tolist() == [-1, -1]


@pytest.mark.parametrize("count", [0, 5])
def test_what_ties_a_document_to_its_group_adds_up_to_the_lead(count: int) -> None:
    space = space_of(random_counts(8, 60))
    found = themes(space, count)
    inside = in_themes(space, found)
    grouping = k_means(inside, GroupSettings(groups=4))
    quality = quality_of(filled_rows(inside), grouping)
    for row in np.flatnonzero(grouping.group >= 0)[:20]:
        why = membership(space, grouping, int(row), int(grouping.group[row]), int(quality.next[row]), found)
        assert why.closeness == pytest.approx(grouping.closeness[row], abs=1e-5)
        assert why.other_closeness == pytest.approx(quality.next_closeness[row], abs=1e-5)
        assert why.values.sum() == pytest.approx(why.lead, abs=1e-9)
        assert sorted(why.columns.tolist()) == sorted(space.weights[[row]].indices.tolist())
        assert (np.diff(why.values) <= 0).all()


def test_key_terms_of_all_groups_are_those_of_each_and_say_in_how_many_documents_they_stand() -> None:
    space = space_of(random_counts(9, 80))
    grouping = k_means(space, GroupSettings(groups=5))
    found = key_terms_of_groups(grouping, space.terms)
    held = space.terms.counts.toarray() > 0
    for group in range(5):
        inside = grouping.group == group
        columns, ratio = key_terms(space.terms.counts, inside, 12)
        assert found.columns(group) == columns.tolist()
        assert found.ratio[group, : len(ratio)] == pytest.approx(ratio, rel=1e-5)
        assert found.inside[group, : len(columns)].tolist() == held[inside][:, columns].sum(axis=0).tolist()
        assert found.documents[group, : len(columns)].tolist() == held[:, columns].sum(axis=0).tolist()
