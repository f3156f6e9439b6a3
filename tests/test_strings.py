# SPDX-License-Identifier: GPL-3.0-or-later

import pickle

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from jagged_lens.strings import Strings


@given(st.lists(st.text(max_size=12), max_size=20))
def test_strings_come_back_as_they_went_in(items: list[str]) -> None:
    expected = [item.encode("utf-16", "surrogatepass").decode("utf-16", "replace") for item in items]
    packed = Strings.of(items)
    assert list(packed) == expected
    assert [packed[at] for at in range(len(items))] == expected
    assert pickle.loads(pickle.dumps(packed, protocol=5)) == packed
    if items:
        rows = np.array([0, len(items) - 1, 0])
        assert list(packed.take(rows)) == [expected[0], expected[-1], expected[0]]


@given(
    st.lists(st.text("ab\0é", max_size=20) | st.text(st.characters(exclude_categories=["Cs"])), max_size=20),
    st.integers(0, 2),
)
def test_strings_are_put_in_order_by_code_point(items: list[str], long: int) -> None:
    items += ["beet " * 30, "beet " * 30 + "late"] * long
    packed, rising = Strings.of(items), sorted(items)
    assert packed.in_order().tolist() == sorted(range(len(items)), key=items.__getitem__)
    assert packed.ranks().tolist() == [rising.index(item) for item in items]
