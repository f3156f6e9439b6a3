# SPDX-License-Identifier: GPL-3.0-or-later
"""The part of a map that is in sight, and the hand on it: moved, zoomed, lassoed, walked with the keys."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.ahead import nearest_ahead

_REACH = 11  # pixels within which a point answers
_REST = 120  # milliseconds after which a picture that moved is at rest


class MapView(pg.GraphicsView):
    """Points of n documents; rows are those of the arrays given. What is clicked is left to `click`.

    rested() is emitted when the picture has come to rest after it was moved or zoomed.
    """

    picked = pyqtSignal(object, bool)  # rows, whether they are added to the pick
    hovered = pyqtSignal(int, QPointF)
    read_wanted = pyqtSignal(int)
    rested = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent, background=theme.now.paper)
        self.box = pg.ViewBox(lockAspect=True, enableMenu=False, defaultPadding=0.04)
        self.box.setMouseEnabled(False, False)
        self.setCentralItem(self.box)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Map of the documents")
        self.setAccessibleDescription("Arrows move between points, Space reads, plus and minus zoom, 0 shows all.")
        self.viewport().setAccessibleName("Picture of the map")
        self.positions: NDArray[np.float64] = np.zeros((0, 2))
        self._size: NDArray[np.float64] = np.zeros(2)  # that all points take up
        self._pick: NDArray[np.int64] = np.zeros(0, np.int64)
        self._cursor = -1
        self._hover = -1
        self._lasso: list[QPointF] = []
        self._press: QPointF | None = None
        self._panning: QPointF | None = None
        self._still = QTimer(self)
        self._still.setSingleShot(True)
        self._still.setInterval(110)
        self._still.timeout.connect(self._rest)
        self._hover_at = QPointF()
        self._moving = QTimer(self)
        self._moving.setSingleShot(True)
        self._moving.setInterval(_REST)
        self._moving.timeout.connect(self._come_to_rest)
        self.box.sigRangeChanged.connect(self._moved)

    def sizeHint(self) -> QSize:
        return QSize(600, 500)

    def _moved(self, *_: object) -> None:
        self._moving.start()
        self.viewport().update()

    def _come_to_rest(self) -> None:
        self.viewport().update()
        self.rested.emit()

    def place(self, positions: NDArray[np.floating]) -> None:
        """Take other positions (n × 2), without moving what is in sight."""
        self.positions = positions.astype(np.float64)
        placed = self.positions[~np.isnan(self.positions[:, 0])]
        self._size = np.ptp(placed, axis=0) if len(placed) else np.zeros(2)

    def fit(self) -> None:
        """Show all points."""
        placed = self.positions[~np.isnan(self.positions[:, 0])]
        if not len(placed):
            return
        low, high = placed.min(axis=0), placed.max(axis=0)
        size = np.maximum(high - low, 1e-6 * max(float(np.abs(placed).max()), 1e-6))
        self.box.setRange(QRectF(low[0], low[1], size[0], size[1]), padding=0.07)

    @property
    def times(self) -> float:
        """The zoom factor relative to the view that shows everything."""
        seen = self.box.viewRect()
        whole = max(self._size[0] / max(seen.width(), 1e-300), self._size[1] / max(seen.height(), 1e-300)) * 1.14
        return float(whole) if whole > 0 else 1.0

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Make everything `factor` times as large around a place on the screen."""
        centre = self._to_map(at) if at is not None else self.box.viewRect().center()
        self.box.scaleBy((1 / factor, 1 / factor), center=centre)

    def seen(self) -> tuple[float, float, float, float]:
        """The part of the map in sight: left, low, width, height."""
        rect = self.box.viewRect()
        return rect.left(), rect.top(), rect.width(), rect.height()

    def screen_positions(self) -> NDArray[np.float64]:
        """The position of each point in this widget, in pixels (n × 2)."""
        return self.on_screen(self.positions)

    def on_screen(self, positions: NDArray[np.float64]) -> NDArray[np.float64]:
        """The positions of places of the map in this widget, in pixels (k × 2)."""
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

    def named_at(self, place: QPointF) -> bool:
        """True if something stands there that answers to a click."""
        return False

    def click(self, place: QPointF, add: bool) -> None:
        """A click on a place."""
        row = self.point_at(place)
        self.picked.emit(np.array([row] if row >= 0 else [], np.int64), add)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        if event.button() == Qt.MouseButton.LeftButton:
            self._press = event.position()
            self._lasso = [event.position()]
        else:
            self._panning = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        self.set_hover(-1, event.position())

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
            named = self.named_at(place)
            self.setCursor(Qt.CursorShape.PointingHandCursor if named else Qt.CursorShape.ArrowCursor)

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
            self.click(press, add)
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
        self.set_hover(-1, QPointF())

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
        self.set_hover(self.point_at(self._hover_at), self._hover_at)

    def set_hover(self, row: int, place: QPointF) -> None:
        """The pointer rests on a point; -1: on none."""
        if row != self._hover:
            self._hover = row
            self.hovered.emit(row, place)
            self.viewport().update()
