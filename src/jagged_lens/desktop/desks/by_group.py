"""Documents in the colours of their groups, as on the map."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.desktop.plots.map_sprites import Category
from jagged_lens.group import letter
from jagged_lens.lens import GROUPING, KEY_TERMS, TERMS
from jagged_lens.project import Bench


def by_group(bench: Bench, n: int) -> tuple[NDArray[np.int64], list[Category]]:
    """The group of each of n documents of the lens (int64, -1: none, or not known yet), and what the colours stand for."""
    grouping = bench.results.get(GROUPING)
    if grouping is None or not bench.ready(GROUPING, KEY_TERMS, TERMS) or len(grouping.group) != n:
        return np.full(n, -1, np.int64), []
    key_terms, shown = bench.results[KEY_TERMS], bench.results[TERMS].shown
    named = [[shown[column] for column in key_terms.columns(group)[:1]] for group in range(len(grouping))]
    return grouping.group.astype(np.int64), [
        Category(letter(group), names[0] if names else "", group_colour(group)) for group, names in enumerate(named)
    ]
