# SPDX-License-Identifier: GPL-3.0-or-later

import dataclasses
import math
import tracemalloc

import numpy as np
import pytest
from scipy.sparse import csr_array

from compare.test_compare import random_counts, space_of
from jagged_lens.group import (
    GroupSettings,
    adjusted_rand,
    counted_together,
    filled_rows,
    ids_of,
    k_means,
    key_terms,
    key_terms_of_groups,
    kmeans,
)
from jagged_lens.group import grouping as groupings
from jagged_lens.group.draws import Draws, uniform
from jagged_lens.group.key_terms import naming_terms
from jagged_lens.group.rounds import RowsInRounds
from jagged_lens.parallel import set_threads
from jagged_lens.weigh import VectorSpace, WeighSettings, weigh


def clear_space(groups: int = 4, each: int = 12) -> VectorSpace:
    """Groups that share hardly a term, of falling size."""
    random = np.random.default_rng(0)
    rows = []
    for group in range(groups):
        for _ in range(each - group):
            row = np.zeros(groups * 6, int)
            row[group * 6 : group * 6 + 6] = random.integers(1, 4, 6)
            rows.append(row)
    counts = np.array(rows)[random.permutation(len(rows))]
    return space_of(counts, global_="none")


def test_clear_groups_are_found_and_numbered_by_falling_size() -> None:
    space = clear_space()
    grouping = k_means(space, GroupSettings(groups=4))
    assert grouping.sizes.tolist() == [12, 11, 10, 9]
    topic = space.terms.counts.toarray().reshape(-1, 4, 6).sum(2).argmax(1)
    assert len(set(zip(topic.tolist(), grouping.group.tolist(), strict=True))) == 4


def test_quality_closeness_and_centroids_say_what_they_mean() -> None:
    space = space_of(random_counts(3, 80))
    grouping = k_means(space, GroupSettings(groups=6))
    weights = space.weights.toarray().astype(float)
    for group in range(len(grouping)):
        members = grouping.group == group
        centroid = weights[members].sum(0)
        centroid /= np.linalg.norm(centroid)
        assert grouping.centroids.toarray()[group] == pytest.approx(centroid, abs=1e-5)
        assert grouping.closeness[members] == pytest.approx(weights[members] @ centroid, abs=1e-5)
        assert grouping.tightness[group] == pytest.approx((weights[members] @ centroid).mean(), abs=1e-5)
    filled = grouping.group >= 0
    assert (grouping.group[space.empty] == -1).all()
    assert filled.sum() == (~space.empty).sum() == grouping.sizes.sum()
    assert grouping.quality == pytest.approx(grouping.closeness[filled].mean(), abs=1e-6)
    assert (np.diff(grouping.sizes) <= 0).all()


def test_more_starts_are_never_worse_by_more_than_one_per_cent() -> None:
    space = space_of(random_counts(5, 90))
    qualities = [k_means(space, GroupSettings(groups=8, starts=starts)).quality for starts in (1, 4, 12)]
    assert (np.diff(qualities) >= -0.01 * np.array(qualities[1:])).all()


def test_of_starts_that_are_nearly_as_good_the_first_is_taken_and_a_vote_that_is_clearly_better() -> None:
    one, other = np.array([0, 0, 1, 1]), np.array([0, 1, 0, 1])
    assert kmeans._best([(one, 0.5), (other, 0.5049)])[0] is one
    assert kmeans._best([(one, 0.5), (other, 0.5051)])[0] is other
    tried = [(one, 0.5), (other, 0.504)]
    assert kmeans._settled(tried, (other, 0.5051)) is other
    assert kmeans._settled(tried, (other, 0.5049)) is one


def test_the_vote_of_starts_by_hand() -> None:
    # The same two groups under other numbers; the last document is where most have it.
    tried = [(np.array(own), 0.5) for own in ([0, 0, 1, 1, 0], [1, 1, 0, 0, 0], [1, 1, 0, 0, 0])]
    voted = kmeans._voted(tried, 2)
    assert voted is not None
    assert voted.tolist() in ([0, 0, 1, 1, 1], [1, 1, 0, 0, 0])
    assert kmeans._voted(tried[:2], 2) is None


def topical(n: int, seed: int = 0) -> np.ndarray:
    """Counts of n documents, each of one of eight topics of fifteen terms, and of sixty terms that all use."""
    rng = np.random.default_rng(seed)
    counts = np.zeros((n, 180), int)
    for row in range(n):
        own = rng.integers(8) * 15 + rng.integers(0, 15, 9)
        np.add.at(counts[row], np.concatenate((own, 120 + rng.integers(0, 60, 12))), 1)
    return counts


def test_groups_stay_when_documents_go_and_whatever_their_order() -> None:
    counts, keys = topical(400), np.array([f"LM-{number:04d}" for number in range(400)])
    settings = GroupSettings(groups=8)
    whole = k_means(space_of(counts), settings, ids=ids_of(keys))
    rng = np.random.default_rng(1)
    agreed = []
    for gone in (1, 1, 1, 4, 4, 4):
        left = np.sort(rng.choice(400, 400 - gone, replace=False))
        some = k_means(space_of(counts[left]), settings, ids=ids_of(keys[left]))
        agreed.append(adjusted_rand(counted_together(whole.group[left], some.group, 8, 8)))
    assert np.mean(agreed) > 0.9
    order = rng.permutation(400)
    turned = k_means(space_of(counts[order]), settings, ids=ids_of(keys[order]))
    assert (turned.group == whole.group[order]).all()
    assert turned.quality == pytest.approx(whole.quality, abs=1e-6)


def test_a_start_changes_only_where_a_row_goes_that_it_has_drawn() -> None:
    rows = RowsInRounds(filled_rows(space_of(topical(60))).x)
    ids = ids_of(f"k{number}" for number in range(60))
    drawn = kmeans._spread(rows, 6, Draws(kmeans._columns(ids, 4), (0, 1, 2, 3), 1))
    gone = next(row for row in range(60) if not (drawn == row).any())
    left = np.delete(np.arange(60), gone)
    again = kmeans._spread(
        RowsInRounds(csr_array(rows.x[left])), 6, Draws(kmeans._columns(ids[left], 4), (0, 1, 2, 3), 1)
    )
    assert left[again].tolist() == drawn.tolist()
    assert len(np.unique(drawn[:, 0])) > 1


def test_rows_are_drawn_in_proportion_to_their_distance() -> None:
    # Two middles of three rows: the second is drawn with a chance of 1 : 3, as far as each lies from the first.
    counts = np.zeros(3)
    far = np.array([0.0, 0.25, 0.75])
    ids = ids_of(["a", "b", "c"])
    for start in range(4_000):
        noise = Draws(kmeans._columns(ids, 1), (start,), 7).noise(1)[:, 0]
        with np.errstate(divide="ignore"):
            counts[(np.log(far) + noise).argmax()] += 1
    assert counts[0] == 0
    assert counts[1] / 4_000 == pytest.approx(0.25, abs=0.03)


def test_numbers_of_ids_are_even_and_differ_by_counter() -> None:
    ids = ids_of(map(str, range(20_000)))
    one, other = uniform(ids, 1, 2), uniform(ids, 1, 3)
    assert 0 < one.min() < 0.001 < 0.999 < one.max() < 1
    assert np.histogram(one, 10, (0, 1))[0] == pytest.approx(2_000, abs=180)
    assert abs(np.corrcoef(one, other)[0, 1]) < 0.03
    assert uniform(ids[::-1], 1, 2).tolist() == one[::-1].tolist()


def test_the_same_seed_gives_the_same_groups_on_any_number_of_threads() -> None:
    space = space_of(random_counts(7, 90))
    found = []
    for threads in (1, 2, 2):
        set_threads(threads)
        found.append(k_means(space, GroupSettings(groups=7, seed=3)))
    set_threads(2)
    for other in found[1:]:
        assert np.array_equal(found[0].group, other.group)
        assert found[0].centroids.data.tobytes() == other.centroids.data.tobytes()


@pytest.mark.parametrize(
    "counts", [np.ones((5, 2), int), np.eye(3, dtype=int), np.ones((1, 1), int), np.zeros((3, 2), int)]
)
def test_more_groups_than_can_be(counts: np.ndarray) -> None:
    grouping = k_means(space_of(counts, global_="none"), GroupSettings(groups=9))
    filled = int((counts.sum(1) > 0).sum())
    assert len(grouping) == filled
    assert sorted(grouping.group.tolist()) == (list(range(filled)) if filled else [-1] * len(counts))


def test_telling_terms_by_hand() -> None:
    counts = np.zeros((10, 3), int)
    counts[:4, 0] = 1  # in the set alone
    counts[:, 1] = 1  # everywhere
    counts[6:, 2] = 1  # outside alone
    inside = np.arange(10) < 4
    columns, ratio = key_terms(space_of(counts).terms.counts, inside)
    assert columns.tolist() == [0]
    assert ratio[0] == pytest.approx(2 * (4 * math.log(4 / 1.6) + 6 * math.log(6 / 3.6)))


def test_groups_are_told_by_their_own_terms() -> None:
    space = clear_space()
    grouping = k_means(space, GroupSettings(groups=4))
    telling = key_terms_of_groups(grouping, space.terms)
    for group in range(4):
        topics = {column // 6 for column in telling.columns(group)}
        assert len(topics) == 1
        assert grouping.group[telling.typical[group]] == group
        members = grouping.group == group
        assert grouping.closeness[telling.typical[group]] == grouping.closeness[members].max()
        assert grouping.closeness[telling.oddest[group]] == grouping.closeness[members].min()


def test_many_groups_of_many_terms_take_the_memory_of_their_rows() -> None:
    random = np.random.default_rng(0)
    n, m, k = 1_500, 60_000, 400
    indices = random.integers(0, m, (n, 20))
    counts = csr_array((np.ones(n * 20, np.int32), indices.ravel(), np.arange(0, n * 20 + 1, 20)), shape=(n, m))
    counts.sum_duplicates()
    small = space_of(np.eye(2, dtype=int))
    terms = dataclasses.replace(small.terms, counts=counts, rows=np.arange(n, dtype=np.int32))
    space = weigh(terms, WeighSettings(global_="none"))
    tracemalloc.start()
    grouping = k_means(space, GroupSettings(groups=k, starts=1))
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert len(grouping) == k
    assert peak < 120_000_000  # all centroids dense, in double precision, are 192 MB
    lengths = np.sqrt(np.asarray((grouping.centroids**2).sum(axis=1)).ravel())
    assert lengths == pytest.approx(np.ones(k), abs=1e-5)


@pytest.mark.parametrize("counts", [random_counts(3, 80), np.repeat(np.eye(4, dtype=int) + 1, 2, axis=0)])
@pytest.mark.parametrize("together", [1, 10**7])
def test_groups_are_the_same_by_tables_of_cosines_by_products_and_with_few_dense_centroids_at_a_time(
    counts: np.ndarray, together: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    space = space_of(counts, global_="none")
    whole = k_means(space, GroupSettings(groups=7))
    monkeypatch.setattr(kmeans, "FEW_ROWS", 0)
    monkeypatch.setattr(kmeans, "_CELLS_TOGETHER", together)
    monkeypatch.setattr(groupings, "_DENSE_CELLS", 2 * counts.shape[1])
    monkeypatch.setattr(groupings, "_SUMMED_CELLS", 2 * counts.shape[1])
    few = k_means(space, GroupSettings(groups=7))
    assert few.quality == pytest.approx(whole.quality, abs=1e-6)
    if (
        len(np.unique(counts, axis=0)) < 7
    ):  # where there are more groups than different rows, which of the same go where is chance
        return
    assert few.group.tolist() == whole.group.tolist()
    assert few.closeness == pytest.approx(whole.closeness, abs=1e-6)
    assert few.centroids.toarray() == pytest.approx(whole.centroids.toarray(), abs=1e-6)


def test_the_name_of_a_group_covers_it_and_has_no_word_twice() -> None:
    # size 9 of 30: "all" is everywhere, "half" in 4 of 9, "rare" in 2 of 9 and nowhere else, "most" in 8 of 9, "most of" in 8 of 9.
    terms = ["all", "rare", "half", "most", "most of", "few"]
    inside = np.array([9.0, 2, 4, 8, 8, 0])
    documents = np.array([30.0, 2, 5, 11, 9, 12])
    assert [terms[at] for at in naming_terms(inside, documents, 9, 30, terms)] == ["most of", "half"]
    # Where no term covers a third, the one that covers most is taken.
    assert [terms[at] for at in naming_terms(np.array([9.0, 2]), np.array([30.0, 2]), 9, 30, terms[:2])] == ["rare"]
    assert naming_terms(np.array([9.0]), np.array([30.0]), 9, 30, ["all"]) == []


def test_names_of_the_groups_of_a_collection_cover_a_third_of_them() -> None:
    space = space_of(topical(200))
    grouping = k_means(space, GroupSettings(groups=8))
    found = key_terms_of_groups(grouping, space.terms)
    held = space.terms.counts.toarray() > 0
    for group in range(8):
        named = found.names(group)
        assert named
        assert held[grouping.group == group][:, named].any(axis=1).mean() >= 1 / 3
