# SPDX-License-Identifier: GPL-3.0-or-later
"""The shading of each stretch of a text: by the weight of its term, or by its contribution to a similarity."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.explain import (
    Contributions,
    Marks,
)
from jagged_lens.weigh import VectorSpace


def weight_marks(space: VectorSpace, row: int, marks: Marks) -> NDArray[np.float64]:
    """The terms of one document, each stretch as strong as its term weighs there: start, end and strength (float64, n × 3),
    the longest first."""
    own = slice(space.weights.indptr[row], space.weights.indptr[row + 1])
    columns, weights = space.weights.indices[own], np.abs(space.weights.data[own]).astype(np.float64)
    order = np.argsort(columns, kind="stable")
    columns, weights = columns[order], weights[order]
    at = np.searchsorted(columns, marks.column)
    known = at < len(columns)
    known[known] = columns[at[known]] == marks.column[known]
    strength = np.zeros(len(marks.column))
    strength[known] = weights[at[known]] / (weights.max(initial=0) or 1.0)
    longest_first = np.argsort(marks.start - marks.end, kind="stable")
    found: NDArray[np.float64] = np.empty((len(strength), 3))
    found[:, 0], found[:, 1], found[:, 2] = marks.start, marks.end, strength
    return found[longest_first]


def pair_marks(parts: Contributions, marks: Marks, side: int = 0) -> NDArray[np.float64]:
    """The shared terms of a pair in one of its texts, each stretch as strong as the terms over it add: start, end and strength
    (float64, k × 3). Longer terms come first, so that the words of a phrase are shaded together and then each by what it adds itself.

    side: 0 or 1, of the text; on learned vectors the terms of its strongest word pairs are marked.
    """
    if parts.word_pairs:
        adds: dict[int, float] = {}
        for one, other, value in parts.word_pairs:
            column = other if side else one
            adds[column] = adds.get(column, 0.0) + value
        columns = np.array(sorted(adds), np.int64)
        values = np.array([adds[int(column)] for column in columns])
        heaviest = float(values.max(initial=0.0)) or 1.0
    elif not len(parts.values) or parts.measure == "euclidean":
        columns = np.setdiff1d(parts.columns, np.concatenate((parts.only_first, parts.only_second)))
        values, heaviest = np.ones(len(columns)), 2.0
    else:
        order = np.argsort(parts.columns, kind="stable")
        columns, values = parts.columns[order], parts.values[order]
        heaviest = float(values.max(initial=0.0)) or 1.0
    at = np.searchsorted(columns, marks.column)
    known = at < len(columns)
    known[known] = columns[at[known]] == marks.column[known]
    part = np.zeros(len(marks.column))
    part[known] = values[at[known]]
    shown = np.flatnonzero(part > 0)
    shown = shown[np.argsort(marks.start[shown] - marks.end[shown], kind="stable")]
    strength = np.minimum(1.0, np.sqrt(part[shown] / heaviest))
    return np.column_stack((marks.start[shown], marks.end[shown], strength)).astype(np.float64)


def word_ties(parts: Contributions, marks: tuple[Marks, Marks], most: int = 12) -> NDArray[np.float64]:
    """Lines between the strongest word pairs of two texts: the middle of the first place of each, in code points, and strength (float64,
    k × 3). Only pairs of different words: the same words are seen without a line."""
    ties: list[tuple[float, float, float]] = []
    heaviest = max((value for _, _, value in parts.word_pairs), default=0.0) or 1.0
    for one, other, value in parts.word_pairs:
        at, there = np.flatnonzero(marks[0].column == one), np.flatnonzero(marks[1].column == other)
        if one != other and len(at) and len(there) and len(ties) < most:
            here, across = (float(m.start[k] + m.end[k]) / 2 for m, k in ((marks[0], at[0]), (marks[1], there[0])))
            ties.append((here, across, value / heaviest))
    return np.array(ties, np.float64).reshape(-1, 3)
