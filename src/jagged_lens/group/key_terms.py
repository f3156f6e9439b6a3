# SPDX-License-Identifier: GPL-3.0-or-later
"""Key terms: those that a set of documents holds more often than the rest does.

Log-likelihood ratio G² = 2 Σ O ln(O/E) over the four cells (in the set or not, with the term or not) of document
counts; Dunning, "Accurate methods for the statistics of surprise and coincidence", 1993.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.group.grouping import Grouping
from jagged_lens.parallel import blocks
from jagged_lens.terms import TermCounts, log_likelihood

TOLD = 12
NAMING = 2
_COVERED, _ALSO = 1 / 3, 1 / 5
_LOOKED_AT = 60
_CELLS_AT_ONCE = 2_000_000


@dataclass(frozen=True, eq=False)
class KeyTerms:
    """The key terms of g groups. terms: int32 columns, g × TOLD, -1 if there are fewer. ratio: their G² (float32). inside, documents:
    int32, the documents of the group and of all that contain each. typical, oddest: int32, the rows nearest to and farthest from the
    centroid. naming: int32 columns, g × NAMING, -1 if there are fewer: the terms of its name."""

    terms: NDArray[np.int32]
    ratio: NDArray[np.float32]
    inside: NDArray[np.int32]
    documents: NDArray[np.int32]
    typical: NDArray[np.int32]
    oddest: NDArray[np.int32]
    naming: NDArray[np.int32]

    def names(self, group: int) -> list[int]:
        """The columns of the terms that a group is called by."""
        return [int(column) for column in self.naming[group] if column >= 0]

    def columns(self, group: int) -> list[int]:
        """The columns of a group's key terms, the one that tells most first."""
        return [int(column) for column in self.terms[group] if column >= 0]


def key_terms(
    counts: csr_array, inside: NDArray[np.bool_], most: int = TOLD, documents: NDArray[np.float64] | None = None
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """The columns that tell the documents `inside` (bool, n) from the rest, by falling G² (ties: by column), with it.

    documents: float64, m, as of `document_frequencies`, where it has been counted already.
    """
    within = document_frequencies(counts, inside)
    documents = document_frequencies(counts) if documents is None else documents
    ratio = log_likelihood(within, documents, float(inside.sum()), float(max(len(inside), 1)))
    order = np.argsort(-ratio, kind="stable")[:most]
    order = order[ratio[order] > 0]
    return order, ratio[order]


def document_frequencies(counts: csr_array, inside: NDArray[np.bool_] | None = None) -> NDArray[np.float64]:
    """In how many documents each of the m columns stands (float64, m). inside: bool, n, those that count; None: all."""
    indices = counts.indices if inside is None else counts.indices[np.repeat(inside, np.diff(counts.indptr))]
    return np.bincount(indices, minlength=counts.shape[1]).astype(np.float64)


def key_terms_of_groups(grouping: Grouping, terms: TermCounts) -> KeyTerms:
    """The key terms and the most typical and oddest document of each group."""
    k, (n, m) = len(grouping), terms.counts.shape
    columns = np.full((k, TOLD), -1, np.int32)
    ratios = np.zeros((k, TOLD), np.float32)
    inside = np.zeros((k, TOLD), np.int32)
    typical = np.zeros(k, np.int32)
    oddest = np.zeros(k, np.int32)
    naming = np.full((k, NAMING), -1, np.int32)
    documents = document_frequencies(terms.counts)
    owner = np.repeat(grouping.group, np.diff(terms.counts.indptr))
    for some in blocks(k, max(_CELLS_AT_ONCE // max(m, 1), 1)):
        mine = (owner >= some.start) & (owner < some.stop)
        cells = (owner[mine] - some.start).astype(np.int64) * m + terms.counts.indices[mine]
        within = np.bincount(cells, minlength=(some.stop - some.start) * m).reshape(some.stop - some.start, m)
        for group, held in enumerate(within, some.start):
            members = np.flatnonzero(grouping.group == group)
            ratio = log_likelihood(held.astype(np.float64), documents, float(len(members)), float(max(n, 1)))
            order = np.argsort(-ratio, kind="stable")[:TOLD]
            order = order[ratio[order] > 0]
            columns[group, : len(order)], ratios[group, : len(order)] = order, ratio[order]
            inside[group, : len(order)] = held[order]
            typical[group] = members[grouping.closeness[members].argmax()]
            oddest[group] = members[grouping.closeness[members].argmin()]
            own = naming_terms(held.astype(np.float64), documents, float(len(members)), float(max(n, 1)), terms.terms)
            naming[group, : len(own)] = own
    return KeyTerms(columns, ratios, inside, np.append(documents, 0)[columns].astype(np.int32), typical, oddest, naming)


def naming_terms(
    inside: NDArray[np.float64], documents: NDArray[np.float64], size: float, n: float, terms: Sequence[str]
) -> list[int]:
    """The columns of the terms that name a set of documents, at most NAMING: those that most of them hold and few others do.

    inside, documents: float64, m, in how many documents of the set, and of all n, each of the terms stands. By the share inside less
    that outside, of terms that at least twice as large a share holds inside: the first one that a third of the set holds, the others a
    fifth, where there are such. No word stands in a name twice.
    """
    shares = inside / max(size, 1)
    outside = (documents - inside) / max(n - size, 1)
    gain = shares - outside
    own = (gain > 0) & (shares >= 2 * outside)
    found: list[int] = []
    words: set[str] = set()
    for least in (_COVERED, *[_ALSO] * (NAMING - 1)):
        places = np.flatnonzero(own & (shares >= least))
        if not found and not len(places):
            places = np.flatnonzero(own if own.any() else gain > 0)
        order = places[np.argsort(-gain[places], kind="stable")][:_LOOKED_AT]
        column = next((one for one in order.tolist() if not words & set(terms[one].split())), -1)
        if column >= 0:
            found.append(column)
            words |= set(terms[column].split())
    return found
