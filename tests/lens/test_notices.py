# SPDX-License-Identifier: GPL-3.0-or-later
"""A step that leaves nothing names the setting that did it, and another value with which it would leave something."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from jagged_lens.errors import SourceError
from jagged_lens.lens import PAIRS, TERMS, TOKENS, Results, noticed, recipe_of

TEXTS = ["late frost took the beans", "late frost took the peas", "slugs and the late rain", "the rain took slugs"]


@pytest.mark.parametrize(
    ("sections", "step", "key"),
    [
        ({"terms": {"least-documents": 9}}, "terms", "least-documents"),
        ({"terms": {"least-documents": 1, "most-share": 0.1}}, "terms", "most-share"),
        ({"terms": {"least-documents": 1, "words": [8, 8]}}, "terms", "words"),
        ({"clean": {"shortest": 30}}, "clean", "shortest"),
    ],
)
def test_the_setting_that_leaves_nothing_is_named_and_its_remedy_helps(
    chain: Callable[..., Results], sections: dict[str, dict[str, Any]], step: str, key: str
) -> None:
    english = {"clean": {"language": "en", **sections.get("clean", {})}}
    whole = {**sections, **english}
    results = chain(TEXTS, **whole)
    assert not len(results[TERMS].kept)
    found = [one for one in noticed(recipe_of(whole), results) if one.serious]
    assert [(one.step, one.key) for one in found] == [(step, key)]
    mended = {**whole, step: {**whole.get(step, {}), key: found[0].value}}
    again = chain(TEXTS, **mended)
    assert again[TOKENS].account[-1].left
    assert step != "terms" or len(again[TERMS].kept)


def test_what_is_not_known_or_finds_nothing_is_said(chain: Callable[..., Results]) -> None:
    sections = {"clean": {"own-rules": ["join: late frost", "never: dahlias"]}}
    results = chain(["qwx zzt", "qwx rrk"], **sections)
    words = [one.words for one in noticed(recipe_of(sections), results)]
    assert any("The language is unknown" in one for one in words)
    assert any("Rules without a match: “join: late frost”, “never: dahlias”." in one for one in words)
    chinese = chain(["蛞蝓吃了豆子。我们又种了一次。", "霜来得很晚。豆子没有了。"])
    assert [one.value for one in noticed(recipe_of({}), chinese) if one.key == "tokens"] == ["characters"]


@pytest.mark.parametrize("language", ["each", "detect"])
def test_documents_without_spaces_among_others_are_said(chain: Callable[..., Results], language: str) -> None:
    sections = {"clean": {"language": language}, "terms": {"least-documents": 1, "most-share": 1.0}}
    results = chain(
        [
            *["The frost of the night was late and it took all of the beans that we had."] * 3,
            "蛞蝓吃了豆子。我们又种了一次。",
        ],
        **sections,
    )
    words = [one.words for one in noticed(recipe_of(sections), results) if one.step == "clean"]
    assert words == [
        "1 document is in Chinese, which has no spaces between words: each run of characters is read as one word."
    ]


def test_no_pair_is_listed_and_the_most_alike_is_told(chain: Callable[..., Results]) -> None:
    sections = {"clean": {"language": "en"}, "terms": {"least-documents": 1}, "compare": {"pairs-from": 0.99}}
    found = [one for one in noticed(recipe_of(sections), chain(TEXTS, **sections)) if one.step == "compare"]
    assert [one.key for one in found] == ["pairs-from"]
    mended = {**sections, "compare": {"pairs-from": found[0].value}}
    assert len(chain(TEXTS, **mended)["pairs"])


def test_the_filter_that_leaves_no_document_is_named(chain: Callable[..., Results], tmp_path: Path) -> None:
    with pytest.raises(SourceError, match=r"The filter most-words \(1\) leaves none"):
        chain(TEXTS, gather={"from": str(tmp_path), "most-words": 1})


def test_a_tree_that_cannot_be_cut_into_so_many_groups_says_why(chain: Callable[..., Results]) -> None:
    sections = {
        "clean": {"language": "en"},
        "terms": {"least-documents": 1, "most-share": 1.0, "words": [1, 1]},
        "group": {"by": "tree", "linkage": "complete", "groups": 3},
    }
    texts = [
        "frost beans",
        "frost beans beans",
        "slugs peas",
        "slugs peas peas",
        "wind leek",
        "wind leek leek",
        "mice corn",
        "mice corn corn",
    ]
    results = chain(texts, **sections)
    assert len(results["grouping"]) == 1
    (found,) = [one for one in noticed(recipe_of(sections), results) if one.step == "group"]
    assert found.words == (
        "The tree has 3 joins at exactly 1, so it cannot be cut into 3 groups. It is cut into 1; the next possible "
        "number is 4. Another linkage separates them."
    )
    mended = {**sections, "group": {**sections["group"], "groups": 4}}
    assert not [one for one in noticed(recipe_of(mended), chain(texts, **mended)) if one.step == "group"]


def test_a_family_that_is_one_by_its_boilerplate_is_said_with_what_would_take_it_out(
    chain: Callable[..., Results],
) -> None:
    footer = "Please bring the paper envelope back to the counter of the seed shelf before the end of the season."
    words = [f"w{number}" for number in range(400)]
    texts = [f"{' '.join(words[12 * at : 12 * at + 12])}. {footer}" for at in range(30)]
    sections = {"clean": {"language": "en"}, "terms": {"least-documents": 1, "most-share": 1.0}}
    found = [one for one in noticed(recipe_of(sections), chain(texts, **sections)) if one.setting_of == "clean"]
    assert len(found) == 1
    assert footer[:40] in found[0].words
    assert found[0].words.startswith("One family of 30 documents accounts for")
    assert found[0].step == "compare"
    mended = {**sections, "clean": {**sections["clean"], found[0].key: found[0].value}}
    mended["compare"] = {"copies-below": False}
    assert not len(chain(texts, **mended)[PAIRS])
    assert not [one for one in noticed(recipe_of(mended), chain(texts, **mended)) if one.setting_of == "clean"]
