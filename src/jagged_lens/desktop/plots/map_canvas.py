# SPDX-License-Identifier: GPL-3.0-or-later
"""The picture of the map: points drawn from arrays, piles, links, circles, and what is written between them."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.map_names import MapNames
from jagged_lens.desktop.plots.map_piles import Piles
from jagged_lens.desktop.plots.map_raster import CELL, MOST_MOVING, RASTER_FROM, in_view, raster
from jagged_lens.desktop.plots.map_sprites import LETTERED, POINT, Category, Sprites, paint_point
from jagged_lens.desktop.plots.map_view import MapView

__all__ = ["Category", "MapCanvas"]

_RING_BELOW = 0.25
_LETTERS_FROM = 3.0  # times enlarged, from which on a point is large enough for its letter
_PAIRS_FROM = 1.8  # times enlarged, from which on the number of any pile is written
_FEW = 10  # copies of a pile whose number is written from afar
_FULL_SIZE_TO = (
    2_000  # points that are drawn as large as usual; more are smaller, so that it is seen where they lie close
)
_SHRINK = 0.22  # the power of their number by which they shrink
_MANY = 8_000  # points, above which fewer are painted while they move
_CELL = 4  # pixels
_MOST_LINKS = 20_000
_MOST_LARGE = 2_000  # piles that are painted as larger points

_WIDTHS = 6  # of lines between points


class MapCanvas(MapView):
    """Points of n documents. Rows are those of the arrays given; NaN positions are not drawn.

    lit, faded: numbers of categories: all others step back, or these do. circles: round (0, 0), radius and what it says.
    region_picked(number) tells that the name of a region was clicked.
    """

    region_picked = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.category: NDArray[np.int64] = np.zeros(0, np.int64)
        self.trust: NDArray[np.float32] = np.zeros(0, np.float32)
        self.show_rings = True
        self.rings = 0  # how many points are drawn as rings
        self.show_names = True
        self.neighbours_of: Callable[[int], NDArray[np.int32]] | None = None
        self.circles: Sequence[tuple[float, str]] = ()
        self.names = MapNames()
        self.piles = Piles()
        self.lit = -1
        self.faded: set[int] = set()
        self._laid_in: NDArray[np.float64] = np.zeros((0, 2))  # places of terms among the documents
        self._marked: NDArray[np.int64] = np.zeros(0, np.int64)
        self._links: NDArray[np.int64] = np.zeros((0, 2), np.int64)
        self._strength: NDArray[np.float64] | None = None  # of each line, from 0 to 1
        self._drawn_rows: NDArray[np.int64] = np.zeros(0, np.int64)
        self._sprite: NDArray[np.int64] = np.zeros(0, np.int64)
        self._sprites = Sprites((), 1.0)
        self._named_view: tuple[object, ...] = ()
        self._layer = QPixmap(1, 1)  # the points as they were painted last, and what they were painted of:
        self._layer_of: tuple[object, ...] = ()
        theme.changed.connect(self._take_look)

    @property
    def categories(self) -> Sequence[Category]:
        """The meaning of the colours."""
        return self.names.categories

    def _take_look(self) -> None:
        self.setBackground(theme.now.paper)
        self._sprites = Sprites(self.categories, self.devicePixelRatioF(), self._point())
        self.viewport().update()

    def show_points(
        self,
        positions: NDArray[np.floating],
        trust: NDArray[np.float32],
        category: NDArray[np.int64],
        categories: Sequence[Category],
        stay: bool = False,
    ) -> None:
        """Show other points. category: the number of each one's Category, -1 for none. stay: what is marked stays marked, though the
        points have moved."""
        moved = positions.shape != self.positions.shape or not np.array_equal(positions, self.positions, equal_nan=True)
        if positions.shape != self.positions.shape:  # other documents: nothing that was said of rows holds
            self._pick, self._links = np.zeros(0, np.int64), np.zeros((0, 2), np.int64)
            self._marked = np.zeros(0, np.int64)
            self.neighbours_of, self.piles, stay = None, Piles(), False
            self.names.titles = ()
        self.place(positions)
        self.trust = trust
        self.category, self.names.categories = category, categories
        self.faded = {number for number in self.faded if number < len(categories)}
        self.lit = -1
        self._draw()
        if moved:
            if not stay:
                self._cursor = self._hover = -1
            self.fit()

    def set_rings(self, shown: bool) -> None:
        """Draw points that cannot be trusted as rings, or not."""
        self.show_rings = shown
        self._draw()

    def show_pick(self, rows: NDArray[np.int64], cursor: int) -> None:
        """Mark the points that are picked, and the one being read."""
        self._pick, self._cursor = rows, cursor
        self.viewport().update()

    def show_links(self, links: NDArray[np.integer], strength: NDArray[np.floating] | None = None) -> None:
        """Draw lines between pairs of rows (p × 2), thicker the stronger (p, from 0 to 1); of very many the first."""
        self._strength = None if strength is None else np.asarray(strength[:_MOST_LINKS], np.float64)
        self._links = np.asarray(links[:_MOST_LINKS], np.int64).reshape(-1, 2)
        self.viewport().update()

    def show_regions(self, regions: Sequence[tuple[str, float, float]]) -> None:
        """Name these places: what is written, and where on the map."""
        self.names.regions = regions
        self.write_anew()

    def show_titles(self, titles: Sequence[tuple[int, str]]) -> None:
        """Write titles beside as many points as there is room for, those first that come first."""
        self.names.titles = titles
        self.write_anew()

    def show_laid_in(self, terms: Sequence[tuple[str, float, float]]) -> None:
        """Write terms at their places among the points, as many as there is room for."""
        self._laid_in = np.array([one[1:] for one in terms], np.float64).reshape(-1, 2)
        self.names.laid_in = [text for text, *_ in terms]
        self.write_anew()

    def show_piles(self, piles: Piles) -> None:
        """Say of points that lie on one another how many they are."""
        self.piles = piles
        self.viewport().update()

    def show_marked(self, rows: NDArray[np.int64]) -> None:
        """Put a square round these points: int64, rows."""
        self._marked = rows
        self.viewport().update()

    def light(self, number: int) -> None:
        """Let all points but those of one category step back; -1: none."""
        self.lit = number
        self.viewport().update()

    def fade(self, number: int) -> None:
        """Let the points of a category step back, or not any more."""
        self.faded ^= {number}
        self.viewport().update()

    def write_anew(self) -> None:
        """Look for places for everything that is written."""
        self._named_view = ()
        self.viewport().update()

    @property
    def lettered(self) -> bool:
        """True if points are so large that their letter stands in them."""
        return self.times >= _LETTERS_FROM

    def _point(self) -> float:
        """The size of a point: smaller if there are many, full size when zoomed in."""
        many = max(len(self.positions), 1) / _FULL_SIZE_TO
        return round(min(many**-_SHRINK * max(self.times, 1.0) ** 0.6, 1.0), 1) if many > 1 else 1.0

    def _draw(self) -> None:
        placed = ~np.isnan(self.positions[:, 0])
        ring = placed & self.show_rings & ~(self.trust >= _RING_BELOW)
        self.rings = int(ring.sum())
        # Rings first, so that what can be trusted lies on top.
        self._drawn_rows = np.concatenate((np.flatnonzero(ring), np.flatnonzero(placed & ~ring)))
        count = len(self.categories)
        look = np.where(self.category < 0, count, self.category)[self._drawn_rows]
        self._sprite = look * 2 + ring[self._drawn_rows]
        self._sprites = Sprites(self.categories, self.devicePixelRatioF(), self._point())
        # The middle of each category, by median: it moves with the picture like any point.
        middles = np.full((count, 2), np.nan)
        for number in range(count):
            own = self.positions[placed & (self.category == number)]
            if len(own):
                middles[number] = np.median(own, axis=0)
        sizes = np.bincount(self.category[placed & (self.category >= 0)], minlength=count)
        self.names.middles = middles
        self.names.by_size = np.argsort(-sizes, kind="stable").tolist()
        self.write_anew()

    # Everything is drawn in pixels.

    def drawForeground(self, painter: QPainter | None, rect: QRectF) -> None:
        if painter is None or not len(self.positions):
            return
        painter.save()
        painter.resetTransform()
        self.paint(painter)
        if len(self._lasso) > 1:
            painter.setPen(QPen(theme.colour("ink"), 1.4))
            painter.setBrush(theme.colour("verdigris", 26))
            painter.drawPolygon(QPolygonF(self._lasso))
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("verdigris"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -1.5, -1.5))
        painter.restore()

    def paint(self, painter: QPainter, one_by_one: bool = False) -> None:
        """Paint the map as it is seen, without what the hand is doing. one_by_one: points as shapes in place of copies of pictures, for
        a picture that is kept as lines and areas."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        places = self.screen_positions()
        size = (self.width(), self.height())
        self._paint_circles(painter)
        self._paint_links(painter, places)
        if one_by_one:
            grown = self.piles.grown(places)[self._drawn_rows]
            self._paint_shapes(painter, places, np.arange(len(grown)), grown)
        else:
            self._paint_points(painter, places, size)
            if len(self._pick) < len(self._drawn_rows):  # all of them are told apart from none by circles
                self._sprites.paint_circles(painter, places[self._pick], size)
        self._paint_marked(painter, places)
        self._paint_neighbours(painter, places)
        self._paint_words(painter, places)
        names = self.names
        written = [plate for plate, _ in (*names.plates, *names.region_plates, *names.title_plates)]
        self.piles.paint(painter, places, size, 2 if self.times >= _PAIRS_FROM else _FEW, written)

    def _paint_points(self, painter: QPainter, places: NDArray[np.float64], size: tuple[int, int]) -> None:
        """All points: as they were painted last where nothing has moved; of very many that move, one of those that share a few pixels."""
        if (point := self._point()) != self._sprites.large:
            self._sprites = Sprites(self.categories, self.devicePixelRatioF(), point)
        now = (
            self.box.viewRect(),
            size,
            self._sprites,
            self.piles,
            self.lit,
            frozenset(self.faded),
            self.devicePixelRatioF(),
        )
        if now == self._layer_of:
            painter.drawPixmap(0, 0, self._layer)
            return
        moving = self._moving.isActive()
        thin = max(-(-len(self._drawn_rows) // MOST_MOVING), 1) if moving else 1
        rows, sprite = self._drawn_rows[::thin], self._sprite[::thin]
        drawn, faded = places[rows], self._stepped_back()[rows]
        counted = not self.lettered and len(drawn) * thin >= RASTER_FROM and in_view(drawn, size) * thin >= RASTER_FROM
        if moving and counted:
            self._paint_raster(painter, drawn, sprite, faded, size)
            return
        if moving and len(drawn) > _MANY:
            some = _one_a_cell(drawn, size)
            self._sprites.paint(painter, drawn[some], sprite[some], faded[some], size, self.lettered)
            return
        scale = self.devicePixelRatioF()
        self._layer = QPixmap(round(size[0] * scale), round(size[1] * scale))
        self._layer.setDevicePixelRatio(scale)
        self._layer.fill(Qt.GlobalColor.transparent)
        layer = QPainter(self._layer)
        if counted:
            self._paint_raster(layer, drawn, sprite, faded, size)
        else:
            self._sprites.paint(layer, drawn, sprite, faded, size, self.lettered)
        if not self.lettered and not counted:
            grown = self.piles.grown(places)[self._drawn_rows]
            self._paint_shapes(layer, places, np.flatnonzero(grown > 1)[:_MOST_LARGE], grown)
        layer.end()
        self._layer_of = now
        painter.drawPixmap(0, 0, self._layer)

    def _paint_raster(
        self,
        painter: QPainter,
        places: NDArray[np.float64],
        sprite: NDArray[np.int64],
        back: NDArray[np.bool_],
        size: tuple[int, int],
    ) -> None:
        colours = [*(one.colour for one in self.categories), theme.colour("muted")]
        picture = raster(places, sprite, back, size, colours)
        painter.drawImage(QRectF(0, 0, picture.width() * CELL, picture.height() * CELL), picture)

    def _stepped_back(self) -> NDArray[np.bool_]:
        if self.lit >= 0:
            return self.category != self.lit
        return np.isin(self.category, list(self.faded)) if self.faded else np.zeros(len(self.category), np.bool_)

    def _paint_shapes(
        self, painter: QPainter, places: NDArray[np.float64], some: NDArray[np.int64], grown: NDArray[np.float64]
    ) -> None:
        """Paint some of the drawn points as shapes. some: their places among those that are drawn; grown: how large each of all is."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rows = self._drawn_rows[some]
        radius = grown[some] * self._point() * POINT / 2
        looks = [(one.colour, one.shape) for one in self.categories] + [(theme.colour("muted"), "dot")]
        for place, sprite, back, half in zip(
            places[rows].tolist(),
            self._sprite[some].tolist(),
            self._stepped_back()[rows].tolist(),
            radius.tolist(),
            strict=True,
        ):
            if -LETTERED < place[0] < self.width() + LETTERED and -LETTERED < place[1] < self.height() + LETTERED:
                painter.setOpacity(0.13 if back else 1.0)
                colour, shape = looks[sprite // 2]
                paint_point(painter, QPointF(*place), colour, bool(sprite % 2), half, shape)
        painter.setOpacity(1.0)

    def _paint_circles(self, painter: QPainter) -> None:
        if not self.circles:
            return
        (middle, edge) = self.on_screen(np.array([[0.0, 0.0], [1.0, 0.0]]))
        one = float(edge[0] - middle[0])
        metrics = QFontMetricsF(theme.ui_font(0.82))
        painter.setFont(theme.ui_font(0.82))
        for radius, words in self.circles:
            painter.setPen(QPen(theme.colour("hairline"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(*middle), radius * one, radius * one)
            painter.setPen(theme.colour("muted"))
            painter.drawText(
                QPointF(middle[0] - metrics.horizontalAdvance(words) / 2, middle[1] + radius * one - 3), words
            )

    def _paint_links(self, painter: QPainter, places: NDArray[np.float64]) -> None:
        if not len(self._links):
            return
        ends = places[self._links].reshape(-1, 4)
        there = ~np.isnan(ends).any(axis=1)
        # In a few widths, so that as few calls draw them all.
        strength = np.full(len(ends), 0.3) if self._strength is None else np.clip(self._strength, 0, 1)
        step = np.minimum((strength * _WIDTHS).astype(np.int64), _WIDTHS - 1)
        for width in range(_WIDTHS):
            own = ends[there & (step == width)]
            if len(own):
                painter.setPen(QPen(theme.colour("verdigris", 150), 0.6 + 0.55 * width))
                painter.drawLines(*(QLineF(*one) for one in own.tolist()))

    def _paint_neighbours(self, painter: QPainter, places: NDArray[np.float64]) -> None:
        """The true neighbours of the point in question: a full line to those near here too, a dashed one to the others."""
        row = self._hover if self._hover >= 0 else self._cursor
        if not 0 <= row < len(places) or self.neighbours_of is None or np.isnan(places[row, 0]):
            return
        others = self.neighbours_of(row)
        others = others[others >= 0]
        squared = ((places - places[row]) ** 2).sum(axis=1)
        squared[row] = np.inf
        squared = np.where(np.isnan(squared), np.inf, squared)
        near = np.sort(squared)[max(len(others) - 1, 0)]
        start = QPointF(*places[row])
        for other in others.tolist():
            dashed = squared[other] > near
            pen = QPen(theme.colour("ink", 150 if dashed else 220), 1.1)
            if dashed:
                pen.setStyle(Qt.PenStyle.DashLine)
            painter.setPen(pen)
            painter.drawLine(start, QPointF(*places[other]))
        painter.setPen(QPen(theme.colour("ink"), 2))
        number = int(self.category[row])
        painter.setBrush(self.categories[number].colour if number >= 0 else theme.colour("muted"))
        painter.drawEllipse(start, 6.5, 6.5)

    def _paint_marked(self, painter: QPainter, places: NDArray[np.float64]) -> None:
        rows = self._marked[self._marked < len(places)]
        painter.setPen(QPen(theme.colour("madder"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for x, y in places[rows].tolist():
            if x == x:
                painter.drawRect(QRectF(x - 7, y - 7, 14, 14))

    def _paint_words(self, painter: QPainter, places: NDArray[np.float64]) -> None:
        names = self.names
        middles = self.on_screen(names.middles)
        region_places = self.on_screen(np.array([one[1:] for one in names.regions], np.float64).reshape(-1, 2))
        laid_in = self.on_screen(self._laid_in)
        view = (self.box.viewRect(), self.size(), self.show_names)
        if view != self._named_view and not (self._moving.isActive() and self._named_view):
            # While the picture moves, names move with it; they look for better places when it rests.
            self._named_view = view
            size = (self.width(), self.height())
            names.look_for_places(places, size, middles, region_places, laid_in, self.show_names)
        names.paint(painter, places, middles, region_places, laid_in)

    def named_at(self, place: QPointF) -> bool:
        return (
            self.names.category_at(place) >= 0 or self.names.region_at(place) >= 0 or self.piles.at(place) is not None
        )

    def click(self, place: QPointF, add: bool) -> None:
        number, region, pile = self.names.category_at(place), self.names.region_at(place), self.piles.at(place)
        if pile is not None:
            self.picked.emit(pile, add)
        elif number >= 0:
            self.picked.emit(np.flatnonzero(self.category == number), add)
        elif region >= 0:
            self.region_picked.emit(region)
        else:
            super().click(place, add)


def _one_a_cell(places: NDArray[np.float64], size: tuple[int, int]) -> NDArray[np.int64]:
    """The last of the points that share a cell of a few pixels: the one on top. In their order."""
    columns, rows = size[0] // _CELL + 1, size[1] // _CELL + 1
    inside = np.flatnonzero(((places >= 0) & (places < size)).all(axis=1))
    cells = (places[inside] // _CELL).astype(np.int64)
    last = np.full(columns * rows, -1, np.int64)
    last[cells[:, 1] * columns + cells[:, 0]] = inside
    return np.sort(last[last >= 0])
