"""How alike are pairs? The distribution of the similarity of all pairs, counted in blocks."""

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
_EXACT_TO = 6_000
_SAMPLED_BLOCKS = 24


@dataclass(frozen=True, eq=False)
class Distribution:
    """counts: float64, BINS bins from 0 to 1 (below 0 counts as 0). exact: False where it is scaled up from a sample."""

    counts: NDArray[np.float64]
    exact: bool

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
        return Distribution(total, True)
    dots = DotBlocks(rows)
    chosen = dots.blocks
    exact = n <= _EXACT_TO
    if not exact and len(chosen) > _SAMPLED_BLOCKS:
        chosen = [chosen[at] for at in np.linspace(0, len(chosen) - 1, _SAMPLED_BLOCKS).astype(int)]

    def counted(block: slice) -> NDArray[np.int64]:
        likeness = likeness_block(rows, dots, block)
        own = np.arange(likeness.shape[0])
        likeness[own, own + block.start] = -1
        valid = likeness[:, ~rows.empty]
        # -1 marks the row itself and empty rows: their bin is one below the first and is cut off.
        bins = np.where(valid == -1, -1, np.clip(valid * BINS, 0, BINS - 1)).astype(np.int8)
        return np.bincount(bins.ravel() + np.int16(1), minlength=BINS + 1)[1:]

    pairs = filled * (filled - 1) / 2

    def scaled() -> NDArray[np.float64]:
        return total * (pairs / total.sum()) if total.sum() else total

    for counts in over_blocks(counted, chosen, progress):
        total += counts
        preview(Distribution(scaled(), False))
    return Distribution(scaled(), exact or len(chosen) == len(dots.blocks))
