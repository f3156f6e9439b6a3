# SPDX-License-Identifier: GPL-3.0-or-later

import dataclasses
import tomllib
from pathlib import Path

import pytest

from jagged_lens.errors import RecipeError
from jagged_lens.lens import STEPS, Recipe, read_recipe, recipe_of, recipe_text, settings_of

PAGE = """
[gather]
from = "notes.csv"
key = ""
text = ["note"]
title = "title"
labels = ["crop", "year"]
unit = "document"
sample = 0
[clean]
take-out = ["markup", "web-addresses", "mail-addresses"]
case = "lower"
accents = "keep"
tokens = "words"
pattern = ""
hyphens = "split"
shortest = 2
longest = 40
numbers = "drop"
stop-words = ["detect"]
negations = "keep"
keep-signs = []
word-form = "stem"
language = "detect"
[terms]
words = [1, 2]
bridge = false
least-documents = 0
least-times = 1
most-share = 0.6
most-terms = 0
[weigh]
local = "log"
global = "plain"
length = "L2"
log-base = "e"
themes = 0
[compare]
measure = "cosine"
pairs-from = 0.8
neighbours = 12
[group]
by = "k-means"
groups = 0
starts = 5
linkage = "average"
seed = 1
[map]
by = "t-sne"
pull = 1.0
near = 15
seed = 1
"""


def test_the_recipe_of_the_page_is_taken_as_it_stands_and_holds_the_defaults() -> None:
    recipe = recipe_of(tomllib.loads(PAGE))
    plain = dataclasses.replace(recipe, gather=Recipe().gather)
    assert plain == Recipe()


def test_a_language_is_named_by_its_name_or_its_code() -> None:
    for name in ("German", "german", "de"):
        assert recipe_of({"clean": {"language": name}}).clean.language == "de"


def test_a_recipe_written_reads_back_the_same() -> None:
    recipe = recipe_of(
        {
            "gather": {"from": "a b.csv"},
            "clean": {"stop-words": ["en", "x.txt"]},
            "terms": {"words": [2, 3], "least-documents": 0.02},
        }
    )
    assert recipe_of(tomllib.loads(recipe_text(recipe))) == recipe


@pytest.mark.parametrize(
    ("sections", "words"),
    [
        ({"cleen": {}}, ["no section [cleen]", 'nearest is "clean"']),
        ({"clean": {"stopwords": []}}, ["[clean] stopwords", 'nearest is "stop-words"']),
        (
            {"clean": {"tokens": "word"}},
            ["[clean] tokens", '"word" is not allowed', '"words", "letters"', 'mean "words"'],
        ),
        ({"clean": {"take-out": ["markup", "symbol"]}}, ["[clean] take-out", 'mean "symbols"']),
        ({"clean": {"tokens": "pattern"}}, ["[clean]", "needs a pattern"]),
        ({"clean": {"tokens": "pattern", "pattern": "["}}, ["[clean]", "not a regular expression"]),
        ({"clean": {"replace": ["/a*/ = b"]}}, ["[clean]", "matches the empty string"]),
        ({"clean": {"replace": ["nothing"]}}, ["[clean]", "not a rule"]),
        ({"clean": {"language": "elvish"}}, ["language", '"detect"', '"de"']),
        ({"clean": {"shortest": 9, "longest": 3}}, ["[clean]", "shortest (9) must not be greater"]),
        ({"clean": {"shortest": "two"}}, ["[clean] shortest", '"two" is not allowed', "a whole number from 1"]),
        ({"clean": {"shortest": True}}, ["[clean] shortest", "true is not allowed"]),
        ({"terms": {"words": [1]}}, ["[terms] words", "two whole numbers"]),
        ({"terms": {"most-share": 0}}, ["[terms] most-share", "0 is not allowed"]),
        ({"terms": {"least-documents": float("nan")}}, ["[terms] least-documents"]),
        ({"gather": {"sample": -5}}, ["[gather] sample", "-5 is not allowed"]),
        ({"gather": {"unit": "sentences"}}, ["[gather] unit", 'mean "sentence"']),
        ({"gather": {"from": 3}}, ["[gather] from", "3 is not allowed", "{file ="]),
        ({"gather": {"from": {"database": "x.db"}}}, ["[gather] from", "needs a table or a query"]),
        ({"gather": {"from": {"file": "x.csv", "links": "y.csv"}}}, ["[gather] from", "exactly one of"]),
        ({"gather": {"from": ["a.csv", {"fyle": "b"}]}}, ["source 2 fyle", 'nearest is "file"']),
        ({"gather": {"from": {"file": "x", "cut": "at", "cut-at": "/(/"}}}, ["not a regular expression"]),
        (
            {"gather": {"from": {"database": "postgresql://a:secret@h/d", "table": "t"}}},
            ["a recipe must not contain a password", "PGPASSWORD"],
        ),
        ({"group": {"by": "branches"}}, ["[group] by", '"branches" is not allowed']),
        ({"group": {"linkage": "middle"}}, ["[group] linkage", '"middle" is not allowed']),
        ({"map": {"pull": 0}}, ["[map] pull", "0 is not allowed", "from 0.1 to 100"]),
        ({"weigh": {"themes": 20}, "compare": {"measure": "hellinger"}}, ["[compare]", "hellinger", "themes"]),
        ({"compare": {"pairs-from": 1.5}}, ["[compare] pairs-from", "1.5 is not allowed"]),
        ({"weigh": 3}, ["[weigh] must be a section"]),
    ],
)
def test_what_is_wrong_is_named_with_what_is_allowed(sections: dict, words: list[str]) -> None:
    with pytest.raises(RecipeError) as caught:
        recipe_of(sections)
    for word in words:
        assert word in str(caught.value)


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"[clean\n", "not valid TOML"),
        (b"\xff\xfe\x00", "not UTF-8"),
        (b"[map]\nby = 'pcs'\n", 'mean "pca"'),
        (None, "cannot be read"),
    ],
)
def test_a_file_that_is_no_recipe_is_said(tmp_path: Path, content: bytes | None, words: str) -> None:
    path = tmp_path / "mine.toml"
    if content is not None:
        path.write_bytes(content)
    with pytest.raises(RecipeError) as caught:
        read_recipe(path)
    assert words in str(caught.value)
    assert "mine.toml" in str(caught.value)


def test_every_setting_is_declared_with_words() -> None:
    for step in STEPS:
        for key, setting in settings_of(step).items():
            assert setting.label, key
            assert setting.help.endswith("."), key
            assert setting.allowed, key
