# SPDX-License-Identifier: GPL-3.0-or-later
"""The steps of a lens as a graph: all its parts, each of which says what it needs, on which settings it depends, and how it is computed."""

from __future__ import annotations

from typing import Any

from jagged_lens.lens.part import Part
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

PARTS: tuple[Part[Any], ...] = (
    CORPUS,
    TOKENS,
    LENS_ROWS,
    NGRAMS,
    TERMS,
    SPACE,
    WORDS,
    GIVEN,
    THEMES,
    SHINGLES,
    OVERVIEW,
    PAIRS,
    NEIGHBOURS,
    TREE,
    GROUPING,
    KEY_TERMS,
    QUALITY,
    CROSS,
    PROJECTION,
    LAID,
    LAYOUT,
    TERM_POINTS,
    DISTRIBUTION,
    THEMES_AHEAD,
    THEME_NUMBERS,
    FAMILIES,
    LINKS,
    RIDGE,
    HOLDING,
    SWEEP,
    ARRIVALS,
    PLACED,
    SUGGESTIONS,
)
"""All parts, each after what it needs; a new one is a row here."""

ALWAYS = tuple(part for part in PARTS if not part.on_demand)
"""Those that every lens has."""

PART = {part.name: part for part in PARTS}
"""A part by its name."""
