# SPDX-License-Identifier: GPL-3.0-or-later
"""The positions of documents on a map, before it is known how far that can be trusted."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

_RIM = 1.08


@dataclass(frozen=True, eq=False)
class Laid:
    """Positions of n documents, and how they came about.

    positions: float32, n × 2, NaN for an empty row. rim: bool, n, rows without any neighbour, which lie on the rim. rounds, of:
    how many of how many rounds were done; 0 of 0 where there are none. stress: Kruskal's stress-1 of scaling, else NaN.
    """

    positions: NDArray[np.float32]
    rim: NDArray[np.bool_]
    rounds: int = 0
    of: int = 0
    stress: float = float("nan")

    @property
    def stopped(self) -> bool:
        """True if it was stopped before its last round."""
        return self.rounds < self.of


def with_rim(
    inner: NDArray[np.floating], rows: NDArray[np.integer], empty: NDArray[np.bool_], rounds: int = 0, of: int = 0
) -> Laid:
    """The layout of n rows of which some have places (p × 2, of int rows p). The others that are not empty are spread evenly on a circle
    round them, in the order of rows. empty: bool, n."""
    n = len(empty)
    positions = np.full((n, 2), np.nan, np.float32)
    rim = ~empty
    rim[rows] = False
    radius, middle = 1.0, np.zeros(2)
    if len(rows):
        middle = (inner.min(axis=0) + inner.max(axis=0)) / 2
        radius = _RIM * float(np.hypot(*(inner - middle).T).max()) or 1.0
        positions[rows] = inner
    turn = 2 * np.pi * np.arange(int(rim.sum())) / max(int(rim.sum()), 1)
    positions[rim] = middle + radius * np.column_stack((np.sin(turn), np.cos(turn)))
    return Laid(positions, rim, rounds, of)
