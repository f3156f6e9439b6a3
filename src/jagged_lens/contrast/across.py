# SPDX-License-Identifier: GPL-3.0-or-later
"""The nearest documents across two sides."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import nearest_between
from jagged_lens.progress import Progress, unheard
from jagged_lens.weigh import VectorSpace

EACH = 3
"""So many of the other side are found for each document of the smaller one."""


@dataclass(frozen=True, eq=False)
class Across:
    """p pairs, the most alike first (ties: by row): left, right (int32, rows of the space), similarity (float32)."""

    left: NDArray[np.int32]
    right: NDArray[np.int32]
    similarity: NDArray[np.float32]


def nearest_across(
    space: VectorSpace,
    measure: str,
    left: NDArray[np.bool_],
    right: NDArray[np.bool_],
    each: int = EACH,
    progress: Progress = unheard,
) -> Across:
    """For each document of the smaller side its nearest on the other, as far as they have anything in common. left, right: bool, n."""
    small, large = np.flatnonzero(left), np.flatnonzero(right)
    swapped = len(small) > len(large)
    if swapped:
        small, large = large, small
    found = nearest_between(space, measure, each, small, large, progress)
    owner, rank = np.nonzero(found.row >= 0)
    one, two, similarity = small[owner].astype(np.int32), found.row[owner, rank], found.similarity[owner, rank]
    one, two = (two, one) if swapped else (one, two)
    best_first = np.lexsort((two, one, -similarity))
    return Across(one[best_first], two[best_first], similarity[best_first])
