"""How far a map can be trusted: which share of a document's nearest in the space are near on the map too."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Neighbours
from jagged_lens.map.near import nearest_on_map
from jagged_lens.map.pca import Projection
from jagged_lens.progress import Progress, unheard

NEAREST = 12


@dataclass(frozen=True, eq=False)
class MapLayout:
    """A map of n documents.

    positions: float32, n × 2, NaN for an empty row. trust: float32, n, from 0 to 1, NaN where there is none (an empty
    row, or one that shares no term with any other). overall: the mean trust. projection: what is needed to place a new
    row.
    """

    positions: NDArray[np.float32]
    trust: NDArray[np.float32]
    overall: float
    projection: Projection


def trusted(projection: Projection, neighbours: Neighbours, progress: Progress = unheard) -> MapLayout:
    """Measure the trust of a projection.

    neighbours: at least min(12, n - 1) of each row. At a point: the share of its nearest in the space (min(12, n - 1), n
    counting rows that are not empty; fewer where fewer are alike at all) that are among as many nearest on the map.
    """
    positions = projection.positions
    n = len(positions)
    placed = np.flatnonzero(~np.isnan(positions[:, 0]))
    trust = np.full(n, np.nan, np.float32)
    k = min(NEAREST, len(placed) - 1, neighbours.row.shape[1])
    if k > 0:
        on_map = placed[nearest_on_map(positions[placed], k, progress)]
        in_space = neighbours.row[placed, :k]
        found = (in_space >= 0).sum(axis=1)
        shown = np.where(np.arange(k) < found[:, None], on_map, -2)
        kept = (in_space[:, :, None] == shown[:, None, :]).any(axis=2).sum(axis=1)
        trust[placed] = np.where(found > 0, kept / np.maximum(found, 1), np.nan)
    known = trust[~np.isnan(trust)]
    return MapLayout(positions, trust, float(known.mean(dtype=np.float64)) if len(known) else float("nan"), projection)
