# SPDX-License-Identifier: GPL-3.0-or-later
"""A ridge as shown: the tree, its cut, the visible part, and the places of heights and leaves in the picture."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize
from PyQt6.QtGui import QFontMetricsF, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.height_scale import HeightScale
from jagged_lens.desktop.plots.keyed import KeyedPicture
from jagged_lens.group import Ridge


@dataclass(frozen=True)
class Bay:
    """The text beside a part of the cut: its group, a name, and more in small letters. broken: it is not stable."""

    group: int
    name: str
    words: str
    broken: bool = False


class RidgeView(KeyedPicture):
    """The shown part of a ridge, and the places of everything in it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.ridge: Ridge | None = None
        self.groups = 1  # into which the tree is cut where the line stands
        self.current = -1  # the branch that is picked
        self._over = -1  # the join under the pointer
        self._dragging = False
        self._titles: Callable[[int], str] = str
        self._group: NDArray[np.int64] = np.zeros(0, np.int64)
        self._marks: NDArray[np.int64] = np.zeros(0, np.int64)
        self._mark_name: Callable[[int], str] = str
        self._found: NDArray[np.int64] = np.zeros(0, np.int64)
        self._bays: list[Bay] = []
        self._takes_effect = True
        self._there = 1  # groups that there are, whose colours are shown
        self._top = 0.0
        self._per = 1.0
        self._scaled: tuple[Ridge | None, float, HeightScale] = (None, 0.0, HeightScale(np.zeros(0), 1.0))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(220, 160)
        self.setAccessibleName("Ridge of the tree")

    # What is shown.

    def show_ridge(
        self, ridge: Ridge, titles: Callable[[int], str], group: NDArray[np.int64], groups: int, effect: bool
    ) -> None:
        """Show a tree. titles: of a place. group: int64, n, whose colour each place has, -1: none. groups: where it is cut. effect: whether
        the groups that are there are those of the cut."""
        new = self.ridge is None or len(ridge) != len(self.ridge)
        if ridge is not self.ridge:
            self.current = self._over = -1
        self.ridge, self._titles, self._group, self._takes_effect = ridge, titles, group, effect
        self._there = groups
        if not self._dragging:
            self.groups = min(max(groups, 1), max(len(ridge), 1))
        if new:
            self.fit()
        self._describe()
        self.update()

    def show_marks(self, marks: NDArray[np.int64], name: Callable[[int], str]) -> None:
        """A small mark at each place: which value of a label it has (int64, n; -1: none). name: of the value at a place."""
        self._marks, self._mark_name = marks, name
        self.update()

    def show_bays(self, bays: Sequence[Bay]) -> None:
        """The texts beside the parts of the cut, from top to bottom."""
        self._bays = list(bays)
        self.update()

    def show_found(self, places: NDArray[np.int64]) -> None:
        """Mark places that were searched for, and bring the first into sight."""
        self._found = places
        if len(places):
            self.bring(int(places[0]), int(places[0]))
        self.update()

    def show_current(self, node: int) -> None:
        """Mark a branch as the one that is picked, and bring it into sight; -1: none."""
        self.current = node
        if node >= 0 and self.ridge is not None:
            self.bring(int(self.ridge.first[node]), int(self.ridge.last[node]))
        self._describe()
        self.update()

    def fit(self) -> None:
        """All of it in the height that there is."""
        n = len(self.ridge) if self.ridge is not None else 0
        self._top, self._per = 0.0, max(self._area().height() / max(n, 1), 1e-6)
        self.update()

    def _is_fit(self, high: float) -> bool:
        """True if all of it is shown in a height."""
        return self.ridge is not None and abs(self._per * len(self.ridge) - high) < 1

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        before = event.oldSize().height() if event is not None else -1
        if before < 0 or self._is_fit(self._area().height() - self.height() + before):
            self.fit()
        else:
            self.zoom(1.0)

    def zoom(self, times: float, at: float | None = None) -> None:
        """Nearer or farther, round a height of the picture."""
        if self.ridge is None or not len(self.ridge):
            return
        area = self._area()
        y = area.center().y() if at is None else at
        place = self._top + (y - area.top()) / self._per
        fitting = area.height() / len(self.ridge)
        self._per = min(max(self._per * times, fitting), max(60.0, fitting))
        self._top = place - (y - area.top()) / self._per
        self._hold()

    def bring(self, first: int, last: int) -> None:
        """Scroll so that some places are in sight."""
        shown = self._area().height() / self._per
        if first < self._top or last + 1 > self._top + shown:
            self._top = (first + last + 1) / 2 - shown / 2
            self._hold()

    def _hold(self) -> None:
        n = len(self.ridge) if self.ridge is not None else 0
        self._top = min(max(self._top, 0.0), max(n - self._area().height() / self._per, 0.0))
        self.update()

    # Where things are.

    def sizeHint(self) -> QSize:
        return QSize(600, 480)

    def _line(self) -> float:
        return QFontMetricsF(theme.ui_font(0.9)).height()

    def _area(self) -> QRectF:
        line = self._line()
        wide = max(self.width() * 0.56, 120.0)
        return QRectF(22, line * 1.5, wide - 22, max(self.height() - line * 2.9, 10.0))

    @property
    def scale(self) -> HeightScale:
        """The scale of heights, for the tree and the width that there are."""
        wide = self._area().width()
        if self._scaled[:2] != (self.ridge, wide):
            heights = self.ridge.tree.heights if self.ridge is not None else np.zeros(0)
            self._scaled = (self.ridge, wide, HeightScale(heights, wide))
        return self._scaled[2]

    def x_of(self, height: float) -> float:
        """The position of a height."""
        area = self._area()
        return area.left() + float(self.scale.share_of(np.array([height]))[0]) * area.width()

    def y_of(self, place: float) -> float:
        """The position of the upper edge of a place."""
        return self._area().top() + (place - self._top) * self._per

    def _height_at(self, x: float) -> float:
        area = self._area()
        return self.scale.height_at((x - area.left()) / area.width())

    def cut_x(self) -> float:
        """The position of the line of the cut."""
        return self.x_of(self.ridge.cut_between(self.groups)) if self.ridge is not None else 0.0

    def _place_at(self, y: float) -> int:
        n = len(self.ridge) if self.ridge is not None else 0
        place = int((y - self._area().top()) / self._per + self._top)
        return place if 0 <= place < n and self._area().top() <= y <= self._area().bottom() else -1

    def join_at(self, x: float, y: float) -> int:
        """The join whose tooth is nearest to a point, of those that reach so far; -1 where there is none."""
        ridge, area = self.ridge, self._area()
        if ridge is None or not len(ridge.tooth) or not area.contains(QPointF(x, y)):
            return -1
        reach = max(self._per * 0.6, 4.0) / self._per
        middle = (y - area.top()) / self._per + self._top - 1
        first, last = max(int(np.ceil(middle - reach)), 0), min(int(np.floor(middle + reach)), len(ridge.tooth) - 1)
        if last < first:
            return -1
        some = np.arange(first, last + 1)
        long = some[ridge.tooth[first : last + 1] >= self._height_at(x)]
        return int(ridge.join[long[np.abs(long - middle).argmin()]]) if len(long) else -1

    def _describe(self) -> None:
        if self.ridge is None:
            return
        words = f"{len(self.ridge):,} leaves, cut into {self.groups} groups"
        if self.current >= 0:
            size = int(self.ridge.last[self.current] - self.ridge.first[self.current]) + 1
            words += f"; a branch of {size:,}, joined at {self.ridge.height[self.current]:.3f}"
        self.setAccessibleDescription(words)
