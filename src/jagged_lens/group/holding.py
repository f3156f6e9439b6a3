# SPDX-License-Identifier: GPL-3.0-or-later
"""The stability of groups: do they come back when parts of the documents are grouped again?"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.group.agreement import best_overlaps, counted_together, mean_of_tries
from jagged_lens.group.grouping import Grouping, filled_rows
from jagged_lens.group.parts import TRIES, Parts, measured_on
from jagged_lens.group.settings import GroupSettings
from jagged_lens.progress import Progress, Told, portion, unheard, unseen
from jagged_lens.weigh import VectorSpace

HOLDS, BREAKS = 0.75, 0.6
"""A mean overlap from which a group holds, and one below which it does not."""


@dataclass(frozen=True, eq=False)
class Holding:
    """For g groups. overlaps: float32, tries × g, the best Jaccard overlap with a group of each try among the members that were drawn.
    NaN where none was. Without tries nothing was measured. sample: on so many documents, drawn at random; 0: on all."""

    overlaps: NDArray[np.float32]
    sample: int = 0

    @classmethod
    def none(cls, g: int) -> Holding:
        """Nothing measured, of g groups."""
        return cls(np.zeros((0, g), np.float32))

    @property
    def tries(self) -> int:
        """The number of tries there are by now."""
        return len(self.overlaps)

    @property
    def groups(self) -> NDArray[np.float32]:
        """The stability of each group (float32, g): the mean over the tries; NaN if it is not known."""
        return mean_of_tries(self.overlaps).astype(np.float32)

    @property
    def came_back(self) -> NDArray[np.int64]:
        """In how many tries each group came back with an overlap of 0.75 or more (int64, g)."""
        return np.asarray((self.overlaps >= HOLDS).sum(axis=0))


def holding_of(
    space: VectorSpace,
    grouping: Grouping,
    settings: GroupSettings,
    progress: Progress = unheard,
    preview: Callable[[Holding], None] = unseen,
    ids: NDArray[np.uint64] | None = None,
) -> Holding:
    """The stability of each group: 20 seeded subsets of four fifths of the rows are grouped with the same settings; of
    very many rows, subsets of a sample. ids: uint64, as in
    `k_means`.

    Hennig, "Cluster-wise assessment of cluster stability", 2007. The values of a label are not found by grouping: nothing is measured of
    them.
    """
    g = len(grouping)
    if not settings.searched or not g:
        return Holding.none(g)
    whole = filled_rows(space, ids)
    rows = measured_on(whole, settings)
    sample = len(rows) if rows is not whole else 0
    own = grouping.group[rows.at]
    overlaps: list[NDArray[np.float32]] = []
    begun = 0.9 if settings.by == "tree" else 0.0
    parts = Parts(rows, settings, portion(progress, 0, begun))
    done = Told(portion(progress, begun, 1))
    done.at(0.0)
    for part, anew in zip(parts.places, parts.grouped(g, done.again), strict=True):
        overlaps.append(best_overlaps(counted_together(own[part], anew, g, g)).astype(np.float32))
        done.at(len(overlaps) / TRIES)
        preview(Holding(np.stack(overlaps), sample))
    return Holding(np.stack(overlaps), sample)
