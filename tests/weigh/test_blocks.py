# SPDX-License-Identifier: GPL-3.0-or-later
"""A sparse table summed into blocks."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.sparse import csr_array

from jagged_lens.weigh import block_means, blocks_of


@given(st.integers(0, 1000), st.integers(1, 12), st.integers(1, 12))
def test_block_means_equal_those_of_the_dense_table(seed: int, high: int, wide: int) -> None:
    random = np.random.default_rng(seed)
    dense = random.integers(-2, 5, (11, 17)) * (random.random((11, 17)) < 0.4)
    down, across = random.permutation(11)[: random.integers(1, 12)], random.permutation(17)[: random.integers(1, 18)]
    found = block_means(csr_array(dense), down, across, high, wide)
    high, wide = min(high, len(down)), min(wide, len(across))
    assert found.shape == (high, wide)
    rows, columns = blocks_of(len(down), high), blocks_of(len(across), wide)
    shown = dense[np.ix_(down, across)]
    for i in range(high):
        for j in range(wide):
            assert np.isclose(found[i, j], shown[np.ix_(rows == i, columns == j)].mean(), atol=1e-6)


def test_blocks_are_about_equally_long() -> None:
    assert blocks_of(7, 3).tolist() == [0, 0, 1, 1, 2, 2, 2]
    assert block_means(csr_array((3, 2)), np.zeros(0, np.int64), np.arange(2), 4, 4).shape == (0, 2)
