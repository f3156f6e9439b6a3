import dataclasses
import math
import tracemalloc

import numpy as np
import pytest
from scipy.sparse import csr_array

from compare.test_compare import random_counts, space_of
from jagged_lens.group import GroupSettings, k_means, key_terms, key_terms_of_groups, kmeans
from jagged_lens.group import grouping as groupings
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


def test_more_starts_are_never_worse() -> None:
    space = space_of(random_counts(5, 90))
    qualities = [k_means(space, GroupSettings(groups=8, starts=starts)).quality for starts in (1, 4, 12)]
    assert qualities == sorted(qualities)


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
