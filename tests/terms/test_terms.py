# SPDX-License-Identifier: GPL-3.0-or-later

import sys
from collections import Counter, defaultdict
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse import csr_array

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, clean, stems
from jagged_lens.errors import RecipeError
from jagged_lens.lens import recipe_of
from jagged_lens.terms import TermCounts, TermSettings, WhyNot, count_ngrams, limit_terms, why_not_kept
from jagged_lens.terms.ngrams import in_order
from jagged_lens.terms.postings import Postings
from oracle import Rules, kept_terms, ngrams_of

ngrams, postings = sys.modules["jagged_lens.terms.ngrams"], sys.modules["jagged_lens.terms.postings"]
PLAIN = CleanSettings(stop_words=(), word_form="written", shortest=1)
LOOSE = {"least_documents": 1, "most_share": 1.0}


def counted(texts: list[str], terms: TermSettings, how: CleanSettings = PLAIN, folder: Path = Path("/")) -> TermCounts:
    tokens = clean(corpus_of(*texts), how, folder)
    found = count_ngrams(tokens, np.arange(len(texts), dtype=np.int32), terms.words, terms.bridge)
    return limit_terms(found, tokens, terms, how)


def as_counts(terms: TermCounts) -> list[dict[str, int]]:
    names = list(terms.terms)
    return [{names[column]: int(row[column]) for column in np.flatnonzero(row)} for row in terms.counts.toarray()]


def test_the_worked_example_of_the_formulas_page() -> None:
    terms = counted(["slugs ate beans. beans ate slugs", "slugs ate peas"], TermSettings(words=(1, 2), **LOOSE))
    assert list(terms.terms) == [
        "ate",
        "slugs",
        "beans",
        "slugs ate",
        "ate beans",
        "ate peas",
        "ate slugs",
        "beans ate",
        "peas",
    ]
    assert as_counts(terms)[1] == {"ate": 1, "slugs": 1, "slugs ate": 1, "ate peas": 1, "peas": 1}


def test_gaps_break_a_term_unless_bridged() -> None:
    text = ["copper 12 tape held"]
    assert "copper tape" not in list(counted(text, TermSettings(words=(2, 2), **LOOSE)).terms)
    assert list(counted(text, TermSettings(words=(2, 2), bridge=True, **LOOSE)).terms) == ["copper tape", "tape held"]
    markup = ["copper <b>tape</b> held"]
    assert list(counted(markup, TermSettings(words=(2, 2), **LOOSE)).terms) == ["copper tape", "tape held"]
    assert not len(counted(["copper. tape"], TermSettings(words=(2, 2), bridge=True, **LOOSE)).terms)


@settings(deadline=None)
@given(
    texts=st.lists(st.text("ab cd!é’1\n中-", max_size=40), min_size=1, max_size=6),
    low=st.integers(1, 3),
    more=st.integers(0, 2),
    bridge=st.booleans(),
    least=st.sampled_from([1, 2, 0.5, 0.34]),
    share=st.sampled_from([1.0, 0.6]),
    most=st.sampled_from([0, 3]),
    letters=st.booleans(),
    join=st.booleans(),
    strip=st.booleans(),
    part=st.sampled_from([1, 4, 250_000]),
)
def test_counts_equal_the_plain_reading(  # type: ignore[no-untyped-def]
    texts, low, more, bridge, least, share, most, letters, join, strip, part
) -> None:
    rules = Rules(
        letters, join, True, strip, True, 1, 40, frozenset(), (low, low + more), bridge, least, 1, share, most
    )
    documents = [ngrams_of(text, rules) for text in texts]
    expected = kept_terms(documents, rules)
    how = CleanSettings(
        stop_words=(),
        word_form="written",
        shortest=1,
        take_out=(),
        language="hu",  # which has no elisions
        tokens="letters" if letters else "words",
        hyphens="join" if join else "split",
        accents="strip" if strip else "keep",
    )
    with mock.patch.object(ngrams, "_PART", part):  # however the places are cut
        terms = counted(
            texts,
            TermSettings(words=rules.words, bridge=bridge, least_documents=least, most_share=share, most_terms=most),
            how,
        )
    assert list(terms.terms) == expected
    assert as_counts(terms) == [{term: counts[term] for term in expected if counts[term]} for counts in documents]
    times = Counter(term for counts in documents for term in counts.elements())
    inside = Counter(term for counts in documents for term in counts)
    every = sorted(times, key=lambda term: (-times[term], term))
    known = terms.vocabulary
    assert list(known.terms) == every == [known.terms[row] for row in range(len(every))]
    assert known.times.tolist() == [times[term] for term in every]
    assert known.documents.tolist() == [inside[term] for term in every]
    assert known.lengths.tolist() == [len(term.split(" ")) for term in every]
    assert known.terms.rows_of({*every[1:3], "nowhere to be"}) == {term: every.index(term) for term in every[1:3]}


def test_why_a_term_is_not_kept() -> None:
    texts = ["all one two", "all one", "all two zip", "all"]
    terms = counted(
        texts, TermSettings(words=(1, 1), least_documents=2, most_share=0.6, most_terms=1, always_drop=("zip",))
    )
    why = dict(zip(terms.vocabulary.terms, terms.vocabulary.why_not.tolist(), strict=True))
    assert why == {"all": WhyNot.COMMON, "one": WhyNot.KEPT, "two": WhyNot.LIMIT, "zip": WhyNot.DROPPED}


def test_always_keep_and_always_drop_win_and_are_brought_to_the_form_of_terms() -> None:
    how = CleanSettings(stop_words=(), language="en")
    settings_ = TermSettings(
        words=(1, 2), least_documents=2, most_share=1.0, always_keep=("Growing Beans",), always_drop=("slugs",)
    )
    terms = counted(["slugs growing beans", "slugs here", "slug"], settings_, how)
    assert list(terms.terms) == ["grow bean"]
    assert list(terms.shown) == ["growing beans"]
    with mock.patch("jagged_lens.terms.limits._AT_ONCE", 2):
        known = list(zip(terms.vocabulary.terms, terms.all_shown(), strict=True))
    assert {term: shown for term, shown in known if term != shown} == {"grow bean": "growing beans"}
    hashed = counted(["slugs growing beans"], replace(settings_, columns=2, least_documents=1), how)
    assert list(hashed.all_shown()) == list(hashed.vocabulary.terms)


def test_a_limit_for_each_length() -> None:
    terms = counted(["a b a b c"], TermSettings(words=(1, 2), most_terms=1, most_terms_of="each-length", **LOOSE))
    assert sorted(terms.terms) == ["a", "a b"]


def test_a_stem_is_shown_as_it_is_written_most_often() -> None:
    terms = counted(
        ["Seeds seeds seed", "self sown", "self-sown selfs sown"],
        TermSettings(**LOOSE),
        CleanSettings(stop_words=(), language="en"),
    )
    shown = dict(zip(terms.terms, terms.shown, strict=True))
    assert shown["seed"] == "seeds"
    assert shown["self sown"] == "self sown"


@settings(deadline=None)
@given(st.lists(st.sampled_from(["seed", "Seeds", "seeds", "seeding", "ripe", "!"]), max_size=25), st.integers(1, 3))
def test_every_term_is_shown_in_its_commonest_spelling(words: list[str], length: int) -> None:
    how = CleanSettings(stop_words=(), shortest=1, language="en")
    terms = counted([" ".join(words)], TermSettings(words=(length, length), **LOOSE), how)
    ways: dict[str, Counter[str]] = defaultdict(Counter)
    for sentence in " ".join(words).lower().split("!"):
        own = sentence.split()
        for way in zip(*(own[step:] for step in range(length)), strict=False):
            ways[" ".join(stems(way, "en"))][" ".join(way)] += 1
    # The commonest; of several, the one that comes first.
    expected = {term: counts.most_common(1)[0][0] for term, counts in ways.items()}
    assert dict(zip(terms.terms, terms.shown, strict=True)) == expected


@given(st.lists(st.integers(0, 9), max_size=30), st.sampled_from([9, 2**60]))
def test_keys_in_order_whether_they_can_be_packed_or_not(keys: list[int], most: int) -> None:
    rising, order = in_order(np.array(keys, np.int64), most)
    assert order.tolist() == sorted(range(len(keys)), key=keys.__getitem__)
    assert rising.tolist() == sorted(keys)


@pytest.mark.parametrize("texts", [[""], ["", ""], ["12 34"], ["a"]])
def test_hardly_any_text(texts: list[str]) -> None:
    terms = counted(texts, TermSettings(words=(1, 3), **LOOSE))
    assert terms.counts.shape == (len(texts), len(terms.terms))


def test_a_range_the_wrong_way_round_is_refused() -> None:
    with pytest.raises(RecipeError, match=r"\[terms\] words: must be two whole numbers from 1 to 8"):
        recipe_of({"terms": {"words": [3, 1]}})


@pytest.mark.parametrize(("bits", "largest"), [(64, 2**31 - 1), (64, 3), (2, 3)])
@given(rows=st.lists(st.lists(st.integers(0, 3), min_size=4, max_size=4), min_size=1, max_size=6))
def test_postings_become_counts_again_whether_they_can_be_packed_or_not(
    bits: int, largest: int, rows: list[list[int]]
) -> None:
    counts = np.array(rows, np.int32)
    counts[0, 0] = largest
    last = len(rows) - 1
    with mock.patch.object(postings, "_BITS", bits):
        found = Postings.of_columns(csr_array(counts)).counts(
            np.array([0, 2, 3]), np.array([last], np.int32), len(rows)
        )
    expected = np.column_stack((counts[:, [0, 2, 3]], np.arange(len(rows)) == last))
    assert found.toarray().tolist() == expected.tolist()
    assert found.has_sorted_indices


def test_always_drop_wins_over_always_keep_and_neither_lets_the_most_terms_slip() -> None:
    texts = ["slug slug slug bean", "slug bean bean pea", "slug pea frost", "bean frost moss"]
    limits = {"words": (1, 1), "least_documents": 2, "most_share": 1.0}
    both = counted(texts, TermSettings(**limits, always_keep=("slug", "moss"), always_drop=("slug",)))
    why = dict(zip(both.vocabulary.terms, both.vocabulary.why_not.tolist(), strict=True))
    assert why["slug"] == WhyNot.DROPPED
    assert why["moss"] == WhyNot.KEPT
    few = counted(texts, TermSettings(**limits, most_terms=2, always_keep=("moss",)))
    assert set(few.terms) == {"slug", "bean", "moss"}  # what is always kept comes on top of the most terms


@given(st.data())
def test_the_limits_say_what_a_plain_reading_of_them_says(data: st.DataObject) -> None:
    count = data.draw(st.integers(0, 12))
    numbers = st.lists(st.integers(1, 9), min_size=count, max_size=count)
    documents, extra = np.array(data.draw(numbers), np.int32), np.array(data.draw(numbers), np.int32)
    times = np.sort(documents + extra)[::-1].astype(np.int32)
    words = np.array(data.draw(st.lists(st.integers(1, 3), min_size=count, max_size=count)), np.uint8)
    named = np.array(data.draw(st.lists(st.integers(0, 7), min_size=count, max_size=count)), np.uint8)
    chosen = TermSettings(
        least_documents=data.draw(st.sampled_from([1, 2, 5, 0.3, 0.5])),
        least_times=data.draw(st.integers(1, 8)),
        most_share=data.draw(st.sampled_from([0.2, 0.6, 1.0])),
        most_terms=data.draw(st.integers(0, 4)),
        most_terms_of=data.draw(st.sampled_from(["all", "each-length"])),
    )
    found = why_not_kept(words, times, documents, named, 9, chosen)
    left: dict[int, int] = {}
    for at in range(count):
        share = documents[at] / 9
        least = chosen.least_documents
        kept = (share if least < 1 else documents[at]) >= least and times[at] >= chosen.least_times
        kept = kept and share <= chosen.most_share and not named[at] & 4 and not named[at] & 2
        if kept and chosen.most_terms:
            length = int(words[at]) if chosen.most_terms_of == "each-length" else 0
            left[length] = left.get(length, 0) + 1
            kept = left[length] <= chosen.most_terms
        if named[at] & 1 and not named[at] & 2:
            kept = True
        assert (found[at] == WhyNot.KEPT) == kept, at


def test_a_sentence_ends_before_markup_that_is_taken_out() -> None:
    tokens = clean(corpus_of("Slugs ate.<br>Frost came.now"), CleanSettings(stop_words=(), word_form="written"), Path())
    kept = [tokens.written[int(form)] for form in tokens.form[tokens.kept]]
    ends = tokens.sentence_end[tokens.kept].tolist()
    assert kept == ["Slugs", "ate", "Frost", "came", "now"]
    assert ends[:4] == [False, True, False, False]
