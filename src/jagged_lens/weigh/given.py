# SPDX-License-Identifier: GPL-3.0-or-later
"""Documents in vectors that come from outside, as the space of the later steps."""

from __future__ import annotations

import numpy as np

from jagged_lens.vectors import GivenVectors
from jagged_lens.weigh.themes import Themes
from jagged_lens.weigh.weigh import VectorSpace


def by_given_vectors(space: VectorSpace, given: GivenVectors, source: str) -> Themes:
    """The documents of a space in vectors that were given. source: "file" or "service".

    No term leads to a dimension: terms is float32, m × 0. values: the lengths of the columns.
    """
    m = space.weights.shape[1]
    values = np.linalg.norm(given.vectors.astype(np.float64), axis=0)
    energy = float((values**2).sum())
    return Themes(np.zeros((m, 0), np.float32), values, given.vectors, energy, source)
