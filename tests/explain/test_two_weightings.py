# SPDX-License-Identifier: GPL-3.0-or-later
"""The same counts ranked by two formulas."""

import numpy as np

from compare.test_compare import random_counts, space_of
from jagged_lens.explain import ranked_documents, ranked_terms


def test_ranks_are_those_of_the_weights() -> None:
    counts = random_counts(3, 30)
    space = space_of(counts)
    dense = space.weights.toarray()
    for row in (0, 4, 11):
        found = ranked_terms(space, row)
        assert sorted(found.of.tolist()) == np.flatnonzero(counts[row]).tolist()
        assert found.weights.tolist() == dense[row, found.of].astype(float).tolist()
        assert (np.diff(np.abs(found.weights)) <= 0).all()
    for column in (1, 7):
        found = ranked_documents(space, column)
        assert sorted(found.of.tolist()) == np.flatnonzero(counts[:, column]).tolist()
        assert found.weights.tolist() == dense[found.of, column].astype(float).tolist()
        assert (np.diff(np.abs(found.weights)) <= 0).all()


def test_what_weighs_nothing_comes_last() -> None:
    space = space_of(np.array([[1, 1, 2], [0, 1, 0], [0, 1, 1]]))
    assert ranked_terms(space, 0).of.tolist() == [0, 2, 1]
    assert ranked_documents(space, 1).of.tolist() == [0, 1, 2]
    assert ranked_documents(space, 1).weights.tolist() == [0, 0, 0]
