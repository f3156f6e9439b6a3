# SPDX-License-Identifier: GPL-3.0-or-later
"""The outline of a ridge: how far the teeth reach at each height of the picture."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QColor, QImage


def profile(tooth: NDArray[np.float64], top: float, per: float, high: int) -> NDArray[np.float64]:
    """The reach of the teeth in each row of pixels (float64, high).

    tooth: float64, n - 1, the heights of the teeth; tooth i stands between places i and i + 1, at i + 1. top: the place at the upper edge.
    per: pixels a place. A tooth is as wide as a place, and never narrower than a pixel; of those that share one the longest counts.
    """
    found = np.zeros(high)
    if not len(tooth):
        return found
    first = max(int(np.floor(top)) - 1, 0)
    last = min(int(np.ceil(top + high / per)) + 1, len(tooth))
    shown = tooth[first:last]
    centres = (np.arange(first, last) + 1 - top) * per
    if per < 2:
        row = np.floor(centres).astype(np.int64)
        inside = (row >= 0) & (row < high)
        np.maximum.at(found, row[inside], shown[inside])
        return found
    middle = np.arange(high) + 0.5
    near = np.clip(np.rint(middle / per + top).astype(np.int64) - 1, first, last - 1) if last > first else None
    if near is None:
        return found
    away = np.abs(middle - (near + 1 - top) * per) / (per / 2)
    return np.asarray(tooth[near] * np.maximum(1 - away, 0))


def outline_image(
    reach: NDArray[np.float64], colours: NDArray[np.uint32], wide: int, most: float, ground: QColor
) -> QImage:
    """The outline as pixels: row by row as far as it reaches in the colour of the row.

    reach: float64, high. colours: uint32, high, as Qt has them. most: the height at the right edge.
    """
    edge = np.rint(reach / max(most, 1e-12) * wide)[:, None]
    pixels = np.where(np.arange(wide)[None, :] < edge, colours[:, None], np.uint32(ground.rgb())).astype(np.uint32)
    image = QImage(pixels.tobytes(), wide, len(reach), 4 * wide, QImage.Format.Format_RGB32)
    return image.copy()  # of its own: the bytes go when this ends
