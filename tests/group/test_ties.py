# SPDX-License-Identifier: GPL-3.0-or-later
"""Of equal ones the first: what is chosen among starts that are as good as each other does not depend on a hair."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.group.grouping import centroids_of
from jagged_lens.group.kmeans import _best, _in_the_middle, _settled, _voted


def groups(*numbers: int) -> NDArray[np.int64]:
    return np.array(numbers, np.int64)


def test_of_starts_that_are_as_good_the_first_is_taken_and_a_clearly_better_one_before_it() -> None:
    first, second, third = (groups(0, 0, 1), 0.8), (groups(0, 1, 1), 0.8), (groups(1, 0, 1), 0.9)
    assert _best([first, second]) is first
    assert _best([second, first]) is second
    assert _best([first, third, second]) is third
    nearly = (groups(1, 1, 0), 0.8 * (1 + 1e-9))
    assert _best([first, nearly]) is first


def test_the_start_in_the_middle_agrees_most_with_the_others_and_of_equal_ones_is_the_better_then_the_first() -> None:
    same = groups(0, 0, 1, 1, 2, 2)
    other = groups(0, 1, 2, 0, 1, 2)
    assert _in_the_middle([(other, 0.9), (same, 0.5), (same, 0.5)], 3) == 1
    assert _in_the_middle([(same, 0.5), (other, 0.9), (same, 0.6)], 3) == 2
    assert _in_the_middle([(same, 0.5), (same, 0.5), (same, 0.5)], 3) == 0


def test_a_row_goes_where_most_starts_put_it_under_whatever_number() -> None:
    one = groups(0, 0, 0, 1, 1, 1)
    turned = groups(1, 1, 1, 0, 0, 0)
    another = groups(1, 1, 0, 0, 0, 0)  # the third row elsewhere
    voted = _voted([(one, 0.5), (turned, 0.5), (another, 0.5)], 2)
    assert voted is not None
    assert len(set(voted[:3].tolist())) == len(set(voted[3:].tolist())) == 1
    assert voted[0] != voted[3]


def test_what_the_vote_led_to_is_taken_only_where_it_is_clearly_better() -> None:
    tried = [(groups(0, 0, 1), 0.8), (groups(0, 1, 1), 0.7)]
    vote = groups(1, 1, 0)
    assert _settled(tried, (vote, 0.9)) is vote
    assert _settled(tried, (vote, 0.8)) is tried[0][0]
    assert _settled(tried, (vote, 0.79)) is tried[0][0]


def test_an_empty_group_has_a_centroid_of_nothing() -> None:
    x = csr_array(np.array([[3.0, 4.0], [0.0, 2.0]], np.float32))
    found = centroids_of(x, groups(0, 2), 3)
    dense = found if isinstance(found, np.ndarray) else found.toarray()
    assert dense == pytest.approx(np.array([[0.6, 0.8], [0.0, 0.0], [0.0, 1.0]]))
