# SPDX-License-Identifier: GPL-3.0-or-later

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.cluster.hierarchy import cophenet, fcluster, is_valid_linkage, linkage
from scipy.sparse import csr_array
from scipy.spatial.distance import pdist, squareform

from compare.test_compare import random_counts, space_of
from jagged_lens.errors import JaggedLensError, Stopped
from jagged_lens.group import GroupSettings, cut, filled_rows, from_tree, ridge_of, tree_of
from jagged_lens.group import tree as trees
from jagged_lens.group import tree_of_groups as over_groups
from jagged_lens.group.grouping import FilledRows
from jagged_lens.group.tree import cut_joins, joins_of
from jagged_lens.parallel import set_threads

LINKAGES = ("single", "complete", "average", "ward")


def rows_of(dense: np.ndarray) -> FilledRows:
    dense = dense[np.abs(dense).sum(axis=1) > 0]
    dense = dense / np.linalg.norm(dense, axis=1, keepdims=True)
    return FilledRows(csr_array(dense), np.arange(len(dense)), len(dense), np.arange(len(dense), dtype=np.uint64))


def by_scipy(rows: FilledRows, way: str) -> np.ndarray:
    x = rows.x.toarray()
    return linkage(x, "ward") if way == "ward" else linkage(np.maximum(pdist(x, "cosine"), 0), way)


def parted(labels: np.ndarray) -> set[tuple[int, ...]]:
    return {tuple(np.flatnonzero(labels == one).tolist()) for one in np.unique(labels)}


def collection(kind: str) -> FilledRows:
    random = np.random.default_rng(4)
    if kind == "dense":
        return rows_of(random.normal(size=(150, 12)))
    counts = random_counts(2, 150, 90)
    return rows_of(np.concatenate([counts[:20]] * 3 + [counts]) if kind == "copies" else counts)


@pytest.mark.parametrize("kind", ["dense", "sparse", "copies"])
@pytest.mark.parametrize("way", LINKAGES)
@pytest.mark.parametrize("few", [2_000, 6])
def test_all_heights_and_the_groups_of_a_cut_are_those_of_scipy(
    kind: str, way: str, few: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(trees, "_FEW", few)
    monkeypatch.setattr(trees, "_FEW_IF_SLOW", few)
    rows = collection(kind)
    joins, expected = joins_of(rows, way), by_scipy(rows, way)
    assert is_valid_linkage(joins)
    assert joins[:, 2] == pytest.approx(expected[:, 2], abs=3e-8)
    for groups in (2, 7, 40):
        gap = expected[-groups + 1, 2] - expected[-groups, 2]
        if gap > 1e-9:  # where two joins are equally high, either may be undone
            assert parted(cut_joins(joins, len(rows), groups)[0]) == parted(fcluster(expected, groups, "maxclust"))


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10**6), st.sampled_from(LINKAGES), st.integers(2, 24), st.integers(1, 5))
def test_heights_of_small_collections_full_of_ties_are_those_of_scipy(seed: int, way: str, n: int, m: int) -> None:
    counts = np.random.default_rng(seed).integers(0, 2, (n, m))
    rows = rows_of(counts.astype(float))
    if len(rows) < 2:
        assert len(joins_of(rows, way)) == 0
        return
    joins = joins_of(rows, way)
    assert is_valid_linkage(joins)
    if way == "single":  # of the others, which of two equal pairs joins first decides what follows
        assert joins[:, 2] == pytest.approx(by_scipy(rows, way)[:, 2], abs=3e-8)


def test_documents_that_share_nothing_join_at_the_end() -> None:
    joins = joins_of(rows_of(np.eye(9)), "average")
    assert joins[:, 2].tolist() == [1.0] * 8
    assert joins[-1, 3] == 9


@pytest.mark.parametrize("way", LINKAGES)
def test_documents_that_share_nothing_beside_others_are_joined_in_rounds_as_well(
    way: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(trees, "_FEW", 4)
    monkeypatch.setattr(trees, "_FEW_IF_SLOW", 4)
    block = np.random.default_rng(1).integers(0, 4, (30, 10)).astype(float)
    counts = np.zeros((50, 30))
    counts[:30, :10], counts[30:, 10:] = block, np.eye(20)
    rows = rows_of(counts)
    joins = joins_of(rows, way)
    assert is_valid_linkage(joins)
    assert joins[:, 2] == pytest.approx(by_scipy(rows, way)[:, 2], abs=3e-8)


def test_a_join_worked_by_hand() -> None:
    # cosines: ab 0.8, ac 0, bc 0.6
    rows = rows_of(np.array([[1.0, 0.0], [0.8, 0.6], [0.0, 1.0]]))
    assert joins_of(rows, "single")[:, 2] == pytest.approx([0.2, 0.4])
    assert joins_of(rows, "complete")[:, 2] == pytest.approx([0.2, 1.0])
    assert joins_of(rows, "average")[:, 2] == pytest.approx([0.2, 0.7])
    # ward: |a - b|² = 0.4; the middle of both is (0.9, 0.3), and 4/3 · |middle - c|² = 4/3 · 1.3
    assert joins_of(rows, "ward")[:, 2] == pytest.approx([0.4**0.5, (4 / 3 * 1.3) ** 0.5])


@pytest.mark.parametrize("way", LINKAGES)
def test_a_tree_leaves_out_empty_rows_and_its_order_crosses_no_join(way: str) -> None:
    space = space_of(random_counts(3, 60))
    tree = tree_of(space, way)
    assert tree.rows.tolist() == np.flatnonzero(~space.empty).tolist()
    n = len(tree)
    assert sorted(tree.order.tolist()) == list(range(n))
    place = np.argsort(tree.order)
    spans = [(int(at), int(at)) for at in place]
    for left, right, _, _ in tree.joins.tolist():
        (a, b), (c, d) = spans[int(left)], spans[int(right)]
        assert b + 1 == c or d + 1 == a  # both sides stand beside each other
        spans.append((min(a, c), max(b, d)))


def test_of_two_sides_the_one_nearer_to_what_stands_before_comes_first() -> None:
    angles = np.radians([0, 4, 8, 40, 44, 80, 90])
    space = space_of(
        np.rint(1000 * np.stack((np.cos(angles), np.sin(angles)), axis=1)).astype(int), local="count", global_="none"
    )
    order = tree_of(space, "average").order.tolist()
    assert [set(order[:3]), set(order[3:5]), order[5:]] == [{0, 1, 2}, {3, 4}, [5, 6]]


@pytest.mark.parametrize("rows", [0, 1, 2])
def test_trees_of_next_to_nothing(rows: int) -> None:
    space = space_of(np.vstack((np.eye(2, 3, dtype=int)[:rows], np.zeros((2, 3), int))), global_="none")
    for way in LINKAGES:
        tree = tree_of(space, way)
        assert len(tree) == rows
        assert tree.joins.shape == (max(rows - 1, 0), 4)
        grouping = from_tree(space, tree, GroupSettings(groups=5))
        assert len(grouping) == rows
        assert (grouping.group >= 0).sum() == rows


def test_a_cut_undoes_the_last_joins() -> None:
    space = space_of(random_counts(5, 50))
    tree = tree_of(space, "average")
    for groups in (1, 2, 9, len(tree)):
        own, k = cut(tree, groups)
        assert k == groups == len(np.unique(own))
    assert cut(tree, len(tree) + 5)[1] == len(tree)


def test_the_same_tree_on_any_number_of_threads(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(trees, "_FEW", 6)
    monkeypatch.setattr(trees, "_CELLS_AT_ONCE", 2_000)
    space = space_of(random_counts(7, 120))
    found = []
    for threads in (1, 3):
        set_threads(threads)
        found.append([tree_of(space, way).joins.tobytes() for way in LINKAGES])
    set_threads(2)
    assert found[0] == found[1]


def test_a_tree_of_very_many_is_made_over_groups(monkeypatch: pytest.MonkeyPatch) -> None:
    random = np.random.default_rng(4)
    counts = np.zeros((90, 30), int)
    for row in range(90):
        counts[row, 10 * (row % 3) + random.choice(10, 6, replace=False)] = 1
    space = space_of(counts, global_="none")
    monkeypatch.setattr(over_groups, "MOST_ROWS", 80)
    monkeypatch.setattr(over_groups, "BRANCHES", 12)
    tree = tree_of(space, "ward")
    joins, n = tree.joins, len(tree)
    assert n == 90
    assert (joins[:, 2] > 0).sum() == 11
    assert (np.diff(joins[:, 2]) >= 0).all()
    own, groups = cut(tree, 3)
    assert groups == 3
    assert len({(a, b) for a, b in zip(own.tolist(), (np.arange(90) % 3).tolist(), strict=True)}) == 3
    # Each join is at the height that Ward's formula gives of the means of both sides.
    rows = filled_rows(space).x.toarray()
    below = [[leaf] for leaf in range(n)]
    for left, right, height, size in joins.tolist():
        a, b = rows[below[int(left)]], rows[below[int(right)]]
        below.append(below[int(left)] + below[int(right)])
        assert len(below[-1]) == size
        if height:
            apart = np.linalg.norm(a.mean(0) - b.mean(0))
            assert height == pytest.approx(np.sqrt(2 * len(a) * len(b) / (len(a) + len(b))) * apart)
    for way in ("average", "single", "complete"):
        with pytest.raises(JaggedLensError, match=r"Use ward"):
            tree_of(space, way)


def test_complete_linkage_is_refused_where_its_table_would_fill_memory(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(over_groups, "MOST_COMPLETE", 10)
    with pytest.raises(JaggedLensError, match=r"complete.*Use"):
        tree_of(space_of(random_counts(1, 40)), "complete")


@pytest.mark.parametrize("way", LINKAGES)
def test_a_tree_can_be_stopped(way: str) -> None:
    def stop(share: float) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        tree_of(space_of(random_counts(1, 40)), way, stop)


def test_a_ridge_holds_the_whole_tree_between_its_neighbours() -> None:
    space = space_of(random_counts(6, 50))
    tree = tree_of(space, "average")
    ridge, n = ridge_of(tree), len(tree)
    cophenetic = squareform(cophenet(tree.joins))
    order = tree.order
    assert ridge.tooth == pytest.approx([cophenetic[order[at], order[at + 1]] for at in range(n - 1)])
    # Any two leaves join where the longest tooth between them ends.
    for first, last in ((0, n - 1), (3, 9), (10, 31)):
        assert ridge.tooth[first:last].max() == pytest.approx(cophenetic[order[first], order[last]])
    for groups in (1, 4, n):
        starts, number = ridge.parts(groups)
        grouping = from_tree(space, tree, GroupSettings(groups=groups))
        own = grouping.group[tree.rows[order]]
        assert starts.tolist() == [0, *(np.flatnonzero(np.diff(own)) + 1).tolist()]
        assert number.tolist() == own[starts].tolist()
        if groups < n:  # copies join at 0, and no cut lies below
            assert ridge.groups_at(ridge.cut_between(groups)) == groups
    # At the height of a join it has been made; just below, its sides stand apart.
    join = int(ridge.join[20])
    place = int(ridge.first[join])
    assert (
        ridge.node_at(place, float(ridge.height[join])) == join or ridge.height[ridge.above[join]] == ridge.height[join]
    )
    upper, lower = ridge.sides(join) or (-1, -1)
    assert ridge.node_at(place, np.nextafter(float(ridge.height[join]), 0)) == upper
    assert ridge.last[upper] + 1 == ridge.first[lower]
    assert sorted(ridge.leaves(join).tolist()) == sorted([*ridge.leaves(upper).tolist(), *ridge.leaves(lower).tolist()])
    assert ridge.sides(3) is None


def test_a_cut_never_parts_joins_at_one_height() -> None:
    # Three pairs that share nothing with each other: complete linkage joins them twice at exactly 1.
    counts = np.zeros((6, 6), int)
    for row in range(6):
        counts[row, row // 2 * 2 : row // 2 * 2 + 2] = (3, 1) if row % 2 else (2, 2)
    space = space_of(counts, global_="none")
    tree = tree_of(space, "complete")
    assert tree.heights[-2:].tolist() == [1, 1]
    found = {wanted: cut(tree, wanted) for wanted in range(1, 7)}
    assert [found[wanted][1] for wanted in (1, 2, 3)] == [1, 1, 3]
    for wanted, (own, groups) in found.items():
        theirs = fcluster(tree.joins, wanted, "maxclust")
        assert groups == len(set(theirs.tolist()))
        assert len({*zip(own.tolist(), theirs.tolist(), strict=True)}) == groups
    ridge = ridge_of(tree)
    assert [ridge.cut_beside(3, -1), ridge.cut_beside(1, 1)] == [1, 3]
    starts, _ = ridge.parts(2)
    assert len(starts) == 1


@given(st.integers(0, 400), st.sampled_from(["single", "complete", "average", "ward"]), st.integers(1, 12))
@settings(deadline=None, max_examples=60)
def test_cuts_of_collections_full_of_ties_are_those_of_scipy(seed: int, linkage: str, wanted: int) -> None:
    counts = np.random.default_rng(seed).integers(0, 2, (12, 4))
    counts[:, 0] |= counts.sum(1) == 0
    tree = tree_of(space_of(counts, global_="none"), linkage)
    own, groups = cut(tree, wanted)
    theirs = fcluster(tree.joins, wanted, "maxclust")
    assert groups == len(set(theirs.tolist()))
    assert len({*zip(own.tolist(), theirs.tolist(), strict=True)}) == groups
