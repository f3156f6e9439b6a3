# SPDX-License-Identifier: GPL-3.0-or-later
"""Lay documents out in the way that the settings of Map name."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jagged_lens.compare import Neighbours, distinct_rows
from jagged_lens.map.copies import neighbours_of_distinct, spread
from jagged_lens.map.laid import Laid
from jagged_lens.map.pca import Projection
from jagged_lens.map.scaling import scaling
from jagged_lens.map.settings import MapSettings
from jagged_lens.map.tsne import t_sne
from jagged_lens.progress import Progress
from jagged_lens.weigh import VectorSpace


def lay_out(
    space: VectorSpace,
    neighbours: Neighbours,
    projection: Projection,
    measure: str,
    settings: MapSettings,
    progress: Progress,
    preview: Callable[[Laid], None],
    enough: Callable[[], bool],
    piled: bool = False,
) -> Laid:
    """The places of all rows. preview: shown what there is on the way. enough: where it says so, that is the result. piled: rows that
    are the same lie on one another."""
    if settings.by == "t-sne":
        start = projection.positions
        distinct = distinct_rows(space.weights) if piled else None
        if distinct is None or len(distinct.first) == len(start):
            return t_sne(neighbours, start, measure, settings, progress, preview, enough)
        near = neighbours_of_distinct(space, measure, neighbours, settings.near, distinct)

        def shown(laid: Laid) -> None:
            preview(spread(laid, distinct))

        return spread(t_sne(near, start[distinct.first], measure, settings, progress, shown, enough), distinct)
    if settings.by == "scaling":
        return scaling(space, measure, settings.seed, progress, preview, enough)
    return Laid(projection.positions, np.zeros(len(space.empty), np.bool_))
