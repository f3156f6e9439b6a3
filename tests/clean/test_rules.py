# SPDX-License-Identifier: GPL-3.0-or-later
"""The rules of Clean: each countable, each with its place in the order of the work, none losing account."""

from __future__ import annotations

import re
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, Reason, Tokens, clean, spelling_variants
from jagged_lens.clean.own_rules import own_rules
from jagged_lens.clean.replace import replaced, replacement_of
from jagged_lens.clean.variants import near
from jagged_lens.clean.word_forms import lemmas
from jagged_lens.errors import RecipeError, SourceError

HERE = Path(__file__).parent
PLAIN: dict[str, Any] = {"stop_words": (), "word_form": "written", "shortest": 1, "take_out": ()}


def tokens_of(*texts: str, labels: dict[str, list[str]] | None = None, **rules: Any) -> Tokens:
    return clean(corpus_of(*texts, labels=labels), CleanSettings(**{"language": "en", **PLAIN, **rules}), HERE)


def kept(tokens: Tokens) -> list[str]:
    return [tokens.words[int(tokens.word[form])] for form in tokens.form[tokens.kept]]


def taken(tokens: Tokens) -> dict[str, int]:
    return {loss.rule.name: loss.taken for loss in tokens.account if loss.taken}


def test_symbols_are_counted_and_taken_out() -> None:
    tokens = tokens_of("slugs €€ 5 + frost", take_out=("symbols",), tokens="pattern", pattern=r"\S+")
    assert kept(tokens) == ["slugs", "frost"]
    assert taken(tokens) == {"SYMBOL": 2, "NUMBER": 1}
    assert dict(tokens.hits) == {"symbol": 2}


FOOTERS = [
    "Slugs here.\nOtter Bank Growers' Shelf",
    "Frost.\notter bank  growers' shelf",
    "Rain.\nOtter Bank Growers' Shelf",
    "Hail.\nOwn line",
]


def test_lines_that_recur_are_found_and_taken_out() -> None:
    tokens = tokens_of(*FOOTERS, take_out=("recurring-lines",), recurring_from=3.0)
    assert kept(tokens) == ["slugs", "here", "frost", "rain", "hail", "own", "line"]
    assert taken(tokens) == {"RECURRING_LINE": 12}
    assert tokens.recurring == (("otter bank growers' shelf", 3),)
    assert not tokens_of(*FOOTERS, take_out=("recurring-lines",), recurring_from=4.0).recurring
    assert tokens_of(*FOOTERS, take_out=("recurring-lines",), recurring_from=0.5).recurring


def test_lines_recur_within_a_label() -> None:
    texts = [*FOOTERS[:3], *["Other.\nDistrict line"] * 3, *["x.\nRare line"] * 2]
    labels = {"district": ["a", "a", "a", "b", "b", "b", "a", "b"]}
    rules: dict[str, Any] = {"take_out": ("recurring-lines",), "recurring_from": 3.0}
    found = tokens_of(*texts, labels=labels, recurring_within="district", **rules).recurring
    assert {line for line, _ in found} == {"otter bank growers' shelf", "district line", "other."}
    with pytest.raises(RecipeError, match="or a label: district"):
        tokens_of(*texts, labels=labels, recurring_within="soil", **rules)


def test_own_patterns_are_replaced_and_taken_out_with_spans_in_the_text_as_gathered() -> None:
    text = "On plot 17 the cv. Tall Widow stood; plot 9 not."
    tokens = tokens_of(text, replace=(r"/plot \d+/ = parcel", "Tall Widow ="))
    assert kept(tokens) == ["on", "parcel", "the", "cv", "stood", "parcel", "not"]
    assert taken(tokens) == {"PATTERN": 2}
    assert tokens.hits == (("pattern", 1), (r"replace /plot \d+/ = parcel", 2))
    spans = zip(tokens.start.tolist(), tokens.length.tolist(), strict=True)
    shown = [text[start : start + length] for start, length in spans]
    assert shown == ["On", "plot 17", "the", "cv", "Tall", "Widow", "stood", "plot 9", "not"]


@given(
    st.lists(st.text(st.sampled_from("ab xy\n"), max_size=30), max_size=3),
    st.lists(st.sampled_from(["/a+/ = long word", "b = x", "/[xy]{2}/ = a", "/ +/ = _"]), max_size=3),
)
def test_replacing_equals_the_regular_expressions_and_remembers_the_places(texts: list[str], rules: list[str]) -> None:
    made = [replacement_of(rule) for rule in rules]
    found = replaced(texts, made)
    for row, text in enumerate(texts):
        new = text
        for rule in made:
            new = rule.pattern.sub(lambda _, words=rule.words: words, new)  # type: ignore[misc]
        assert found.texts[row] == new
        if len(new):
            starts = np.arange(len(new))
            olds, ends = found.spans(row, starts, starts + 1)
            assert (np.diff(olds) >= 0).all()
            assert (ends > olds).all()
            assert ends.max() <= len(text)
            for at, (start, end) in enumerate(zip(olds.tolist(), ends.tolist(), strict=True)):
                assert end - start > 1 or text[start] == new[at] or any(rule.pattern.search(text) for rule in made)


@pytest.mark.parametrize(
    ("lines", "words"),
    [
        (["slugs, snails = slug"], ["slug", "slug", "late", "frost", "leaf", "eaters", "leaves"]),
        (["join: late frost"], ["slugs", "snails", "late_frost", "leaf", "eaters", "leaves"]),
        (["leaf eaters = slugs"], ["slugs", "snails", "late", "frost", "slugs", "leaves"]),
        (["never: late frost", "never: snails"], ["slugs", "leaf", "eaters", "leaves"]),
        (["join: late frost leaf", "join: frost leaf"], ["slugs", "snails", "late_frost_leaf", "eaters", "leaves"]),
        (["slugs = leaf eaters"], ["leaf_eaters", "snails", "late", "frost", "leaf", "eaters", "leaves"]),
        (["join: eaters leaves"], ["slugs", "snails", "late", "frost", "leaf", "eaters", "leaves"]),
    ],
)
def test_own_rules(lines: list[str], words: list[str]) -> None:
    text = "Slugs snails LATE frost leaf eaters. Leaves"  # a sentence ends before the last word
    tokens = tokens_of(text, own_rules=tuple(lines))
    assert kept(tokens) == words
    assert tokens.account[0].left - sum(loss.taken for loss in tokens.account) == len(words)


def test_a_stem_that_merges_too_much_is_undone_for_one_word() -> None:
    text = "general generally generals leaves leaf"
    assert kept(tokens_of(text, word_form="stem"))[:3] == ["general", "general", "general"]
    tokens = tokens_of(text, word_form="stem", own_rules=("as written: generally",))
    assert kept(tokens)[:3] == ["general", "generally", "general"]


def test_a_synonym_holds_for_every_form_of_its_word() -> None:
    tokens = tokens_of("snail snails slug slugs", word_form="stem", own_rules=("snails = slug",))
    assert kept(tokens) == ["slug"] * 4


def test_a_phrase_is_one_word_for_n_grams_and_is_marked_whole(chain: Any) -> None:
    rules = {
        "clean": {"own-rules": ["join: late frost"], "stop-words": []},
        "terms": {"least-documents": 1, "most-share": 1.0},
    }
    results = chain(["a late frost came"], **rules)
    assert "late_frost came" in list(results["terms"].terms)
    tokens = results["tokens"]
    at = list(tokens.spellings).index("late_frost")
    place = int(np.flatnonzero(tokens.folded[tokens.form] == at)[0])
    assert (tokens.start[place], tokens.length[place]) == (2, len("late frost"))


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ("slugs = slug\nnothing here\n", ["list.words, line 2", "is not a rule"]),
        ("# fine\n\njoin: alone", ["line 3", "is a single word"]),
        ("a = b\na = c", ["line 2", 'both "b" and "c"']),
        ("never:", ["line 1", "a word is missing"]),
        ("= slug", ["a word is missing"]),
    ],
)
def test_a_wrong_line_of_a_list_is_named(tmp_path: Path, content: str, words: list[str]) -> None:
    (tmp_path / "list.words").write_text(content)
    with pytest.raises(SourceError) as caught:
        own_rules((), ("list.words",), tmp_path)
    for word in words:
        assert word in str(caught.value)
    with pytest.raises(SourceError, match="cannot be read"):
        own_rules((), ("gone.words",), tmp_path)


def test_a_list_and_own_rules_add_up(tmp_path: Path) -> None:
    (tmp_path / "a.words").write_text("slugs = slug # pests\nJOIN: seed-room  key\nas   written: Leaves\n")
    found = own_rules(("never: x",), ("a.words",), tmp_path)
    assert found.same == {("slugs",): ("slug",)}
    assert found.join == [("seed-room", "key")]
    assert found.written == ["Leaves"]
    assert found.never == [("x",)]


def test_tokens_by_a_pattern_do_not_cross_what_is_taken_out() -> None:
    tokens = tokens_of(
        "ab-12 <b>cd-34</b>5 ef", tokens="pattern", pattern=r"[a-z]+-\d+|\w+", take_out=("markup",), numbers="keep"
    )
    assert kept(tokens) == ["ab-12", "cd-34", "5", "ef"]
    assert taken(tokens)["MARKUP"] == 2


def test_runs_of_characters_equal_a_plain_count(chain: Any) -> None:
    texts = ["slug slugs", "Lug", ""]
    results = chain(
        texts,
        clean={"tokens": "characters", "stop-words": [], "word-form": "written"},
        terms={"words": [2, 3], "least-documents": 1, "most-share": 1.0},
    )
    terms = results["terms"]
    for row, text in enumerate(texts):
        expected: Counter[str] = Counter()
        for word in text.lower().split():
            padded = f" {word} "
            for length in (2, 3):
                expected.update(padded[at : at + length] for at in range(len(padded) - length + 1))
        counts = terms.counts[[row]].toarray()[0]
        assert {terms.terms[at]: int(counts[at]) for at in np.flatnonzero(counts)} == dict(expected)
    assert "␣sl" in list(terms.shown)
    order = [(-int(t), s) for t, s in zip(terms.vocabulary.times, terms.vocabulary.terms, strict=True)]
    assert order == sorted(order)


@pytest.mark.parametrize(
    ("language", "form", "word", "expected"),
    [
        ("en", "lemma", "mice", "mouse"),
        ("de", "lemma", "gärten", "Garten"),
        ("de", "stem", "gärten", "gart"),
        ("no", "lemma", "hagene", "hage"),
    ],
)
def test_word_forms_in_other_languages(language: str, form: str, word: str, expected: str) -> None:
    assert kept(tokens_of(word, word_form=form, language=language)) == [expected]


def test_wide_lists_and_lists_of_other_languages() -> None:
    assert kept(tokens_of("actually slugs", stop_words=("en-wide",))) == ["slugs"]
    assert kept(tokens_of("die Schnecken und der Frost", stop_words=("de",))) == ["schnecken", "frost"]


def test_spelling_variants_are_suggested() -> None:
    words = ["lettuce", "letuce", "lettcue", "mildew", "mildow", "slugs", "slug", "seedling", "seedlings", "pea", "pee"]
    times = np.array([90, 3, 2, 50, 4, 80, 8, 60, 9, 70, 1])
    found = {(words[rare], words[common]) for rare, common in spelling_variants(words, times)}
    assert found == {("letuce", "lettuce"), ("lettcue", "lettuce"), ("mildow", "mildew")}


@given(st.text("abc", min_size=1, max_size=6), st.text("abc", min_size=1, max_size=6))
def test_near_is_one_edit(one: str, other: str) -> None:
    edits = {one[:at] + one[at + 1 :] for at in range(len(one))}
    edits |= {one[:at] + c + one[at:] for at in range(len(one) + 1) for c in "abc"}
    edits |= {one[:at] + c + one[at + 1 :] for at in range(len(one)) for c in "abc"}
    edits |= {one[:at] + one[at + 1] + one[at] + one[at + 2 :] for at in range(len(one) - 1)}
    if one != other:
        assert near(one, other) == (other in edits)


WORDS = st.sampled_from(
    [
        "slugs",
        "late frost",
        "<b>",
        "a@b.de",
        "http://x.y",
        "€",
        "7",
        "été",
        "l'eau",
        "x-y",
        "日本",
        "\n",
        "\n\n",
        ". ",
        " ",
        "plot 3",
    ]
)


@settings(max_examples=150, deadline=None)
@given(
    st.lists(st.lists(WORDS, max_size=12).map(" ".join), max_size=5),
    st.fixed_dictionaries(
        {
            "take_out": st.sets(
                st.sampled_from(["markup", "web-addresses", "mail-addresses", "symbols", "recurring-lines"])
            ).map(tuple),
            "recurring_from": st.sampled_from([0.1, 0.9, 2.0]),
            "replace": st.sets(
                st.sampled_from([r"/plot \d/ = plot", "slugs =", "late = early late", "/[a-z]@/ = "])
            ).map(tuple),
            "case": st.sampled_from(["lower", "keep"]),
            "accents": st.sampled_from(["keep", "strip"]),
            "tokens": st.sampled_from(["words", "letters", "characters", "pattern"]),
            "pattern": st.sampled_from([r"\w+", r"\S+", r"[a-z]", r"."]),
            "hyphens": st.sampled_from(["split", "join"]),
            "shortest": st.integers(1, 3),
            "longest": st.integers(3, 9),
            "numbers": st.sampled_from(["drop", "keep"]),
            "stop_words": st.sets(st.sampled_from(["en", "fr", "en-wide"])).map(tuple),
            "own_rules": st.sets(
                st.sampled_from(
                    ["join: late frost", "slugs = frost", "never: plot", "never: late frost", "frost = plot"]
                )
            ).map(tuple),
            "word_form": st.sampled_from(["written", "stem", "lemma"]),
        }
    ),
)
def test_no_combination_of_settings_loses_account(texts: list[str], rules: dict[str, Any]) -> None:
    tokens = clean(corpus_of(*texts), CleanSettings(**rules), HERE)
    total = len(tokens.form)
    by_reason = np.bincount(tokens.reason, minlength=len(Reason))
    assert tokens.account[0].left == total
    assert total == int(by_reason[Reason.KEPT]) + sum(loss.taken for loss in tokens.account)
    assert all(loss.taken == by_reason[loss.rule] for loss in tokens.account if loss.taken)
    assert tokens.account[-1].left == int(tokens.kept.sum())
    assert (tokens.word[tokens.form[tokens.kept]] >= 0).all()
    assert len(tokens.folded) == len(tokens.written) == len(tokens.word)
    for row, text in enumerate(texts):
        span = slice(int(tokens.row_starts[row]), int(tokens.row_starts[row + 1]))
        starts, ends = tokens.start[span], tokens.start[span] + tokens.length[span]
        assert ((starts >= 0) & (ends <= len(text)) & (ends > starts)).all() if len(starts) else True
        assert (np.diff(starts) >= 0).all()
    assert re.compile(rules["pattern"])


def test_abbreviations_have_no_other_lemma() -> None:
    english = ["cf", "js", "dr", "mr", "mrs", "km", "tv", "etc", "us", "was", "ate", "men"]
    assert lemmas(english, "en") == ["cf", "js", "dr", "mr", "mrs", "km", "tv", "etc", "we", "be", "eat", "man"]
    assert lemmas(["dr", "st", "Gärten", "ist"], "de") == ["dr", "st", "Garten", "sein"]
