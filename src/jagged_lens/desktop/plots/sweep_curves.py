# SPDX-License-Identifier: GPL-3.0-or-later
"""The search for the number of groups. Curves over the number of groups on one axis, and below them the groups of each number in
miniature."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.keyed import KeyedPicture
from jagged_lens.desktop.plots.round_ticks import round_up
from jagged_lens.desktop.plots.sweep_strips import columns_of, flows_of, strips
from jagged_lens.group import BREAKS, Sweep

_LEAST_GAP = 3.0  # pixels between two strips from which on flows can be seen in it


def range_of(values: NDArray[np.float64]) -> tuple[float, float]:
    """The range of a curve: from 0, or a round number below it, to a round number above the highest: small differences look small, and
    another sweep stands on the same scale.

    >>> range_of(np.array([0.03, 0.058, np.nan])), range_of(np.array([-0.01, 0.3]))
    ((0.0, 0.1), (-0.01, 0.5))
    """
    known = values[~np.isnan(values)]
    if not len(known):
        return 0.0, 1.0
    return 0.0 - round_up(-float(known.min())), round_up(max(float(known.max()), 0.0)) or 1.0


class SweepCurves(KeyedPicture):
    """chosen(groups): a number was clicked or reached by the arrows; taken(groups): Return, or a double click."""

    chosen = pyqtSignal(int)
    taken = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.sweep: Sweep | None = None
        self.current = 0  # number of groups that is looked at
        self.present = 0  # number that the lens has
        self.flows = False
        self._by_hand = False  # the number that is looked at was chosen by hand
        self._range = (2, 30)
        self._times_made = 0
        self._columns: list[
            NDArray[np.float64]
        ] = []  # of each number, where each of its groups begins and ends, from 0 to 1
        self._painted = QImage()
        self._painted_for: tuple[object, ...] = ()  # the strips, and for what they were painted
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(240, 260)
        self.setAccessibleName("Curves over the number of groups")

    def show_sweep(self, sweep: Sweep, low: int, high: int, present: int) -> None:
        """Show what is known by now of the numbers from low to high. present: that of the lens."""
        if sweep is not self.sweep:
            self.sweep = sweep
            self._columns = columns_of(sweep)
            self._times_made += 1
        self._range, self.present = (low, max(high, low + 1)), present
        if len(sweep) and (not self._by_hand or sweep.row(self.current) < 0):
            self._by_hand = False
            self.current = sweep.suggested or (present if sweep.row(present) >= 0 else int(sweep.groups[0]))
        self._describe()
        self.update()

    def show_flows(self, flows: bool) -> None:
        """Draw how documents go from the groups of one number into those of the next, or not."""
        self.flows = flows
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(560, 430)

    # Where things are.

    def _line(self) -> float:
        return QFontMetricsF(theme.ui_font(0.88)).height()

    def _areas(self) -> list[QRectF]:
        """The three curves and the miniatures, from top to bottom."""
        line = self._line()
        left, right = line * 5.8, self.width() - line * 1.2
        high = (self.height() - line * 3.9) / 5.2
        areas = [QRectF(left, line * 1.4 + at * (high + line * 0.3), right - left, high) for at in range(3)]
        top = areas[-1].bottom() + line * 1.5
        return [*areas, QRectF(left, top, right - left, max(self.height() - top - line * 0.6, 20))]

    def x_of(self, groups: float) -> float:
        """The position of a number of groups."""
        area = self._areas()[0]
        low, high = self._range
        return area.left() + (groups - low + 0.5) / (high - low + 1) * area.width()

    def groups_at(self, x: float) -> int:
        """The number of groups nearest to a place across, of those that are known; 0 where none is."""
        if self.sweep is None or not len(self.sweep):
            return 0
        known = self.sweep.groups
        return int(known[np.abs(np.array([self.x_of(one) for one in known.tolist()]) - x).argmin()])

    # Painting.

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        sweep, areas = self.sweep, self._areas()
        line = self._line()
        painter.setFont(theme.ui_font(0.88))
        if sweep is not None and len(sweep):
            self._paint_marks(painter, areas, sweep)
            curves = (
                ("cohesion", sweep.tightness, None),
                ("silhouette", sweep.silhouette, None),
                ("stability", sweep.holding, sweep.agreement),
            )
            for area, (name, values, beside) in zip(areas, curves, strict=False):
                self._paint_curve(painter, area, name, values, beside)
            self._paint_miniatures(painter, areas[3])
        low, high = self._range
        painter.setPen(theme.colour("muted"))
        room = self.x_of(1) - self.x_of(0)
        every = max(int(np.ceil(QFontMetricsF(painter.font()).horizontalAdvance("000") / max(room, 1))), 1)
        for groups in range(low, high + 1, every):
            box = QRectF(self.x_of(groups) - 20, areas[2].bottom() + 3, 40, line)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(groups))
        if self.hasFocus():
            theme.draw_focus(painter, self.rect())

    def _paint_marks(self, painter: QPainter, areas: list[QRectF], sweep: Sweep) -> None:
        """Lines at the number that is there, the one suggested and the one that is looked at."""
        top, bottom = areas[0].top() - 4, areas[3].bottom()
        half = (self.x_of(1) - self.x_of(0)) / 2
        if sweep.row(self.current) >= 0:
            x = self.x_of(self.current)
            painter.fillRect(QRectF(x - half, top, 2 * half, bottom - top), theme.colour("tint"))
        line = self._line()
        before = self.present <= sweep.suggested  # each is written on the side that is away from the other
        for groups, name, style, words, to_left in (
            (self.present, "ink", Qt.PenStyle.SolidLine, "now", before),
            (sweep.suggested, "verdigris", Qt.PenStyle.DashLine, "suggested", not before),
        ):
            if sweep.row(groups) < 0:
                continue
            x = self.x_of(groups)
            painter.setPen(QPen(theme.colour(name), 1.6, style))
            painter.drawLine(QPointF(x, top), QPointF(x, areas[2].bottom()))
            to_left = to_left if 124 < x < self.width() - 124 else x > self.width() / 2  # else it would be cut
            side = Qt.AlignmentFlag.AlignRight if to_left else Qt.AlignmentFlag.AlignLeft
            box = QRectF(x - 124 if to_left else x + 4, top - line * 0.75, 120, line)
            painter.drawText(box, side | Qt.AlignmentFlag.AlignVCenter, words)

    def _paint_curve(
        self,
        painter: QPainter,
        area: QRectF,
        name: str,
        values: NDArray[np.float64],
        beside: NDArray[np.float64] | None,
    ) -> None:
        assert self.sweep is not None
        line = self._line()
        low, high = (0.0, 1.0) if name == "stability" else range_of(values)
        spread = high - low

        def y_of(value: float) -> float:
            return area.bottom() - (value - low) / spread * area.height()

        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        if name == "stability":
            painter.setPen(QPen(theme.colour("madder"), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(area.left(), y_of(BREAKS)), QPointF(area.right(), y_of(BREAKS)))
        right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        painter.setPen(theme.colour("ink"))
        painter.drawText(QRectF(0, area.center().y() - line * 0.55, area.left() - line * 0.5, line), right, name)
        painter.setFont(theme.ui_font(0.78))
        painter.setPen(theme.colour("muted"))
        for value, y in ((high, area.top()), (low, area.bottom() - line * 0.8)):
            painter.drawText(QRectF(0, y - line * 0.1, area.left() - line * 0.5, line * 0.9), right, f"{value:g}")
        painter.setFont(theme.ui_font(0.88))
        for curve, pen in (
            (beside, QPen(theme.colour("quiet"), 1.6, Qt.PenStyle.DashLine)),
            (values, QPen(theme.colour("verdigris"), 2)),
        ):
            if curve is None:
                continue
            points = [
                QPointF(self.x_of(groups), y_of(value))
                for groups, value in zip(self.sweep.groups.tolist(), curve.tolist(), strict=True)
                if value == value
            ]
            painter.setPen(pen)
            painter.drawPolyline(QPolygonF(points))
            if curve is values:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.colour("verdigris"))
                for point in points:
                    painter.drawEllipse(point, 2.4, 2.4)
                painter.setBrush(Qt.BrushStyle.NoBrush)
        if beside is not None:
            painter.setPen(theme.colour("muted"))
            painter.drawText(
                QRectF(area.right() - 200, area.top() - line * 0.4, 200, line), right, "dashed: agreement between tries"
            )

    def _paint_miniatures(self, painter: QPainter, area: QRectF) -> None:
        assert self.sweep is not None
        half = (self.x_of(1) - self.x_of(0)) / 2
        wide = min(half * (0.9 if self.flows else 1.5), 26.0)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(area, self._strips(area, wide))
        painter.setPen(theme.colour("ink"))
        line = self._line()
        right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        painter.drawText(QRectF(0, area.top(), area.left() - line * 0.5, line), right, "groups")

    def _strips(self, area: QRectF, wide: float) -> QImage:
        """The miniatures as a picture, which is made anew only where something of it has changed."""
        assert self.sweep is not None
        fine = self.devicePixelRatioF()
        size = round(area.width() * fine), max(round(area.height() * fine), 1)
        known = (self._times_made, self.flows, size, wide, self._range, theme.now.paper, theme.colour_blind)
        if known != self._painted_for:
            left, step = self.x_of(0) - area.left(), self.x_of(1) - self.x_of(0)
            lefts = (left + step * self.sweep.groups.astype(np.float64) - wide / 2) * fine
            flows = flows_of(self.sweep, self._columns) if self.flows and step - wide >= _LEAST_GAP else []
            self._painted = strips(self._columns, flows, lefts, wide * fine, size)
            self._painted_for = known
        return self._painted

    # Mouse and keys.

    def _choose(self, groups: int) -> None:
        if groups and groups != self.current:
            self.current, self._by_hand = groups, True
            self._describe()
            self.chosen.emit(groups)
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._choose(self.groups_at(event.position().x()))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.current:
            self.taken.emit(self.current)

    def leaveEvent(self, event: QEvent | None) -> None:
        self.update()

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        if self.sweep is None or not len(self.sweep):
            return False
        known = self.sweep.groups.tolist()
        at = max(self.sweep.row(self.current), 0)
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._choose(known[min(max(at + (1 if key == Qt.Key.Key_Right else -1), 0), len(known) - 1)])
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self._choose(known[0 if key == Qt.Key.Key_Home else -1])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.taken.emit(self.current)
        else:
            return False
        return True

    def _describe(self) -> None:
        sweep = self.sweep
        at = sweep.row(self.current) if sweep is not None else -1
        if sweep is not None and at >= 0:
            self.setAccessibleDescription(
                f"{self.current} groups: cohesion {sweep.tightness[at]:.3f}, silhouette {sweep.silhouette[at]:.3f}, stability "
                f"{sweep.holding[at]:.2f}"
            )
