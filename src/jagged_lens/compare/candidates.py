# SPDX-License-Identifier: GPL-3.0-or-later
"""For every document of many its nearest others, by candidates: the nearest in themes, then compared exactly.

What that misses is measured, on some documents whose nearest are looked for in full.
"""

from __future__ import annotations

import dataclasses

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare.measure import Rows, rows_of, similarities
from jagged_lens.compare.neighbours import Neighbours, at_least_kth, best_of, nearest_in_full
from jagged_lens.parallel import blocks, over_blocks
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.weigh import Themes, VectorSpace

EXACT_TO = 20_000
"""Up to so many documents neighbours are always exact."""
THEMES = 100
_PER_NEIGHBOUR = 5
_FEWEST = 60
_MEASURED_ON = 500
_CELLS_AT_ONCE = 4_000_000
_SEED = 1


def neighbours_by_candidates(
    space: VectorSpace, themes: Themes, measure: str, k: int, progress: Progress = unheard
) -> Neighbours:
    """The k nearest of each of n documents among its max(5 k, 60) nearest in themes, and the recall of that on 500 of them."""
    rows = rows_of(space, measure)
    n = len(rows.squares)
    k = min(k, max(n - 1, 0))
    found = Neighbours.none(n, k)
    if k == 0 or not len(themes):
        return found
    wanted = min(max(_PER_NEIGHBOUR * k, _FEWEST), n - 1)
    in_themes = themes.documents.astype(np.float32, copy=True)
    if rows.unit:
        lengths = np.linalg.norm(in_themes, axis=1, keepdims=True)
        in_themes /= np.where(lengths > 0, lengths, 1)
    squares = np.einsum("ij,ij->i", in_themes, in_themes)
    across = np.ascontiguousarray(in_themes.T)

    def nearest(block: slice) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float32]]:
        near = in_themes[block] @ across
        if not rows.unit:
            near *= 2
            near -= squares
        near[:, rows.empty] = -np.inf
        near[np.arange(len(near)), np.arange(block.start, block.stop)] = -np.inf
        places = np.flatnonzero(near >= at_least_kth(near, wanted)[:, None])
        owner, other = places // n, places % n
        order = np.lexsort((other, -near.ravel()[places], owner))
        owner, other = owner[order], other[order]
        few = np.arange(len(owner)) - np.searchsorted(owner, owner) < wanted
        few &= near[owner, other] > -np.inf  # where fewer are left than are wanted: never itself, nor an empty one
        owner, other = owner[few] + block.start, other[few]
        return owner, other, similarities(rows, owner, other)

    size = max(1, _CELLS_AT_ONCE // n)
    for owner, other, similarity in over_blocks(nearest, blocks(n, size), portion(progress, 0, 0.9)):
        best_of(found, owner, other, similarity)
    found.row[rows.empty], found.similarity[rows.empty] = -1, 0
    return dataclasses.replace(found, recall=_recall(rows, found, k, portion(progress, 0.9, 1)))


def _recall(rows: Rows, found: Neighbours, k: int, progress: Progress) -> float:
    """The share of true neighbours that were found, of 500 seeded rows. One as alike as the last true one is as good."""
    filled = np.flatnonzero(~rows.empty)
    if not len(filled):
        return 1.0
    chosen = np.sort(np.random.default_rng(_SEED).choice(filled, min(_MEASURED_ON, len(filled)), replace=False))
    true = Neighbours.none(len(rows.squares), k)
    nearest_in_full(rows, chosen, true, progress)
    wanted = (true.row[chosen] >= 0).sum(axis=1)
    least = np.where(wanted > 0, true.similarity[chosen, np.maximum(wanted - 1, 0)], np.inf)
    reached = ((found.row[chosen] >= 0) & (found.similarity[chosen] >= least[:, None])).sum(axis=1)
    total = int(wanted.sum())
    return float(np.minimum(reached, wanted).sum() / total) if total else 1.0
