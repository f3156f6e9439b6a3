# SPDX-License-Identifier: GPL-3.0-or-later
"""Two maps beside each other on the same pick, and lines from a point to itself."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted_line
from jagged_lens.desktop.plots.map_canvas import Category, MapCanvas

_MOST_LINES = 3_000


class TwoMaps(QWidget):
    """picked(side, rows, add): rows (int64) of the map at the left (0) or at the right (1). read_wanted(side, row)."""

    picked = pyqtSignal(int, object, bool)
    read_wanted = pyqtSignal(int, int)

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        self.titles = (muted_line(), muted_line())
        self.maps = (MapCanvas(), MapCanvas())
        for side, (title, one) in enumerate(zip(self.titles, self.maps, strict=True)):
            column = QVBoxLayout()
            column.setSpacing(3)
            column.addWidget(title)
            column.addWidget(one, 1)
            row.addLayout(column, 1)
            one.setAccessibleName(("Map of this lens", "Map of the other lens")[side])
            one.setMinimumWidth(120)
            one.show_names = False
            one.picked.connect(lambda rows, add, side=side: self.picked.emit(side, rows, add))
            one.read_wanted.connect(lambda at, side=side: self.read_wanted.emit(side, at))
            one.box.sigRangeChanged.connect(self._moved)
        self._ends = np.zeros((0, 2), np.int64)
        self._drawn = np.zeros(0, np.int64)
        self.lines: QWidget = _Lines(self)

    def show_maps(
        self,
        positions: Sequence[NDArray[np.floating]],
        categories: Sequence[Category],
        numbers: Sequence[NDArray[np.int64]],
        ends: NDArray[np.int64],
    ) -> None:
        """Show both maps. numbers: of the Category of each point. ends: int64, c × 2, where those that are on both stand on either."""
        for one, places, own in zip(self.maps, positions, numbers, strict=True):
            one.show_points(places, np.ones(len(places), np.float32), own, categories)
        self._ends = ends
        self.draw_lines(np.zeros(0, np.int64))

    def show_pick(self, rows: Sequence[NDArray[np.int64]], cursors: Sequence[int]) -> None:
        """Mark what is picked on either."""
        for one, own, cursor in zip(self.maps, rows, cursors, strict=True):
            one.show_pick(own, cursor)

    def draw_lines(self, some: NDArray[np.int64]) -> None:
        """Draw lines from some points to themselves: places (int64) among those that are on both; of very many the first."""
        self._drawn = some[:_MOST_LINES]
        self.lines.setGeometry(self.rect())
        self.lines.setVisible(len(self._drawn) > 0)
        self.lines.raise_()
        self.lines.update()

    def _moved(self, *_: object) -> None:
        self.lines.update()

    def resizeEvent(self, event: object) -> None:
        self.lines.setGeometry(self.rect())

    def segments(self) -> NDArray[np.float64]:
        """The lines that are drawn, in pixels of this widget: float64, l × 4, from left to right."""
        ends = self._ends[self._drawn]
        found = []
        for side, one in enumerate(self.maps):
            corner = one.mapTo(self, one.rect().topLeft())
            places = one.on_screen(one.positions[ends[:, side]])
            inside = (places >= 0).all(axis=1) & (places <= (one.width(), one.height())).all(axis=1)
            places[~inside] = np.nan
            found.append(places + np.array([corner.x(), corner.y()]))
        both = np.concatenate(found, axis=1)
        return both[~np.isnan(both).any(axis=1)]


class _Lines(QWidget):
    """Lies over both maps and lets the mouse through."""

    def __init__(self, maps: TwoMaps) -> None:
        super().__init__(maps)
        self._maps = maps
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hide()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        segments = self._maps.segments()
        strong = 170 if len(segments) < 100 else 70
        painter.setPen(QPen(theme.colour("verdigris", strong), 1.1))
        if len(segments):
            painter.drawLines(*(QLineF(QPointF(a, b), QPointF(c, d)) for a, b, c, d in segments.tolist()))
