# SPDX-License-Identifier: GPL-3.0-or-later

import numpy as np
import pytest
from scipy.sparse import csr_array

from jagged_lens.group import GroupSettings, k_means
from jagged_lens.strings import Strings
from jagged_lens.terms import TermCounts, Vocabulary
from jagged_lens.weigh import VectorSpace, term_rows


def space_of(counts: list[list[int]]) -> VectorSpace:
    matrix = csr_array(np.array(counts, np.int32))
    n, m = matrix.shape
    names = Strings.of([f"term {at}" for at in range(m)])
    times = np.asarray(matrix.sum(axis=0)).astype(np.int32)
    vocabulary = Vocabulary(names, np.full(m, 2, np.uint8), times, times, np.zeros(m, np.uint8))
    terms = TermCounts(matrix, vocabulary, np.arange(m), names, names, np.arange(n, dtype=np.int32))
    return VectorSpace(matrix.astype(np.float32), np.ones(m), np.zeros(n, np.bool_), terms)


def test_terms_become_rows_of_length_one_over_the_documents() -> None:
    # Documents down, terms across; the third term is nowhere.
    space = space_of([[3, 0, 0, 1], [4, 0, 0, 1], [0, 2, 0, 0]])
    rows = term_rows(space, np.array([0, 2, 1]), Strings.of(["a", "b", "c"]))
    assert rows.weights.toarray() == pytest.approx(np.array([[0.6, 0.8, 0], [0, 0, 0], [0, 0, 1]]))
    assert rows.empty.tolist() == [False, True, False]
    assert rows.terms.counts.toarray().tolist() == [[3, 4, 0], [0, 0, 0], [0, 0, 2]]
    assert rows.terms.vocabulary.times.tolist() == [3, 4, 2]
    assert list(rows.terms.terms) == ["a", "b", "c"]


def test_terms_of_the_same_documents_come_into_one_group() -> None:
    space = space_of([[3, 2, 0, 0], [4, 3, 0, 0], [0, 0, 1, 5], [0, 0, 2, 4]])
    items = term_rows(space, np.arange(4), Strings.of("abcd"))
    group = k_means(items, GroupSettings(groups=2)).group
    assert group[0] == group[1] != group[2] == group[3]
