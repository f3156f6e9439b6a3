# SPDX-License-Identifier: GPL-3.0-or-later
"""Aligned runs: equal word for word, in the order of both texts, and as long as can be."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from jagged_lens.explain import Aligned, aligned


def words_of(text: str, spans: np.ndarray) -> list[str]:
    return [text[start:end] for start, end in spans.tolist()]


def check(first: str, second: str) -> Aligned:
    """Whatever the texts: runs are equal, rise in both and do not overlap; every word is in one or alone."""
    found = aligned(first, second)
    at = to = 0
    for (start, end), (begin, stop) in zip(found.first.tolist(), found.second.tolist(), strict=True):
        assert at <= start < end
        assert to <= begin < stop
        assert [word.lower() for word in words_of(first, found.first_words[start:end])] == [
            word.lower() for word in words_of(second, found.second_words[begin:stop])
        ]
        at, to = end, stop
    for side, runs, words in ((0, found.first, found.first_words), (1, found.second, found.second_words)):
        assert len(found.alone(side)) + int((runs[:, 1] - runs[:, 0]).sum()) == len(words)
    return found


@given(st.lists(st.sampled_from("abcdefgh"), max_size=30), st.lists(st.sampled_from("abcdefgH"), max_size=30))
def test_runs_of_any_two_texts(first: list[str], second: list[str]) -> None:
    check(" ".join(first), " ".join(second))


def test_a_changed_word_is_alone_and_its_neighbours_are_not() -> None:
    first = "Forgive the mud on this page, I write it in sight of the poppies."
    second = "Forgive the mud on this sheet; I write it in sight of the poppies, as always."
    found = check(first, second)
    assert words_of(first, found.alone(0)) == ["page"]
    assert words_of(second, found.alone(1)) == ["sheet", "as", "always"]
    assert len(found.bands) == 1
    (place,) = found.places().tolist()
    assert first[place[0] : place[1]] == first[:-1]
    assert second[place[2] : place[3]] == second[: second.index(", as")]


def test_what_is_put_in_parts_the_bands() -> None:
    base = [f"w{at}" for at in range(60)]
    longer = [*base[:30], *(f"new{at}" for at in range(20)), *base[30:]]
    found = check(" ".join(base), " ".join(longer))
    assert len(found.bands) == 2
    assert len(found.alone(0)) == 0
    assert len(found.alone(1)) == 20


def test_equal_texts_are_one_run_and_strange_ones_none() -> None:
    text = " ".join(f"w{at % 7}" for at in range(50))  # hardly a run of it stands once
    assert len(check("a b c d e f", "A b c d e f").first) == 1
    assert len(check("a b c d", "e f g h").first) == 0
    assert len(check("", "a b").first) == 0
    assert len(check("slugs", "slugs").first) == 1
    check(text, text)


def test_runs_grow_to_both_sides_over_words_that_repeat() -> None:
    text = "very very very very very good soil here very very very very very"
    found = check(text, text)
    assert len(found.alone(0)) == 0
    assert found.first.tolist() == [[0, 13]]
