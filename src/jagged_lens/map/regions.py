# SPDX-License-Identifier: GPL-3.0-or-later
"""Regions: the crowded places of a map as far as it is seen, named by the terms that tell them from the rest."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.group import document_frequencies, key_terms
from jagged_lens.terms import TermCounts

_CELLS = 32  # along the longer side of what is seen
_FEWEST = 6
_FEWEST_SHARE = 0.01  # of the points that are seen
_REACH = 2.6  # cells from its middle that a region takes in
_APART = 5.5  # cells between the middles of two regions
_NAMED = 3
_LOOKED_AT = 12


@dataclass(frozen=True, eq=False)
class Region:
    """A crowded place. middle: its place on the map. rows: int64, the documents in it. columns: the terms that name it."""

    middle: tuple[float, float]
    rows: NDArray[np.int64]
    columns: tuple[int, ...]


def regions(
    positions: NDArray[np.floating], seen: tuple[float, float, float, float], terms: TermCounts, most: int = 8
) -> list[Region]:
    """The densest visible places, densest first, each named by up to three terms more frequent there than elsewhere (G²).

    positions: float32 or float64, n × 2, NaN where there is none. seen: left, low, width and height of the part of the map that is seen.
    """
    left, low, width, height = seen
    inside = np.flatnonzero(
        (positions[:, 0] >= left)
        & (positions[:, 0] <= left + width)
        & (positions[:, 1] >= low)
        & (positions[:, 1] <= low + height)
    )
    cell = max(width, height) / _CELLS
    if cell <= 0 or len(inside) < 2 * _FEWEST:
        return []
    places = (positions[inside].astype(np.float64) - (left, low)) / cell
    fewest = max(_FEWEST, _FEWEST_SHARE * len(inside))
    documents = document_frequencies(terms.counts)
    found: list[Region] = []
    for middle in _peaks(places):
        near = np.hypot(*(places - middle).T) <= _REACH
        if near.sum() < fewest or near.sum() > len(inside) / 2:
            continue
        middle = places[near].mean(axis=0)
        taken = [(np.array(one.middle) - (left, low)) / cell for one in found]
        if any(np.hypot(*(middle - other)) < _APART for other in taken):
            continue
        rows = inside[near]
        mask = np.zeros(len(positions), np.bool_)
        mask[rows] = True
        columns, _ = key_terms(terms.counts, mask, _LOOKED_AT, documents)
        if len(columns):
            place = middle * cell + (left, low)
            found.append(Region((float(place[0]), float(place[1])), rows, _apart(columns.tolist(), terms)))
        if len(found) == most:
            break
    return found


def _apart(columns: list[int], terms: TermCounts) -> tuple[int, ...]:
    """The first of some terms of which none stands in another."""
    chosen: list[int] = []
    for column in columns:
        words = set(terms.terms[column].split())
        if not any(words & set(terms.terms[other].split()) for other in chosen):
            chosen.append(column)
        if len(chosen) == _NAMED:
            break
    return tuple(chosen)


def _peaks(places: NDArray[np.float64]) -> NDArray[np.float64]:
    """The middles of the fullest cells, each counted with those round it, the fullest first (p × 2)."""
    cells = np.floor(places).astype(np.int64) + 1
    side = int(cells.max()) + 2
    counts = np.bincount(cells[:, 0] * side + cells[:, 1], minlength=side * side).reshape(side, side).astype(np.float64)
    for axis in (0, 1):
        counts += 0.5 * (np.roll(counts, 1, axis) + np.roll(counts, -1, axis))
    best = np.argsort(-counts.ravel(), kind="stable")[: 6 * _CELLS]
    best = best[counts.ravel()[best] > 0]
    return np.asarray(np.column_stack((best // side, best % side)) - 0.5, np.float64)
