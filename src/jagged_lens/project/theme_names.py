# SPDX-License-Identifier: GPL-3.0-or-later
"""Names that the user gave to themes: they hang on the terms at the end of a theme, and go to the theme that has most of them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jagged_lens.weigh import Themes

_TERMS = 10
_SAME = 1 / 3  # of the terms of either that both have


def strongest(
    found: Themes, theme: int, names: Sequence[str], most: int = _TERMS, low: bool = False
) -> tuple[str, ...]:
    """The terms with the highest entries of a theme, or the lowest, by name."""
    column = -found.terms[:, theme] if low else found.terms[:, theme]
    least = np.partition(column, max(len(column) - most, 0))[max(len(column) - most, 0)] if len(column) else 0
    near = np.flatnonzero(column >= least)
    order = near[np.argsort(-column[near], kind="stable")][:most]
    return tuple(names[int(at)] for at in order if column[at] > 0)


def theme_names(found: Themes, names: Sequence[str], given: Sequence[tuple[tuple[str, ...], str]]) -> dict[int, str]:
    """The name of each theme that has one: each name goes to the theme that has most of its terms, a third of both at least."""
    if not given:
        return {}
    sets = [set(strongest(found, theme, names)) for theme in range(len(found))]
    named: dict[int, str] = {}
    for terms, name in given:
        own = set(terms)
        likeness = [len(own & other) / max(len(own | other), 1) for other in sets]
        best = int(np.argmax(likeness)) if likeness else -1
        if best >= 0 and likeness[best] >= _SAME and best not in named:
            named[best] = name
    return named
