# SPDX-License-Identifier: GPL-3.0-or-later
"""Families of near-duplicates: the documents that same, edited and holds connect, and the standard of each."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare.pairs import Pairs
from jagged_lens.compare.shingles import Kind, Shingles
from jagged_lens.progress import Progress, unheard

_COMPARED = 1_000  # different wordings of a family that a member is compared with, evenly spread, where there are more


@dataclass(frozen=True, eq=False)
class Families:
    """f families of d documents in all.

    starts: int64, f + 1; members: int32, d, the rows of each family one after the other, the standard first, then by falling
    resemblance to it. standard: int32, f: the member with the highest mean resemblance to the others (ties: the longest text, then the
    lowest row). resemblance: float32, d, to the standard. kinds: int64, f × 3, how many pairs of same, edited and holds are listed.
    """

    starts: NDArray[np.int64]
    members: NDArray[np.int32]
    standard: NDArray[np.int32]
    resemblance: NDArray[np.float32]
    kinds: NDArray[np.int64]

    def __len__(self) -> int:
        return len(self.standard)

    @property
    def sizes(self) -> NDArray[np.int64]:
        """The number of documents each family has: int64, f."""
        return np.diff(self.starts)

    def of(self, family: int) -> NDArray[np.int32]:
        """The rows of one family, its standard first (int32)."""
        return self.members[self.starts[family] : self.starts[family + 1]]

    def resemblances(self, family: int) -> NDArray[np.float32]:
        """The resemblance of each member of one family to the standard, in the order of `of` (float32)."""
        return self.resemblance[self.starts[family] : self.starts[family + 1]]


def families_of(
    pairs: Pairs,
    shingles: Shingles,
    rows: NDArray[np.integer],
    lengths: NDArray[np.integer],
    progress: Progress = unheard,
) -> Families:
    """The families of the pairs.

    rows: int32, n, the corpus row of each. lengths: int64, of the texts of the n documents, in characters. The resemblance of two
    documents is that of their sets of runs, |A ∩ B| ÷ |A ∪ B| (Broder, "On the resemblance and containment of documents", 1997).
    """
    near = np.flatnonzero(pairs.kind != Kind.SUBJECT)
    f = pairs.families
    kinds = np.bincount(pairs.family[near] * np.int64(3) + pairs.kind[near], minlength=3 * f).reshape(f, 3)
    rows_of_pairs = np.concatenate((pairs.first[near], pairs.second[near]))
    member, at = np.unique(rows_of_pairs, return_index=True)
    family = np.concatenate((pairs.family[near], pairs.family[near]))[at]
    order = np.lexsort((member, family))
    member, family = member[order], family[order]
    starts = np.searchsorted(family, np.arange(f + 1))
    standard, resemblance = np.zeros(f, np.int32), np.zeros(len(member), np.float32)
    sizes = np.diff(starts)
    two = np.flatnonzero(sizes == 2)
    if len(two):  # either resembles the other as much: the longer text is the standard, or else the lower row
        begin = starts[two]
        turned = lengths[member[begin + 1]] > lengths[member[begin]]
        member[begin + turned], member[begin + 1 - turned] = member[begin].copy(), member[begin + 1].copy()
        standard[two] = member[begin]
        between = np.zeros(f, np.float32)
        between[pairs.family[near]] = pairs.resemblance[near]
        resemblance[begin], resemblance[begin + 1] = 1, between[two]
    more = np.flatnonzero(sizes > 2).tolist()
    for done, number in enumerate(more):
        if done % 500 == 0:
            progress(done / len(more))
        own = slice(int(starts[number]), int(starts[number + 1]))
        some = member[own].copy()
        place, to_standard = _standard(shingles, rows[some], lengths[some])
        order = np.lexsort((some, -to_standard, np.arange(len(some)) != place))
        member[own], resemblance[own] = some[order], to_standard[order]
        standard[number] = some[place]
    return Families(starts, member.astype(np.int32), standard, resemblance, kinds)


def _standard(
    shingles: Shingles, rows: NDArray[np.integer], lengths: NDArray[np.integer]
) -> tuple[int, NDArray[np.float32]]:
    """The document that resembles the others most, and the resemblance of each other to it (float32)."""
    wording, first, of, times = np.unique(
        shingles.wording[rows], return_index=True, return_inverse=True, return_counts=True
    )
    sets = shingles.sets[rows[first]]
    runs, own_run = np.unique(sets.indices, return_inverse=True)
    sets = csr_array((sets.data, own_run.ravel(), sets.indptr), shape=(len(first), len(runs)))
    sizes = shingles.sizes[rows[first]].astype(np.float64)
    d = len(wording)
    chosen = np.unique(np.linspace(0, d - 1, min(d, _COMPARED)).round().astype(np.int64))
    across = sets[chosen].T.tocsr()
    mean = np.empty(d)
    for start in range(0, d, _COMPARED):
        part = slice(start, min(start + _COMPARED, d))
        common = (sets[part] @ across).toarray().astype(np.float64)
        resembling = common / np.maximum(sizes[part, None] + sizes[chosen] - common, 1)
        resembling[np.arange(part.start, part.stop)[:, None] == chosen] = 1  # with itself, runs of its own counted
        # Each wording counts as often as it occurs; a document is not compared with itself.
        weight = times[chosen].astype(np.float64)
        whole = resembling @ weight - np.isin(np.arange(part.start, part.stop), chosen)
        mean[part] = whole / np.maximum(weight.sum() - np.isin(np.arange(part.start, part.stop), chosen), 1)
    of = of.ravel()
    # Means that differ by rounding alone are equal.
    place = int(np.lexsort((rows, -lengths, -np.round(mean[of], 12)))[0])
    own = sets[[of[place]]]
    common = np.asarray((sets @ own.T.tocsr()).toarray()).ravel()
    resembling = common / np.maximum(sizes + sizes[of[place]] - common, 1)
    resembling[of[place]] = 1
    return place, resembling[of].astype(np.float32)
