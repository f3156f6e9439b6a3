# SPDX-License-Identifier: GPL-3.0-or-later
"""Pairs of documents: those at or above a limit, and all near-duplicates besides, whatever the weights say of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array
from scipy.sparse.csgraph import connected_components

from jagged_lens.compare.above import MOST_PAIRS, Allowed, pairs_above
from jagged_lens.compare.copies import Copies, find_copies
from jagged_lens.compare.measure import Rows, rows_of, similarities
from jagged_lens.compare.settings import CompareSettings
from jagged_lens.compare.shingles import Kind, Shingles, compared_by_runs
from jagged_lens.gather import Label
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.weigh import VectorSpace

_SPARED_FROM = 10  # of the most pairs one in so many: if more have the same wording, each is listed once


@dataclass(frozen=True, eq=False)
class Pairs:
    """p pairs, by similarity falling, then first, second.

    first < second: int32 rows. similarity: float32. kind: uint8, a Kind. family: int32, from 0 by lowest row, of the
    documents connected by same, edited or holds; -1 for a pair of kind subject. resemblance: float32, of their wordings. documents:
    of how many; paired: how many of them are in a pair. listed_from: all pairs at or above it are there, which is the limit asked for, or
    higher where there would have been too many. spared: how many documents are listed only with the first of their wording, since
    very many have the same. left_out: how many near-duplicates are not listed since there are too many; the families are whole all
    the same.
    """

    first: NDArray[np.int32]
    second: NDArray[np.int32]
    similarity: NDArray[np.float32]
    kind: NDArray[np.uint8]
    family: NDArray[np.int32]
    resemblance: NDArray[np.float32]
    documents: int
    paired: int
    listed_from: float
    spared: int = 0
    left_out: int = 0

    def __len__(self) -> int:
        return len(self.first)

    @property
    def families(self) -> int:
        """The number of families there are."""
        return int(self.family.max(initial=-1)) + 1


def find_pairs(
    space: VectorSpace,
    shingles: Shingles,
    settings: CompareSettings,
    across: Label | None = None,
    within: Label | None = None,
    progress: Progress = unheard,
    most: int = MOST_PAIRS,
) -> Pairs:
    """All pairs whose similarity, rounded to float32, is at or above settings.pairs_from, and with settings.copies_below all
    near-duplicates besides. Empty rows are in none.

    across, within: of the documents of the corpus; only pairs of different values of the one and of the same value of the other are
    listed; documents without a value are in none. most: so many pairs at or above the limit and so many near-duplicates are listed.
    """
    rows = rows_of(space, settings.measure)
    lens = space.terms.rows
    group = np.zeros(len(lens), np.int64)
    for label in (across, within):
        if label is not None:
            group = group * (len(label.values) + 1) + label.codes[lens]

    def allowed(first: NDArray[np.integer], second: NDArray[np.integer]) -> NDArray[np.bool_]:
        may = np.ones(len(first), np.bool_)
        for label, alike in ((across, False), (within, True)):
            if label is not None:
                a, b = label.codes[lens[first]], label.codes[lens[second]]
                may &= ((a == b) == alike) & (a != label.none) & (b != label.none)
        return may

    standing = _standing(shingles, lens, group, rows.empty, most) if settings.copies_below else np.arange(len(lens))
    spared = standing != np.arange(len(lens))
    if spared.any():
        above = pairs_above(_without(rows, spared), settings.pairs_from, allowed, portion(progress, 0, 0.5), most)
    else:
        above = pairs_above(rows, settings.pairs_from, allowed, portion(progress, 0, 0.5), most)
    kind, resemblance = compared_by_runs(shingles, lens[above.first], lens[above.second])
    first, second, similarity, left_out = above.first, above.second, above.similarity, 0
    if settings.copies_below:
        active = ~rows.empty & ~spared
        copies = find_copies(shingles, lens, active, allowed, portion(progress, 0.5, 0.95), most)
        copies = _with_spared(copies, standing, shingles.wording[lens], allowed)
        left_out = copies.left_out
        new = ~_known(first, second, copies, len(lens))
        added = similarities(rows, copies.first[new], copies.second[new])
        first, second = np.append(first, copies.first[new]), np.append(second, copies.second[new])
        similarity, kind = np.append(similarity, added), np.append(kind, copies.kind[new])
        resemblance = np.append(resemblance, copies.resemblance[new])
    order = np.lexsort((second, first, -similarity))
    first, second, similarity, kind = first[order], second[order], similarity[order], kind[order]
    return Pairs(
        first,
        second,
        similarity,
        kind,
        _families(first, second, kind, len(lens)),
        resemblance[order],
        len(lens),
        len(np.unique(np.concatenate((first, second)))),
        float(above.limit) if above.limit > np.float32(settings.pairs_from) else settings.pairs_from,
        int(spared.sum()),
        left_out,
    )


def _standing(
    shingles: Shingles, lens: NDArray[np.integer], group: NDArray[np.int64], empty: NDArray[np.bool_], most: int
) -> NDArray[np.int64]:
    """The row that stands for each row in the list: the first of its wording and group where very many have the same, else itself.

    int64, n.
    """
    own = np.arange(len(lens))
    worded = np.flatnonzero(~empty & (shingles.sizes[lens] > 0))
    if not len(worded):
        return own
    _, first, of, times = np.unique(
        np.stack((shingles.wording[lens[worded]].astype(np.int64), group[worded])),
        axis=1,
        return_index=True,
        return_inverse=True,
        return_counts=True,
    )
    if (times.astype(float) * (times - 1) / 2).sum() > most / _SPARED_FROM:
        own[worded] = worded[first[of.ravel()]]
    return own


def _without(rows: Rows, left: NDArray[np.bool_]) -> Rows:
    """The rows with some of them empty."""
    sizes = np.diff(rows.matrix.indptr)
    entries = np.repeat(~left, sizes)
    starts = np.concatenate(([0], np.cumsum(np.where(left, 0, sizes))))
    matrix = csr_array((rows.matrix.data[entries], rows.matrix.indices[entries], starts), shape=rows.matrix.shape)
    return Rows(matrix, np.where(left, 0.0, rows.squares), rows.measure, rows.empty | left)


def _with_spared(copies: Copies, standing: NDArray[np.int64], wording: NDArray[np.integer], allowed: Allowed) -> Copies:
    """The copies, and each spared document with the one that stands for it, or the first of its wording that it may stand with.

    standing: int64, n; wording: int32, n, that of each row.
    """
    left = np.flatnonzero(standing != np.arange(len(standing)))
    found: list[tuple[NDArray[np.int64], NDArray[np.int64]]] = []
    partner = standing[left]
    may = allowed(partner, left)
    found.append((partner[may], left[may]))
    left = left[~may]
    # Those that stand for a wording, one for each group of labels: the first, the second, and so on.
    heads = np.unique(standing[np.isin(wording, wording[left])])
    heads = heads[np.argsort(wording[heads], kind="stable")]
    while len(left) and len(heads):
        own, first = np.unique(wording[heads], return_index=True)
        place = np.searchsorted(own, wording[left])
        known = (place < len(own)) & (own[np.minimum(place, len(own) - 1)] == wording[left])
        left, partner = left[known], heads[first[place[known]]]
        may = allowed(partner, left) & (partner != left)
        found.append((partner[may], left[may]))
        left = left[~may]
        heads = np.delete(heads, first)
    one, other = (np.concatenate(side) for side in zip(*found, strict=True))
    return Copies(
        np.append(copies.first, np.minimum(one, other).astype(np.int32)),
        np.append(copies.second, np.maximum(one, other).astype(np.int32)),
        np.append(copies.kind, np.full(len(one), Kind.SAME, np.uint8)),
        np.append(copies.resemblance, np.ones(len(one), np.float32)),
        copies.left_out,
    )


def _known(first: NDArray[np.int32], second: NDArray[np.int32], copies: Copies, n: int) -> NDArray[np.bool_]:
    """For each copy, True if it is among the pairs already, or came before."""
    keys = copies.first.astype(np.int64) * n + copies.second
    known = np.isin(keys, first.astype(np.int64) * n + second)
    again = np.ones(len(keys), np.bool_)
    again[np.unique(keys, return_index=True)[1]] = False
    return known | again


def _families(
    first: NDArray[np.int32], second: NDArray[np.int32], kind: NDArray[np.uint8], n: int
) -> NDArray[np.int32]:
    near = kind != Kind.SUBJECT
    family = np.full(len(first), -1, np.int32)
    if not near.any():
        return family
    links = csr_array((np.ones(int(near.sum()), np.int8), (first[near], second[near])), shape=(n, n))
    _, component = connected_components(links, directed=False)
    members = np.unique(np.concatenate((first[near], second[near])))
    _, lowest = np.unique(component[members], return_index=True)
    number = np.full(int(component.max()) + 1, -1, np.int32)
    number[component[members[np.sort(lowest)]]] = np.arange(len(lowest))
    family[near] = number[component[first[near]]]
    return family
