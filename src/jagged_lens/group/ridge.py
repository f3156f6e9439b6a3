# SPDX-License-Identifier: GPL-3.0-or-later
"""A tree as a ridge: leaves in order, and between each two that are neighbours the height at which they join, which is the whole tree."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.group.grouping import numbered
from jagged_lens.group.tree import Tree, cut_groups


@dataclass(frozen=True, eq=False)
class Ridge:
    """n leaves in the order of a tree. first, last: int32, 2n - 1, the places of the first and the last leaf of each node, leaves being the
    first n nodes. tooth: float64, n - 1, the height at which the leaves at places i and i + 1 join. join: int32, n - 1, the node that this
    tooth is. above: int32, 2n - 1, the node that each is a side of, -1 for the whole. height: float64, 2n - 1."""

    tree: Tree
    first: NDArray[np.int32]
    last: NDArray[np.int32]
    tooth: NDArray[np.float64]
    join: NDArray[np.int32]
    above: NDArray[np.int32]
    height: NDArray[np.float64]

    def __len__(self) -> int:
        return len(self.tree)

    def node_at(self, place: int, height: float) -> int:
        """The branch that holds a place where the tree is cut at a height."""
        node = int(self.tree.order[place])
        while self.above[node] >= 0 and self.height[self.above[node]] <= height:
            node = int(self.above[node])
        return node

    def sides(self, node: int) -> tuple[int, int] | None:
        """The two branches that a join joins, the upper one first; None for a leaf."""
        n = len(self)
        if node < n:
            return None
        left, right = (int(side) for side in self.tree.joins[node - n, :2])
        return (left, right) if self.first[left] < self.first[right] else (right, left)

    def leaves(self, node: int) -> NDArray[np.int32]:
        """The rows of the leaves of a branch, in order: int32."""
        return self.tree.rows[self.tree.order[self.first[node] : self.last[node] + 1]]

    def groups_at(self, height: float) -> int:
        """Into how many groups a cut at a height parts the leaves."""
        return len(self) - int(np.searchsorted(self.tree.heights, height, side="right"))

    def cut_between(self, groups: int) -> float:
        """A height at which a cut gives so many groups: halfway between the two joins that it lies between."""
        n = len(self)
        heights = self.tree.heights
        if n < 2:
            return 0.0
        groups = cut_groups(heights, n, max(groups, 1))
        below = float(heights[n - groups - 1]) if groups < n else 0.0
        over = float(heights[n - groups]) if groups > 1 else float(heights[-1]) * 1.06
        return (below + over) / 2

    def cut_beside(self, groups: int, step: int) -> int:
        """The next number of groups that a cut can give, more (step 1) or fewer (-1) than so many."""
        n = len(self)
        wanted = groups + step
        while 1 < wanted < n and cut_groups(self.tree.heights, n, wanted) != wanted:
            wanted += step
        return min(max(wanted, 1), max(n, 1))

    def parts(self, groups: int) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
        """The start (int32, k places, rising) and the group of each part of a cut into a number of groups. Groups are numbered by falling
        size (int32, k)."""
        n = len(self)
        if not n:
            return np.zeros(0, np.int32), np.zeros(0, np.int32)
        groups = cut_groups(self.tree.heights, n, max(groups, 1))
        kept = n - groups
        parting = np.flatnonzero(self.join >= n + kept) + 1
        starts = np.concatenate(([0], parting)).astype(np.int32)
        part = np.zeros(n, np.int64)
        part[self.tree.order] = np.repeat(np.arange(groups), np.diff(np.append(starts, n)))
        return starts, numbered(part, groups).astype(np.int32)


def ridge_of(tree: Tree) -> Ridge:
    """The ridge of a tree."""
    n = len(tree)
    nodes = max(2 * n - 1, 0)
    first, last, above = [0] * nodes, [0] * nodes, [-1] * nodes
    for place, leaf in enumerate(tree.order.tolist()):
        first[leaf] = last[leaf] = place
    join = np.zeros(max(n - 1, 0), np.int32)
    for number, (left, right) in enumerate(tree.joins[:, :2].astype(np.int64).tolist()):
        node = n + number
        if first[left] > first[right]:
            left, right = right, left
        above[left] = above[right] = node
        first[node], last[node] = first[left], last[right]
        join[last[left]] = node
    height = np.concatenate((np.zeros(n), tree.heights))
    return Ridge(
        tree,
        np.array(first, np.int32),
        np.array(last, np.int32),
        height[join] if n > 1 else np.zeros(0),
        join,
        np.array(above, np.int32),
        height,
    )
