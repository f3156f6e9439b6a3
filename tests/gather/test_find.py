# SPDX-License-Identifier: GPL-3.0-or-later

import sys

import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import corpus_of
from jagged_lens.gather import find, query_of

TEXTS = (
    "Slugs took the first sowing.",
    "The first  sowing\nstood; no SLUG came.",
    "Sluggish growth, slug-proof collars.",
    "Écrit en français: l'été était sec (très sec).",
    "a.b*c [x] 50 % don't",
    "",
)


@pytest.mark.parametrize(
    ("words", "rows"),
    [
        ("slugs", [0]),
        ("slug", [1, 2]),
        ("slug*", [0, 1, 2]),
        ('"first sowing"', [0, 1]),
        ('slug* "first sowing"', [0, 1]),
        ("slugs frost", []),
        ("ÉTÉ", [3]),
        ("don't", [4]),
        ("[x]", [4]),
        ("(", [3]),
        ("", []),
        ("   ", []),
        ('"', []),
        ("*", []),
    ],
)
def test_words_phrases_and_beginnings(words: str, rows: list[int]) -> None:
    assert find(corpus_of(*TEXTS), words) == rows


def test_hits_are_spans_of_the_text() -> None:
    text = TEXTS[1]
    assert [text[start:end] for start, end in query_of('slug "first sowing"').spans(text)] == ["first  sowing", "SLUG"]


def test_progress_is_told_and_can_stop_the_search() -> None:
    shares: list[float] = []
    find(corpus_of(*TEXTS), "slugs", shares.append)
    assert shares == [0.0]


@given(
    st.lists(st.text("aAßsSiIıİſkK\u212a \n\0-é", max_size=8), max_size=6),
    st.lists(st.text("aAßsSiIıİſkK\u212a-é", min_size=1, max_size=3), min_size=1, max_size=2),
    st.sampled_from(["{} {}", '"{} {}"', "{}* {}"]),
)
def test_what_is_found_is_what_the_patterns_find(texts: list[str], words: list[str], how: str) -> None:
    query = how.format(words[0], words[-1])
    patterns = query_of(query).patterns
    expected = [row for row, text in enumerate(texts) if all(pattern.search(text) for pattern in patterns)]
    assert find(corpus_of(*texts), query) == expected


@given(
    st.lists(
        st.sampled_from(["slug", "slugs", "Slug", "late", "frost", "late  frost", "lates", "s", "é"]), max_size=40
    ),
    st.sampled_from(["slug", "slug*", '"late frost"', "s", 'late* "late frost"']),
    st.sampled_from([" ", ", ", "\n"]),
)
def test_looking_in_pieces_finds_what_looking_at_once_does(words: list[str], sought: str, between: str) -> None:
    text, query = between.join(words), query_of(sought)
    plain = sorted(match.span() for pattern in query.patterns for match in pattern.finditer(text))
    with pytest.MonkeyPatch.context() as patch:
        module = sys.modules[query.__module__]
        patch.setattr(module, "_PIECE", 7)
        patch.setattr(module, "_REACH", 14)
        assert query.spans(text) == plain
