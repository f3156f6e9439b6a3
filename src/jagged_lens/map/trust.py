# SPDX-License-Identifier: GPL-3.0-or-later
"""The trust of a map: the share of a document's nearest neighbours in the space that are also near on the map."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Neighbours
from jagged_lens.map.laid import Laid
from jagged_lens.map.near import nearest_on_map
from jagged_lens.map.pca import Projection
from jagged_lens.progress import Progress, portion, unheard

NEAREST = 12


@dataclass(frozen=True, eq=False)
class MapLayout:
    """A map of n documents.

    laid: where they lie. nearest: int32, n × min(12, others), the nearest on the map, best first; -1 for an empty row. trust: float32, n,
    from 0 to 1, 0 for a row without neighbours, NaN for an empty row. overall: the mean trust. components: the mean trust of the two
    principal components, to compare with. projection: those components, which place a new row.
    """

    laid: Laid
    nearest: NDArray[np.int32]
    trust: NDArray[np.float32]
    overall: float
    components: float
    projection: Projection

    @property
    def positions(self) -> NDArray[np.float32]:
        """float32, n × 2, NaN for an empty row."""
        return self.laid.positions


def trusted(laid: Laid, projection: Projection, neighbours: Neighbours, progress: Progress = unheard) -> MapLayout:
    """Measure the trust of a layout.

    neighbours: at least min(12, n - 1) of each row. At a point: the share of its nearest in the space (min(12, n - 1), n
    counting rows that are not empty; fewer where fewer are alike at all) that are among as many nearest on the map.
    """
    nearest = nearest_of_placed(laid.positions, neighbours.row.shape[1], portion(progress, 0, 0.5))
    trust = _kept(nearest, neighbours)
    plain = trust
    if laid.positions is not projection.positions:
        plain = _kept(
            nearest_of_placed(projection.positions, neighbours.row.shape[1], portion(progress, 0.5, 1)), neighbours
        )
    return MapLayout(laid, nearest, trust, _mean(trust), _mean(plain), projection)


def nearest_of_placed(positions: NDArray[np.float32], most: int, progress: Progress = unheard) -> NDArray[np.int32]:
    """The min(12, most, others) nearest on the map of each of n rows (int32, best first; -1 for a row without a place)."""
    placed = np.flatnonzero(~np.isnan(positions[:, 0]))
    k = max(min(NEAREST, len(placed) - 1, most), 0)
    nearest = np.full((len(positions), k), -1, np.int32)
    if k:
        nearest[placed] = placed[nearest_on_map(positions[placed], k, progress)]
    return nearest


def _kept(nearest: NDArray[np.int32], neighbours: Neighbours) -> NDArray[np.float32]:
    """The trust of each row (float32, n)."""
    trust = np.full(len(nearest), np.nan, np.float32)
    k = nearest.shape[1]
    if not k:
        return trust
    placed = np.flatnonzero(nearest[:, 0] >= 0)
    in_space = neighbours.row[placed, :k]
    found = (in_space >= 0).sum(axis=1)
    shown = np.where(np.arange(k) < found[:, None], nearest[placed], -2)
    kept = np.zeros(len(placed), np.int64)
    for at in range(k):  # a column at a time: n × k² cells would not fit in a cache
        kept += (in_space == shown[:, at, None]).any(axis=1)
    trust[placed] = kept / np.maximum(found, 1)
    return trust


def _mean(trust: NDArray[np.float32]) -> float:
    known = trust[~np.isnan(trust)]
    return float(known.mean(dtype=np.float64)) if len(known) else float("nan")
