# SPDX-License-Identifier: GPL-3.0-or-later
"""Groups against a label that is known: the cross table, how pure the groups are, and who does not fit."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather import Label
from jagged_lens.group.agreement import adjusted_rand, counted_together
from jagged_lens.group.grouping import Grouping


@dataclass(frozen=True, eq=False)
class CrossTable:
    """g groups × v values. values: those that documents have, most frequent first. counts: int64, g × v. without: int64, g, documents
    without a value. own: int32, n, the value of each row among `values`, -1: none. group: int32, n."""

    values: tuple[str, ...]
    counts: NDArray[np.int64]
    without: NDArray[np.int64]
    own: NDArray[np.int32]
    group: NDArray[np.int32]

    @classmethod
    def none(cls, grouping: Grouping) -> CrossTable:
        """For no label."""
        g = len(grouping)
        own = np.full(len(grouping.group), -1, np.int32)
        return cls((), np.zeros((g, 0), np.int64), grouping.sizes.astype(np.int64), own, grouping.group)

    @property
    def purity(self) -> float:
        """The share of documents with a value that have the commonest of their group; NaN where none has one."""
        n = self.counts.sum()
        return float(self.counts.max(axis=1, initial=0).sum() / n) if n else float("nan")

    @property
    def adjusted_rand(self) -> float:
        """The agreement of groups and values, over documents that have both; NaN if none has."""
        return adjusted_rand(self.counts) if self.counts.sum() else float("nan")

    @property
    def commonest(self) -> NDArray[np.int32]:
        """The value that most documents of each group have (int32, g; ties: the one that is more frequent in all); -1 where none."""
        if not self.counts.shape[1]:
            return np.full(len(self.counts), -1, np.int32)
        return np.where(self.counts.max(axis=1) > 0, self.counts.argmax(axis=1), -1).astype(np.int32)

    @property
    def misfits(self) -> NDArray[np.int64]:
        """The rows whose value is not the commonest of their group (int64)."""
        placed = (self.group >= 0) & (self.own >= 0)
        common = np.full(len(self.group), -1)
        common[placed] = self.commonest[self.group[placed]]
        return np.flatnonzero(placed & (common != self.own))

    @property
    def expected(self) -> NDArray[np.float64]:
        """The number of documents each cell would have by chance: row total × column total ÷ all (float64, g × v)."""
        n = max(int(self.counts.sum()), 1)
        return np.outer(self.counts.sum(axis=1), self.counts.sum(axis=0)) / n

    @property
    def beyond_chance(self) -> NDArray[np.float64]:
        """The Pearson residual (count - expected) ÷ √expected of each cell (float64, g × v); 0 where nothing is expected."""
        expected = self.expected
        return np.where(expected > 0, (self.counts - expected) / np.sqrt(np.where(expected > 0, expected, 1)), 0.0)


def cross_table(grouping: Grouping, label: Label, rows: NDArray[np.integer]) -> CrossTable:
    """The groups of a grouping against a label. rows: int32, n, the corpus row of each row of the grouping."""
    codes = label.codes[rows]
    there, counts = np.unique(codes[codes != label.none], return_counts=True)
    there = there[np.argsort(-counts, kind="stable")]
    place = np.full(len(label.values) + 1, -1, np.int32)
    place[there] = np.arange(len(there))
    own = place[codes] if len(codes) else np.zeros(0, np.int32)
    g = len(grouping)
    lacking = grouping.group[(own < 0) & (grouping.group >= 0)]
    return CrossTable(
        tuple(label.values[code] for code in there.tolist()),
        counted_together(grouping.group, own, g, len(there)),
        np.bincount(lacking, minlength=g),
        own,
        grouping.group,
    )
