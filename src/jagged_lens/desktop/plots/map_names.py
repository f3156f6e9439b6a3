# SPDX-License-Identifier: GPL-3.0-or-later
"""The text on a map: groups, regions and titles, each near its place and never over another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import letter_ink
from jagged_lens.desktop.plots.map_sprites import Category
from jagged_lens.desktop.plots.name_places import NamePlaces

_WIDEST = 240
_TITLES_TRIED = 600
_MOST_TITLES = 150
_TITLE_WIDEST = 190


@dataclass
class MapNames:
    """Places for names are looked for when the picture rests; while it moves, they move with it.

    middles: g × 2, of the categories on the map; by_size: their numbers, largest first. regions: text and place on the map. plates: after
    painting, where each category's name stands; region_plates the same of regions. titles: a title for each of some rows, most
    wanted first.
    """

    categories: Sequence[Category] = ()
    middles: NDArray[np.float64] = field(default_factory=lambda: np.zeros((0, 2)))
    by_size: Sequence[int] = ()
    regions: Sequence[tuple[str, float, float]] = ()
    titles: Sequence[tuple[int, str]] = ()
    laid_in: Sequence[str] = ()
    plates: list[tuple[QRectF, int]] = field(default_factory=list)
    region_plates: list[tuple[QRectF, int]] = field(default_factory=list)
    title_plates: list[tuple[QRectF, int]] = field(default_factory=list)
    _offsets: dict[tuple[str, int], tuple[float, float]] = field(default_factory=dict)

    def look_for_places(
        self,
        points: NDArray[np.float64],
        size: tuple[int, int],
        middles: NDArray[np.float64],
        region_places: NDArray[np.float64],
        laid_in: NDArray[np.float64],
        show_names: bool,
    ) -> None:
        """Find places anew, groups first, then regions, terms laid in, titles. points and the other places: in pixels."""
        self._offsets = {}
        placed = ~np.isnan(points[:, 0])
        free = NamePlaces(points[placed], *size, [])
        if show_names:
            for number in self.by_size:
                self._look(free, ("name", number), middles[number], self._name_size(number), size)
        for number, (text, *_) in enumerate(self.regions):
            self._look(free, ("region", number), region_places[number], self._region_size(text), size)
        taken: list[tuple[float, float, float, float]] = []
        for (kind, number), (x, y) in self._offsets.items():
            middle = middles[number] if kind == "name" else region_places[number]
            wide, tall = self._name_size(number) if kind == "name" else self._region_size(self.regions[number][0])
            taken.append((middle[0] + x, middle[1] + y, middle[0] + x + wide, middle[1] + y + tall))
        taken = self._look_beside("term", list(enumerate(self.laid_in)), laid_in, size, taken)
        self._look_beside("title", self.titles, points, size, taken)

    def _look(
        self,
        free: NamePlaces,
        what: tuple[str, int],
        middle: NDArray[np.float64],
        plate: tuple[float, float],
        size: tuple[int, int],
    ) -> None:
        if 0 < middle[0] < size[0] and 0 < middle[1] < size[1]:
            corner = free.place(middle, plate)
            if corner is not None:
                self._offsets[what] = (corner[0] - middle[0], corner[1] - middle[1])

    def _look_beside(
        self,
        kind: str,
        texts: Sequence[tuple[int, str]],
        points: NDArray[np.float64],
        size: tuple[int, int],
        taken: list[tuple[float, float, float, float]],
    ) -> list[tuple[float, float, float, float]]:
        """Right of its point, left, above or below, where nothing is written yet. Gives what is taken then."""
        metrics = QFontMetricsF(theme.ui_font(0.82))
        tall = metrics.height()
        boxes = np.array(taken, np.float64).reshape(-1, 4)
        found = 0
        for row, text in texts[:_TITLES_TRIED]:
            x, y = points[row]
            if not (0 <= x <= size[0] and 0 <= y <= size[1]):
                continue
            wide = min(metrics.horizontalAdvance(text), _TITLE_WIDEST) + 4
            for left, top in ((7, -tall / 2), (-7 - wide, -tall / 2), (-wide / 2, -8 - tall), (-wide / 2, 8)):
                box = (x + left, y + top, x + left + wide, y + top + tall)
                if box[0] < 0 or box[1] < 0 or box[2] > size[0] or box[3] > size[1]:
                    continue
                hit = (boxes[:, 0] < box[2]) & (boxes[:, 2] > box[0]) & (boxes[:, 1] < box[3]) & (boxes[:, 3] > box[1])
                if not hit.any():
                    self._offsets[kind, row] = (left, top)
                    taken = [*taken, box]
                    boxes = np.vstack((boxes, box))
                    found += 1
                    break
            if found == _MOST_TITLES:
                break
        return taken

    def paint(
        self,
        painter: QPainter,
        points: NDArray[np.float64],
        middles: NDArray[np.float64],
        regions: NDArray[np.float64],
        laid_in: NDArray[np.float64],
    ) -> None:
        """Write everything that has a place."""
        self.plates, self.region_plates, self.title_plates = [], [], []
        texts = dict(self.titles)
        for (kind, number), (x, y) in self._offsets.items():
            if kind == "title":
                self._paint_title(painter, texts.get(number, ""), points[number], (x, y), number)
            elif kind == "term" and number < len(self.laid_in):
                self._paint_title(painter, self.laid_in[number], laid_in[number], (x, y), -1)
        for (kind, number), (x, y) in self._offsets.items():
            if kind == "region" and number < len(self.regions):
                self._paint_region(painter, number, QPointF(regions[number][0] + x, regions[number][1] + y))
        for (kind, number), (x, y) in self._offsets.items():
            if kind == "name" and number < len(self.categories):
                self._paint_name(
                    painter, number, middles[number], QPointF(middles[number][0] + x, middles[number][1] + y)
                )

    def category_at(self, place: QPointF) -> int:
        """The category whose name stands at a place; -1 where none does."""
        return next((number for plate, number in self.plates if plate.contains(place)), -1)

    def region_at(self, place: QPointF) -> int:
        """The region whose name stands at a place; -1 where none does."""
        return next((number for plate, number in self.region_plates if plate.contains(place)), -1)

    def _name_size(self, number: int) -> tuple[float, float]:
        metrics = QFontMetricsF(theme.ui_font(0.88))
        tall = metrics.height() * 1.45
        return self._chip(number) + 8 + min(metrics.horizontalAdvance(self.categories[number].name), _WIDEST) + 8, tall

    def _chip(self, number: int) -> float:
        tall = QFontMetricsF(theme.ui_font(0.88)).height() * 1.45
        letter = self.categories[number].letter
        if not letter:
            return tall * 0.62
        return max(tall, QFontMetricsF(theme.ui_font(0.86, bold=True)).horizontalAdvance(letter) + 10)

    def _region_size(self, text: str) -> tuple[float, float]:
        metrics = QFontMetricsF(_region_font())
        return min(metrics.horizontalAdvance(text), _WIDEST) + 10, metrics.height() * 1.2

    def _paint_title(
        self, painter: QPainter, text: str, point: NDArray[np.float64], offset: tuple[float, float], row: int
    ) -> None:
        font = theme.ui_font(0.82)
        metrics = QFontMetricsF(font)
        text = metrics.elidedText(text, Qt.TextElideMode.ElideRight, _TITLE_WIDEST)
        box = QRectF(point[0] + offset[0], point[1] + offset[1], metrics.horizontalAdvance(text) + 4, metrics.height())
        self.title_plates.append((box, row))
        painter.fillRect(box, theme.colour("paper", 190))
        if row < 0:  # a term: a small cross marks its place
            painter.setPen(QPen(theme.colour("madder"), 1.4))
            x, y = point
            painter.drawLine(QPointF(x - 3, y), QPointF(x + 3, y))
            painter.drawLine(QPointF(x, y - 3), QPointF(x, y + 3))
        painter.setFont(font)
        painter.setPen(theme.colour("ink" if row >= 0 else "madder"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_region(self, painter: QPainter, number: int, corner: QPointF) -> None:
        text = self.regions[number][0]
        wide, tall = self._region_size(text)
        plate = QRectF(corner.x(), corner.y(), wide, tall)
        self.region_plates.append((plate, number))
        font = _region_font()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("paper", 205))
        painter.drawRoundedRect(plate, 4, 4)
        painter.setFont(font)
        painter.setPen(theme.colour("muted"))
        shown = QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, _WIDEST)
        painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, shown)

    def _paint_name(self, painter: QPainter, number: int, middle: NDArray[np.float64], corner: QPointF) -> None:
        category = self.categories[number]
        font = theme.ui_font(0.88)
        wide, tall = self._name_size(number)
        chip = self._chip(number)
        plate = QRectF(corner.x(), corner.y(), wide, tall)
        self.plates.append((plate, number))
        centre = QPointF(*middle)
        if not plate.adjusted(-26, -26, 26, 26).contains(centre):
            painter.setPen(QPen(category.colour, 1))
            painter.drawLine(centre, QPointF(min(max(centre.x(), plate.left()), plate.right()), plate.center().y()))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("card", 232))
        painter.drawRoundedRect(plate, 4, 4)
        painter.setBrush(category.colour)
        swatch = (
            QRectF(plate.left(), plate.top(), chip, tall)
            if category.letter
            else QRectF(plate.left() + 5, plate.center().y() - 5, 10, 10)
        )
        painter.drawRoundedRect(swatch, 3, 3)
        if category.letter:
            painter.setPen(letter_ink())
            painter.setFont(theme.ui_font(0.86, bold=True))
            painter.drawText(swatch, Qt.AlignmentFlag.AlignCenter, category.letter)
        painter.setPen(theme.colour("ink"))
        painter.setFont(font)
        name = QFontMetricsF(font).elidedText(category.name, Qt.TextElideMode.ElideRight, _WIDEST)
        painter.drawText(plate.adjusted(chip + 7, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, name)


def _region_font():  # type: ignore[no-untyped-def]
    font = theme.ui_font(0.86)
    font.setItalic(True)
    return font
