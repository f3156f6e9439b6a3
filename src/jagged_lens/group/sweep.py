# SPDX-License-Identifier: GPL-3.0-or-later
"""The search for the number of groups. Each number in a range is tried: how tight the groups are, how apart, and whether they come back."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.group.agreement import adjusted_rand, best_overlaps, counted_together, mean_of_tries
from jagged_lens.group.grouping import FilledRows, centroids_of, filled_rows, numbered, own_cosines
from jagged_lens.group.holding import BREAKS
from jagged_lens.group.parts import Parts, measured_on
from jagged_lens.group.quality import silhouettes
from jagged_lens.group.settings import GroupSettings
from jagged_lens.group.tree import Tree, cut, cut_groups, joins_of
from jagged_lens.progress import Progress, never, portion, unheard, unseen
from jagged_lens.weigh import VectorSpace


@dataclass(frozen=True, eq=False)
class Sweep:
    """Of K numbers of groups, rising. groups: int64, K. tightness: float64, K, the mean cosine to the own centroid. silhouette: float64, K,
    the mean. agreement: float64, K, the mean adjusted Rand index of each two tries on the rows that both have. holding: float64, K, the
    mean over the groups of how well they hold. group: int32, K × n, the groups of each row, by falling size, -1: none.
    of: how many numbers were to be tried."""

    groups: NDArray[np.int64]
    tightness: NDArray[np.float64]
    silhouette: NDArray[np.float64]
    agreement: NDArray[np.float64]
    holding: NDArray[np.float64]
    group: NDArray[np.int32]
    of: int = 0

    @classmethod
    def none(cls, n: int, of: int = 0) -> Sweep:
        """Nothing tried yet, of n rows."""
        nothing = np.zeros(0)
        return cls(np.zeros(0, np.int64), nothing, nothing, nothing, nothing, np.zeros((0, n), np.int32), of)

    @property
    def stopped(self) -> bool:
        """True if numbers were left out, since what was known by then was enough."""
        return len(self) < self.of

    def __len__(self) -> int:
        return len(self.groups)

    @property
    def documents(self) -> int:
        """The number of documents on which the numbers were tried: all that are not empty, or a sample of them."""
        return int((self.group[0] >= 0).sum()) if len(self.group) else 0

    @property
    def suggested(self) -> int:
        """The number of groups with the highest silhouette among those that hold 0.6 or more on the average; 0 where none does."""
        good = np.flatnonzero((self.holding >= BREAKS) & ~np.isnan(self.silhouette))
        return int(self.groups[good[self.silhouette[good].argmax()]]) if len(good) else 0

    def row(self, groups: int) -> int:
        """The index of a number of groups; -1 if it is not among them."""
        found = np.flatnonzero(self.groups == groups)
        return int(found[0]) if len(found) else -1


def sweep_of(
    space: VectorSpace,
    settings: GroupSettings,
    progress: Progress = unheard,
    preview: Callable[[Sweep], None] = unseen,
    tree: Tree | None = None,
    ids: NDArray[np.uint64] | None = None,
    enough: Callable[[], bool] = never,
) -> Sweep:
    """Try each number of groups from the first to the second of settings.sweep, by a tree if the settings say so, else by k-means.
    Numbers above that of the rows, and those into which the tree cannot be cut, are left out. tree: of the space, where the settings say
    so and it is there already. ids: uint64, as in `k_means`. enough: whether the numbers tried by now are to do. Asked again and again
    once there is one."""
    whole = filled_rows(space, ids)
    rows = measured_on(whole, settings)
    if not settings.sweep:
        return Sweep.none(rows.n)
    numbers = list(range(settings.sweep[0], min(settings.sweep[1], len(rows) - 1) + 1))
    begun = 0.8 if settings.by == "tree" else 0.0
    if settings.by == "tree" and (tree is None or rows is not whole):
        joins = joins_of(rows, settings.linkage, portion(progress, 0, 0))
        tree = Tree(joins, rows.at.astype(np.int32), np.arange(len(rows), dtype=np.int32))
    if tree is not None:  # a number that would part joins at one height cannot be had
        numbers = [k for k in numbers if cut_groups(tree.heights, len(tree), k) == k]
    found = Sweep.none(rows.n, len(numbers))

    def watched(share: float) -> None:
        progress(share)
        if len(found) and enough():
            raise _Enough

    parts = Parts(rows, settings, portion(progress, 0, begun))
    for at, k in enumerate(numbers):
        within = portion(
            watched, begun + (1 - begun) * at / len(numbers), begun + (1 - begun) * (at + 1) / len(numbers)
        )
        try:
            assigned = cut(tree, k)[0] if tree is not None else parts.whole(k, portion(within, 0, 0))
            found = _with(found, rows, k, assigned, list(parts.grouped(k, within)), parts.places)
        except _Enough:
            break
        preview(found)
    return found


class _Enough(Exception):  # noqa: N818 - what happened
    """The numbers tried so far are enough."""


def _with(
    found: Sweep,
    rows: FilledRows,
    k: int,
    assigned: NDArray[np.int64],
    tries: list[NDArray[np.int64]],
    parts: list[NDArray[np.int64]],
) -> Sweep:
    """The result for one more number of groups."""
    own = numbered(assigned, k, rows.ids)[assigned]
    centroids = centroids_of(rows.x, own, k)
    sizes = np.bincount(own, minlength=k).astype(np.float64)
    closeness = own_cosines(rows.x, centroids, own)
    apart = silhouettes(rows.x, own, centroids, sizes, closeness)[0]
    whole = np.full((len(parts), len(rows)), -1, np.int64)
    for number, (part, anew) in enumerate(zip(parts, tries, strict=True)):
        whole[number, part] = anew
    overlaps = np.stack(
        [best_overlaps(counted_together(own[part], anew, k, k)) for part, anew in zip(parts, tries, strict=True)]
    )
    holding = float(np.nanmean(mean_of_tries(overlaps)))
    agreement = float(
        np.mean([adjusted_rand(counted_together(one, other, k, k)) for one, other in itertools.combinations(whole, 2)])
    )
    group = np.full((1, rows.n), -1, np.int32)
    group[0, rows.at] = own

    return Sweep(
        np.append(found.groups, k),
        np.append(found.tightness, closeness.mean()),
        np.append(found.silhouette, apart.mean()),
        np.append(found.agreement, agreement),
        np.append(found.holding, holding),
        np.concatenate((found.group, group)),
        found.of,
    )
