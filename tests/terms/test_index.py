# SPDX-License-Identifier: GPL-3.0-or-later
"""Contexts, collocates, phrases, written forms and the rank–frequency curve, against plain readings."""

from __future__ import annotations

import math
import re
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, Tokens, clean
from jagged_lens.terms import TermIndex, collocates, contexts, fit_zipf_mandelbrot, index_of, phrases, written_forms
from jagged_lens.terms.log_likelihood import log_likelihood

HERE = Path(__file__).parent
TEXTS = (
    "Slugs took the copper tape. Late frost took the slugs!",
    "The copper tape held; slugs turned back.\n\nNo slug came.",
    "Frost, and late frost again. Copper kettles sang.",
    "",
)


def index(*texts: str, bridge: bool = False, **rules: Any) -> tuple[Any, Tokens, TermIndex]:
    corpus = corpus_of(*texts)
    given = {"language": "en", "stop_words": (), "word_form": "written", "shortest": 1, **rules}
    tokens = clean(corpus, CleanSettings(**given), HERE)
    return corpus, tokens, index_of(tokens, np.arange(len(texts), dtype=np.int32), bridge)


def test_a_term_is_shown_in_its_contexts() -> None:
    corpus, _, known = index(*TEXTS)
    found = contexts(corpus, known, "copper tape")
    assert [(one.row, one.term) for one in found] == [(0, "copper tape"), (1, "copper tape")]
    assert found[0].left == "Slugs took the "
    assert found[1].right == " held; slugs turned back.  No slug came."
    assert corpus.texts[0][found[0].start : found[0].end] == "copper tape"
    assert contexts(corpus, known, "tape frost") == []
    assert contexts(corpus, known, "nothing") == []
    assert len(contexts(corpus, known, "the", most=2)) == 2


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.lists(st.sampled_from(["a", "b", "c", "7", "."]), max_size=14).map(" ".join), min_size=1, max_size=4),
    st.sampled_from(["a", "a b", "b a b", "c c"]),
    st.booleans(),
)
def test_places_equal_a_search_through_the_counts(texts: list[str], term: str, bridge: bool) -> None:
    from jagged_lens.terms import count_ngrams

    _, tokens, known = index(*texts, bridge=bridge)
    ngrams = count_ngrams(tokens, np.arange(len(texts), dtype=np.int32), (1, 3), bridge)
    at = list(ngrams.terms).index(term) if term in list(ngrams.terms) else -1
    counted = ngrams.counts(np.array([at])).toarray()[:, 0] if at >= 0 else np.zeros(len(texts))
    places = known.places_of(term)
    assert np.bincount(known.row[places], minlength=len(texts)).tolist() == counted.tolist()


def test_company_is_worked_out_by_hand() -> None:
    _, _, known = index(*TEXTS)
    found = {one.word: one for one in collocates(known, "copper tape")}
    # Sentences: 6 with words; "copper tape" in 2 of them, "the" in 3, two of these with it.
    a, b, c, d = 2, 0, 1, 3
    n = a + b + c + d
    cells = [(a, (a + b) * (a + c)), (b, (a + b) * (b + d)), (c, (c + d) * (a + c)), (d, (c + d) * (b + d))]
    by_hand = 2 * sum(cell * math.log(cell * n / product) for cell, product in cells if cell)
    assert found["the"].together == 2
    assert found["the"].ratio == pytest.approx(by_hand)
    assert "copper" not in found
    assert "frost" not in found  # it stands where copper tape does not
    assert collocates(known, "nothing") == []


def test_log_likelihood_is_none_where_things_meet_by_chance() -> None:
    both = np.array([5.0, 1.0, 50.0])
    assert log_likelihood(both, np.array([50.0, 50.0, 50.0]), 10.0, 100.0).tolist()[:2] == [0.0, 0.0]
    assert log_likelihood(np.array([10.0]), np.array([10.0]), 10.0, 100.0)[0] == pytest.approx(
        2 * (10 * math.log(10) + 90 * math.log(100 / 90))
    )


def test_phrases_are_pairs_that_meet_more_than_by_chance() -> None:
    texts = ["late frost came and the late frost went"] * 4 + ["the peas and the beans and the leeks came"] * 4
    _, _, known = index(*texts)
    found = phrases(known, least=4)
    assert {one.words: one.times for one in found}[("late", "frost")] == 8
    assert [one.ratio for one in found] == sorted((one.ratio for one in found), reverse=True)
    pairs = Counter(pair for text in texts for pair in re.findall(r"(?=\b(\w+ \w+))", text))
    assert all(pairs[" ".join(one.words)] == one.times for one in found)
    assert all(one.ratio > 0 for one in found)
    assert phrases(index("", "one")[2]) == []


def test_the_ways_a_term_is_written_are_counted() -> None:
    _, _, known = index("Slug slugs SLUGS slugged", "slugs", word_form="stem")
    found = written_forms(known, "slug")
    assert found[0] == ("slugs", 3)
    assert set(found[1:]) == {("slug", 1), ("slugged", 1)}
    assert written_forms(known, "snail") == []


def test_the_curve_is_fitted() -> None:
    ranks = np.arange(1, 20_001)
    found = fit_zipf_mandelbrot((1e6 / (ranks + 12.0) ** 1.1).round().astype(int))
    assert found is not None
    assert found.exponent == pytest.approx(1.1, abs=0.03)
    assert found.shift == pytest.approx(12, rel=0.2)
    assert found.at(np.array([1.0]))[0] == pytest.approx(1e6 / 13**1.1, rel=0.1)
    assert fit_zipf_mandelbrot(np.array([3, 2, 1])) is None


@settings(max_examples=40, deadline=None)
@given(
    st.lists(
        st.lists(st.sampled_from(["slug", "slugs", "Été", "étés", "日本", "."]), max_size=10).map(" ".join),
        min_size=1,
        max_size=4,
    )
)
def test_terms_are_shown_in_their_commonest_spelling(texts: list[str]) -> None:
    from jagged_lens.terms import TermSettings, count_ngrams, limit_terms

    corpus = corpus_of(*texts)
    clean_settings = CleanSettings(stop_words=(), language="fr", shortest=1)
    tokens = clean(corpus, clean_settings, HERE)
    rows = np.arange(len(texts), dtype=np.int32)
    limits = TermSettings(least_documents=1, most_share=1.0)
    terms = limit_terms(count_ngrams(tokens, rows, (1, 2), False), tokens, limits, clean_settings)
    known = index_of(tokens, rows, False)
    for term, shown in zip(terms.terms, terms.shown, strict=True):
        ways = written_forms(known, term)
        most = ways[0][1]
        assert shown in [way for way, times in ways if times == most]
