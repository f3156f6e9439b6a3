# SPDX-License-Identifier: GPL-3.0-or-later
"""Very many points of a map as a raster: each cell has the colour of the group of which most points lie in it, stronger the more there are."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QColor, QImage

RASTER_FROM = 60_000
"""From so many points in view they are counted in cells, in place of being drawn one over the other."""
CELL = 3
"""The side of a cell in pixels."""
MOST_MOVING = 250_000
"""So many points are counted while the picture moves."""
_FAINTEST = 70  # of 255: the opacity of a cell with one point
_BACK = 0.16  # of the opacity, where all points have stepped back
_RINGED = 0.5  # of the opacity, where most points are rings


def raster(
    places: NDArray[np.float64],
    sprite: NDArray[np.int64],
    back: NDArray[np.bool_],
    size: tuple[int, int],
    colours: Sequence[QColor],
) -> QImage:
    """The picture of points in cells of three pixels: one pixel a cell.

    places: float64, p × 2, pixels. sprite: int64, p, twice the number of a colour, plus 1 for a ring. back: bool, p, those that have stepped
    back.
    """
    wide, high = size[0] // CELL + 1, size[1] // CELL + 1
    x, y = places.T
    inside = np.flatnonzero((x >= 0) & (x < wide * CELL) & (y >= 0) & (y < high * CELL))
    cell = (y[inside] / CELL).astype(np.int64) * wide + (x[inside] / CELL).astype(np.int64)
    look, behind = sprite[inside], back[inside]
    front = ~behind
    own = look[front] // 2 + cell[front] * len(colours)
    counts = np.bincount(own, minlength=wide * high * len(colours)).reshape(-1, len(colours))
    most, total = counts.argmax(axis=1), counts.sum(axis=1)
    ringed = np.bincount(cell[front], look[front] % 2, wide * high)
    alpha = np.zeros(wide * high)
    there = total > 0
    if there.any():
        alpha[there] = _FAINTEST + (255 - _FAINTEST) * np.log(total[there]) / max(float(np.log(total.max())), 1.0)
        alpha[there & (ringed > total / 2)] *= _RINGED
    if behind.any():
        only_back = ~there & (np.bincount(cell[behind], minlength=wide * high) > 0)
        alpha[only_back] = 255 * _BACK
        most[only_back] = len(colours) - 1
    pixels = np.empty((wide * high, 4), np.uint8)
    pixels[:, :3] = np.array([(one.red(), one.green(), one.blue()) for one in colours], np.uint8)[most]
    pixels[:, 3] = alpha
    return QImage(pixels.tobytes(), wide, high, 4 * wide, QImage.Format.Format_RGBA8888).copy()


def in_view(places: NDArray[np.float64], size: tuple[int, int]) -> int:
    """The number of points that lie within a picture."""
    x, y = places.T
    return int(((x >= 0) & (x < size[0]) & (y >= 0) & (y < size[1])).sum())
