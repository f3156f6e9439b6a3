# SPDX-License-Identifier: GPL-3.0-or-later
"""The tree of very many rows: of groups of k-means, each of which is one branch, and no tree within them.

Ward's linkage joins groups by their means and sizes alone, so that a tree of groups is the upper part of one that begins with them.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array, diags_array

from jagged_lens.errors import JaggedLensError
from jagged_lens.group.grouping import FilledRows, filled_rows
from jagged_lens.group.kmeans import best_of_starts
from jagged_lens.group.leaf_order import leaf_order
from jagged_lens.group.tree import Tree, joins_of, joins_of_means
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.weigh import VectorSpace

MOST_COMPLETE = 10_000
"""complete linkage needs all distances at once, and is made of so many documents at most."""
MOST_ROWS = 20_000
"""Of more rows a tree is made over groups."""
BRANCHES = 200
"""So many groups are its branches."""
_SEED = 1


def tree_of(space: VectorSpace, linkage: str, progress: Progress = unheard) -> Tree:
    """The tree of all rows that are not empty. Of more than 20,000 it is made over groups, by Ward's linkage.

    JaggedLensError for another linkage of more than 20,000, and for complete linkage of more than 10,000.
    """
    rows = filled_rows(space)
    most = min(MOST_COMPLETE, MOST_ROWS) if linkage == "complete" else MOST_ROWS
    if len(rows) > most and linkage != "ward":
        other = "average or ward" if len(rows) <= MOST_ROWS else "ward"
        raise JaggedLensError(
            f"{linkage} linkage takes at most {most:,} documents, and there are {len(rows):,}",
            "Group",
            f"Use {other} linkage, or narrow the lens to fewer documents.",
        )
    within = portion(progress, 0, 0.95)
    joins = joins_over_groups(rows, within) if len(rows) > MOST_ROWS else joins_of(rows, linkage, within)
    return Tree(joins, rows.at.astype(np.int32), leaf_order(joins, rows.x, progress))


def joins_over_groups(rows: FilledRows, progress: Progress) -> NDArray[np.float64]:
    """The joins of filled rows by Ward's linkage over 200 groups of k-means: float64, (f - 1) × 4, as of a `Tree`.

    Rows of one group join at height 0.
    """
    own, groups = best_of_starts(rows.x, BRANCHES, 1, _SEED, rows.ids, portion(progress, 0, 0.9))
    sizes = np.bincount(own, minlength=groups)
    members = csr_array((np.ones(len(rows)), (own, np.arange(len(rows)))), shape=(groups, len(rows)))
    means = csr_array(diags_array(1 / sizes) @ members @ rows.x)
    order = np.argsort(own, kind="stable")
    first = order[np.cumsum(sizes) - sizes]
    others = np.setdiff1d(order, first)
    return joins_of_means(means, sizes, first, (first[own[others]], others), len(rows), progress)
