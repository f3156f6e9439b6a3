# SPDX-License-Identifier: GPL-3.0-or-later
"""The ways of grouping: k-means, a tree that is cut, the values of a label, the strongest theme."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Label
from jagged_lens.group.grouping import Grouping, filled_rows, grouping_of, numbered
from jagged_lens.group.kmeans import best_of_starts
from jagged_lens.group.settings import GroupSettings
from jagged_lens.group.tree import Tree, cut
from jagged_lens.progress import Progress, unheard
from jagged_lens.weigh import Themes, VectorSpace

MOST_VALUES = 1_000
"""A label with more values is no way of grouping."""


Ids = NDArray[np.uint64] | None
"""The identifiers by which rows are drawn, uint64, n, as of `ids_of`; None: their places."""


def k_means(space: VectorSpace, settings: GroupSettings, progress: Progress = unheard, ids: Ids = None) -> Grouping:
    """Group the rows by k-means, from several starts. There are never more groups than non-empty rows."""
    rows = filled_rows(space, ids)
    number = settings.number(len(rows))
    return grouping_of(rows, *best_of_starts(rows.x, number, settings.starts, settings.seed, rows.ids, progress))


def from_tree(space: VectorSpace, tree: Tree, settings: GroupSettings, ids: Ids = None) -> Grouping:
    """The groups that a tree of the space falls into where it is cut."""
    return grouping_of(filled_rows(space, ids), *cut(tree, settings.number(len(tree))))


def by_label(space: VectorSpace, label: Label, ids: Ids = None) -> Grouping:
    """The values of a label as groups. label: of the documents in the project. JaggedLensError where it has very many values."""
    rows = filled_rows(space, ids)
    codes = label.codes[space.terms.rows[rows.at]]
    there, own = np.unique(np.where(codes == label.none, -1, codes), return_inverse=True)
    names = tuple(label.values[code] for code in there.tolist() if code >= 0)
    if len(names) > MOST_VALUES:
        raise JaggedLensError(
            f'the label "{label.name}" has {len(names):,} values, and {MOST_VALUES:,} groups are the limit',
            "[group] label",
            "Choose one with fewer values.",
        )
    return grouping_of(rows, own - (len(there) - len(names)), len(names), names)


def by_theme(space: VectorSpace, themes: Themes, ids: Ids = None) -> Grouping:
    """The strongest theme of each document as its group, from themes that add up; ties go to the larger theme.

    A document without any amount of a theme is in no group. Groups are numbered by falling size.
    """
    rows = filled_rows(space, ids)
    amounts = themes.shown[rows.at]
    own = np.where(amounts.max(axis=1, initial=0) > 0, amounts.argmax(axis=1), -1)
    there, codes = np.unique(own, return_inverse=True)
    absent = int((there < 0).any())
    return grouping_of(rows, codes - absent, len(there) - absent)


def split(
    space: VectorSpace, members: NDArray[np.integer], groups: int, settings: GroupSettings, ids: Ids = None
) -> NDArray[np.int64]:
    """The part of each of some rows when they are grouped separately, by k-means: int64, m, parts by falling size. -1 for an empty row.
    members: int64, m, rows of the space."""
    rows = filled_rows(space, ids)
    places = np.flatnonzero(np.isin(rows.at, members))
    own, k = best_of_starts(rows.x[places], groups, settings.starts, settings.seed, rows.ids[places])
    found = np.full(rows.n, -1, np.int64)
    found[rows.at[places]] = numbered(own, k, rows.ids[places])[own] if k else own
    return np.asarray(found[members], np.int64)
