# SPDX-License-Identifier: GPL-3.0-or-later
"""A table of values as a picture: darkness for the value. Means of blocks where it is far, cells with their numbers where it is near.

It holds the window that is in sight and asks for its values; whoever shows it computes them.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.keyed import KeyedPicture

_SMALLEST = 6  # cells across that are shown at least
_CELL = 2  # pixels: no cell is drawn smaller
_WAIT = 60  # milliseconds after a move before values are asked for


@dataclass(frozen=True)
class Window:
    """The rows and columns in sight: from, and to before; and into how many cells they are drawn."""

    top: int
    bottom: int
    left: int
    right: int
    high: int
    wide: int

    @property
    def near(self) -> bool:
        """True if every cell is one row and one column."""
        return self.high == self.bottom - self.top and self.wide == self.right - self.left


class CellPicture(KeyedPicture):
    """wanted(window): its values are to be computed. pointed(row, column): the pointer or the cursor is there, -1 for nowhere. clicked(row,
    column), opened(row, column): Return or a double click. dragged(rows, columns): a rectangle was dragged, as two slices.

    number: how a value is written in a cell that is large enough.
    """

    wanted = pyqtSignal(object)
    pointed = pyqtSignal(int, int)
    clicked = pyqtSignal(int, int)
    opened = pyqtSignal(int, int)
    dragged = pyqtSignal(object, object)

    def __init__(
        self, number: Callable[[float], str] = lambda value: f"{value:.2f}", parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._number = number
        self._shape = (0, 0)
        self._seen = (0.0, 0.0, 0.0, 0.0)  # top, bottom, left, right
        self._values: NDArray[np.float32] = np.zeros((0, 0), np.float32)
        self._of: Window | None = None  # what the values are of
        self._most = 1.0
        self._image = QImage()
        self._bounds: tuple[Sequence[tuple[int, str]], Sequence[tuple[int, str]]] = ((), ())
        self._names: tuple[Callable[[int], str], Callable[[int], str]] = (str, str)
        self._cursor = (-1, -1)
        self._press: QPointF | None = None
        self._drag: QPointF | None = None
        self._pan: QPointF | None = None
        self._asks = QTimer(self)
        self._asks.setSingleShot(True)
        self._asks.setInterval(_WAIT)
        self._asks.timeout.connect(self._ask)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleDescription(
            "Arrows move between cells, Return opens, plus and minus zoom, 0 shows all. Drag a rectangle to pick."
        )
        theme.changed.connect(self._paint_image)

    def sizeHint(self) -> QSize:
        return QSize(560, 420)

    def show_table(
        self,
        shape: tuple[int, int],
        row_bounds: Sequence[tuple[int, str]],
        column_bounds: Sequence[tuple[int, str]],
        row_name: Callable[[int], str],
        column_name: Callable[[int], str],
    ) -> None:
        """Another table: its shape, where groups of rows and of columns begin and what they are called, and names of rows and columns."""
        same = shape == self._shape
        self._shape, self._bounds, self._names = shape, (row_bounds, column_bounds), (row_name, column_name)
        if not same:
            self._cursor = (-1, -1)
            self.show_all()
        self._of = None
        self._asks.start()

    def show_values(self, window: Window, values: NDArray[np.float32], most: float) -> None:
        """The values of a window: float32, high × wide, NaN for none. most: what is drawn darkest."""
        self._of, self._values, self._most = window, values, max(most, 1e-12)
        self._paint_image()

    # The window.

    def show_all(self) -> None:
        """Show the whole table."""
        self._see(0.0, float(self._shape[0]), 0.0, float(self._shape[1]))

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Make cells `factor` times as large about a place."""
        top, bottom, left, right = self._seen
        area = self._area()
        place = at if at is not None and area.contains(at) else area.center()
        row = top + (place.y() - area.top()) / max(area.height(), 1) * (bottom - top)
        column = left + (place.x() - area.left()) / max(area.width(), 1) * (right - left)
        self._see(
            row - (row - top) / factor,
            row + (bottom - row) / factor,
            column - (column - left) / factor,
            column + (right - column) / factor,
        )

    def window_now(self) -> Window:
        """The rows and columns in sight, and into how many cells they are drawn here."""
        top, bottom, left, right = self._seen
        area = self._area()
        first, last = int(np.floor(top)), int(np.ceil(bottom))
        begin, end = int(np.floor(left)), int(np.ceil(right))
        high = min(last - first, max(int(area.height() // _CELL), 1))
        wide = min(end - begin, max(int(area.width() // _CELL), 1))
        return Window(first, last, begin, end, high, wide)

    def _see(self, top: float, bottom: float, left: float, right: float) -> None:
        low: list[float] = []
        for start, end, size in ((top, bottom, self._shape[0]), (left, right, self._shape[1])):
            span = min(max(end - start, min(_SMALLEST, size)), size)
            middle = (start + end) / 2
            begin = min(max(middle - span / 2, 0.0), size - span)
            low += [begin, begin + span]
        self._seen = (low[0], low[1], low[2], low[3])
        self._asks.start()
        self.update()

    def _ask(self) -> None:
        if self._shape[0] and self._shape[1] and self.isVisible():
            window = self.window_now()
            if window != self._of:
                self.wanted.emit(window)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._asks.start()

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self._asks.start()

    def _area(self) -> QRectF:
        line = QFontMetricsF(theme.ui_font(0.85)).height()
        top, high = line * 1.4, max(self.height() - line * 1.4 - 4, 10)
        named = high / max(self._seen[1] - self._seen[0], 1e-9) >= line * 0.95  # there is room for the name of each row
        left = min(line * 11, self.width() * 0.3) if named else line * 5
        return QRectF(left, top, max(self.width() - left - 4, 10), high)

    def cell_at(self, place: QPointF) -> tuple[int, int]:
        """The row and column at a place; -1, -1 outside."""
        area = self._area()
        if not area.contains(place) or not self._shape[0]:
            return -1, -1
        top, bottom, left, right = self._seen
        row = int(top + (place.y() - area.top()) / area.height() * (bottom - top))
        column = int(left + (place.x() - area.left()) / area.width() * (right - left))
        return min(row, self._shape[0] - 1), min(column, self._shape[1] - 1)

    def place_of(self, row: int, column: int) -> QPointF:
        """The middle of a cell, in pixels."""
        area, (top, bottom, left, right) = self._area(), self._seen
        return QPointF(
            area.left() + (column + 0.5 - left) / max(right - left, 1e-9) * area.width(),
            area.top() + (row + 0.5 - top) / max(bottom - top, 1e-9) * area.height(),
        )

    # The hand.

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if event.button() == Qt.MouseButton.LeftButton:
            self._press = self._drag = event.position()
        else:
            self._pan = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = event.position()
        if self._pan is not None:
            area, (top, bottom, left, right) = self._area(), self._seen
            down = (self._pan.y() - place.y()) / area.height() * (bottom - top)
            across = (self._pan.x() - place.x()) / area.width() * (right - left)
            self._pan = place
            self._see(top + down, bottom + down, left + across, right + across)
        elif self._press is not None:
            self._drag = place
            self.update()
        else:
            self.pointed.emit(*self.cell_at(place))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.unsetCursor()
        self._pan = None
        press, drag, self._press, self._drag = self._press, self._drag, None, None
        if press is None or drag is None:
            return
        area = self._area()
        corners = [
            QPointF(min(max(at.x(), area.left()), area.right()), min(max(at.y(), area.top()), area.bottom()))
            for at in (press, drag)
        ]
        if (press - drag).manhattanLength() < 6:
            cell = self.cell_at(press)
            if cell[0] >= 0:
                self._cursor = cell
                self.clicked.emit(*cell)
        else:
            first, last = (self.cell_at(at) for at in corners)
            if first[0] >= 0 and last[0] >= 0:
                rows, columns = sorted((first[0], last[0])), sorted((first[1], last[1]))
                self.dragged.emit(slice(rows[0], rows[1] + 1), slice(columns[0], columns[1] + 1))
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        cell = self.cell_at(event.position()) if event is not None else (-1, -1)
        if cell[0] >= 0:
            self.opened.emit(*cell)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        steps = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}
        if key in steps and self._shape[0] and self._shape[1]:
            self._go(*steps[key])
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.6, self.place_of(*self._cursor) if self._cursor[0] >= 0 else None)
        elif key == Qt.Key.Key_Minus:
            self.zoom(1 / 1.6)
        elif key == Qt.Key.Key_0:
            self.show_all()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._cursor[0] >= 0:
            self.opened.emit(*self._cursor)
        elif key == Qt.Key.Key_Space and self._cursor[0] >= 0:
            self.clicked.emit(*self._cursor)
        else:
            return False
        return True

    def _go(self, down: int, across: int) -> None:
        """Move the cursor by a cell as it is drawn, and what is in sight with it."""
        window = self.window_now()
        if self._cursor[0] < 0:
            self._cursor = ((window.top + window.bottom) // 2, (window.left + window.right) // 2)
        step = (
            max((window.bottom - window.top) // max(window.high, 1), 1),
            max((window.right - window.left) // max(window.wide, 1), 1),
        )
        row = min(max(self._cursor[0] + down * step[0], 0), self._shape[0] - 1)
        column = min(max(self._cursor[1] + across * step[1], 0), self._shape[1] - 1)
        self._cursor = (row, column)
        top, bottom, left, right = self._seen
        move_down = min(row - top, 0) + max(row + 1 - bottom, 0)
        move_across = min(column - left, 0) + max(column + 1 - right, 0)
        if move_down or move_across:
            self._see(top + move_down, bottom + move_down, left + move_across, right + move_across)
        self.pointed.emit(row, column)

    # The picture.

    def _paint_image(self) -> None:
        values = self._values
        if values.size:
            share = np.nan_to_num(np.clip(np.abs(values) / self._most, 0, 1)) ** 0.6
            ground, deep = (np.array(theme.colour(name).getRgb()[:3], float) for name in ("card", "verdigris"))
            below = np.array(theme.colour("madder").getRgb()[:3], float)  # what is negative
            ink = np.where((values < 0)[..., None], below, deep)
            rgb = ground + (ink - ground) * share[..., None]
            rgb[np.isnan(values)] = theme.colour("band").getRgb()[:3]
            data = np.ascontiguousarray(rgb.round().astype(np.uint8))
            self._image = QImage(
                data.tobytes(), values.shape[1], values.shape[0], values.shape[1] * 3, QImage.Format.Format_RGB888
            ).copy()
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        area = self._area()
        painter.fillRect(area, theme.colour("card"))
        of = self._of
        if of is not None and not self._image.isNull():
            painter.save()
            painter.setClipRect(area)
            top, bottom, left, right = self._seen
            across, down = area.width() / max(right - left, 1e-9), area.height() / max(bottom - top, 1e-9)
            target = QRectF(
                area.left() + (of.left - left) * across,
                area.top() + (of.top - top) * down,
                (of.right - of.left) * across,
                (of.bottom - of.top) * down,
            )
            painter.drawImage(target, self._image)
            if of.near:
                self._paint_numbers(painter, target)
            painter.restore()
        self._paint_bounds(painter, area)
        if self._cursor[0] >= 0:
            middle = self.place_of(*self._cursor)
            if area.contains(middle):
                painter.setPen(QPen(theme.colour("ink"), 1.6))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                top, bottom, left, right = self._seen
                wide = max(area.width() / max(right - left, 1e-9), 5)
                tall = max(area.height() / max(bottom - top, 1e-9), 5)
                painter.drawRect(QRectF(middle.x() - wide / 2, middle.y() - tall / 2, wide, tall))
        if self._press is not None and self._drag is not None and (self._press - self._drag).manhattanLength() >= 6:
            painter.setPen(QPen(theme.colour("ink"), 1.2))
            painter.setBrush(theme.colour("ochre", 50))
            painter.drawRect(QRectF(self._press, self._drag).normalized())
        if self.hasFocus():
            theme.draw_focus(painter, QRect(self.rect()))

    def _paint_numbers(self, painter: QPainter, target: QRectF) -> None:
        high, wide = self._values.shape
        cell = QRectF(0, 0, target.width() / wide, target.height() / high)
        font = theme.ui_font(0.85)
        metrics = QFontMetricsF(font)
        if cell.height() < metrics.height() or cell.width() < metrics.horizontalAdvance("−0.00") + 4:
            return
        painter.setFont(font)
        for row in range(high):
            for column in range(wide):
                value = float(self._values[row, column])
                if value != value or value == 0:
                    continue
                dark = (min(abs(value) / self._most, 1)) ** 0.6 > 0.55
                painter.setPen(theme.colour("on_verdigris" if dark else "ink"))
                painter.drawText(
                    cell.translated(target.left() + column * cell.width(), target.top() + row * cell.height()),
                    Qt.AlignmentFlag.AlignCenter,
                    self._number(value),
                )

    def _paint_bounds(self, painter: QPainter, area: QRectF) -> None:
        """Lines between groups of rows and columns with their names, or the names of rows and columns themselves where there is room."""
        font = theme.ui_font(0.85)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        line = metrics.height()
        top, bottom, left, right = self._seen
        down, across = area.height() / max(bottom - top, 1e-9), area.width() / max(right - left, 1e-9)
        room = area.left() - 6
        painter.setPen(theme.colour("muted"))
        if down >= line * 0.95:
            for row in range(int(top), min(int(np.ceil(bottom)), self._shape[0])):
                y = area.top() + (row + 0.5 - top) * down
                if area.top() <= y <= area.bottom():
                    text = metrics.elidedText(self._names[0](row), Qt.TextElideMode.ElideRight, room)
                    painter.drawText(QRectF(2, y - line / 2, room, line), Qt.AlignmentFlag.AlignRight, text)
        else:
            self._paint_groups(painter, area, self._bounds[0], self._shape[0], down, top, False)
        if across >= line * 2.4:
            for column in range(int(left), min(int(np.ceil(right)), self._shape[1])):
                x = area.left() + (column + 0.5 - left) * across
                if area.left() <= x <= area.right():
                    text = metrics.elidedText(self._names[1](column), Qt.TextElideMode.ElideRight, across - 4)
                    painter.drawText(QRectF(x - across / 2, 0, across, line), Qt.AlignmentFlag.AlignCenter, text)
        else:
            self._paint_groups(painter, area, self._bounds[1], self._shape[1], across, left, True)

    def _paint_groups(
        self,
        painter: QPainter,
        area: QRectF,
        bounds: Sequence[tuple[int, str]],
        size: int,
        scale: float,
        start: float,
        above: bool,
    ) -> None:
        metrics = QFontMetricsF(painter.font())
        line = metrics.height()
        origin, end = (area.left(), area.right()) if above else (area.top(), area.bottom())
        for at, (begin, name) in enumerate(bounds):
            stop = bounds[at + 1][0] if at + 1 < len(bounds) else size
            low = max(origin + (begin - start) * scale, origin)
            high = min(origin + (stop - start) * scale, end)
            if high <= low:
                continue
            if begin:
                painter.setPen(QPen(theme.colour("muted", 130), 1))
                edge = origin + (begin - start) * scale
                if origin < edge < end:
                    painter.drawLine(
                        QPointF(edge, area.top()) if above else QPointF(area.left(), edge),
                        QPointF(edge, area.bottom()) if above else QPointF(area.right(), edge),
                    )
            room = high - low
            painter.setPen(theme.colour("ink"))
            if above and room > 14:
                text = metrics.elidedText(name, Qt.TextElideMode.ElideRight, room - 2)
                painter.drawText(QRectF(low, 0, room, line), Qt.AlignmentFlag.AlignCenter, text)
            elif not above and room > line * 0.9:
                text = metrics.elidedText(name, Qt.TextElideMode.ElideRight, area.left() - 8)
                painter.drawText(
                    QRectF(2, low, area.left() - 8, room),
                    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                    text,
                )
