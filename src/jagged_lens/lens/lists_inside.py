# SPDX-License-Identifier: GPL-3.0-or-later
"""A recipe that carries its lists inside: it means the same where their files are not."""

from __future__ import annotations

from pathlib import Path

from jagged_lens.clean import read_list, ships
from jagged_lens.gather import decoded
from jagged_lens.lens.recipe import Recipe
from jagged_lens.line_lists import is_inside, text_of
from jagged_lens.named_file import path_of, small_file
from jagged_lens.terms import read_terms


def with_lists_inside(recipe: Recipe, folder: Path) -> Recipe:
    """The recipe with the content of each list of the user's own in place of the name of its file. folder: which they are relative to.

    SourceError or OSError where a list cannot be read.
    """
    stop_words = [
        name if ships(name) or is_inside(name) else text_of(read_list(name, folder)) for name in recipe.clean.stop_words
    ]
    rules = [name if is_inside(name) else _text(name, folder) for name in recipe.clean.word_lists]
    changed = recipe.with_settings("clean", {"stop-words": stop_words, "word-lists": rules})
    only = recipe.terms.only_list
    if only and not is_inside(only):
        changed = changed.with_setting("terms", "only-list", text_of(read_terms(only, folder)))
    return changed


def _text(name: str, folder: Path) -> str:
    """The text of a list of rules, which has a line break at least at its end."""
    text = decoded(small_file(path_of(name, folder)))[0].replace("\r\n", "\n").replace("\r", "\n")
    return text if text.endswith("\n") else f"{text}\n"
