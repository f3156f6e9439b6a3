# SPDX-License-Identifier: GPL-3.0-or-later

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import corpus_of
from jagged_lens.errors import RecipeError
from jagged_lens.gather import Corpus, GatherSettings, rows_to_keep
from jagged_lens.gather.units import units_of, wholes_of

TEXT = 'One. "Two!" Three…\n\nFour\nfive'


@pytest.mark.parametrize(
    ("unit", "texts"),
    [
        ("document", [TEXT, ""]),
        ("paragraph", ['One. "Two!" Three…', "Four\nfive", ""]),
        ("line", ['One. "Two!" Three…', "Four", "five", ""]),
        ("sentence", ["One.", '"Two!"', "Three…", "Four\nfive", ""]),
    ],
)
def test_units_are_what_they_are_called(unit: str, texts: list[str]) -> None:
    corpus = units_of(corpus_of(TEXT, "", labels={"crop": ["bean", "pea"]}), unit)
    assert list(corpus.texts) == texts
    assert corpus.labels[0].value(len(texts) - 1) == "pea"
    if unit != "document":
        assert corpus.keys[0] == "d1#1"
        assert corpus.parents is not None
        assert corpus.parents[0] == "d1"


@given(
    st.lists(st.text(st.sampled_from('ab .!?\n"”'), max_size=40), min_size=1, max_size=4),
    st.sampled_from(["paragraph", "line", "sentence"]),
)
def test_a_unit_stands_where_it_says_and_nothing_but_white_space_is_lost(texts: list[str], unit: str) -> None:
    corpus = units_of(corpus_of(*texts), unit)
    assert corpus.parents is not None
    wholes = {f"d{number}": text for number, text in enumerate(texts, 1)}
    again = wholes_of(corpus)
    assert list(again.keys) == list(wholes)
    assert [text.rstrip() for text in again.texts] == [text.rstrip() for text in texts]
    twice = units_of(again, unit)
    assert (list(twice.keys), list(twice.titles)) == (list(corpus.keys), list(corpus.titles))
    for key, whole in wholes.items():
        parts = [text for text, parent in zip(corpus.texts, corpus.parents, strict=True) if parent == key]
        assert "".join("".join(parts).split()) == "".join(whole.split())


def corpus() -> Corpus:
    labels = {"crop": ["bean", "pea", "bean", "leek", "bean", "pea"], "year": ["1", "1", "2", "2", "3", "3"]}
    made = corpus_of("slugs a", "frost b", "slugs frost", "drought", "late slugs c", "nothing", labels=labels)
    return dataclasses.replace(made, dates=np.array([0, 10, 20, 30, 40, np.iinfo(np.int32).min], np.int32))


def rows(**settings: object) -> list[int]:
    found = corpus()
    words = np.array([len(text.split()) for text in found.texts])
    return rows_to_keep(found, words, GatherSettings(**settings)).tolist()  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("settings", "kept"),
    [
        ({}, [0, 1, 2, 3, 4, 5]),
        ({"only": ("crop = bean",)}, [0, 2, 4]),
        ({"only": ("crop=bean", "crop=pea", "year=3")}, [4, 5]),
        ({"holding": "slugs"}, [0, 2, 4]),
        ({"since": "1970-01-11", "until": "1970-01-31"}, [1, 2, 3]),
        ({"least_words": 2}, [0, 1, 2, 4]),
        ({"most_words": 1}, [3, 5]),
        ({"only": ("crop = turnip",)}, []),
    ],
)
def test_filters_leave_out_what_does_not_pass(settings: dict[str, object], kept: list[int]) -> None:
    assert rows(**settings) == kept


def test_what_is_set_aside_and_own_labels_count() -> None:
    found = corpus()
    words = np.ones(6, np.int64)
    own = (("mine", (("d1", "yes"), ("d4", "yes"))),)
    settings = GatherSettings(only=("mine = yes",))
    assert rows_to_keep(found, words, settings, frozenset({"d1"}), own).tolist() == [3]


@pytest.mark.parametrize(
    ("settings", "words"),
    [
        ({"only": ("soil = clay",)}, "Labels: crop, year"),
        ({"only": ("bean",)}, 'Write it as "crop = bean"'),
        ({"since": "soon"}, "not a date"),
        ({"sample": 2, "sample_of": "soil"}, 'no label "soil"'),
    ],
)
def test_filters_that_cannot_be_are_said(settings: dict[str, object], words: str) -> None:
    with pytest.raises(RecipeError, match=words):
        rows(**settings)


def test_a_sample_is_the_same_for_the_same_seed_and_grows_with_its_size() -> None:
    assert rows(sample=3) == rows(sample=3)
    assert len(rows(sample=3)) == 3
    assert set(rows(sample=2)) < set(rows(sample=4))
    assert len(rows(sample=99)) == 6
    assert any(rows(sample=3, seed=seed) != rows(sample=3) for seed in range(2, 8))


def test_a_sample_of_each_value_takes_so_many_of_each() -> None:
    found = corpus()
    taken = rows(sample=1, sample_of="crop")
    assert sorted(found.labels[0].value(row) for row in taken) == ["bean", "leek", "pea"]
    assert len(rows(sample=2, sample_of="crop")) == 5


def test_every_document_is_as_likely_in_a_sample() -> None:
    times = np.zeros(6)
    for seed in range(600):
        times[rows(sample=2, seed=seed)] += 1
    assert np.all(abs(times - 200) < 60)  # five standard deviations of a binomial share
