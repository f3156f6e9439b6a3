# SPDX-License-Identifier: GPL-3.0-or-later
"""Which documents hold a term, and terms that are spelled only when they are looked at."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, clean
from jagged_lens.strings import Strings
from jagged_lens.terms import NgramCounts, count_character_runs, count_ngrams
from jagged_lens.terms.postings import Postings
from jagged_lens.terms.spelled import Spelled

TEXTS = st.lists(
    st.lists(st.sampled_from(["pea", "peas", "leek", "7", "."]), max_size=10).map(" ".join), min_size=1, max_size=5
)


def counted(texts: list[str], runs: bool) -> NgramCounts:
    how = CleanSettings(stop_words=(), word_form="written", shortest=1, tokens="characters" if runs else "words")
    tokens = clean(corpus_of(*texts), how, Path("/"))
    rows = np.arange(len(texts), dtype=np.int32)
    return count_character_runs(tokens, rows, (1, 3)) if runs else count_ngrams(tokens, rows, (1, 3), False)


@settings(deadline=None)
@given(TEXTS, st.booleans(), st.data())
def test_holders_and_counts_within_documents_equal_the_whole_table(
    texts: list[str], runs: bool, data: st.DataObject
) -> None:
    found = counted(texts, runs)
    size = len(found.terms)
    table = found.counts(np.arange(size)).toarray()
    assert table.sum(axis=0).tolist() == found.times.tolist()
    assert (table > 0).sum(axis=0).tolist() == found.documents.tolist()
    for term in range(size):
        documents, counts = found.holders(term)
        assert documents.tolist() == np.flatnonzero(table[:, term]).tolist()
        assert counts.tolist() == table[documents, term].tolist()
    inside = np.array(data.draw(st.lists(st.booleans(), min_size=len(texts), max_size=len(texts))), np.bool_)
    times, documents_ = found.within(inside)
    assert times.tolist() == table[inside].sum(axis=0).tolist()
    assert documents_.tolist() == (table[inside] > 0).sum(axis=0).tolist()
    some = np.array(sorted(data.draw(st.sets(st.integers(0, max(size - 1, 0)))) if size else ()), np.int64)
    assert found.counts(some).toarray().tolist() == table[:, some].tolist()


def test_postings_joined_and_in_another_order() -> None:
    one = Postings(
        np.array([0, 2]), np.array([2, 1], np.int32), np.array([0, 3, 1], np.int32), np.array([1, 2, 5], np.int32)
    )
    two = Postings(np.array([0]), np.array([1], np.int32), np.array([2], np.int32), np.array([7], np.int32))
    joined = Postings.joined([one, Postings.none(1), two]).at(np.array([3, 0, 2, 1]))
    counts = joined.counts(np.arange(4), np.zeros(0, np.int32), 4).toarray()
    assert counts.T.tolist() == [[0, 0, 7, 0], [1, 0, 0, 2], [0, 0, 0, 0], [0, 5, 0, 0]]
    assert len(Postings.joined([])) == 0


@pytest.fixture
def terms() -> Spelled:
    words = Strings.of(["frost", "late", "pea"])
    # The text: late frost pea late
    return Spelled(
        words, np.array([1, 0, 2, 1], np.int32), np.array([2, 0, 0, 1], np.int32), np.array([1, 2, 1, 3], np.uint8)
    )


def test_spelled_terms_are_a_sequence(terms: Spelled) -> None:
    expected = ["pea", "late frost", "late", "frost pea late"]
    assert list(terms) == expected == [terms[at] for at in range(4)]
    assert terms[-1] == expected[-1]
    assert list(terms[1:3]) == expected[1:3]
    assert list(terms.take(np.array([3, 0]))) == ["frost pea late", "pea"]
    later = terms.at_rows(np.array([1, 3]))
    assert (len(later), list(later)) == (2, ["late frost", "frost pea late"])
    assert "late" in terms


def test_spelled_terms_are_found_by_their_words(terms: Spelled) -> None:
    assert terms.rows_of({"late", "frost pea late", "pea frost", "snow"}) == {"late": 2, "frost pea late": 3}
    assert terms.rows_of(set()) == {}
    none = terms.at_rows(np.zeros(0, np.int64))
    assert none.rows_of({"late"}) == {}
    assert list(none) == []
