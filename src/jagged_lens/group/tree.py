# SPDX-License-Identifier: GPL-3.0-or-later
"""A tree of rows: which two groups join, one after the other, and at which height.

single, complete and average on 1 - cos, ward on rows of length 1: the textbooks' four linkages (Murtagh & Contreras, "Algorithms for
hierarchical clustering: an overview", 2012), laid out as SciPy lays a linkage out. Under all of them joining two groups brings no third
one nearer than the nearer of both was, so that all pairs that are each other's nearest can be joined at once, whatever else joins; that
is done in rounds of dense products while there are many, without the table of all distances, and by a chain of nearest groups within
that table when few are left. single is a minimum spanning tree.
"""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare import distinct_rows
from jagged_lens.group.grouping import FilledRows, mostly_filled
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, Told, unheard

_FEW = 2_000  # so many groups go into a table of their distances
_FEW_IF_SLOW = 5_000  # and so many where rounds join few of them
_SLOW = 0.02  # a round that joins a smaller share of the groups is slow
_CELLS_AT_ONCE = 500_000

_Rows = csr_array | NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Tree:
    """n leaves and the n - 1 joins that make one of them.

    joins: float64, (n - 1) × 4: left, right, height, leaves; leaves are 0 … n - 1, the join in row i is n + i; rising heights.
    rows: int32, n, which row each leaf is. order: int32, n, the leaves so that no joins cross, what is nearer to what stands before first.
    """

    joins: NDArray[np.float64]
    rows: NDArray[np.int32]
    order: NDArray[np.int32]

    def __len__(self) -> int:
        return len(self.rows)

    @classmethod
    def none(cls) -> Tree:
        """No tree at all."""
        return cls(np.zeros((0, 4)), np.zeros(0, np.int32), np.zeros(0, np.int32))

    @property
    def heights(self) -> NDArray[np.float64]:
        """The height of each join, rising (float64, n - 1)."""
        return self.joins[:, 2]


def joins_of(rows: FilledRows, linkage: str, progress: Progress = unheard) -> NDArray[np.float64]:
    """The joins of filled rows: float64, (f - 1) × 4, as of a `Tree`."""
    f = len(rows)
    if f < 2:
        return np.zeros((0, 4))
    distinct = distinct_rows(rows.x)
    found = _Joined()
    copies = np.setdiff1d(np.arange(f), distinct.first)
    found.add(distinct.first[distinct.of[copies]], copies, np.zeros(len(copies)))
    x = rows.x[distinct.first]
    whole: _Rows = x.toarray() if mostly_filled(x) else x
    sizes = np.bincount(distinct.of).astype(np.float64)
    if linkage == "single":
        first, second, height = _spanning(whole, progress)
        found.add(distinct.first[first], distinct.first[second], height)
    else:
        clusters = _Clusters(whole, sizes, distinct.first, linkage)
        if linkage != "complete":
            clusters = _in_rounds(clusters, found, progress)
        _in_table(clusters, found, progress)
    return found.tree(f)


def joins_of_means(
    means: csr_array,
    sizes: NDArray[np.integer],
    first: NDArray[np.int64],
    within: tuple[NDArray[np.integer], NDArray[np.integer]],
    leaves: int,
    progress: Progress = unheard,
) -> NDArray[np.float64]:
    """The joins of groups of leaves by Ward's linkage: float64, (leaves - 1) × 4, as of a `Tree`; those within a group at height 0.

    means: float64 CSR, g × m, of the rows of each group; sizes: int64, g. first: int64, g, a leaf of each. within: int64, of each other
    leaf the first one of its group, and itself.
    """
    found = _Joined()
    found.add(*within, np.zeros(len(within[0])))
    whole: _Rows = means.toarray() if mostly_filled(means) else means
    _in_table(_Clusters(whole, sizes.astype(np.float64), first, "ward"), found, progress)
    return found.tree(leaves)


def cut(tree: Tree, groups: int) -> tuple[NDArray[np.int64], int]:
    """The group of each leaf (int64, n) when the last joins are undone, and the number of groups. It is lower than asked if that would
    undo some of several joins at one height and not the others."""
    return cut_joins(tree.joins, len(tree), groups)


def cut_joins(joins: NDArray[np.float64], leaves: int, groups: int) -> tuple[NDArray[np.int64], int]:
    """As `cut` (int64, n), of joins alone. joins: float64, (n - 1) × 4."""
    groups = cut_groups(joins[:, 2], leaves, groups)
    if not groups:
        return np.zeros(0, np.int64), 0
    kept = leaves - groups
    above = np.arange(leaves + kept)
    sides = joins[:kept, :2].astype(np.int64)
    above[sides[:, 0]] = above[sides[:, 1]] = leaves + np.arange(kept)
    while True:  # every step doubles how far a leaf looks up
        further = above[above]
        if np.array_equal(further, above):
            break
        above = further
    return np.unique(above[:leaves], return_inverse=True)[1].astype(np.int64), groups


def cut_groups(heights: NDArray[np.float64], leaves: int, groups: int) -> int:
    """The number of groups that a cut gives when asked for a number: no more, and fewer if it would separate joins at one height.

    heights: float64, leaves - 1, rising.

    >>> cut_groups(np.array([0.2, 1.0, 1.0, 1.0]), 5, 3), cut_groups(np.array([0.2, 1.0, 1.0, 1.0]), 5, 4)
    (1, 4)
    """
    groups = min(groups, leaves)
    kept = leaves - groups
    if 0 < kept < len(heights) and heights[kept - 1] == heights[kept]:
        groups = leaves - int(np.searchsorted(heights, heights[kept - 1], side="right"))
    return groups


class _Joined:
    """Joins as they are found: a leaf of either side and the height, in any order."""

    def __init__(self) -> None:
        self._parts: list[tuple[NDArray[np.integer], NDArray[np.integer], NDArray[np.float64]]] = []

    def add(self, first: NDArray[np.integer], second: NDArray[np.integer], height: NDArray[np.float64]) -> None:
        self._parts.append((first, second, height))

    def tree(self, leaves: int) -> NDArray[np.float64]:
        """All joins by rising height, numbered."""
        first, second, height = (np.concatenate(part) for part in zip(*self._parts, strict=True))
        order = np.argsort(height, kind="stable")
        joins = np.empty((leaves - 1, 4))
        above = list(range(2 * leaves - 1))
        sizes = [1] * leaves + [0] * (leaves - 1)

        def top(node: int) -> int:
            root = node
            while above[root] != root:
                root = above[root]
            while above[node] != root:
                above[node], node = root, above[node]
            return root

        pairs = zip(first[order].tolist(), second[order].tolist(), height[order].tolist(), strict=True)
        for number, (one, other, high) in enumerate(pairs):
            left, right = sorted((top(one), top(other)))
            node = leaves + number
            above[left] = above[right] = node
            sizes[node] = sizes[left] + sizes[right]
            joins[number] = left, right, max(high, 0.0), sizes[node]
        return joins


@dataclass(eq=False)
class _Clusters:
    """a clusters: their mean rows (a × m), sizes, a leaf of each. squares: of the lengths of the means. nearest: which is the nearest of
    each, at which distance, and a bound that no other falls below. Distances are squared under ward."""

    means: _Rows
    sizes: NDArray[np.float64]
    leaf: NDArray[np.int64]
    linkage: str
    squares: NDArray[np.float64] = field(init=False)

    def __post_init__(self) -> None:
        squared = self.means**2 if isinstance(self.means, np.ndarray) else self.means.power(2)
        self.squares = np.asarray(squared.sum(axis=1)).ravel()
        self.squares[self.sizes == 1] = 1.0

    def __len__(self) -> int:
        return len(self.sizes)

    def distances(self, some: NDArray[np.integer] | slice) -> NDArray[np.float64]:
        """From some clusters to all (b × a); inf to themselves."""
        if isinstance(self.means, np.ndarray):
            found = self.means[some] @ self.means.T
        else:
            found = np.asarray((self.means @ np.ascontiguousarray(self.means[some].toarray().T)).T)
        if self.linkage == "ward":
            found *= -2
            found += self.squares
            found += self.squares[some, None]
            np.maximum(found, 0, out=found)
            own = self.sizes[some, None]
            if own.max() > 1 or self.sizes.max() > 1:
                weight = own + self.sizes
                np.divide(self.sizes, weight, out=weight)
                weight *= 2 * own
                found *= weight
        else:
            np.subtract(1, found, out=found)
        places = np.arange(len(self))[some]
        found[np.arange(len(places)), places] = np.inf
        return found

    def apart(self, first: NDArray[np.integer], second: NDArray[np.integer]) -> NDArray[np.float64]:
        """The distance of each of some pairs (p), by differences: exact where the two are nearly alike."""
        found = np.empty(len(first))
        at_once = max(_CELLS_AT_ONCE // max(self.means.shape[1], 1), 1) if isinstance(self.means, np.ndarray) else 4_000
        for part in blocks(len(first), at_once):
            a, b = self.means[first[part]], self.means[second[part]]
            if self.linkage == "ward":
                difference = a - b
                squared = difference**2 if isinstance(difference, np.ndarray) else difference.power(2)
                found[part] = np.asarray(squared.sum(axis=1)).ravel()
            else:
                product = a * b if isinstance(a, np.ndarray) else a.multiply(b)
                found[part] = 1 - np.asarray(product.sum(axis=1)).ravel()
        if self.linkage == "ward":
            own, other = self.sizes[first], self.sizes[second]
            found *= 2 * own * other / (own + other)
        return found

    def height(self, distance: NDArray[np.float64]) -> NDArray[np.float64]:
        """The height of joins at some distances."""
        return np.sqrt(distance) if self.linkage == "ward" else distance

    def nearest(
        self, some: NDArray[np.integer], progress: Progress
    ) -> tuple[NDArray[np.int64], NDArray[np.float64], NDArray[np.float64]]:
        """For some clusters the nearest other, the distance to it, and the distance of the next."""

        def of_block(block: slice) -> tuple[NDArray[np.int64], NDArray[np.float64], NDArray[np.float64]]:
            distance = self.distances(some[block])
            own = np.arange(len(distance))
            near = distance.argmin(axis=1)
            least = distance[own, near]
            # Where many are equally near, neighbours in the order pair up, so that not all of them wait for the first.
            beside = some[block] ^ 1
            beside = np.where(beside < len(self), beside, near)
            near = np.where(distance[own, beside] == least, beside, near)
            distance[own, near] = np.inf
            return near, least, distance.min(axis=1)

        cut_up = blocks(len(some), max(_CELLS_AT_ONCE // max(len(self), 1), 1))
        parts = list(over_blocks(of_block, cut_up, progress))
        return tuple(np.concatenate(part) for part in zip(*parts, strict=True))  # type: ignore[return-value]

    def some(self, places: NDArray[np.integer]) -> _Clusters:
        """Some of the clusters."""
        return _Clusters(self.means[places], self.sizes[places], self.leaf[places], self.linkage)

    def joined(self, first: NDArray[np.integer], second: NDArray[np.integer]) -> tuple[_Clusters, NDArray[np.int64]]:
        """The clusters after each of some pairs has joined, and where each of the old ones is now (int64, a)."""
        stays = np.ones(len(self), np.bool_)
        stays[second] = False
        place = np.cumsum(stays) - 1
        place[second] = place[first]
        sizes = np.bincount(place, self.sizes).astype(np.float64)
        share = self.sizes / sizes[place]
        if isinstance(self.means, np.ndarray):
            means: _Rows = self.means[stays]
            means[place[first]] *= share[first, None]
            means[place[first]] += self.means[second] * share[second, None]
        else:
            gathered = csr_array((share, (place, np.arange(len(self)))), shape=(len(sizes), len(self)))
            means = csr_array(gathered @ self.means)
        return _Clusters(means, sizes, self.leaf[stays], self.linkage), place


def _in_rounds(clusters: _Clusters, found: _Joined, progress: Progress) -> _Clusters:
    """Join all pairs that are each other's nearest, round by round; gives the few clusters that are left.

    A cluster looks for its nearest anew only where that has joined another and is no longer sure to be the nearest.
    """
    began = len(clusters)
    if began <= _FEW:
        return clusters
    alone = _Alone(clusters, found)
    done = Told(progress)
    near, least, bound = clusters.nearest(np.arange(began), done.again)
    while len(clusters) > _FEW:
        done.at(1 - len(clusters) / began)
        kept = alone.without(clusters, least)
        if kept is not None:
            clusters, place = clusters.some(kept), np.cumsum(np.isin(np.arange(len(clusters)), kept)) - 1
            near, least, bound = place[near[kept]], least[kept], bound[kept]
            continue
        own = np.arange(len(clusters))
        first = own[(near[near] == own) & (own < near)]
        if not len(first):  # rounding hides which is the nearer of two
            lowest = int(least.argmin())
            first = np.array([min(lowest, near[lowest])])
            near[first] = max(lowest, near[lowest])
        elif len(first) < _SLOW * len(clusters) and len(clusters) <= _FEW_IF_SLOW:
            break
        second = near[first]
        found.add(clusters.leaf[first], clusters.leaf[second], clusters.height(clusters.apart(first, second)))
        before = near
        merged = np.zeros(len(clusters), np.bool_)
        merged[first] = merged[second] = True
        clusters, place = clusters.joined(first, second)
        stays = np.ones(len(before), np.bool_)
        stays[second] = False
        near, least, bound = place[before[stays]], least[stays], bound[stays]
        new, unsure = merged[stays], merged[before[stays]] & ~merged[stays]
        asked = np.flatnonzero(unsure)
        distance = clusters.apart(asked, near[asked])
        sure = distance <= bound[asked]
        least[asked[sure]] = distance[sure]
        stale = np.flatnonzero(new | unsure)
        stale = np.setdiff1d(stale, asked[sure], assume_unique=True)
        near[stale], least[stale], bound[stale] = clusters.nearest(stale, done.again)
    return alone.back(clusters)


class _Alone:
    """Clusters under average linkage that share nothing with any other, of rows without negative cells: they are as far from
    all that the others will be as from each other, and wait for the table at the end."""

    def __init__(self, clusters: _Clusters, found: _Joined) -> None:
        data = clusters.means if isinstance(clusters.means, np.ndarray) else clusters.means.data
        self._asked = clusters.linkage == "average" and bool((data >= 0).all())
        self._found = found
        self._leaf: list[NDArray[np.int64]] = []

    def without(self, clusters: _Clusters, least: NDArray[np.float64]) -> NDArray[np.int64] | None:
        """The clusters that are not alone, by their places; None where none is, or all are."""
        if not self._asked:
            return None
        linked = least < 1
        if linked.all() or not linked.any():
            return None
        self._leaf.append(clusters.leaf[~linked])
        return np.flatnonzero(linked)

    def back(self, clusters: _Clusters) -> _Clusters:
        """The clusters, of which one has been told to join all those that are alone, at the height 1 at which all end."""
        if self._leaf:
            alone = np.concatenate(self._leaf)
            self._found.add(np.full(len(alone), clusters.leaf[0]), alone, np.ones(len(alone)))
        return clusters


def _in_table(clusters: _Clusters, found: _Joined, progress: Progress) -> None:
    """Join what is left, along a chain of nearest clusters in the table of all distances (Lance & Williams 1967; Murtagh 1983)."""
    a = len(clusters)
    if a < 2:
        return
    linkage, sizes = clusters.linkage, clusters.sizes.copy()
    if linkage == "complete":
        clusters = dataclasses.replace(clusters, linkage="average")
    table = np.empty((a, a))
    for block in blocks(a, max(_CELLS_AT_ONCE // a, 1)):
        progress(0.5 * block.start / a)
        table[block] = clusters.distances(block)
    first, second, height = np.empty(a - 1, np.int64), np.empty(a - 1, np.int64), np.empty(a - 1)
    chain: list[int] = []
    there = np.ones(a, np.bool_)
    for number in range(a - 1):
        if number % 64 == 0:
            progress(0.5 + 0.5 * number / a)
        if not chain:
            chain.append(int(there.argmax()))
        while True:
            row = table[chain[-1]]
            near = int(row.argmin())
            if len(chain) > 1 and row[chain[-2]] <= row[near]:
                near = chain[-2]
                break
            chain.append(near)
        one, other = sorted((chain.pop(), chain.pop()))
        first[number], second[number], height[number] = one, other, table[one, other]
        own, new = sizes[one], sizes[other]
        with np.errstate(invalid="ignore"):
            if linkage == "complete":
                joined = np.maximum(table[one], table[other])
            elif linkage == "average":
                joined = (own * table[one] + new * table[other]) / (own + new)
            else:
                joined = (own + sizes) * table[one] + (new + sizes) * table[other] - sizes * table[one, other]
                joined /= own + new + sizes
        # The later of the two stands for both, as in SciPy: where distances are equal, the same groups join.
        there[one] = False
        joined[other] = joined[~there] = np.inf
        table[other] = table[:, other] = joined
        table[one] = table[:, one] = np.inf
        sizes[other] += own
    found.add(clusters.leaf[first], clusters.leaf[second], np.sqrt(height) if linkage == "ward" else height)


def _spanning(rows: _Rows, progress: Progress) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float64]]:
    """The edges of a minimum spanning tree of rows of length 1, and their lengths 1 - cos: each row is joined to the nearest of those
    before it (Prim, "Shortest connection networks", 1957)."""
    n = rows.shape[0]
    others, left = np.arange(1, n), rows[1:]
    nearest, cosine = np.zeros(n - 1, np.int64), np.full(n - 1, -np.inf)
    waiting = np.ones(n - 1, np.bool_)
    first, second, height = np.empty(n - 1, np.int64), np.empty(n - 1, np.int64), np.empty(n - 1)
    newest = 0
    for number in range(n - 1):
        if number % 64 == 0:
            progress(number / n)
            if 2 * np.count_nonzero(waiting) < len(waiting):
                left, others, nearest, cosine = left[waiting], others[waiting], nearest[waiting], cosine[waiting]
                waiting = np.ones(len(others), np.bool_)
        row = rows[newest] if isinstance(rows, np.ndarray) else rows[[newest]].toarray().ravel()
        found = left @ row
        nearer = waiting & (found > cosine)
        cosine[nearer], nearest[nearer] = found[nearer], newest
        at = int(cosine.argmax())
        first[number], second[number], height[number] = nearest[at], others[at], 1 - cosine[at]
        newest, cosine[at], waiting[at] = int(others[at]), -np.inf, False
    return first, second, height
