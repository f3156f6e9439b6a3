# SPDX-License-Identifier: GPL-3.0-or-later
"""The member of each family of near-duplicates that stays, by a rule."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare.families import Families


def kept_of_families(
    families: Families, rank: NDArray[np.generic], may: NDArray[np.bool_] | None = None
) -> NDArray[np.int64]:
    """The member of each family that stays: the one with the highest rank; of equal ones that nearest to the standard.

    rank: n numbers, of all documents of the lens. may: bool, n, which may stay at all; None: all. The result: int64, f, rows; -1 for a
    family of which none may.
    """
    members = families.members.astype(np.int64)
    family = np.repeat(np.arange(len(families)), families.sizes)
    some = np.arange(len(members)) if may is None else np.flatnonzero(may[members])
    # Families one after the other, of each the highest rank first; the order of members is that of nearness to the standard.
    order = some[np.lexsort((some, -rank[members[some]].astype(np.float64), family[some]))]
    kept = np.full(len(families), -1, np.int64)
    first, at = np.unique(family[order], return_index=True)
    kept[first] = members[order[at]]
    return kept
