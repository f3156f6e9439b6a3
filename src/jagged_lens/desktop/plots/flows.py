# SPDX-License-Identifier: GPL-3.0-or-later
"""Flows: how the groups of one grouping go over into those of another, as ribbons between two rows of blocks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import letter_ink
from jagged_lens.desktop.look.plain import set_tip, show_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture

_BLOCK = 20.0  # pixels, the width of a block
_GAP = 5.0  # between two blocks
_LEAST = 2.0  # the height of the thinnest ribbon that is drawn
_MOST_DRAWN = 400


@dataclass(frozen=True)
class Block:
    """A group at one end: its letter, its name and its colour."""

    letter: str
    name: str
    colour: QColor


@dataclass(frozen=True)
class _Ribbon:
    first: int
    second: int
    count: int
    left: tuple[float, float]  # top and height at the left
    right: tuple[float, float]


class Flows(KeyedPicture):
    """chosen(first, second, add): a ribbon was clicked; -1 in place of one of them: a whole block. add: to the pick."""

    chosen = pyqtSignal(int, int, bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._counts: NDArray[np.int64] = np.zeros((0, 0), np.int64)
        self._times_shown = 0
        self._left: list[Block] = []
        self._right: list[Block] = []
        self._titles = ("", "")
        self._at = -1  # the ribbon under the cursor
        self._ribbons: list[_Ribbon] = []
        self._laid_for: tuple[object, ...] = ()
        self._names = 0.0  # the room of the names
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(160)
        self.setAccessibleName("Flows from groups to groups")
        set_tip(self, "Click a ribbon or block to pick its documents; Ctrl adds them")

    def sizeHint(self) -> QSize:
        return QSize(500, 400)

    def show_flows(
        self, counts: NDArray[np.int64], left: Sequence[Block], right: Sequence[Block], titles: tuple[str, str]
    ) -> None:
        """Show how many documents (g × h) go from each group at the left to each at the right. titles: of both ends."""
        self._counts, self._left, self._right, self._titles = counts, list(left), list(right), titles
        self._times_shown += 1
        self._at, self._laid_for = -1, ()
        self._describe()
        self.update()

    @property
    def ribbons(self) -> list[tuple[int, int, int]]:
        """All ribbons, the widest first: from which group, to which, how many documents."""
        first, second = np.nonzero(self._counts)
        count = self._counts[first, second]
        order = np.argsort(-count, kind="stable")
        return list(zip(first[order].tolist(), second[order].tolist(), count[order].tolist(), strict=True))

    def _describe(self) -> None:
        self.setAccessibleDescription(self.words(self._at) if self._at >= 0 else f"{len(self.ribbons):,} ribbons")

    def words(self, at: int) -> str:
        """The text of a ribbon. at: its place among those drawn."""
        one = self._ribbons[at]
        own = int(self._counts[one.first].sum())
        return f"{one.count:,} of {own:,} go from {self._named(self._left[one.first])} to {self._named(self._right[one.second])}"

    @staticmethod
    def _named(block: Block) -> str:
        return f"{block.letter} {block.name}".strip()

    # Places.

    def _tops(self, sizes: NDArray[np.int64], height: float, scale: float) -> list[float]:
        gaps = _GAP * max(len(sizes) - 1, 0)
        top = (height - gaps - float(sizes.sum()) * scale) / 2
        tops = []
        for size in sizes.tolist():
            tops.append(top)
            top += size * scale + _GAP
        return tops

    def _head(self) -> float:
        return QFontMetricsF(theme.ui_font(0.9)).height() * 1.6

    def _lay_out(self) -> float:
        """Work out where everything lies; gives the height of one document."""
        down, across = self._counts.sum(axis=1), self._counts.sum(axis=0)
        height = self.height() - self._head() - 6
        most = max(len(down), len(across), 1)
        scale = max(height - _GAP * (most - 1), 20) / max(int(self._counts.sum()), 1)
        now = (self.size(), self._times_shown, scale)
        if now == self._laid_for:
            return scale
        self._laid_for = now
        self._names = self._name_room()
        head = self._head()
        left = [head + top for top in self._tops(down, height, scale)]
        right = [head + top for top in self._tops(across, height, scale)]
        self._left_tops, self._right_tops = list(left), list(right)
        found = {}
        for g in range(len(down)):
            for h in range(len(across)):
                count = int(self._counts[g, h])
                if count:
                    tall = count * scale
                    found[g, h] = _Ribbon(g, h, count, (left[g], tall), (0.0, 0.0))
                    left[g] += tall
        for h in range(len(across)):
            for g in range(len(down)):
                if (g, h) in found:
                    one = found[g, h]
                    found[g, h] = _Ribbon(g, h, one.count, one.left, (right[h], one.left[1]))
                    right[h] += one.left[1]
        self._ribbons = sorted(found.values(), key=lambda one: (-one.count, one.first, one.second))[:_MOST_DRAWN]
        return scale

    def _ends(self) -> tuple[float, float]:
        """The start and end of the ribbons."""
        return self._names + _BLOCK, self.width() - self._names - _BLOCK

    def _name_room(self) -> float:
        metrics = QFontMetricsF(theme.ui_font(0.9))
        longest = max((metrics.horizontalAdvance(one.name) for one in (*self._left, *self._right)), default=0.0)
        return min(longest + 12, self.width() * 0.24)

    def _path(self, one: _Ribbon) -> QPainterPath:
        x1, x2 = self._ends()
        middle = (x1 + x2) / 2
        (y1, tall), (y2, _) = one.left, one.right
        tall = max(tall, _LEAST)
        path = QPainterPath(QPointF(x1, y1))
        path.cubicTo(QPointF(middle, y1), QPointF(middle, y2), QPointF(x2, y2))
        path.lineTo(QPointF(x2, y2 + tall))
        path.cubicTo(QPointF(middle, y2 + tall), QPointF(middle, y1 + tall), QPointF(x1, y1 + tall))
        path.closeSubpath()
        return path

    def place_of(self, first: int, second: int) -> QPointF:
        """The clickable place of a ribbon: where it leaves its block, and no other covers it."""
        self._lay_out()
        one = next(one for one in self._ribbons if (one.first, one.second) == (first, second))
        return QPointF(self._ends()[0] + 4, one.left[0] + one.left[1] / 2)

    def _ribbon_at(self, place: QPointF) -> int:
        self._lay_out()
        # The thin ones lie on top.
        for at in range(len(self._ribbons) - 1, -1, -1):
            if self._path(self._ribbons[at]).contains(place):
                return at
        return -1

    def _block_at(self, place: QPointF) -> tuple[int, int]:
        """The group whose block or name is at a place, at the left or at the right; (-1, -1): none."""
        scale = self._lay_out()
        x1, x2 = self._ends()
        if x1 < place.x() < x2:
            return -1, -1
        left = place.x() <= x1
        tops, sizes = (
            (self._left_tops, self._counts.sum(axis=1)) if left else (self._right_tops, self._counts.sum(axis=0))
        )
        for at, (top, size) in enumerate(zip(tops, sizes.tolist(), strict=True)):
            if top - 1 <= place.y() <= top + max(size * scale, 8) + 1:
                return (at, -1) if left else (-1, at)
        return -1, -1

    # The hand and the keys.

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not self._counts.size:
            return
        at = self._ribbon_at(event.position())
        if at != self._at:
            self._at = at
            self._describe()
            self.update()
        if at >= 0:
            show_tip(event.globalPosition().toPoint(), self.words(at), self)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not self._counts.size:
            return
        add = bool(event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier))
        at = self._ribbon_at(event.position())
        if at >= 0:
            self._at = at
            self.chosen.emit(self._ribbons[at].first, self._ribbons[at].second, add)
            return
        first, second = self._block_at(event.position())
        if (first, second) != (-1, -1):
            self.chosen.emit(first, second, add)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: 1, Qt.Key.Key_Right: 1}.get(key)
        if step is None and key not in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            return False
        self._lay_out()
        if not self._ribbons:
            return False
        if step is not None:
            self._at = min(max(self._at + step, 0), len(self._ribbons) - 1)
            self._describe()
        elif self._at >= 0:
            self.chosen.emit(self._ribbons[self._at].first, self._ribbons[self._at].second, control or shift)
        return True

    # The picture.

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._counts.size or not self._counts.sum():
            return
        scale = self._lay_out()
        x1, x2 = self._ends()
        small = theme.ui_font(0.9)
        painter.setFont(small)
        painter.setPen(theme.colour("muted"))
        head = QRectF(0, 0, self.width(), self._head())
        across = Qt.AlignmentFlag.AlignVCenter
        metrics = QFontMetricsF(small)
        half = self.width() / 2 - 8
        shown = [metrics.elidedText(words, Qt.TextElideMode.ElideRight, half) for words in self._titles]
        painter.drawText(head, int(across | Qt.AlignmentFlag.AlignLeft), shown[0])
        painter.drawText(head, int(across | Qt.AlignmentFlag.AlignRight), shown[1])
        for at, one in enumerate(self._ribbons):
            colour = QColor(self._left[one.first].colour)
            colour.setAlpha(205 if at == self._at else 92)
            painter.setPen(QPen(theme.colour("ink"), 1.2) if at == self._at else Qt.PenStyle.NoPen)
            painter.setBrush(colour)
            painter.drawPath(self._path(one))
        sizes = self._counts.sum(axis=1), self._counts.sum(axis=0)
        for side, (blocks, tops) in enumerate(((self._left, self._left_tops), (self._right, self._right_tops))):
            for at, block in enumerate(blocks):
                tall = max(float(sizes[side][at]) * scale, 1.0)
                box = QRectF(x1 - _BLOCK if side == 0 else x2, tops[at], _BLOCK, tall)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(block.colour)
                painter.drawRect(box)
                line = metrics.height()
                if tall >= line * 0.8:
                    painter.setPen(letter_ink())
                    painter.setFont(theme.ui_font(0.84, bold=True))
                    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, block.letter)
                    painter.setFont(small)
                    painter.setPen(theme.colour("ink"))
                    room = self._names - 8
                    words = metrics.elidedText(block.name, Qt.TextElideMode.ElideRight, room)
                    area = QRectF(0 if side == 0 else x2 + _BLOCK + 6, box.center().y() - line / 2, room, line)
                    where = Qt.AlignmentFlag.AlignRight if side == 0 else Qt.AlignmentFlag.AlignLeft
                    painter.drawText(area, int(across | where), words)
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("verdigris"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -1.5, -1.5))
