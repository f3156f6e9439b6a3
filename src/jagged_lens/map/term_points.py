# SPDX-License-Identifier: GPL-3.0-or-later
"""Terms as points: laid out like documents, near each other where the same documents hold them."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Neighbours, nearest_neighbours
from jagged_lens.errors import JaggedLensError
from jagged_lens.group import Grouping, GroupSettings, ids_of, k_means
from jagged_lens.map.laid import Laid
from jagged_lens.map.lay_out import lay_out
from jagged_lens.map.pca import pca
from jagged_lens.map.settings import MapSettings
from jagged_lens.map.trust import NEAREST, MapLayout, trusted
from jagged_lens.progress import Progress, never, portion, unheard, unseen
from jagged_lens.strings import Strings
from jagged_lens.weigh import Themes, VectorSpace, term_rows

MOST_TERMS = 20_000
"""So many terms are laid out at most: those in most documents."""


@dataclass(frozen=True, eq=False)
class TermPoints:
    """t terms as points. columns: int64, t, of the space. grouping, neighbours, layout: of the terms, in this order."""

    columns: NDArray[np.int64]
    grouping: Grouping
    neighbours: Neighbours
    layout: MapLayout

    @property
    def stopped(self) -> bool:
        """True if the map was stopped before its last round."""
        return self.layout.laid.stopped


def term_points(
    space: VectorSpace,
    keys: Strings,
    settings: MapSettings,
    group: GroupSettings,
    progress: Progress = unheard,
    preview: Callable[[TermPoints], None] = unseen,
    enough: Callable[[], bool] = never,
    themes: Themes | None = None,
) -> TermPoints:
    """Lay the terms of a space out by cosine, in the way of the settings of Map, and group them like documents.

    keys: of the n documents. themes: where these are learned vectors, terms lie near each other that are used alike. JaggedLensError where
    columns are hashed: they are no terms.
    """
    if space.terms.column is not None:
        raise JaggedLensError("terms share hashed columns here", "[terms] columns", "Set columns = 0 to map them.")
    documents = np.bincount(space.weights.indices, minlength=space.weights.shape[1])
    columns = np.sort(np.argsort(-documents, kind="stable")[:MOST_TERMS])
    rows = term_rows(space, columns, keys, themes)
    near = max(settings.near, NEAREST)
    neighbours = nearest_neighbours(rows, "cosine", near, portion(progress, 0, 0.2))
    grouping = k_means(rows, group, portion(progress, 0.2, 0.3), ids_of(space.terms.terms.take(columns)))
    projection = pca(rows, settings.seed, portion(progress, 0.3, 0.4))
    waiting = MapLayout(
        Laid(projection.positions, np.zeros(len(columns), np.bool_)),
        np.full((len(columns), 0), -1, np.int32),
        np.ones(len(columns), np.float32),
        float("nan"),
        float("nan"),
        projection,
    )

    def show(laid: Laid) -> None:
        preview(TermPoints(columns, grouping, neighbours, dataclasses.replace(waiting, laid=laid)))

    laid = lay_out(rows, neighbours, projection, "cosine", settings, portion(progress, 0.4, 0.95), show, enough)
    layout = trusted(laid, projection, neighbours, portion(progress, 0.95, 1))
    return TermPoints(columns, grouping, neighbours, layout)


def term_places(space: VectorSpace, positions: NDArray[np.floating]) -> NDArray[np.float64]:
    """The position of each of m terms on a map of n documents: at the mean of its documents' places, weighted by its weights in them
    (float64, m × 2. NaN where no document with a place holds it).

    positions: n × 2, NaN where a document has none.
    """
    placed = ~np.isnan(positions[:, 0])
    weights = abs(space.weights[np.flatnonzero(placed)]).T.tocsr()
    with_one = np.column_stack((positions[placed].astype(np.float64), np.ones(int(placed.sum()))))
    sums = np.asarray(weights @ with_one)
    total = np.where(sums[:, 2] > 0, sums[:, 2], np.nan)
    return np.asarray(sums[:, :2] / total[:, None])
