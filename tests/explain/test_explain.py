# SPDX-License-Identifier: GPL-3.0-or-later

from pathlib import Path

import numpy as np
import pytest

from compare.test_compare import MEASURES, brute, random_counts, space_of
from conftest import corpus_of
from jagged_lens.clean import CleanSettings, Reason, clean
from jagged_lens.explain import contributions, document_terms, membership, rule_hits, term_marks, unshared_words
from jagged_lens.lens import GROUPING, SPACE, Results
from jagged_lens.terms import TermCounts, TermSettings, count_ngrams, limit_terms


@pytest.mark.parametrize("measure", MEASURES)
def test_the_parts_add_up_to_the_number(measure: str) -> None:
    space = space_of(random_counts(1, 40), length="none")
    expected = brute(space, measure)
    for first, second in [(0, 1), (3, 17), (20, 39), (5, 6)]:
        if space.empty[first] or space.empty[second]:
            continue
        parts = contributions(space, measure, first, second)
        assert parts.similarity == pytest.approx(expected[first, second], abs=1e-6)
        assert parts.values.sum() == pytest.approx(parts.total)
        shown = 1 / (1 + np.sqrt(parts.total)) if measure == "euclidean" else parts.total
        assert shown == pytest.approx(parts.similarity, abs=1e-6)
        assert (np.diff(parts.values) <= 0).all()
        dense = space.weights.toarray()
        assert set(parts.only_first.tolist()) == set(
            np.flatnonzero((dense[first] != 0) & (dense[second] == 0)).tolist()
        )


def marked(texts: list[str], row: int) -> list[tuple[str, str]]:
    how = CleanSettings(stop_words=(), language="en")
    settings = TermSettings(least_documents=1, most_share=1.0)
    tokens = clean(corpus_of(*texts), how, Path("/"))
    terms: TermCounts = limit_terms(
        count_ngrams(tokens, np.arange(len(texts), dtype=np.int32), (1, 2), False), tokens, settings, how
    )
    marks = term_marks(tokens, terms, settings, row)
    return [
        (terms.terms[int(c)], texts[row][a:b]) for c, a, b in zip(marks.column, marks.start, marks.end, strict=True)
    ]


def test_terms_are_found_where_they_stand() -> None:
    text = "Copper tapes, 2 copper. Tape 😀 held"
    assert marked(["x", text], 1) == [
        ("copper", "Copper"),
        ("copper tape", "Copper tapes"),
        ("tape", "tapes"),
        ("copper", "copper"),
        ("tape", "Tape"),
        ("tape held", "Tape 😀 held"),
        ("held", "held"),
    ]


def test_words_that_only_one_has() -> None:
    texts = ["Slugs took beans", "slug took 40 peas"]
    tokens = clean(corpus_of(*texts), CleanSettings(stop_words=(), language="en"), Path("/"))
    assert [texts[0][a:b] for a, b in unshared_words(tokens, 0, 1)] == ["beans"]
    assert [texts[1][a:b] for a, b in unshared_words(tokens, 1, 0)] == ["peas"]


def test_the_terms_of_a_document_with_their_counts_and_weights() -> None:
    space = space_of(random_counts(5, 30), local="count")
    counts, weights = space.terms.counts.toarray(), space.weights.toarray()
    for row in range(len(counts)):
        found = document_terms(space, row)
        assert sorted(found.columns.tolist()) == np.flatnonzero(counts[row]).tolist()
        assert found.times.tolist() == counts[row][found.columns].tolist()
        assert found.documents.tolist() == (counts > 0).sum(axis=0)[found.columns].tolist()
        assert found.weights == pytest.approx(weights[row][found.columns])
        assert (np.diff(np.abs(found.weights)) <= 0).all()


def test_the_parts_of_a_membership_add_up_to_the_lead(demo_results: Results) -> None:
    space, grouping = demo_results[SPACE], demo_results[GROUPING]
    row = int(np.flatnonzero(grouping.group == 1)[0])
    why = membership(space, grouping, row, 1, 4)
    assert why.lead == pytest.approx(float(why.values.sum()), abs=1e-6)
    assert why.lead == pytest.approx(why.closeness - why.other_closeness)
    assert why.lead > 0
    assert membership(space, grouping, row, 4, 1).lead == pytest.approx(-why.lead)


def test_tokens_that_a_rule_of_ones_own_takes_in_one_stretch_are_one_hit() -> None:
    corpus = corpus_of("big red slugs ate", "slugs and red frost")
    tokens = clean(
        corpus, CleanSettings(language="en", stop_words=(), own_rules=("never: red", "never: slugs")), Path("/")
    )
    hits = rule_hits(corpus, tokens, Reason.NEVER)
    assert [(hit.row, hit.taken) for hit in hits] == [(0, "red slugs"), (1, "slugs"), (1, "red")]
