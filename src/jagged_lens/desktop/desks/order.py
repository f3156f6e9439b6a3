# SPDX-License-Identifier: GPL-3.0-or-later
"""Orders in which documents stand in a picture: by group, as in the tree, by a label, by date, by length or as they came."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather import NO_DATE
from jagged_lens.group import Tree, letter
from jagged_lens.lens import CORPUS, GROUPING, RIDGE, SPACE, THEMES, THEMES_AHEAD, TOKENS, TREE, Part
from jagged_lens.project import Shown
from jagged_lens.weigh import Themes

Sized = TypeVar("Sized", Tree, Themes)
GROUP, TREE_ORDER, AS_READ, DATE, LENGTH = "group", "tree", "original order", "date", "length"


@dataclass(frozen=True, eq=False)
class Order:
    """rows: int64, n, places in the lens in order. bounds: where each stretch begins, and what it is called."""

    rows: NDArray[np.int64]
    bounds: list[tuple[int, str]]


def orders(bench: Shown, themes: bool = False) -> list[str]:
    """The orders available for documents. themes: also by themes."""
    corpus = bench.results[CORPUS]
    found = [
        GROUP,
        *([TREE_ORDER] if _tree(bench) is not None else []),
        *(label.name for label in bench.documents.labels()),
    ]
    found += [DATE] if len(corpus.dates) else []
    found += [LENGTH, AS_READ]
    known = _themes(bench)
    if themes and known is not None:
        found += [f"theme {number + 1}" for number in range(min(len(known), 20))]
    return found


def ordered(bench: Shown, by: str) -> Order:
    """The documents of the lens in an order; those of a group the most typical first."""
    results = bench.results
    rows = results[SPACE].terms.rows
    own = np.arange(len(rows))
    grouping = results.get(GROUPING)
    label = next((label for label in bench.documents.labels() if label.name == by), None)
    if by == GROUP and grouping is not None and len(grouping.group) == len(rows):
        group = np.where(grouping.group < 0, len(grouping), grouping.group)
        order = np.lexsort((own, -grouping.closeness, group))
        names = [letter(number) for number in range(len(grouping))] + ["none"]
        return Order(order, _bounds(group[order], names))
    tree = _tree(bench)
    if by == TREE_ORDER and tree is not None:
        inside = tree.rows[tree.order].astype(np.int64)
        return Order(np.concatenate((inside, np.setdiff1d(own, inside))), [])
    if label is not None:
        codes = label.codes[rows]
        rank = label.values.ranks() if len(label.values) else np.zeros(0, np.int64)
        order = np.lexsort((own, rank[codes])) if len(rank) else own
        return Order(order, _bounds(codes[order], [value or "none" for value in label.values]))
    if by == DATE and len(results[CORPUS].dates):
        days = results[CORPUS].dates[rows].astype("datetime64[D]")
        missing = results[CORPUS].dates[rows] == NO_DATE
        years = np.where(missing, 0, days.astype("datetime64[Y]").astype(int) + 1970)
        order = np.lexsort((own, results[CORPUS].dates[rows]))
        starts = np.flatnonzero(np.diff(years[order], prepend=-(10**6)))
        return Order(order, [(int(at), str(years[order][at]) if years[order][at] else "none") for at in starts])
    if by == LENGTH and TOKENS in results:
        return Order(np.argsort(-results[TOKENS].kept_by_row()[rows], kind="stable"), [])
    known = _themes(bench)
    if by.startswith("theme ") and known is not None:
        number = int(by.split()[1]) - 1
        if number < len(known):
            return Order(np.argsort(-known.documents[:, number], kind="stable"), [])
    return Order(own, [])


def _tree(bench: Shown) -> Tree | None:
    """The tree of the lens, or the one that was looked at."""
    return _filled(bench, (TREE, RIDGE))


def _themes(bench: Shown) -> Themes | None:
    """The themes of the lens, or those that were looked at."""
    found = _filled(bench, (THEMES, THEMES_AHEAD))
    return None if found is None or found.of_vectors else found


def _filled(bench: Shown, parts: tuple[Part[Sized], ...]) -> Sized | None:
    """The first of some results that is there, and not empty."""
    return next((bench.results[part] for part in parts if bench.results.has(part) and len(bench.results[part])), None)


def _bounds(codes: NDArray[np.integer], names: list[str]) -> list[tuple[int, str]]:
    starts = np.flatnonzero(np.diff(codes, prepend=-1))
    return [(int(at), names[int(codes[at])]) for at in starts]
