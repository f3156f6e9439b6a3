# SPDX-License-Identifier: GPL-3.0-or-later
"""The points of a map as copies of small pictures: all of them in one call, from arrays."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPixmap, QPolygonF
from pyqtgraph.Qt import internals

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import letter_ink

POINT = 8
_EDGE = 2  # pixels round a point, for its smooth edge
LETTERED = 20  # pixels of a point with its letter inside
CIRCLE = 16  # pixels, with room for the circle round a point that is picked
_FADED = 0.13


@dataclass(frozen=True)
class Category:
    """An entry of the legend: its letter ("" if it has none), its name and its colour. shape: dot, square or diamond."""

    letter: str
    name: str
    colour: QColor
    shape: str = "dot"


class Sprites:
    """A dot and a ring of each category, side by side, in two sizes; the larger ones have its letter inside."""

    def __init__(self, categories: Sequence[Category], scale: float, large: float = 1.0) -> None:
        """scale: pixels of the screen for one here. large: how large a point is, 1 is as usual."""
        self._scale, self.large = scale, large
        self._side = math.ceil(POINT * large) + 2 * _EDGE
        self._radius = POINT * large / 2
        self._fragments = internals.PrimitiveArray(QPainter.PixmapFragment, 10)
        self._categories = categories
        self._small = self._drawn(self._side, self._radius, False)
        self._large: QPixmap | None = None
        self._circle = self._drawn_circle()

    def paint(
        self,
        painter: QPainter,
        places: NDArray[np.float64],
        sprite: NDArray[np.int64],
        faded: NDArray[np.bool_],
        size: tuple[int, int],
        lettered: bool,
    ) -> None:
        """Paint points: sprite is twice the number of the category, plus 1 for a ring. size: of the picture."""
        if lettered and self._large is None:
            self._large = self._drawn(LETTERED, LETTERED / 2 - _EDGE, True)
        picture, side = (self._large, LETTERED) if lettered and self._large is not None else (self._small, self._side)
        self._copies(painter, places, sprite, picture, side, size, np.where(faded, _FADED, 1.0))

    def paint_circles(self, painter: QPainter, places: NDArray[np.float64], size: tuple[int, int]) -> None:
        """Paint the circle round points that are picked."""
        none = np.zeros(len(places), np.int64)
        self._copies(painter, places, none, self._circle, CIRCLE, size, np.ones(len(places)))

    def _copies(
        self,
        painter: QPainter,
        places: NDArray[np.float64],
        sprite: NDArray[np.int64],
        picture: QPixmap,
        side: int,
        size: tuple[int, int],
        opacity: NDArray[np.float64],
    ) -> None:
        seen = ((places > -side) & (places < (size[0] + side, size[1] + side))).all(axis=1)
        width = side * self._scale
        self._fragments.resize(int(seen.sum()))
        cells = self._fragments.ndarray()
        # x, y, and in the picture of sprites left, top, width, height; scale across and down, rotation, opacity.
        cells[:, :2] = places[seen]
        cells[:, 2] = sprite[seen] * width
        cells[:, 3:9] = (0, width, width, 1 / self._scale, 1 / self._scale, 0)
        cells[:, 9] = opacity[seen]
        painter.drawPixmapFragments(*self._fragments.drawargs(), picture)  # type: ignore[call-arg]

    def _drawn(self, side: int, radius: float, lettered: bool) -> QPixmap:
        looks = [(one.letter, one.colour, one.shape) for one in self._categories] + [("", theme.colour("muted"), "dot")]
        picture = QPixmap(round(side * 2 * len(looks) * self._scale), round(side * self._scale))
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(self._scale, self._scale)
        for number, (letter, colour, shape) in enumerate(looks):
            middle = QPointF(side * (2 * number + 0.5), side / 2)
            for ring in (False, True):
                paint_point(painter, middle + QPointF(side * ring, 0), colour, ring, radius, shape)
                if lettered and letter:
                    painter.setFont(theme.ui_font((0.62, 0.5, 0.4)[min(len(letter), 3) - 1], bold=True))
                    painter.setPen(colour if ring else letter_ink())
                    box = QRectF(0, 0, side, side).translated(side * (2 * number + ring), 0)
                    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, letter)
        painter.end()
        return picture

    def _drawn_circle(self) -> QPixmap:
        picture = QPixmap(round(CIRCLE * self._scale), round(CIRCLE * self._scale))
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(self._scale, self._scale)
        painter.setPen(QPen(theme.colour("ink"), 1.5))
        painter.drawEllipse(QPointF(CIRCLE / 2, CIRCLE / 2), 6.5, 6.5)
        painter.end()
        return picture


def paint_point(
    painter: QPainter, middle: QPointF, colour: QColor, ring: bool, radius: float = POINT / 2, shape: str = "dot"
) -> None:
    """One point: filled, or in outline where its place cannot be trusted."""
    if ring:
        painter.setPen(QPen(colour, 1.3))
        painter.setBrush(theme.colour("paper", 150))
        radius -= 0.6
    else:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
    if shape == "square":
        half = radius * 0.88
        painter.drawRect(QRectF(middle.x() - half, middle.y() - half, 2 * half, 2 * half))
    elif shape == "diamond":
        half = radius * 1.35
        corners = ((0, -half), (half, 0), (0, half), (-half, 0))
        painter.drawPolygon(QPolygonF([middle + QPointF(x, y) for x, y in corners]))
    else:
        painter.drawEllipse(middle, radius, radius)
