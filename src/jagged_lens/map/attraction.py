# SPDX-License-Identifier: GPL-3.0-or-later
"""The attraction between linked points, row by row, so that threads share the work and every sum is formed in the same order."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.parallel import over_blocks

_TIES_AT_ONCE = 100_000
_FEW_TIES = 1_000_000  # are done before another thread has begun

Floats = NDArray[np.float64]


class Attraction:
    """The attraction between n linked points."""

    def __init__(self, ties: csr_array) -> None:
        """ties: n × n, symmetric, none of its rows empty, the joint probabilities p."""
        starts = ties.indptr.astype(np.int64)
        self._starts, self._sizes = starts, np.diff(starts)
        self._ties, self._other = ties.data.astype(np.float32), ties.indices.astype(np.intp)
        cuts = np.unique(
            np.append(np.searchsorted(starts, np.arange(0, int(starts[-1]), _TIES_AT_ONCE)), ties.shape[0])
        )
        self._over = over_blocks if starts[-1] > _FEW_TIES else map
        self._parts = [slice(int(a), int(b)) for a, b in itertools.pairwise(cuts)]

    def at(self, places: Floats) -> Floats:
        """Σ_j p_ij (y_i - y_j) / (1 + |y_i - y_j|²) at each point (float64, n × 2), in single precision."""
        # A point is one number, and its two coordinates are read at once.
        both = places.astype(np.float32).view(np.complex64).ravel()

        def of(rows: slice) -> NDArray[np.complex64]:
            ties = slice(int(self._starts[rows.start]), int(self._starts[rows.stop]))
            apart = np.repeat(both[rows], self._sizes[rows])
            apart -= both[self._other[ties]]
            weight = np.square(apart.real)
            weight += np.square(apart.imag)
            weight += 1
            np.divide(self._ties[ties], weight, out=weight)
            apart *= weight
            sums: NDArray[np.complex64] = np.add.reduceat(apart, self._starts[rows] - ties.start)
            return sums

        found = np.concatenate(list(self._over(of, self._parts)))
        return found.view(np.float32).reshape(-1, 2).astype(np.float64)
