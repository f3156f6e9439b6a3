# SPDX-License-Identifier: GPL-3.0-or-later
"""The separation of a known label: in the space itself, on the map, and by chance."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Neighbours
from jagged_lens.map.trust import NEAREST, MapLayout


@dataclass(frozen=True, eq=False)
class Separation:
    """The mean share of the 12 nearest neighbours with the same value, for one label with v values.

    values: int64, the values that documents with a place have, most frequent first. documents: int64, how many each has. space, on_map:
    float64, v; NaN where none has a neighbour. chance: float64, v, the share of all documents with a value that have this one. all_space,
    all_map, all_chance: the same over all of them; chance is then Σ p². own_space: float32, n, of each document its share in the space;
    NaN where it has no value, no place or no neighbour.
    """

    values: NDArray[np.int64]
    documents: NDArray[np.int64]
    space: NDArray[np.float64]
    on_map: NDArray[np.float64]
    chance: NDArray[np.float64]
    all_space: float
    all_map: float
    all_chance: float
    own_space: NDArray[np.float32]


def separation(codes: NDArray[np.integer], none: int, neighbours: Neighbours, layout: MapLayout) -> Separation:
    """The number of times neighbours have the same value of a label.

    codes: int32, n, the number of each document's value. none: the number that stands for no value, -1 where there is none such. Documents
    without a value are left out; where they are neighbours they count as of another value.
    """
    valued = (codes != none) & ~np.isnan(layout.positions[:, 0])
    space = _same(codes, neighbours.row[:, :NEAREST])
    on_map = _same(codes, layout.nearest)
    values, documents = np.unique(codes[valued], return_counts=True)
    order = np.argsort(-documents, kind="stable")
    values, documents = values[order].astype(np.int64), documents[order].astype(np.int64)
    chance = documents / max(int(documents.sum()), 1)
    return Separation(
        values,
        documents,
        np.array([_mean(space[valued & (codes == value)]) for value in values]),
        np.array([_mean(on_map[valued & (codes == value)]) for value in values]),
        chance,
        _mean(space[valued]),
        _mean(on_map[valued]),
        float((chance**2).sum()),
        np.where(valued, space, np.nan).astype(np.float32),
    )


def strangers(found: Separation) -> NDArray[np.int64]:
    """The rows (int64) none of whose nearest in the space has their own value."""
    return np.flatnonzero(found.own_space == 0)


def _same(codes: NDArray[np.integer], others: NDArray[np.int32]) -> NDArray[np.float64]:
    """For each row the share of others (n × k, -1: none) that have its value; NaN where there are none."""
    there = others >= 0
    alike = (codes[np.maximum(others, 0)] == codes[:, None]) & there
    counts = there.sum(axis=1)
    return np.where(counts > 0, alike.sum(axis=1) / np.maximum(counts, 1), np.nan)


def _mean(shares: NDArray[np.float64]) -> float:
    known = shares[~np.isnan(shares)]
    return float(known.mean()) if len(known) else float("nan")
