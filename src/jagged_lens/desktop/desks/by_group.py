# SPDX-License-Identifier: GPL-3.0-or-later
"""Groups as all desks show them: what each is called, and documents in the colours of their groups."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.desktop.plots.map_sprites import Category
from jagged_lens.group import letter
from jagged_lens.lens import GROUPING, KEY_TERMS, TERMS
from jagged_lens.project import Shown
from jagged_lens.report import group_name


def group_title(bench: Shown, group: int, terms: int = 2) -> str:
    """The name of a group: the user's name, the value of the label, or its most typical terms."""
    given = bench.documents.group_names().of.get(group)
    return group_name(bench.results, group, given.name if given is not None else "", terms)


def by_group(bench: Shown, n: int) -> tuple[NDArray[np.int64], list[Category]]:
    """The group of each of n documents of the lens (int64, -1: none, or not known yet), and what the colours stand for."""
    grouping = bench.results.get(GROUPING)
    if grouping is None or not bench.results.has(GROUPING, KEY_TERMS, TERMS) or len(grouping.group) != n:
        return np.full(n, -1, np.int64), []
    return grouping.group.astype(np.int64), [
        Category(letter(group), group_title(bench, group, 1), group_colour(group)) for group in range(len(grouping))
    ]
