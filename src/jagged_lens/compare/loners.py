# SPDX-License-Identifier: GPL-3.0-or-later
"""Loners: documents that have no near neighbour at all."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare.neighbours import Neighbours

LONELY = 0.1
"""The similarity to its nearest neighbour below which a document counts as a loner, where nobody says otherwise."""


def loners(neighbours: Neighbours, empty: NDArray[np.bool_], below: float) -> NDArray[np.int64]:
    """The rows, not empty ones, whose nearest neighbour is less than so alike, the loneliest first (int64)."""
    nearest = neighbours.similarity[:, 0] if neighbours.row.shape[1] else np.zeros(len(empty), np.float32)
    alone = np.flatnonzero(~empty & (nearest < below))
    return alone[np.argsort(nearest[alone], kind="stable")]
