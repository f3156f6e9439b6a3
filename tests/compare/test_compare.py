# SPDX-License-Identifier: GPL-3.0-or-later

import dataclasses
import unicodedata

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse import csr_array

from conftest import corpus_of
from jagged_lens.compare import (
    CompareSettings,
    Kind,
    compared_by_runs,
    find_pairs,
    nearest_neighbours,
    rows_of,
    shingles_of,
    similarity_distribution,
)
from jagged_lens.compare.block_norms import block_norms, upper_bounds
from jagged_lens.compare.neighbours import Neighbours, at_least_kth, nearest_in_full
from jagged_lens.errors import TooManyError
from jagged_lens.gather import Label
from jagged_lens.strings import Strings
from jagged_lens.terms import TermCounts, Vocabulary
from jagged_lens.weigh import VectorSpace, WeighSettings, weigh
from oracle import tokens_of

MEASURES = ("cosine", "euclidean", "hellinger")


def space_of(counts: np.ndarray, **weighing: str) -> VectorSpace:
    """A vector space of a dense array of counts."""
    n, m = counts.shape
    names = Strings.of(f"t{number}" for number in range(m))
    vocabulary = Vocabulary(
        names,
        np.ones(m, np.uint8),
        counts.sum(0).astype(np.int64),
        (counts > 0).sum(0).astype(np.int32),
        np.zeros(m, np.uint8),
    )
    matrix = csr_array(counts.astype(np.int32))
    terms = TermCounts(matrix, vocabulary, np.arange(m), names, names, np.arange(n, dtype=np.int32))
    return weigh(terms, WeighSettings(**weighing))


def random_counts(seed: int, n: int, m: int = 40) -> np.ndarray:
    random = np.random.default_rng(seed)
    counts = random.poisson(0.12, (n, m)) * random.integers(1, 4, (n, m))
    counts[random.integers(0, n, max(n // 5, 1))] = counts[0]  # copies
    counts[random.integers(0, n)] = 0  # an empty one
    return counts


def brute(space: VectorSpace, measure: str) -> np.ndarray:
    """The similarity of all pairs, one formula a measure; -1 where either is empty."""
    weights = space.weights.toarray().astype(float)
    if measure == "hellinger":
        counts = space.terms.counts.toarray().astype(float)
        shares = counts / np.maximum(counts.sum(1, keepdims=True), 1)
        found = np.sqrt(shares) @ np.sqrt(shares).T
    elif measure == "euclidean":
        found = 1 / (1 + np.sqrt(((weights[:, None] - weights[None]) ** 2).sum(2)))
    else:
        lengths = np.linalg.norm(weights, axis=1)
        found = (weights @ weights.T) / np.maximum(np.outer(lengths, lengths), 1e-300)
    found[space.empty] = -1
    found[:, space.empty] = -1
    return found


def runs_for(space: VectorSpace):  # type: ignore[no-untyped-def]
    return shingles_of(corpus_of(*(f"x{row}" for row in range(space.weights.shape[0]))))


@pytest.mark.parametrize("measure", MEASURES)
@pytest.mark.parametrize("length", ["none", "L1", "L2"])
@pytest.mark.parametrize("limit", [0.05, 0.3, 0.55, 0.8, 1.0])
@pytest.mark.parametrize("across", ["plain", "guarded"])
def test_pairs_equal_brute_force(measure: str, length: str, limit: float, across: str) -> None:
    for seed in range(3):
        space = space_of(random_counts(seed, 45), length=length, global_=across)
        pairs = find_pairs(space, runs_for(space), CompareSettings(measure=measure, pairs_from=limit))
        expected = brute(space, measure)
        found = dict(
            zip(zip(pairs.first.tolist(), pairs.second.tolist(), strict=True), pairs.similarity.tolist(), strict=True)
        )
        for a in range(45):
            for b in range(a + 1, 45):
                if expected[a, b] >= limit + 1e-6:
                    assert (a, b) in found
                elif expected[a, b] < limit - 1e-6:
                    assert (a, b) not in found
                if (a, b) in found:
                    assert found[a, b] == pytest.approx(expected[a, b], abs=1e-6)
        order = list(zip(-pairs.similarity, pairs.first, pairs.second, strict=True))
        assert order == sorted(order)


@pytest.mark.parametrize("measure", MEASURES)
@pytest.mark.parametrize("k", [1, 5, 60])
def test_neighbours_equal_brute_force(measure: str, k: int) -> None:
    for seed in range(3):
        space = space_of(random_counts(seed, 50), length="none" if seed else "L2")
        found = nearest_neighbours(space, measure, k)
        expected = brute(space, measure).astype(np.float32)
        np.fill_diagonal(expected, -1)
        for row in range(50):
            own = found.row[row][found.row[row] >= 0]
            best = np.sort(expected[row][expected[row] > 0])[::-1][:k]
            assert found.similarity[row, : len(own)] == pytest.approx(best, abs=1e-6)
            assert expected[row, own] == pytest.approx(best, abs=1e-6)
            assert row not in own
            for a, b in zip(range(len(own)), range(1, len(own)), strict=False):
                assert (-found.similarity[row, a], own[a]) < (-found.similarity[row, b], own[b])
        assert (found.row[space.empty] == -1).all()


def test_ties_among_very_many_copies_go_by_row() -> None:
    counts = np.ones((300, 3), int)
    counts[:, 2] = np.arange(300) % 2
    found = nearest_neighbours(space_of(counts, global_="none"), "cosine", 3)
    assert found.row[0].tolist() == [2, 4, 6]
    assert found.row[4].tolist() == [0, 2, 6]


def test_dense_and_sparse_terms_together_give_what_brute_force_gives() -> None:
    random = np.random.default_rng(4)
    counts = (random.random((400, 120)) < np.linspace(0.9, 0.002, 120)).astype(int)
    space = space_of(counts, global_="lifted")
    found = nearest_neighbours(space, "cosine", 12)
    expected = brute(space, "cosine")
    np.fill_diagonal(expected, -1)
    assert np.sort(expected, axis=1)[:, ::-1][:, :12] == pytest.approx(found.similarity, abs=1e-6)


def test_the_distribution_counts_every_pair_once() -> None:
    space = space_of(random_counts(1, 60))
    found = similarity_distribution(space, "cosine")
    expected = brute(space, "cosine")[np.triu_indices(60, 1)]
    expected = expected[expected > -1]
    assert found.exact
    assert found.counts.sum() == pytest.approx(len(expected))
    assert found.counts.tolist() == pytest.approx(np.histogram(np.clip(expected, 0, 1), found.edges)[0].tolist(), abs=2)


def test_of_too_many_pairs_the_most_alike_are_listed_and_the_limit_that_they_reach_is_said() -> None:
    space = space_of(random_counts(3, 60))
    every = find_pairs(space, runs_for(space), CompareSettings(pairs_from=0.05))
    assert every.listed_from == 0.05
    some = find_pairs(space, runs_for(space), CompareSettings(pairs_from=0.05), most=100)
    assert 50 < len(some) <= 100 < len(every)
    assert some.listed_from > 0.05
    assert some.similarity.min() >= some.listed_from
    assert len(some) == int((every.similarity >= some.listed_from).sum())
    assert some.first.tolist() == every.first[: len(some)].tolist()


def test_too_many_pairs_that_are_equally_alike_are_refused_in_words() -> None:
    space = space_of(np.ones((40, 2), int), global_="none")
    with pytest.raises(
        TooManyError, match=r"pairs-from: more than 100 pairs have a similarity of exactly 1 alike.*Set frequent copies"
    ):
        find_pairs(space, runs_for(space), CompareSettings(copies_below=False), most=100)


def brute_resemblance(a: str, b: str) -> float:
    sets = []
    for text in (a, b):
        words = [token.lower() for token, _, _ in tokens_of(unicodedata.normalize("NFC", text))]
        sets.append({tuple(words[at : at + 4]) for at in range(len(words) - 3)} if len(words) >= 4 else {tuple(words)})
    return len(sets[0] & sets[1]) / len(sets[0] | sets[1])


def brute_kind(a: str, b: str) -> Kind:
    sets, sequences = [], []
    for text in (a, b):
        words = [token.lower() for token, _, _ in tokens_of(unicodedata.normalize("NFC", text))]
        sequences.append(words)
        sets.append({tuple(words[at : at + 4]) for at in range(len(words) - 3)} if len(words) >= 4 else {tuple(words)})
    common = len(sets[0] & sets[1])
    if sequences[0] == sequences[1]:
        return Kind.SAME
    if sets[0] < sets[1] or sets[1] < sets[0]:
        return Kind.HOLDS
    if common / len(sets[0] | sets[1]) >= 0.4:
        return Kind.EDITED
    return Kind.HOLDS if common / min(map(len, sets)) >= 0.8 else Kind.SUBJECT


@settings(deadline=None)
@given(
    st.lists(st.lists(st.sampled_from(["a", "B", "c-d", "e'f", "2"]), min_size=1, max_size=12), min_size=2, max_size=6)
)
def test_kinds_equal_brute_force(texts: list[list[str]]) -> None:
    joined = [" ".join(words) for words in texts]
    shingles = shingles_of(corpus_of(*joined))
    first, second = np.triu_indices(len(texts), 1)
    found, resemblance = compared_by_runs(shingles, first, second)
    assert [Kind(kind) for kind in found.tolist()] == [
        brute_kind(joined[a], joined[b]) for a, b in zip(first, second, strict=True)
    ]
    assert resemblance.tolist() == pytest.approx(
        [brute_resemblance(joined[a], joined[b]) for a, b in zip(first, second, strict=True)], abs=1e-6
    )


def test_families_are_connected_by_all_kinds_but_subject() -> None:
    text = "slugs took the first sowing overnight and we sowed again"
    texts = [
        "frost",
        text,
        text.upper(),
        "slugs took the first sowing",
        "again sowed we and overnight sowing first the took slugs",
        "frost!",
    ]
    counts = np.array([[0, 0, 1], [3, 1, 0], [3, 1, 0], [3, 1, 0], [3, 1, 0], [0, 0, 1]])
    pairs = find_pairs(space_of(counts), shingles_of(corpus_of(*texts)), CompareSettings(pairs_from=0.9))
    family = {(int(a), int(b)): int(f) for a, b, f in zip(pairs.first, pairs.second, pairs.family, strict=True)}
    assert family[0, 5] == 0
    assert family[1, 2] == family[1, 3] == family[2, 3] == 1
    assert all(family[a, 4] == -1 for a in (1, 2, 3))
    assert pairs.families == 2


@pytest.mark.parametrize(
    "counts", [np.zeros((1, 1), int), np.zeros((3, 2), int), np.ones((1, 2), int), np.zeros((4, 0), int)]
)
def test_degenerate_spaces(counts: np.ndarray) -> None:
    space = space_of(counts)
    for measure in MEASURES:
        assert len(find_pairs(space, runs_for(space), CompareSettings(measure=measure))) == 0
        assert (nearest_neighbours(space, measure, 12).row == -1).all()
        assert similarity_distribution(space, measure).counts.sum() == 0


@pytest.mark.parametrize("measure", MEASURES)
@pytest.mark.parametrize("seed", range(3))
def test_no_pair_is_nearer_than_its_outline_says(measure: str, seed: int) -> None:
    space = space_of(random_counts(seed, 60, 200), length="none")
    rows = rows_of(space, measure)
    first, second = (places.ravel() for places in np.indices((60, 60)))  # each with itself too: copies of any length
    bound = upper_bounds(rows, block_norms(rows), first, second)
    found = brute(space, measure).ravel()
    assert (bound >= found - 1e-7).all()
    apart = first != second
    assert (bound[apart] < 0.8).sum() > (found[apart] < 0.8).sum() / 2  # and most are told apart by it


@pytest.mark.parametrize("k", [1, 2])
def test_the_nearest_of_long_rows_are_found_through_the_maxima_of_their_shares(k: int) -> None:
    space = space_of(random_counts(7, 300, 60))
    found = nearest_neighbours(space, "cosine", k)
    expected = brute(space, "cosine").astype(np.float32)
    np.fill_diagonal(expected, -1)
    best = np.sort(expected, axis=1)[:, ::-1][:, :k]
    assert found.similarity == pytest.approx(np.maximum(best, 0), abs=1e-6)


@given(st.integers(0, 2**32 - 1), st.integers(1, 3))
def test_the_bound_of_a_selection_is_reached_by_so_many(seed: int, k: int) -> None:
    likeness = np.random.default_rng(seed).integers(0, 50, (4, 32 * 4 * k + 17)).astype(np.float32)
    bound = at_least_kth(likeness, k)
    assert ((likeness >= bound[:, None]).sum(axis=1) >= k).all()


def test_pairs_that_point_in_opposite_directions_are_counted() -> None:
    matrix = csr_array(np.array([[1.0], [1.0], [-1.0], [-1.0], [0.0]], np.float32))
    space = dataclasses.replace(space_of(np.ones((5, 1), int)), weights=matrix, empty=np.array([False] * 4 + [True]))
    found = similarity_distribution(space, "cosine")
    assert found.exact
    assert found.counts[[0, -1]].tolist() == [4, 2]
    assert found.counts.sum() == 6


def test_across_a_label_a_spared_document_stands_with_one_of_another_value() -> None:
    n = 41
    corpus = corpus_of(*["slugs ate all the beans again this wet spring"] * n, "frost")
    values = [*["a", "b"] * (n // 2), "", ""]
    space = space_of(np.vstack((np.ones((n, 3), int), np.zeros((1, 3), int))))
    for most in (5_000_000, 1_000):
        found = find_pairs(
            space, shingles_of(corpus), CompareSettings(pairs_from=0.9), Label.of("site", values), most=most
        )
        assert found.paired == n - 1
        assert all(values[a] != values[b] for a, b in zip(found.first.tolist(), found.second.tolist(), strict=True))
        assert (found.kind == Kind.SAME).all()
        assert found.families == 1


@pytest.mark.parametrize("measure", ["cosine", "euclidean"])
def test_copies_by_the_hundred_find_what_each_would_find_by_itself(measure: str) -> None:
    """Rows far beyond k of the same kind are not asked for themselves."""
    random = np.random.default_rng(5)
    kinds = random_counts(7, 40)
    picked = np.concatenate((np.arange(40), np.zeros(150, np.int64), np.full(60, 7), random.integers(0, 40, 50)))
    random.shuffle(picked)
    space = space_of(kinds[picked])
    k = 5
    found = nearest_neighbours(space, measure, k)
    rows = rows_of(space, measure)
    each = Neighbours.none(len(picked), k)
    nearest_in_full(rows, np.flatnonzero(~space.empty), each)
    assert np.array_equal(found.row, each.row)
    assert np.array_equal(found.similarity, each.similarity)
