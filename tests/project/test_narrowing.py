# SPDX-License-Identifier: GPL-3.0-or-later
"""A lens narrowed to a pick says in words what the picked documents have in common."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from jagged_lens.gather import Label, entries_but, entry_of, parted, values_by_label
from jagged_lens.project import common_of
from jagged_lens.strings import Strings

CROPS = Label("crop", Strings.of(["bean", "pea", "leek"]), np.array([0, 0, 1, 1, 2, 2], np.int32))
SOILS = Label("soil", Strings.of(["clay", "sand"]), np.array([0, 0, 0, 0, 1, 1], np.int32))
WORDS = np.array([10, 20, 30, 40, 50, 60])
DAYS = np.array([5, 4, 3, 2, 1, 0], np.int32)
ALL = np.arange(6)


def common(*rows: int, lens: np.ndarray = ALL):  # type: ignore[no-untyped-def]
    return common_of(np.array(rows), lens, [CROPS, SOILS], WORDS, DAYS)


def test_the_label_that_says_it_with_the_fewest_values_is_taken() -> None:
    assert common(0, 1).values == (("crop", "bean"),)
    assert common(0, 1, 2, 3).values == (("soil", "clay"),)  # one value, where crop has two
    assert common(0, 1, 4, 5).values == (("crop", "bean"), ("crop", "leek"))


def test_else_a_range_and_else_nothing() -> None:
    found = common(1, 2)
    assert (found.values, found.words) == ((), (20, 30))
    by_days = common_of(np.array([1, 2]), ALL, [], np.array([1, 9, 1, 9, 1, 1]), DAYS)
    assert by_days.days == (3, 4)
    assert common(0, 3) == common()
    assert common(*range(6)) == common()


def test_only_the_documents_of_the_lens_count() -> None:
    # In this lens one bean is all there is of beans.
    assert common(0, lens=np.array([0, 2, 3])).values == (("crop", "bean"),)
    assert common(0, 1, lens=np.array([0, 2, 3])).values == (("crop", "bean"),)


@given(
    st.lists(st.tuples(st.integers(0, 2), st.integers(0, 1), st.integers(1, 9)), min_size=2, max_size=20),
    st.data(),
)
def test_what_is_said_is_true_of_the_pick_and_of_nothing_else(
    documents: list[tuple[int, int, int]], data: st.DataObject
) -> None:
    n = len(documents)
    labels = [
        Label(name, Strings.of(list("abc")), np.array([one[at] for one in documents], np.int32))
        for at, name in enumerate(("first", "second"))
    ]
    words = np.array([one[2] for one in documents])
    rows = np.array(sorted(data.draw(st.sets(st.integers(0, n - 1), min_size=1))))
    found = common_of(rows, np.arange(n), labels, words, None)
    if found.values:
        label = next(one for one in labels if one.name == found.values[0][0])
        named = {value for _, value in found.values}
        assert [row for row in range(n) if label.value(row) in named] == rows.tolist()
    elif found.words:
        low, high = found.words
        assert np.flatnonzero((words >= low) & (words <= high)).tolist() == rows.tolist()


def test_documents_without_a_word_are_told_by_no_range_of_words() -> None:
    words = np.array([0, 0, 5, 9])
    assert common_of(np.array([0, 1]), np.arange(4), [], words, None).words is None
    assert common_of(np.array([0, 1, 2]), np.arange(4), [], words, None).words == (0, 5)


@given(st.text(min_size=1, max_size=12), st.text(max_size=8))
def test_any_name_of_a_label_can_stand_in_a_filter(name: str, value: str) -> None:
    assert parted(entry_of(name, value)) == (name, value.strip())
    assert values_by_label([entry_of(name, value)]) == {name: [value.strip()]}
    assert entries_but([entry_of(name, value), "other = x"], [name]) == ["other = x"] * (name != "other")
