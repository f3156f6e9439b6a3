# SPDX-License-Identifier: GPL-3.0-or-later
"""The reasons why a document is in its group and not in another; the parts add up to the lead."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.group import Grouping
from jagged_lens.weigh import Themes, VectorSpace

_NAMED = 200


@dataclass(frozen=True, eq=False)
class Membership:
    """The evidence for one group and against another. closeness, other_closeness: cosines of the row to both centroids. lead: the first
    minus the second. columns (int64), values (float64): the terms of the document and their contributions to the lead, largest first.
    They add up to it, unless the rows were grouped by vectors that were given: then they are those of the terms alone."""

    group: int
    other: int
    closeness: float
    other_closeness: float
    columns: NDArray[np.int64]
    values: NDArray[np.float64]
    given: bool = False

    @property
    def lead(self) -> float:
        """By how much the row is nearer to the first."""
        return self.closeness - self.other_closeness

    def named(self, shown: Sequence[str]) -> list[tuple[str, float]]:
        """The terms that count most, for or against, with what each adds. shown: the terms of the space, as they are written."""
        order = np.argsort(-np.abs(self.values), kind="stable")[:_NAMED]
        return [(shown[int(self.columns[at])], float(self.values[at])) for at in np.sort(order)]


def membership(
    space: VectorSpace, grouping: Grouping, row: int, group: int, other: int, themes: Themes | None = None
) -> Membership:
    """Take the lead of one group over another apart in terms, for a row that is not empty.

    x̂_t (c_g,t - c_h,t). themes: those in which the rows were grouped, with V; then x_t (V (c_g - c_h))_t / ‖Vᵀx‖. space: of the terms.
    """
    if themes is not None and themes.given:
        return _of_vector(space, grouping, row, group, other, themes)
    start, end = space.weights.indptr[row], space.weights.indptr[row + 1]
    columns = space.weights.indices[start:end].astype(np.int64)
    x = space.weights.data[start:end].astype(np.float64)
    centroids = grouping.centroids[[group, other]].toarray().astype(np.float64)
    if themes is not None and len(themes):
        v = themes.terms[columns].astype(np.float64)
        across = centroids @ v.T
        length = float(np.linalg.norm(x @ v))
    else:
        across = centroids[:, columns]
        length = float(np.linalg.norm(x))
    unit = x / length if length > 0 else x
    values = unit * (across[0] - across[1])
    order = np.argsort(-values, kind="stable")
    return Membership(group, other, float(unit @ across[0]), float(unit @ across[1]), columns[order], values[order])


def _of_vector(space: VectorSpace, grouping: Grouping, row: int, group: int, other: int, themes: Themes) -> Membership:
    """The lead by a vector that was given; beside it x̂_t (c_g,t - c_h,t) with the centroids of both groups in the terms."""
    vector = themes.documents[row].astype(np.float64)
    centroids = grouping.centroids[[group, other]].toarray().astype(np.float64)
    closeness = centroids @ (vector / max(float(np.linalg.norm(vector)), np.finfo(np.float64).tiny))
    own = slice(int(space.weights.indptr[row]), int(space.weights.indptr[row + 1]))
    columns, x = space.weights.indices[own].astype(np.int64), space.weights.data[own].astype(np.float64)
    means = []
    for one in (group, other):
        rows = space.weights[np.flatnonzero(grouping.group == one)].astype(np.float64)
        lengths = np.sqrt(np.asarray(rows.multiply(rows).sum(axis=1)).ravel())
        weights = 1 / np.where(lengths > 0, lengths, 1) / max(rows.shape[0], 1)
        means.append(np.asarray(rows.T @ weights).ravel()[columns])
    length = float(np.linalg.norm(x))
    values = (x / length if length > 0 else x) * (means[0] - means[1])
    order = np.argsort(-values, kind="stable")
    near, far = map(float, closeness)
    return Membership(group, other, near, far, columns[order], values[order], True)
