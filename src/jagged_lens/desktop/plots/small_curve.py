# SPDX-License-Identifier: GPL-3.0-or-later
"""A small curve: how one part of a formula grows, with the place of the cell that is worked through marked on it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.round_ticks import round_up


class SmallCurve(QWidget):
    """x rises to the right, on a log scale where `log` is said; single points where there is no curve."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self._name = name
        self._x: NDArray[np.float64] = np.zeros(0)
        self._y: NDArray[np.float64] = np.zeros(0)
        self._log = self._dots = False
        self._below = ""
        self._mark: tuple[float, float] | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)

    def show_curve(
        self, x: NDArray[np.float64], y: NDArray[np.float64], below: str, log: bool = False, dots: bool = False
    ) -> None:
        """Show y over x; below says what x is."""
        self._x, self._y, self._below, self._log, self._dots = x, y, below, log, dots
        if len(y):
            self.setAccessibleDescription(f"From {y[0]:.3g} at {x[0]:g} to {y[-1]:.3g} at {x[-1]:g}")
        self.update()

    def show_mark(self, mark: tuple[float, float] | None) -> None:
        """Mark a place on the curve; None: none."""
        self._mark = mark
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(140, int(QFontMetricsF(theme.ui_font(0.8)).height() * 5.6))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if len(self._x) < 1:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        font = theme.ui_font(0.8)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        line = metrics.height()
        area = QRectF(metrics.horizontalAdvance("−0.00") + 4, line * 0.6, 10, self.height() - line * 2.1)
        area.setRight(self.width() - 8)
        low, high = min(0.0, -round_up(-float(self._y.min()))), max(round_up(float(self._y.max())), 1e-9)
        first, last = self._across(self._x[0]), self._across(self._x[-1])

        def place(x: float, y: float) -> QPointF:
            share = (self._across(x) - first) / max(last - first, 1e-9)
            return QPointF(area.left() + share * area.width(), area.bottom() - (y - low) / (high - low) * area.height())

        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.drawLine(area.bottomLeft(), area.topLeft())
        painter.drawLine(place(self._x[0], 0.0), place(self._x[-1], 0.0))
        points = [place(x, y) for x, y in zip(self._x.tolist(), self._y.tolist(), strict=True)]
        painter.setPen(
            QPen(theme.colour("verdigris"), 3 if self._dots else 2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
        )
        if self._dots:
            painter.drawPoints(QPolygonF(points))
        else:
            painter.drawPolyline(QPolygonF(points))
        painter.setPen(theme.colour("muted"))
        for value, y in ((high, area.top()), (low, area.bottom())):
            painter.drawText(
                QRectF(0, y - line / 2, area.left() - 4, line), Qt.AlignmentFlag.AlignRight, f"{value:.3g}"
            )
        painter.drawText(
            QRectF(area.left(), self.height() - line * 1.15, area.width(), line),
            Qt.AlignmentFlag.AlignCenter,
            metrics.elidedText(self._below, Qt.TextElideMode.ElideRight, area.width()),
        )
        if self._mark is not None and self._x[0] <= self._mark[0] <= self._x[-1]:
            painter.setPen(QPen(theme.colour("ink"), 1.4))
            painter.setBrush(theme.colour("gold"))
            painter.drawEllipse(place(*self._mark), 4.5, 4.5)

    def _across(self, x: float) -> float:
        return float(np.log(max(x, 1e-9))) if self._log else float(x)
