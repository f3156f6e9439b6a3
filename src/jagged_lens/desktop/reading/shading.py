"""How strongly each stretch of a text is shaded: by the weight of its term, or by what it adds to a similarity."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.desktop.reading.marked_text import Mark
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


def pair_marks(parts: Contributions, marks: Marks) -> list[Mark]:
    """The shared terms of a pair in one of its texts: each stretch as strong as the terms over it add."""
    if not len(parts.values) or parts.measure == "euclidean":
        shared = set(parts.columns.tolist()) - set(parts.only_first.tolist()) - set(parts.only_second.tolist())
        weight = dict.fromkeys(shared, 1.0)
        heaviest = 2.0
    else:
        weight = dict(zip(parts.columns.tolist(), parts.values.tolist(), strict=True))
        heaviest = max(weight.values(), default=1.0) or 1.0
    found: list[Mark] = []
    # Longer terms first, so that the words of a phrase are shaded together and then each by what it adds itself.
    for column, start, end in sorted(
        zip(marks.column.tolist(), marks.start.tolist(), marks.end.tolist(), strict=True), key=lambda m: m[1] - m[2]
    ):
        part = weight.get(column, 0.0)
        if part > 0:
            found.append((start, end, min(1.0, (part / heaviest) ** 0.5)))
    return found
