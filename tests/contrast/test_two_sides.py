# SPDX-License-Identifier: GPL-3.0-or-later
"""Two sides: counts, G², common terms, groups, themes and nearest pairs across, by hand and by brute force."""

import math
from collections.abc import Callable

import numpy as np
import pytest
from scipy.sparse import csr_array
from scipy.stats import mannwhitneyu

from jagged_lens.contrast import groups_by_side, nearest_across, themes_by_side, two_sides
from jagged_lens.lens import GROUPING, SPACE, Results
from jagged_lens.weigh import themes

COUNTS = csr_array(
    np.array(
        [
            # frost, seed, slug, rare
            [3, 1, 0, 0],
            [1, 1, 0, 0],
            [1, 1, 0, 1],
            [0, 1, 2, 0],
            [0, 1, 1, 0],
            [0, 0, 5, 0],
            [9, 9, 9, 9],
        ]
    )
)
LEFT = np.array([1, 1, 1, 0, 0, 0, 0], bool)
RIGHT = np.array([0, 0, 0, 1, 1, 1, 0], bool)


def test_terms_are_counted_by_documents_of_the_sides_alone() -> None:
    found = two_sides(COUNTS, LEFT, RIGHT)
    assert found.left.tolist() == [3, 3, 0, 1]
    assert found.right.tolist() == [0, 2, 3, 0]
    assert found.sizes == (3, 3)
    # frost: 3 of 3 against 0 of 3: G² = 2 (3 ln 2 + 3 ln 2)
    assert found.ratio[0] == pytest.approx(12 * math.log(2))
    assert found.ratio[2] == pytest.approx(12 * math.log(2))
    assert found.tells_left.tolist() == [0, 1, 3] or found.tells_left.tolist() == [0, 3, 1]
    assert found.tells_right.tolist() == [2]
    assert found.common.tolist() == [1]
    assert found.share_right[1] == pytest.approx(2 / 3)


def test_the_sides_changed_over_say_the_same() -> None:
    found, turned = two_sides(COUNTS, LEFT, RIGHT), two_sides(COUNTS, RIGHT, LEFT)
    assert found.tells_left.tolist() == turned.tells_right.tolist()
    assert found.ratio.tolist() == turned.ratio.tolist()
    assert found.common.tolist() == turned.common.tolist()


def test_a_tenth_of_both_sides_is_common_and_less_is_not() -> None:
    counts = np.zeros((40, 2))
    counts[:2, 0] = counts[20:25, 0] = 1  # a tenth of the left side, a quarter of the right
    counts[:1, 1] = counts[20:25, 1] = 1
    half = np.arange(40) < 20
    assert two_sides(csr_array(counts), half, ~half).common.tolist() == [0]


def test_an_empty_side_tells_nothing() -> None:
    found = two_sides(COUNTS, LEFT, np.zeros(7, bool))
    assert len(found.tells_left) == len(found.tells_right) == len(found.common) == 0
    assert not np.isnan(found.ratio).any()


def test_groups_and_themes_by_side(demo_results: Results) -> None:
    group = demo_results[GROUPING].group
    left = np.arange(len(group)) < 200
    right = np.arange(len(group)) >= 400
    found = groups_by_side(group, len(demo_results[GROUPING]), left, right)
    for g in range(len(found)):
        assert found[g].tolist() == [int((group[:200] == g).sum()), int((group[400:] == g).sum())]
    documents = themes(demo_results[SPACE], 4).documents
    shares = themes_by_side(documents, left, right)
    for at in range(4):
        u = mannwhitneyu(documents[left, at], documents[right, at]).statistic
        assert shares[at] == pytest.approx(u / (left.sum() * right.sum()))


@pytest.mark.parametrize("larger", [0, 1])
@pytest.mark.parametrize("measure", ["cosine", "euclidean", "hellinger"])
def test_the_nearest_across_are_those_of_all_pairs(chain: Callable[..., Results], measure: str, larger: int) -> None:
    rng = np.random.default_rng(5)
    words = [f"w{chr(97 + at)}x" for at in range(12)]
    texts = [" ".join(rng.choice(words, rng.integers(1, 6))) for _ in range(60)] + ["", "zz"]
    space = chain(texts, terms={"least-documents": 2})[SPACE]
    n = len(space.empty)
    side = rng.choice([0, 0, 1, 2], n)
    left, right = (side == larger, side == 1 - larger)
    assert (left.sum() > right.sum()) == (larger == 0)
    found = nearest_across(space, measure, left, right, 3)
    x = space.weights.toarray().astype(float)
    if measure == "hellinger":
        c = space.terms.counts.toarray().astype(float)
        c[space.empty] = 0
        x = np.sqrt(c)
    norms = np.linalg.norm(x, axis=1, keepdims=True)
    if measure == "euclidean":
        alike = 1 / (1 + np.linalg.norm(x[:, None] - x[None], axis=2))
    else:
        unit = x / np.where(norms > 0, norms, 1)
        alike = unit @ unit.T
    alike[space.empty] = alike[:, space.empty] = 0
    small, large = (left, right) if left.sum() <= right.sum() else (right, left)
    expected = []
    for row in np.flatnonzero(small):
        others = np.flatnonzero(large)
        best = sorted((-np.float32(alike[row, o]), o) for o in others if alike[row, o] > 0)[:3]
        expected += [-one for one, _ in best]
    assert found.similarity.tolist() == pytest.approx(sorted(expected, reverse=True), abs=2e-6)
    assert left[found.left].all()
    assert right[found.right].all()
    for a, b, s in zip(found.left, found.right, found.similarity, strict=True):
        assert alike[a, b] == pytest.approx(s, abs=2e-6)
