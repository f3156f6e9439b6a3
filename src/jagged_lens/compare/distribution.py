# SPDX-License-Identifier: GPL-3.0-or-later
"""The distribution of the similarity of pairs. The distribution of the similarity of all pairs, counted in blocks."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare.measure import rows_of
from jagged_lens.compare.neighbours import DotBlocks, likeness_block
from jagged_lens.parallel import over_blocks
from jagged_lens.progress import Progress, unheard, unseen
from jagged_lens.weigh import VectorSpace

BINS = 40
_EXACT_TO = 20_000
_SAMPLED_BLOCKS = 24


@dataclass(frozen=True, eq=False)
class Distribution:
    """counts: float64, BINS bins from 0 to 1 (below 0 counts as 0). exact: False where it is scaled up from a sample. error: float64, the
    standard error of each count, from how much the sampled blocks differ (Cochran, "Sampling Techniques", 1977, ch. 9). 0 where it is
    exact."""

    counts: NDArray[np.float64]
    exact: bool
    error: NDArray[np.float64]

    @property
    def edges(self) -> NDArray[np.float64]:
        """The edges of the bins, from 0 to 1: float64, one more than there are bins."""
        return np.linspace(0, 1, len(self.counts) + 1)


def similarity_distribution(
    space: VectorSpace, measure: str, progress: Progress = unheard, preview: Callable[[Distribution], None] = unseen
) -> Distribution:
    """Count the similarities of all pairs of rows that are not empty.

    Up to some thousands of rows every pair is counted; above, evenly spaced blocks of rows against all, scaled up. preview: shown
    what was counted so far, scaled up, after each block.
    """
    rows = rows_of(space, measure)
    n = len(rows.squares)
    filled = int((~rows.empty).sum())
    total = np.zeros(BINS, np.float64)
    if filled < 2:
        return Distribution(total, True, np.zeros(BINS))
    dots = DotBlocks(rows)
    chosen = dots.blocks
    exact = n <= _EXACT_TO
    if not exact and len(chosen) > _SAMPLED_BLOCKS:
        chosen = [chosen[at] for at in np.linspace(0, len(chosen) - 1, _SAMPLED_BLOCKS).astype(int)]

    def counted(block: slice) -> NDArray[np.int64]:
        likeness = likeness_block(rows, dots, block)
        filled_rows = ~rows.empty[block]
        valid = likeness[filled_rows][:, ~rows.empty]
        bins = np.clip(valid * BINS, 0, BINS - 1).astype(np.int8)
        counts = np.bincount(bins.ravel(), minlength=BINS)
        own = np.arange(likeness.shape[0])[filled_rows]  # each row with itself does not count
        with_itself = np.clip(likeness[own, own + block.start] * BINS, 0, BINS - 1).astype(np.int8)
        return counts - np.bincount(with_itself, minlength=BINS)

    pairs = filled * (filled - 1) / 2

    squares = np.zeros(BINS, np.float64)
    done = 0

    def so_far(whole: bool) -> Distribution:
        times = pairs / total.sum() if total.sum() else 1.0
        mean = total / max(done, 1)
        spread = np.maximum(squares / max(done, 1) - mean**2, 0) * done / max(done - 1, 1)
        left = 1 - done / len(dots.blocks)  # of a sample without replacement
        error = np.zeros(BINS) if whole else np.sqrt(done * spread * max(left, 0)) * times
        return Distribution(total * times, whole, error)

    for counts in over_blocks(counted, chosen, progress):
        total += counts
        squares += counts.astype(np.float64) ** 2
        done += 1
        preview(so_far(False))
    return so_far(exact or len(chosen) == len(dots.blocks))
