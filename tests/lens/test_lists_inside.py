# SPDX-License-Identifier: GPL-3.0-or-later
"""A recipe with its lists inside means the same where their files are not."""

from __future__ import annotations

import shutil
from pathlib import Path

import numpy as np
import pytest

from conftest import Silent
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import SourceError
from jagged_lens.lens import (
    SPACE,
    TERMS,
    Job,
    Recent,
    Recipe,
    Results,
    compute,
    read_recipe,
    recipe_text,
    sentences_of,
    shown_settings_of,
    with_lists_inside,
    with_needs,
)
from jagged_lens.sentences import said

PARTS = with_needs([SPACE, TERMS])


def results(recipe: Recipe, folder: Path) -> Results:
    return compute(Job(recipe, folder), Recent(), Silent(), lambda: PARTS)


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    shutil.copy(demo_recipe().parent / "notes.csv", tmp_path)
    (tmp_path / "rules.words").write_text("snail = slug   # pests\r\n# nothing\nnever: plot\n")
    (tmp_path / "stop.txt").write_text("beds\nrow")
    (tmp_path / "only.csv").write_text("term,kept\nfrost,yes\nslug,yes\nrain,no\nmildew,yes\n")
    return tmp_path


def own(recipe: Recipe) -> Recipe:
    recipe = recipe.with_settings("clean", {"stop-words": ["en", "stop.txt"], "word-lists": ["rules.words"]})
    return recipe.with_setting("terms", "only-list", "only.csv")


def test_it_means_the_same_without_the_files(folder: Path) -> None:
    recipe = own(read_recipe(demo_recipe()))
    before = results(recipe, folder)
    whole = with_lists_inside(recipe, folder)
    for name in ("rules.words", "stop.txt", "only.csv"):
        (folder / name).unlink()
    (folder / "r.toml").write_text(recipe_text(whole), "utf-8")
    read = read_recipe(folder / "r.toml")
    assert read == whole
    after = results(read, folder)
    assert list(after[TERMS].terms) == list(before[TERMS].terms)
    assert np.array_equal(after[SPACE].weights.toarray(), before[SPACE].weights.toarray())
    assert with_lists_inside(read, folder) == read  # nothing is left to do
    with pytest.raises(SourceError, match=r"rules\.words|stop\.txt|cannot be read"):
        with_lists_inside(recipe, folder)


def test_a_list_inside_is_said_by_its_length_and_errors_name_its_line(folder: Path) -> None:
    whole = with_lists_inside(own(read_recipe(demo_recipe())), folder)
    lines = said(sentences_of("clean"), whole.clean, shown_settings_of("clean"))
    assert any("inside the recipe (2)" in line for line in lines)
    assert not any("\n" in line for line in lines)
    wrong = whole.with_setting("clean", "word-lists", ["never: slug\nslug\n"])
    with pytest.raises(SourceError, match="line 2"):
        listener_raises(wrong, folder)


def listener_raises(recipe: Recipe, folder: Path) -> None:
    """The first error of a computation, raised."""
    found = Silent()
    compute(Job(recipe, folder), Recent(), found, lambda: PARTS)


def test_the_demo_s_own_rules_are_carried(tmp_path: Path) -> None:
    path = next(demo_recipe().parent.glob("*rules.toml"))
    recipe = read_recipe(path)
    assert recipe.clean.word_lists
    whole = with_lists_inside(recipe, path.parent)
    shutil.copy(path.parent / "notes.csv", tmp_path)
    assert list(results(whole, tmp_path)[TERMS].terms) == list(results(recipe, path.parent)[TERMS].terms)
