# SPDX-License-Identifier: GPL-3.0-or-later
"""Very long documents, unnormalised weights and many copies: where sums in single precision, or over all rows, go wrong."""

import dataclasses

import numpy as np
import pytest
from scipy.sparse import csr_array

from compare.test_compare import brute, runs_for, space_of
from jagged_lens.compare import CompareSettings, find_pairs, nearest_neighbours, rows_of, similarity_distribution
from jagged_lens.compare.neighbours import Scores, copy_ranks
from jagged_lens.weigh import VectorSpace


def zipf(m: int) -> np.ndarray:
    p = 1 / np.arange(1, m + 1) ** 1.05
    return p / p.sum()


def versions(books: int, of_each: int, words: int, m: int, seed: int = 0) -> np.ndarray:
    """Long documents in versions: each has one more word somewhere than the one before."""
    random = np.random.default_rng(seed)
    counts = np.repeat(np.stack([random.multinomial(words, zipf(m)) for _ in range(books)]), of_each, axis=0)
    for row in range(len(counts)):
        for _ in range(row % of_each):
            counts[row, random.integers(20, m)] += 1
    return counts


def nearest_by_brute_force(space: VectorSpace, measure: str, k: int) -> tuple[np.ndarray, np.ndarray]:
    if measure == "euclidean":
        x = space.weights.toarray().astype(float)
        found = np.stack([1 / (1 + np.sqrt(((x - row) ** 2).sum(1))) for row in x]).astype(np.float32)
    else:
        x = rows_of(space, measure).matrix.toarray()
        found = (x @ x.T).astype(np.float32)
    np.fill_diagonal(found, -1)
    order = np.stack([np.lexsort((np.arange(len(row)), -row)) for row in found])[:, :k]
    return order, np.take_along_axis(found, order, axis=1)


@pytest.mark.parametrize("length", ["none", "L2"])
@pytest.mark.parametrize("local", ["log", "share"])
@pytest.mark.parametrize("k", [1, 3])
def test_the_nearest_versions_of_long_documents_by_distance(length: str, local: str, k: int) -> None:
    space = space_of(versions(12, 8, 20_000, 2_000), length=length, local=local, global_="none")
    found = nearest_neighbours(space, "euclidean", k)
    _, expected = nearest_by_brute_force(space, "euclidean", k)
    assert found.similarity == pytest.approx(expected, rel=2e-7)


@pytest.mark.parametrize("local", ["log", "presence"])
def test_the_nearest_of_books_by_cosine(local: str) -> None:
    random = np.random.default_rng(1)
    p = 1 / np.arange(1, 20_001)
    counts = np.stack([random.multinomial(60_000, p / p.sum()) for _ in range(150)])
    space = space_of(counts, local=local, global_="none")
    found = nearest_neighbours(space, "cosine", 1)
    rows, similar = nearest_by_brute_force(space, "cosine", 1)
    assert found.similarity == pytest.approx(similar, abs=6e-8)
    assert (found.row == rows).mean() > 0.98  # others are as near, to the last place of what is rounded


def test_scores_are_never_further_from_the_truth_than_they_say() -> None:
    """A row of very many equal small weights: each product is rounded the same way, and the sum shingles away from the truth."""
    m = 40_000
    counts = np.ones((12, m), int)
    counts[1::2, ::3] = 2
    counts[2::3, : m // 2] = 0
    for measure in ("cosine", "euclidean"):
        space = space_of(counts, global_="none", length="none")
        scores = Scores(rows_of(space, measure), 2)
        block = slice(0, 12)
        rows = rows_of(space, measure)
        x = rows.matrix.toarray()
        true = x @ x.T if rows.unit else 2 * x @ x.T - rows.squares
        found = scores.of(block)
        near, _ = scores.possible(found, block)
        np.fill_diagonal(true, -np.inf)
        true[:, copy_ranks(rows.matrix) > 2] = -np.inf
        kth = np.sort(true, axis=1)[:, -2]
        assert near[true >= kth[:, None]].all()


@pytest.mark.parametrize("measure", ["cosine", "euclidean"])
def test_hundreds_of_copies_are_each_others_nearest_by_row(measure: str) -> None:
    counts = np.repeat(versions(3, 2, 60, 40, seed=2), 120, axis=0)
    found = nearest_neighbours(space_of(counts, length="none", global_="none"), measure, 4)
    for row in (0, 1, 119, 120, 500, 719):
        copies = np.flatnonzero((counts == counts[row]).all(axis=1))
        assert found.row[row].tolist() == [at for at in copies if at != row][:4]
    assert (np.abs(found.similarity - 1) < 1e-6).all()


def test_rows_with_weights_of_both_signs_find_who_is_barely_alike() -> None:
    random = np.random.default_rng(3)
    counts = (random.random((90, 60)) < 0.5).astype(int)
    space = space_of(counts, global_="guarded", length="none")
    found = nearest_neighbours(space, "cosine", 89)
    expected = brute(space, "cosine")
    np.fill_diagonal(expected, -1)
    assert ((found.row >= 0).sum(axis=1) == (expected > 0).sum(axis=1)).all()


@pytest.mark.parametrize("limit", [1.0, 0.9, 0.5])
def test_copies_of_short_notes_behind_very_long_texts_are_found(limit: float) -> None:
    random = np.random.default_rng(5)
    books = np.stack([random.multinomial(100_000_000, zipf(1_500)) for _ in range(100)])
    notes = np.stack([random.multinomial(15, zipf(1_500)) for _ in range(80)])
    space = space_of(np.concatenate([books, notes, notes]), local="count", global_="none", length="none")
    pairs = find_pairs(space, runs_for(space), CompareSettings(measure="euclidean", pairs_from=limit))
    copies = {(100 + row, 180 + row) for row in range(80)}
    assert copies <= set(zip(pairs.first.tolist(), pairs.second.tolist(), strict=True))


@pytest.mark.parametrize("limit", [0.3, 0.25, 0.2, 0.16])
def test_pairs_by_distance_of_notes_that_differ_in_a_few_words(limit: float) -> None:
    """Near the limit: what a partner's cosine must be is used to the full."""
    random = np.random.default_rng(1)
    counts = np.repeat(np.stack([random.multinomial(40, zipf(200)) for _ in range(50)]), 6, axis=0)
    for row in range(len(counts)):
        for _ in range(row % 6 * 3):
            counts[row, random.integers(200)] += 1
    space = space_of(counts, local="count", global_="none", length="none")
    pairs = find_pairs(space, runs_for(space), CompareSettings(measure="euclidean", pairs_from=limit))
    expected = np.triu(brute(space, "euclidean").astype(np.float32) >= np.float32(limit), 1)
    assert set(zip(pairs.first.tolist(), pairs.second.tolist(), strict=True)) == set(
        zip(*(places.tolist() for places in np.nonzero(expected)), strict=True)
    )


def test_copies_of_books_are_at_no_distance() -> None:
    random = np.random.default_rng(2)
    counts = np.repeat(np.stack([random.multinomial(90_000_000, zipf(400)) for _ in range(20)]), 2, axis=0)
    counts = np.concatenate([counts, np.eye(2, 400, dtype=int)])  # two very short ones: every pair must be looked at
    space = space_of(counts, local="count", global_="none", length="none")
    pairs = find_pairs(space, runs_for(space), CompareSettings(measure="euclidean", pairs_from=0.999))
    assert len(pairs) == 20
    found = similarity_distribution(space, "euclidean")
    assert found.counts[-1] == 20


def test_hellinger_leaves_the_counts_as_they_are() -> None:
    counts = np.array(
        [[1, 0, 2], [1, 3, 0], [1, 0, 0], [1, 1, 1]]
    )  # the first term weighs nothing: the third row is empty
    space = space_of(counts)
    assert space.empty.tolist() == [False, False, True, False]
    for array in (space.terms.counts.data, space.terms.counts.indices, space.terms.counts.indptr):
        array.flags.writeable = False
    for measure in ("hellinger", "cosine", "euclidean"):
        found = rows_of(space, measure).matrix
        assert found[[2]].nnz == 0
        find_pairs(space, runs_for(space), CompareSettings(measure=measure, pairs_from=0.1))
        nearest_neighbours(space, measure, 2)
    assert space.terms.counts.toarray().tolist() == counts.tolist()


def weighed(weights: np.ndarray) -> VectorSpace:
    """A vector space of weights as they are."""
    space = space_of((weights != 0).astype(int), global_="none")
    return dataclasses.replace(
        space, weights=csr_array(weights.astype(np.float32)), empty=np.asarray(~weights.any(axis=1))
    )


def test_a_sum_that_cancels_in_single_precision_is_looked_at_in_double() -> None:
    weights = np.array([[1e-5, 1, 1], [1e-5, 1, -1], [0, 1, -1]])
    found = nearest_neighbours(weighed(weights), "cosine", 2)
    assert found.row[0].tolist() == [1, -1]
    assert found.similarity[0, 0] == pytest.approx(5e-11, rel=1e-3)


def test_of_very_many_that_are_as_near_as_each_other_the_lowest_rows_are_taken() -> None:
    counts = np.concatenate((np.ones((300, 1), int), np.eye(300, dtype=int)), axis=1)
    for measure in ("cosine", "euclidean"):
        found = nearest_neighbours(space_of(counts, global_="none", local="presence"), measure, 3)
        assert found.row[0].tolist() == [1, 2, 3]
        assert found.row[2].tolist() == [0, 1, 3]
        assert found.row[299].tolist() == [0, 1, 2]


def test_a_small_distance_of_large_rows_is_not_lost_in_rounding() -> None:
    random = np.random.default_rng(4)
    weights = np.repeat(random.uniform(1e6, 5e6, (40, 300)), 2, axis=0)
    small = random.uniform(0.4, 0.9, (40, 60))
    weights[::2, ::5] = small
    weights[1::2, ::5] = small + 0.0012 * random.choice([-1, 1], (40, 60))
    weights = np.concatenate((weights, np.full((1, 300), 1e-6)))  # so short that every pair must be looked at
    space = weighed(weights)
    pairs = find_pairs(space, runs_for(space), CompareSettings(measure="euclidean", pairs_from=0.99))
    assert set(zip(pairs.first.tolist(), pairs.second.tolist(), strict=True)) == {
        (at, at + 1) for at in range(0, 80, 2)
    }
    assert similarity_distribution(space, "euclidean").counts[-1] == 40
