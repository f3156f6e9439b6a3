# SPDX-License-Identifier: GPL-3.0-or-later
"""The lens: a recipe, the graph of its parts, and the chain that computes them, with its memory of results."""

from jagged_lens.lens.chain import Listener, Memory, Recent, compute, keys_of, with_needs
from jagged_lens.lens.given import given_for
from jagged_lens.lens.job import Job
from jagged_lens.lens.lists_inside import with_lists_inside
from jagged_lens.lens.notices import Noticed, noticed
from jagged_lens.lens.part import Part, Results, ResultsSoFar, Work, name_of
from jagged_lens.lens.recipe import SECTIONS, STEPS, Recipe, recipe_of, sentences_of, settings_of, shown_settings_of
from jagged_lens.lens.recipe_file import read_recipe, recipe_text, sections_of, unusual_text
from jagged_lens.lens.report_settings import ReportSettings
from jagged_lens.lens.run_settings import RunSettings
from jagged_lens.lens.steps import ALWAYS, PART, PARTS
from jagged_lens.lens.store import Store, stamp_of
from jagged_lens.lens.to_groups import CROSS, GROUPING, HOLDING, KEY_TERMS, QUALITY, RIDGE, SWEEP, TREE
from jagged_lens.lens.to_map import (
    DISTRIBUTION,
    FAMILIES,
    LAID,
    LAYOUT,
    LINKS,
    NEIGHBOURS,
    PAIRS,
    PROJECTION,
    TERM_POINTS,
)
from jagged_lens.lens.to_places import ARRIVALS, PLACED, SUGGESTIONS
from jagged_lens.lens.to_space import (
    CORPUS,
    GIVEN,
    LENS_ROWS,
    NGRAMS,
    OVERVIEW,
    SHINGLES,
    SPACE,
    TERMS,
    THEME_NUMBERS,
    THEMES,
    THEMES_AHEAD,
    TOKENS,
    WORDS,
)

__all__ = [
    "ALWAYS",
    "ARRIVALS",
    "CORPUS",
    "CROSS",
    "DISTRIBUTION",
    "FAMILIES",
    "GIVEN",
    "GROUPING",
    "HOLDING",
    "KEY_TERMS",
    "LAID",
    "LAYOUT",
    "LENS_ROWS",
    "LINKS",
    "NEIGHBOURS",
    "NGRAMS",
    "OVERVIEW",
    "PAIRS",
    "PART",
    "PARTS",
    "PLACED",
    "PROJECTION",
    "QUALITY",
    "RIDGE",
    "SECTIONS",
    "SHINGLES",
    "SPACE",
    "STEPS",
    "SUGGESTIONS",
    "SWEEP",
    "TERMS",
    "TERM_POINTS",
    "THEMES",
    "THEMES_AHEAD",
    "THEME_NUMBERS",
    "TOKENS",
    "TREE",
    "WORDS",
    "Job",
    "Listener",
    "Memory",
    "Noticed",
    "Part",
    "Recent",
    "Recipe",
    "ReportSettings",
    "Results",
    "ResultsSoFar",
    "RunSettings",
    "Store",
    "Work",
    "compute",
    "given_for",
    "keys_of",
    "name_of",
    "noticed",
    "read_recipe",
    "recipe_of",
    "recipe_text",
    "sections_of",
    "sentences_of",
    "settings_of",
    "shown_settings_of",
    "stamp_of",
    "unusual_text",
    "with_lists_inside",
    "with_needs",
]
