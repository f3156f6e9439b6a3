# SPDX-License-Identifier: GPL-3.0-or-later
"""The ridge: a tree drawn as teeth. Between two neighbours a tooth ends at the height at which they join; a line cuts the tree."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QEvent, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import group_colour, paint_letter
from jagged_lens.desktop.plots.ridge_outline import outline_image, profile
from jagged_lens.desktop.plots.ridge_view import Bay, RidgeView
from jagged_lens.desktop.plots.round_ticks import rounded

_GRIP = 7  # pixels to either side of the cut in which it can be taken hold of


class RidgeCanvas(RidgeView):
    """pointed(node): the pointer is over a join, -1 over none. chosen(node): a branch was picked. cut_moved(groups): the line is dragged;
    cut_set(groups): it was let go."""

    pointed = pyqtSignal(int)
    chosen = pyqtSignal(int)
    cut_moved = pyqtSignal(int)
    cut_set = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bay_places: list[tuple[QRectF, int]] = []
        self.setMouseTracking(True)

    # Painting.

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        self.paint(painter, False)
        if self.hasFocus():
            theme.draw_focus(painter, self.rect())

    def paint(self, painter: QPainter, shapes: bool) -> None:
        """Paint it. shapes: as areas, where it goes into a drawing."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ridge, area = self.ridge, self._area()
        painter.fillRect(area.adjusted(-16, -2, 6, 2), theme.colour("card"))
        if ridge is None or not len(ridge):
            return
        high = max(int(area.height()), 1)
        reach = profile(ridge.tooth, self._top, self._per, high)
        places = np.clip(((np.arange(high) + 0.5) / self._per + self._top).astype(np.int64), 0, len(ridge) - 1)
        colours = self._colours(places)
        bottom = min((len(ridge) - self._top) * self._per, high)
        if shapes:
            self._paint_shapes(painter, area, reach, colours)
        else:
            share = self.scale.share_of(reach)
            image = outline_image(share, colours, max(int(area.width()), 1), 1.0, theme.colour("card"))
            painter.drawImage(area.topLeft(), image)
        for row in range(0, int(bottom)) if len(self._marks) else ():
            if self._marks[places[row]] >= 0:
                painter.fillRect(
                    QRectF(area.left() - 12, area.top() + row, 6, 1), group_colour(int(self._marks[places[row]]))
                )
        self._paint_branch(painter, area, self._over, True)
        self._paint_branch(painter, area, self.current, False)
        self._paint_parting(painter, area)
        self._paint_axis(painter, area)
        self._paint_beside(painter, area)
        self._paint_cut(painter, area)

    def _groups_of(self, places: NDArray[np.int64]) -> NDArray[np.int64]:
        """The group of each place: that which is there, or its part of the cut while the line is elsewhere."""
        assert self.ridge is not None
        if self.groups != self._there:
            starts, number = self.ridge.parts(self.groups)
            return number[np.searchsorted(starts, places, side="right") - 1].astype(np.int64)
        return self._group[places] if len(self._group) else np.full(len(places), -1)

    def _colours(self, places: NDArray[np.int64]) -> NDArray[np.uint32]:
        group = self._groups_of(places)
        table = np.array(
            [theme.colour("quiet").rgb(), *(group_colour(one).rgb() for one in range(int(group.max(initial=-1)) + 1))],
            np.uint32,
        )
        return table[group + 1]

    def _paint_shapes(
        self, painter: QPainter, area: QRectF, reach: NDArray[np.float64], colours: NDArray[np.uint32]
    ) -> None:
        """Each stretch of one colour as one area."""
        painter.setPen(Qt.PenStyle.NoPen)
        edges = np.flatnonzero(np.diff(colours, prepend=colours[0] ^ 1, append=colours[-1] ^ 1))
        for first, last in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
            outline = [QPointF(area.left(), area.top() + first)]
            outline += [QPointF(self.x_of(float(reach[row])), area.top() + row + 0.5) for row in range(first, last)]
            outline.append(QPointF(area.left(), area.top() + last))
            painter.setBrush(QColor.fromRgb(int(colours[first])))
            painter.drawPolygon(QPolygonF(outline))

    def _paint_parting(self, painter: QPainter, area: QRectF) -> None:
        """The teeth that reach across the cut."""
        assert self.ridge is not None
        starts, _ = self.ridge.parts(self.groups)
        half = min(max(self._per * 0.5, 3.0), 7.0)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("ink"))
        painter.save()
        painter.setClipRect(area.adjusted(-1, -half, 4, half))
        # Of those that begin in one row of pixels the longest: more cannot be seen.
        heights = self.ridge.tooth[starts[1:] - 1]
        tips = area.left() + self.scale.share_of(heights) * area.width()
        tops = area.top() + (starts[1:] - self._top) * self._per
        seen = np.flatnonzero((tops >= area.top() - half) & (tops <= area.bottom() + half))
        order = seen[np.argsort(-tips[seen], kind="stable")]
        _, first = np.unique(np.rint(tops[order]), return_index=True)
        for at in order[first].tolist():
            y, tip = float(tops[at]), float(tips[at])
            painter.drawPolygon(
                QPolygonF([QPointF(area.left(), y - half), QPointF(tip, y), QPointF(area.left(), y + half)])
            )
        painter.restore()

    def _paint_branch(self, painter: QPainter, area: QRectF, node: int, pointed: bool) -> None:
        """A branch: where it lies, and its two sides in two colours where it is pointed at."""
        ridge = self.ridge
        if ridge is None or node < 0:
            return
        painter.save()
        painter.setClipRect(area.adjusted(-8, -2, 6, 2))
        top, bottom = self.y_of(float(ridge.first[node])), self.y_of(float(ridge.last[node]) + 1)
        right = max(self.x_of(float(ridge.height[node])), area.left() + 6)
        painter.setPen(QPen(theme.colour("verdigris"), 1.6, Qt.PenStyle.DotLine if pointed else Qt.PenStyle.SolidLine))
        painter.setBrush(theme.colour("verdigris", 26))
        painter.drawRect(QRectF(area.left(), top, right - area.left(), max(bottom - top, 2)))
        sides = ridge.sides(node)
        if pointed and sides is not None:
            for side, name in zip(sides, ("verdigris", "ochre"), strict=True):
                first, last = self.y_of(float(ridge.first[side])), self.y_of(float(ridge.last[side]) + 1)
                painter.fillRect(QRectF(area.left() - 5, first + 1, 4, max(last - first - 2, 1.5)), theme.colour(name))
        painter.restore()

    def _paint_axis(self, painter: QPainter, area: QRectF) -> None:
        font = theme.ui_font(0.82)
        painter.setFont(font)
        line = self._line()
        for height in self._marked_heights():
            x = self.x_of(height)
            painter.setPen(QPen(theme.colour("hairline"), 1))
            painter.drawLine(QPointF(x, area.bottom()), QPointF(x, area.bottom() + 4))
            painter.setPen(theme.colour("muted"))
            painter.drawText(
                QRectF(x - 30, area.bottom() + 4, 60, line),
                Qt.AlignmentFlag.AlignCenter,
                f"{height:g}",
            )
        for place in self._found.tolist():
            y = self.y_of(place + 0.5)
            if area.top() <= y <= area.bottom():
                painter.fillRect(QRectF(area.left() - 16, y - 1.5, 12, 3), theme.colour("madder"))

    def _marked_heights(self) -> list[float]:
        """Round heights, about a quarter of the width apart."""
        found = [rounded(self.scale.height_at(share / 1.06)) for share in (0.0, 0.25, 0.5, 0.75, 1.0)]
        apart: list[float] = []
        for height in found:
            if not apart or self.x_of(height) - self.x_of(apart[-1]) > 40:
                apart.append(height)
        return apart

    def _paint_cut(self, painter: QPainter, area: QRectF) -> None:
        x = self.cut_x()
        style = Qt.PenStyle.SolidLine if self._takes_effect or self._dragging else Qt.PenStyle.DashLine
        painter.setPen(QPen(theme.colour("madder"), 2, style))
        painter.drawLine(QPointF(x, area.top() - 4), QPointF(x, area.bottom()))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("madder"))
        painter.drawPolygon(
            QPolygonF([QPointF(x - 7, area.top() - 9), QPointF(x + 7, area.top() - 9), QPointF(x, area.top() + 2)])
        )
        painter.setFont(theme.ui_font(0.9, bold=True))
        painter.setPen(theme.colour("madder"))
        words = f"{self.groups:,} {'group' if self.groups == 1 else 'groups'}"
        words += "" if self._takes_effect or self._dragging else " if cut here"
        wide = QFontMetricsF(painter.font()).horizontalAdvance(words)
        left = x + 11 if x + 11 + wide < self.width() else x - 11 - wide
        painter.drawText(QPointF(left, area.top() - 4), words)

    def _paint_beside(self, painter: QPainter, area: QRectF) -> None:
        """Titles of documents where there is room for them, else the names of the parts of the cut."""
        self._bay_places = []
        line = self._line()
        left = area.right() + 14
        if self._per >= line * 0.92:
            self._paint_titles(painter, area, left, line)
        else:
            self._paint_bays(painter, area, left, line)

    def _paint_titles(self, painter: QPainter, area: QRectF, left: float, line: float) -> None:
        assert self.ridge is not None
        painter.setFont(theme.ui_font(0.9))
        metrics = QFontMetricsF(painter.font())
        first, last = max(int(self._top), 0), min(int(self._top + area.height() / self._per), len(self.ridge) - 1)
        found = set(self._found.tolist())
        groups = self._groups_of(np.arange(first, last + 1)).tolist()
        for place, group in zip(range(first, last + 1), groups, strict=True):
            y = self.y_of(place + 0.5)
            if not area.top() <= y - line / 2 or y + line / 2 > area.bottom() + 2:
                continue
            side = int(min(line, self._per * 0.9))
            if group >= 0:
                paint_letter(painter, QRect(int(left), int(y - side / 2), max(side, 20), side), group)
                painter.setFont(theme.ui_font(0.9))
            mark = self._mark_name(place) if len(self._marks) else ""
            beside = metrics.horizontalAdvance(mark) + 10 if mark else 0
            room = self.width() - left - 30 - min(beside, 110)
            painter.setPen(theme.colour("madder" if place in found else "ink"))
            words = metrics.elidedText(self._titles(place), Qt.TextElideMode.ElideMiddle, room)
            painter.drawText(QRectF(left + 28, y - line / 2, room, line), Qt.AlignmentFlag.AlignVCenter, words)
            if mark:
                painter.setPen(theme.colour("muted"))
                value = metrics.elidedText(mark, Qt.TextElideMode.ElideRight, 104)
                painter.drawText(
                    QRectF(self.width() - 116, y - line / 2, 110, line),
                    Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                    value,
                )

    def _paint_bays(self, painter: QPainter, area: QRectF, left: float, line: float) -> None:
        assert self.ridge is not None
        starts, number = self.ridge.parts(self.groups)
        ends = np.append(starts[1:], len(self.ridge))
        step = line * 2.5
        middles = (np.maximum(starts, self._top) + np.minimum(ends, self._top + area.height() / self._per)) / 2
        seen = np.flatnonzero((ends > self._top) & (starts < self._top + area.height() / self._per))
        most = max(int(area.height() // step), 1)
        if len(seen) > most:  # the largest have a name
            seen = np.sort(seen[np.argsort(-(ends - starts)[seen], kind="stable")][:most])
        tops = [self.y_of(float(middles[at])) - step / 2 for at in seen]
        for at in range(len(tops)):
            tops[at] = max(tops[at], tops[at - 1] + step if at else area.top() - line * 0.4)
        for at in range(len(tops) - 1, -1, -1):
            limit = tops[at + 1] - step if at + 1 < len(tops) else area.bottom() - step + line
            tops[at] = min(tops[at], limit)
        known = len(self._bays) == len(starts)
        bold, small = theme.ui_font(0.95, bold=True), theme.ui_font(0.86)
        for at, top in zip(seen.tolist(), tops, strict=True):
            bay = self._bays[at] if known else Bay(int(number[at]), "", "")
            box = QRectF(left, top, self.width() - left - 6, step - 2)
            middle = self.y_of(float(middles[at]))
            painter.setPen(QPen(theme.colour("hairline"), 1))
            painter.drawLine(QPointF(area.right() + 2, middle), QPointF(left, box.center().y()))
            if bay.broken:
                painter.setPen(QPen(theme.colour("madder"), 1.3, Qt.PenStyle.DashLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(box, 4, 4)
            chip = int(line * 1.25)
            lettered = self._takes_effect or self.groups != self._there  # else the colours are those of other groups
            if lettered:
                where = QRect(int(left + 4), int(box.center().y() - chip / 2), max(chip, 22), chip)
                paint_letter(painter, where, bay.group)
            text_left = left + (max(chip, 22) + 12 if lettered else 4)
            room = box.right() - text_left - 4
            size = int(ends[at] - starts[at])
            words = f"{size:,} {'document' if size == 1 else 'documents'}" if not bay.words else bay.words
            for font, ink, text, y in (
                (bold, "ink", bay.name, box.top() + 1),
                (small, "madder" if bay.broken else "muted", words, box.top() + line * 1.12),
            ):
                painter.setFont(font)
                painter.setPen(theme.colour(ink))
                shown = QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, room)
                painter.drawText(QRectF(text_left, y, room, line * 1.15), Qt.AlignmentFlag.AlignVCenter, shown)
            node = self.ridge.node_at(int(starts[at]), self.ridge.cut_between(self.groups))
            self._bay_places.append((box, node))

    # Mouse and keys.

    def _move_cut(self, groups: int) -> None:
        if self.ridge is not None and groups != self.groups:
            self.groups = min(max(groups, 1), max(len(self.ridge), 1))
            self._describe()
            self.cut_moved.emit(self.groups)
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton or self.ridge is None or not len(self.ridge):
            return
        place, area = event.position(), self._area()
        if abs(place.x() - self.cut_x()) <= _GRIP and place.y() < area.bottom():
            self._dragging = True
            return
        node = next((one for box, one in self._bay_places if box.contains(place)), -1)
        at = self._place_at(place.y())
        if node < 0 and at >= 0:
            node = (
                self.ridge.node_at(at, self._height_at(place.x()))
                if area.contains(place)
                else int(self.ridge.tree.order[at])
            )
        if node >= 0:
            self._choose(node)

    def _choose(self, node: int) -> None:
        self.current = node
        self._describe()
        self.chosen.emit(node)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.ridge is None:
            return
        place = event.position()
        if self._dragging:
            self._move_cut(max(self.ridge.groups_at(self._height_at(place.x())), 1))
            return
        near = abs(place.x() - self.cut_x()) <= _GRIP and place.y() < self._area().bottom()
        self.setCursor(Qt.CursorShape.SplitHCursor if near else Qt.CursorShape.ArrowCursor)
        self._point(-1 if near else self.join_at(place.x(), place.y()))

    def _point(self, node: int) -> None:
        if node != self._over:
            self._over = node
            self.pointed.emit(node)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragging:
            self._dragging = False
            self.cut_set.emit(self.groups)

    def leaveEvent(self, event: QEvent | None) -> None:
        self._point(-1)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None:
            return
        turns = event.angleDelta().y() / 120
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(1.25**turns, event.position().y())
        else:
            self._top -= turns * self._area().height() / self._per / 12
            self._hold()
        event.accept()

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        ridge = self.ridge
        if ridge is None or not len(ridge):
            return False
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self.zoom(0.8 if key == Qt.Key.Key_Minus else 1.25)
        elif key == Qt.Key.Key_0:
            self.fit()
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            shown = self._area().height() / self._per
            self._top += shown * (0.9 if key == Qt.Key.Key_PageDown else -0.9)
            self._hold()
        elif control and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            # To the left lie more groups. It takes effect at once: there is nothing to let go of.
            self._move_cut(ridge.cut_beside(self.groups, 1 if key == Qt.Key.Key_Left else -1))
            self.cut_set.emit(self.groups)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._choose(self._stepped(key))
            self.bring(int(ridge.first[self.current]), int(ridge.last[self.current]))
        else:
            return False
        return True

    def _stepped(self, key: Qt.Key) -> int:
        """The branch that a key leads to. Right: the larger one; left: its other side; up and down: the neighbours at the same height."""
        ridge = self.ridge
        assert ridge is not None
        node = self.current
        if node < 0:
            return ridge.node_at(0, ridge.cut_between(self.groups))
        if key == Qt.Key.Key_Right:
            return int(ridge.above[node]) if ridge.above[node] >= 0 else node
        if key == Qt.Key.Key_Left:
            sides = ridge.sides(node)
            return sides[0] if sides is not None else node
        place = int(ridge.first[node]) - 1 if key == Qt.Key.Key_Up else int(ridge.last[node]) + 1
        if not 0 <= place < len(ridge):
            return node
        over = float(ridge.height[ridge.above[node]]) if ridge.above[node] >= 0 else np.inf
        low = max(float(ridge.height[node]), 0.0)
        beside = ridge.node_at(place, max(low, np.nextafter(over, 0) if over < np.inf else low))
        return (
            beside
            if ridge.first[beside] > ridge.last[node] or ridge.last[beside] < ridge.first[node]
            else ridge.node_at(place, low)
        )
