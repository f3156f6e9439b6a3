"""The picture of the map: points drawn from arrays, moved and zoomed by hand, picked by lasso, with names that do not collide."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import pyqtgraph as pg
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QPixmap,
    QPolygonF,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget
from pyqtgraph.Qt import internals

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import letter_ink
from jagged_lens.desktop.plots.ahead import nearest_ahead
from jagged_lens.desktop.plots.name_places import NamePlaces

_POINT = 8
_CIRCLE = 16  # pixels, with room for the circle round a point that is picked
_SPRITE = 12  # pixels, with room for the smooth edge of a point
_REACH = 11  # pixels within which a point answers
_RING_BELOW = 0.25


@dataclass(frozen=True)
class Category:
    """What a colour stands for: its letter ("" if it has none), its name and its colour."""

    letter: str
    name: str
    colour: QColor


class MapCanvas(pg.GraphicsView):
    """Points of n documents. Rows are those of the arrays given; NaN positions are not drawn."""

    picked = pyqtSignal(object, bool)  # rows, whether they are added to the pick
    hovered = pyqtSignal(int, QPointF)
    read_wanted = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent, background=theme.now.paper)
        self.box = pg.ViewBox(lockAspect=True, enableMenu=False, defaultPadding=0.04)
        self.box.setMouseEnabled(False, False)
        self.setCentralItem(self.box)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Map of the documents")
        self.setAccessibleDescription("Arrows walk from point to point, Space reads, plus and minus zoom, 0 shows all.")
        self.viewport().setAccessibleName("Picture of the map")
        self.positions: NDArray[np.float64] = np.zeros((0, 2))
        self.categories: Sequence[Category] = ()
        self.category: NDArray[np.int64] = np.zeros(0, np.int64)
        self.trust: NDArray[np.float32] = np.zeros(0, np.float32)
        self.show_rings = True
        self.rings = 0  # how many points are drawn as rings
        self.show_names = True
        self.neighbours_of: Callable[[int], NDArray[np.int32]] | None = None
        self.covered: list[QRect] = []  # where something else lies over the map
        self._drawn_rows: NDArray[np.int64] = np.zeros(0, np.int64)
        self._sprite: NDArray[np.int64] = np.zeros(0, np.int64)
        self._sprites = self._circle = QPixmap(1, 1)
        self._fragments = internals.PrimitiveArray(QPainter.PixmapFragment, 10)
        self._middles: NDArray[np.float64] = np.zeros((0, 2))
        self._by_size: NDArray[np.int64] = np.zeros(0, np.int64)
        self._pick: NDArray[np.int64] = np.zeros(0, np.int64)
        self._cursor = -1
        self._hover = -1
        self._lasso: list[QPointF] = []
        self._press: QPointF | None = None
        self._panning: QPointF | None = None
        self._name_places: list[tuple[QRectF, int]] = []
        self._still = QTimer(self)
        self._still.setSingleShot(True)
        self._still.setInterval(110)
        self._still.timeout.connect(self._rest)
        self._hover_at = QPointF()
        theme.changed.connect(self._take_look)
        self._moving = QTimer(self)
        self._moving.setSingleShot(True)
        self._moving.setInterval(120)
        self._moving.timeout.connect(self.viewport().update)
        self._named_view: tuple[object, ...] = ()
        self._offsets: dict[int, tuple[float, float]] = {}
        self.box.sigRangeChanged.connect(self._moved)

    def sizeHint(self) -> QSize:
        return QSize(600, 500)

    def _moved(self, *_: object) -> None:
        self._moving.start()
        self.viewport().update()

    def _take_look(self) -> None:
        self.setBackground(theme.now.paper)
        self._circle = self._drawn_circle()
        self.viewport().update()

    def show_points(
        self,
        positions: NDArray[np.float32],
        trust: NDArray[np.float32],
        category: NDArray[np.int64],
        categories: Sequence[Category],
    ) -> None:
        """Show other points. category: the number of each one's Category, -1 for none."""
        moved = positions.shape != self.positions.shape or not np.array_equal(positions, self.positions, equal_nan=True)
        self.positions, self.trust = positions.astype(np.float64), trust
        self.category, self.categories = category, categories
        self._draw()
        if moved:
            self._cursor = self._hover = -1
            self.fit()

    def set_rings(self, shown: bool) -> None:
        self.show_rings = shown
        self._draw()

    def show_pick(self, rows: NDArray[np.int64], cursor: int) -> None:
        """Mark the points that are picked, and the one being read."""
        self._pick, self._cursor = rows, cursor
        self.viewport().update()

    def fit(self) -> None:
        """Show all points."""
        placed = self.positions[~np.isnan(self.positions[:, 0])]
        if not len(placed):
            return
        low, high = placed.min(axis=0), placed.max(axis=0)
        size = np.maximum(high - low, 1e-6)
        self.box.setRange(QRectF(low[0], low[1], size[0], size[1]), padding=0.07)

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Make everything `factor` times as large around a place on the screen."""
        centre = self._to_map(at) if at is not None else self.box.viewRect().center()
        self.box.scaleBy((1 / factor, 1 / factor), center=centre)

    def screen_positions(self) -> NDArray[np.float64]:
        """Where each point lies in this widget, in pixels (n × 2)."""
        return self._on_screen(self.positions)

    def _on_screen(self, positions: NDArray[np.float64]) -> NDArray[np.float64]:
        if not len(positions):
            return np.zeros((0, 2))
        a = self.box.mapViewToScene(pg.Point(0, 0))
        b = self.box.mapViewToScene(pg.Point(1, 1))
        return np.column_stack((a.x() + positions[:, 0] * (b.x() - a.x()), a.y() + positions[:, 1] * (b.y() - a.y())))

    def point_at(self, place: QPointF) -> int:
        """The point under a place on the screen; -1 where there is none."""
        if not len(self.positions):
            return -1
        squared = ((self.screen_positions() - (place.x(), place.y())) ** 2).sum(axis=1)
        squared = np.where(np.isnan(squared), np.inf, squared)
        nearest = int(squared.argmin())
        return nearest if squared[nearest] <= _REACH**2 else -1

    def _to_map(self, place: QPointF) -> QPointF:
        return self.box.mapSceneToView(place)

    def _draw(self) -> None:
        placed = ~np.isnan(self.positions[:, 0])
        ring = placed & self.show_rings & ~(self.trust >= _RING_BELOW)
        self.rings = int(ring.sum())
        # Rings first, so that what can be trusted lies on top.
        self._drawn_rows = np.concatenate((np.flatnonzero(ring), np.flatnonzero(placed & ~ring)))
        look = np.where(self.category < 0, len(self.categories), self.category)[self._drawn_rows]
        self._sprite = look * 2 + ring[self._drawn_rows]
        self._sprites, self._circle = self._drawn_sprites(), self._drawn_circle()
        # The middle of each category, by median: it moves with the picture like any point.
        self._named_view = ()
        self._middles = np.full((len(self.categories), 2), np.nan)
        for number in range(len(self.categories)):
            own = self.positions[placed & (self.category == number)]
            if len(own):
                self._middles[number] = np.median(own, axis=0)
        self._by_size = np.argsort(
            -np.bincount(self.category[placed & (self.category >= 0)], minlength=len(self.categories)), kind="stable"
        )
        self.viewport().update()

    def _drawn_sprites(self) -> QPixmap:
        """A dot and a ring of each category's colour, side by side."""
        scale = self.devicePixelRatioF()
        colours = [category.colour for category in self.categories] + [theme.colour("muted")]
        picture = QPixmap(round(_SPRITE * 2 * len(colours) * scale), round(_SPRITE * scale))
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(scale, scale)
        for number, colour in enumerate(colours):
            middle = QPointF(_SPRITE * (2 * number + 0.5), _SPRITE / 2)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour)
            painter.drawEllipse(middle, _POINT / 2, _POINT / 2)
            painter.setPen(QPen(colour, 1.3))
            painter.setBrush(theme.colour("paper", 150))
            painter.drawEllipse(middle + QPointF(_SPRITE, 0), _POINT / 2 - 0.6, _POINT / 2 - 0.6)
        painter.end()
        return picture

    def _drawn_circle(self) -> QPixmap:
        """The circle round a point that is picked."""
        scale = self.devicePixelRatioF()
        picture = QPixmap(round(_CIRCLE * scale), round(_CIRCLE * scale))
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(scale, scale)
        painter.setPen(QPen(theme.colour("ink"), 1.5))
        painter.drawEllipse(QPointF(_CIRCLE / 2, _CIRCLE / 2), 6.5, 6.5)
        painter.end()
        return picture

    def _paint_points(self, painter: QPainter, places: NDArray[np.float64]) -> None:
        """All points, as copies of their sprites."""
        self._paint_copies(painter, places[self._drawn_rows], self._sprite, self._sprites, _SPRITE)

    def _paint_copies(
        self, painter: QPainter, places: NDArray[np.float64], sprite: NDArray[np.int64], sprites: QPixmap, side: int
    ) -> None:
        """A copy of a sprite, `side` pixels wide, at each place that is in sight: one call, from arrays."""
        seen = ((places > -side) & (places < (self.width() + side, self.height() + side))).all(axis=1)
        scale = self.devicePixelRatioF()
        size = side * scale
        self._fragments.resize(int(seen.sum()))
        cells = self._fragments.ndarray()
        # x, y, and in the picture of sprites left, top, width, height; scale across and down, rotation, opacity.
        cells[:, :2] = places[seen]
        cells[:, 2] = sprite[seen] * size
        cells[:, 3:] = (0, size, size, 1 / scale, 1 / scale, 0, 1)
        painter.drawPixmapFragments(*self._fragments.drawargs(), sprites)  # type: ignore[call-arg]

    # Everything is drawn in pixels.

    def drawForeground(self, painter: QPainter | None, rect: QRectF) -> None:
        if painter is None or not len(self.positions):
            return
        painter.save()
        painter.resetTransform()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        places = self.screen_positions()
        self._paint_points(painter, places)
        self._paint_pick(painter, places)
        self._paint_neighbours(painter, places)
        self._name_places = []
        if self.show_names:
            self._paint_names(painter, places)
        if len(self._lasso) > 1:
            painter.setPen(QPen(theme.colour("ink"), 1.4))
            painter.setBrush(theme.colour("verdigris", 26))
            painter.drawPolygon(QPolygonF(self._lasso))
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("verdigris"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -1.5, -1.5))
        painter.restore()

    def _paint_pick(self, painter: QPainter, places: NDArray[np.float64]) -> None:
        own = places[self._pick]
        self._paint_copies(painter, own, np.zeros(len(own), np.int64), self._circle, _CIRCLE)

    def _paint_neighbours(self, painter: QPainter, places: NDArray[np.float64]) -> None:
        """The true neighbours of the point in question: a full line to those near here too, a dashed one to the others."""
        row = self._hover if self._hover >= 0 else self._cursor
        if row < 0 or self.neighbours_of is None or np.isnan(places[row, 0]):
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

    def _paint_names(self, painter: QPainter, places: NDArray[np.float64]) -> None:
        """The name of each category near the middle of its points, moved aside where it would cover another."""
        font, bold = theme.ui_font(0.88), theme.ui_font(0.86, bold=True)
        metrics = QFontMetricsF(font)
        tall = metrics.height() * 1.45
        covered = [(r.left(), r.top(), r.right() + 1.0, r.bottom() + 1.0) for r in self.covered]
        view = (self.box.viewRect(), self.size(), covered, id(self.categories))
        free = None
        if view != self._named_view and not (self._moving.isActive() and self._named_view):
            # While the picture moves, names move with it; they look for better places when it rests.
            free = NamePlaces(places[~np.isnan(places[:, 0])], self.width(), self.height(), covered)
            self._named_view, self._offsets = view, {}
        middles = self._on_screen(self._middles)
        for number in self._by_size.tolist():
            middle = middles[number]
            if not (0 < middle[0] < self.width() and 0 < middle[1] < self.height()):
                continue
            category = self.categories[number]
            chip = (
                max(tall, QFontMetricsF(bold).horizontalAdvance(category.letter) + 10)
                if category.letter
                else tall * 0.62
            )
            name = metrics.elidedText(category.name, Qt.TextElideMode.ElideRight, 240)
            size = (chip + 8 + metrics.horizontalAdvance(name) + 8, tall)
            corner = free.place(middle, size) if free is not None else None
            if corner is not None:
                self._offsets[number] = (corner[0] - middle[0], corner[1] - middle[1])
            if number not in self._offsets:
                continue
            corner = (middle[0] + self._offsets[number][0], middle[1] + self._offsets[number][1])
            plate = QRectF(*corner, *size)
            self._name_places.append((plate, number))
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
                painter.setFont(bold)
                painter.drawText(swatch, Qt.AlignmentFlag.AlignCenter, category.letter)
            painter.setPen(theme.colour("ink"))
            painter.setFont(font)
            painter.drawText(plate.adjusted(chip + 7, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, name)

    # The hand.

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        if event.button() == Qt.MouseButton.LeftButton:
            self._press = event.position()
            self._lasso = [event.position()]
        else:
            self._panning = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        self._set_hover(-1, event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = event.position()
        if self._panning is not None:
            a, b = self._to_map(self._panning), self._to_map(place)
            self.box.translateBy(x=a.x() - b.x(), y=a.y() - b.y())
            self._panning = place
        elif self._press is not None:
            if (place - self._lasso[-1]).manhattanLength() > 2:
                self._lasso.append(place)
                self.viewport().update()
        else:
            self._hover_at = place
            self._still.start()
            self.setCursor(
                Qt.CursorShape.PointingHandCursor if self._name_at(place) >= 0 else Qt.CursorShape.ArrowCursor
            )

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setCursor(Qt.CursorShape.ArrowCursor)
        if self._panning is not None:
            self._panning = None
            return
        lasso, press = self._lasso, self._press
        self._lasso, self._press = [], None
        self.viewport().update()
        if press is None:
            return
        add = bool(event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier))
        reach = max(((place - press).manhattanLength() for place in lasso), default=0.0)
        if reach < 6:
            self._click(press, add)
        else:
            self.picked.emit(self._inside(lasso), add)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        row = self.point_at(event.position())
        if row >= 0:
            self.read_wanted.emit(row)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def leaveEvent(self, event: object) -> None:
        self._still.stop()
        self._set_hover(-1, QPointF())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        directions = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, -1),
            Qt.Key.Key_Down: (0, 1),
        }
        key = Qt.Key(event.key())
        if key in directions:
            self._walk(np.array(directions[key], float), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        elif key == Qt.Key.Key_Space and self._cursor >= 0:
            self.read_wanted.emit(self._cursor)
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.25)
        elif key == Qt.Key.Key_Minus:
            self.zoom(0.8)
        elif key == Qt.Key.Key_0:
            self.fit()
        else:
            event.ignore()

    def _walk(self, direction: NDArray[np.float64], widen: bool) -> None:
        """From the point being read to the nearest one in a direction."""
        places = self.screen_positions()
        placed = np.flatnonzero(~np.isnan(places[:, 0]))
        if not len(placed):
            return
        if self._cursor < 0:
            middle = np.array([self.width() / 2, self.height() / 2])
            found = placed[((places[placed] - middle) ** 2).sum(axis=1).argmin()]
        else:
            found = nearest_ahead(places, self._cursor, direction)
        if found >= 0:
            self._cursor = int(found)
            self.picked.emit(np.array([found]), widen)

    def _click(self, place: QPointF, add: bool) -> None:
        number = self._name_at(place)
        if number >= 0:
            self.picked.emit(np.flatnonzero(self.category == number), add)
            return
        row = self.point_at(place)
        self.picked.emit(np.array([row] if row >= 0 else [], np.int64), add)

    def _name_at(self, place: QPointF) -> int:
        return next((number for plate, number in self._name_places if plate.contains(place)), -1)

    def _inside(self, lasso: list[QPointF]) -> NDArray[np.int64]:
        """The points within a closed line, by the even-odd rule."""
        places = self.screen_positions()
        inside = np.zeros(len(places), np.bool_)
        x, y = places[:, 0], places[:, 1]
        corners = [(point.x(), point.y()) for point in lasso]
        for (x1, y1), (x2, y2) in zip(corners, corners[1:] + corners[:1], strict=True):
            if y1 != y2:
                inside ^= ((y1 > y) != (y2 > y)) & (x < (x2 - x1) * (y - y1) / (y2 - y1) + x1)
        return np.flatnonzero(inside)

    def _rest(self) -> None:
        self._set_hover(self.point_at(self._hover_at), self._hover_at)

    def _set_hover(self, row: int, place: QPointF) -> None:
        if row != self._hover:
            self._hover = row
            self.hovered.emit(row, place)
            self.viewport().update()
