# SPDX-License-Identifier: GPL-3.0-or-later
"""Texts without spaces between words, read as what can be told apart in them."""

from __future__ import annotations

from jagged_lens.project.verbs import Verbs


def read_as_runs(bench: Verbs) -> None:
    """Terms are runs of two characters from now on, in one step that undo takes back: one alone is mostly a function word, or tells
    little."""
    recipe = bench.recipe.with_setting("clean", "tokens", "characters").with_setting("terms", "words", [2, 2])
    bench.change(bench.state.with_recipe(recipe), "runs of characters")
