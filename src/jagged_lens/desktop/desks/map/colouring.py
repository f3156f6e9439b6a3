# SPDX-License-Identifier: GPL-3.0-or-later
"""The colouring of the points of the map: groups, values of a label, or an amount in one hue."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.desktop.desks.by_group import group_title
from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.desktop.look.shades import shade
from jagged_lens.desktop.plots.map_sprites import Category
from jagged_lens.gather import NO_DATE
from jagged_lens.group import letter
from jagged_lens.lens import CORPUS, GROUPING, LAYOUT, TERMS, THEMES, TOKENS
from jagged_lens.project import Shown

GROUP, LENGTH, TRUST, DATE, LIKE = "group", "length", "trust", "date", "similarity to the document read"
_NAMED = 3
_MOST_VALUES = 60
_SHADES = 7
_MOST_THEMES = 20


@dataclass(frozen=True, eq=False)
class Colouring:
    """category: int64, n, the number of each document's Category, -1 for none. amounts: whether they are shades of an amount."""

    category: NDArray[np.int64]
    categories: Sequence[Category]
    amounts: bool = False


def choices(bench: Shown) -> list[tuple[str, str]]:
    """A possible colouring: its name and its heading."""
    corpus, themes = bench.results[CORPUS], bench.results.get(THEMES)
    found = [(GROUP, "")]
    found += [(label.name, "Labels") for label in bench.documents.labels()]
    found += [(one.name, "Amounts") for one in corpus.numbers]
    found += [(DATE, "Amounts")] * bool(len(corpus.dates))
    found += [(name, "Amounts") for name in (LENGTH, TRUST, LIKE)]
    if themes is not None and themes.named:
        found += [(f"theme {number + 1}", "Themes") for number in range(min(len(themes), _MOST_THEMES))]
    return found


def colouring(bench: Shown, by: str, likeness: NDArray[np.float32] | None) -> Colouring:
    """The colours of all documents of the lens. likeness: float32, n, the similarity to the document that is read; None where it is not
    known."""
    results = bench.results
    terms, corpus = results[TERMS], results[CORPUS]
    rows = terms.rows
    if by == GROUP:
        grouping = results[GROUPING]
        names = [group_title(bench, group, _NAMED) or "no typical terms" for group in range(len(grouping))]
        categories = [Category(letter(group), name, group_colour(group)) for group, name in enumerate(names)]
        return Colouring(grouping.group.astype(np.int64), categories)
    label = next((label for label in bench.documents.labels() if label.name == by), None)
    if label is not None:
        codes = label.codes[rows].astype(np.int64)
        # The most frequent values have colours; what is left is one of "others", without one. Groups have capital letters.
        order = np.argsort(-np.bincount(codes, minlength=len(label.values)), kind="stable")[:_MOST_VALUES]
        rank = np.full(len(label.values), -1, np.int64)
        rank[order] = np.arange(len(order))
        return Colouring(
            rank[codes],
            [
                Category(letter(place).lower(), label.values[int(value)] or "(none)", group_colour(place))
                for place, value in enumerate(order)
            ],
        )
    if by == LIKE:
        values = np.full(len(rows), np.nan) if likeness is None else likeness.astype(np.float64)
        return _shaded(values, lambda value: f"{value:.2f}", quantiles=False)
    if by == LENGTH:
        return _shaded(results[TOKENS].kept_by_row()[rows].astype(np.float64), lambda value: f"{value:,.0f}")
    if by == TRUST:
        return _shaded(results[LAYOUT].trust.astype(np.float64), lambda value: f"{value:.0%}", quantiles=False)
    if by == DATE:
        days = corpus.dates[rows].astype(np.float64)
        return _shaded(
            np.where(corpus.dates[rows] == NO_DATE, np.nan, days),
            lambda value: str(np.datetime64(int(value), "D")),
        )
    themes = results.get(THEMES)
    if themes is not None and by.startswith("theme ") and int(by[6:]) <= len(themes):
        theme = int(by[6:]) - 1
        if themes.adding:
            return _shaded(themes.document_shares[:, theme], lambda value: f"{value:.0%}")
        return _shaded(themes.shown[:, theme].astype(np.float64), lambda value: f"{value:.2f}")
    number = next(one for one in corpus.numbers if one.name == by)
    return _shaded(number.values[rows].astype(np.float64), lambda value: f"{value:,.4g}")


def _shaded(values: NDArray[np.float64], said: object, quantiles: bool = True) -> Colouring:
    """An amount in seven shades of one hue: as many documents in each (quantiles), or of equal width."""
    known = ~np.isnan(values)
    category = np.full(len(values), -1, np.int64)
    if not known.any():
        return Colouring(category, [], True)
    shares = np.linspace(0, 1, _SHADES + 1)
    low, high = float(values[known].min()), float(values[known].max())
    edges = np.unique(np.quantile(values[known], shares) if quantiles else low + (high - low) * shares)
    steps = max(len(edges) - 1, 1)
    category[known] = np.clip(np.searchsorted(edges, values[known], side="right") - 1, 0, steps - 1)
    categories = []
    for step in range(steps):
        first, last = edges[step], edges[min(step + 1, len(edges) - 1)]
        words = said(first) if said(first) == said(last) else f"{said(first)} – {said(last)}"  # type: ignore[operator]
        categories.append(Category("", words.replace("-", "−") if low < 0 else words, shade(step, steps)))
    return Colouring(category, categories, True)
