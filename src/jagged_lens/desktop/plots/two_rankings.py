# SPDX-License-Identifier: GPL-3.0-or-later
"""Two rankings of the same things beside each other, what stands in both joined by a line."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.keyed import KeyedPicture


class TwoRankings(KeyedPicture):
    """chosen(thing): a line was clicked, or chosen by the arrows and Space."""

    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._sides: tuple[list[tuple[int, str, float]], list[tuple[int, str, float]]] = ([], [])
        self._ranks: tuple[dict[int, int], dict[int, int]] = ({}, {})
        self._current = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setAccessibleName("Two rankings joined by lines")
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_rankings(
        self,
        left: Sequence[tuple[int, str, float]],
        right: Sequence[tuple[int, str, float]],
        left_ranks: dict[int, int],
        right_ranks: dict[int, int],
    ) -> None:
        """Each side: what it is, its name and its weight, strongest first; and the rank of everything, also of what is not shown."""
        self._sides, self._ranks = (list(left), list(right)), (left_ranks, right_ranks)
        self._current = min(self._current, max(len(left) - 1, 0))
        self.setMinimumHeight(int(self._line() * max(len(left), len(right), 1)) + 6)
        moved = [
            f"{name} {left_ranks[of] + 1} to {right_ranks[of] + 1}" for of, name, _ in left[:12] if of in right_ranks
        ]
        self.setAccessibleDescription("; ".join(moved))
        self.update()

    def joined(self) -> list[tuple[int, int]]:
        """The places of what is shown on both sides: left and right."""
        right = {of: at for at, (of, _, _) in enumerate(self._sides[1])}
        return [(at, right[of]) for at, (of, _, _) in enumerate(self._sides[0]) if of in right]

    def sizeHint(self) -> QSize:
        return QSize(420, int(self._line() * 20))

    def _line(self) -> float:
        return QFontMetricsF(theme.ui_font(0.95)).height() * 1.35

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        side = self._sides[0 if event.position().x() < self.width() / 2 else 1]
        at = int(event.position().y() // self._line())
        if 0 <= at < len(side):
            self.chosen.emit(side[at][0])

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        left = self._sides[0]
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and left:
            self._current = min(max(self._current + (1 if key == Qt.Key.Key_Down else -1), 0), len(left) - 1)
        elif key == Qt.Key.Key_Space and left:
            self.chosen.emit(left[self._current][0])
        else:
            return False
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        font = theme.ui_font(0.95)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        line = self._line()
        most = [max((abs(weight) for _, _, weight in side), default=1.0) or 1.0 for side in self._sides]
        number = metrics.horizontalAdvance("−00.000") + 6
        name = max(self.width() * 0.38 - number, 40)
        gap = (name + number, self.width() - name - number)
        for side, entries in enumerate(self._sides):
            for at, (of, text, weight) in enumerate(entries):
                top = at * line
                left = 0.0 if side == 0 else gap[1]
                wide = name + number
                bar = (wide - 4) * abs(weight) / most[side]
                strip = QRectF(left + wide - bar if side == 0 else left, top + 1, bar, line - 2)
                painter.fillRect(strip, theme.mixed(theme.colour("paper"), theme.colour("verdigris"), 0.22))
                if side == 0 and at == self._current and self.hasFocus():
                    painter.setPen(QPen(theme.colour("verdigris"), 1.4))
                    painter.drawRect(QRectF(left + 1, top + 1, wide - 2, line - 2))
                painter.setPen(theme.colour("ink" if weight else "muted"))
                room = QRectF(left + (4 if side == 0 else number), top, name - 6, line)
                flag = Qt.AlignmentFlag.AlignVCenter
                painter.drawText(room, flag, metrics.elidedText(text, Qt.TextElideMode.ElideRight, room.width()))
                painter.setPen(theme.colour("muted"))
                value = QRectF(left + name if side == 0 else left + 2, top, number - 8, line)
                painter.drawText(value, flag | Qt.AlignmentFlag.AlignRight, f"{weight:.3f}")
                self._say_where(painter, side, of, top, line, gap)
        for left_at, right_at in self.joined():
            up = right_at < left_at
            ink = theme.colour("muted") if up == (right_at > left_at) else theme.colour("verdigris" if up else "madder")
            painter.setPen(QPen(ink, 1.6))
            a = QPointF(gap[0] + 3, (left_at + 0.5) * line)
            b = QPointF(gap[1] - 3, (right_at + 0.5) * line)
            path = QPainterPath(a)
            middle = (a.x() + b.x()) / 2
            path.cubicTo(QPointF(middle, a.y()), QPointF(middle, b.y()), b)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)

    def _say_where(
        self, painter: QPainter, side: int, of: int, top: float, line: float, gap: tuple[float, float]
    ) -> None:
        """The entry for a term not shown on the other side: its rank there."""
        shown = {one for one, _, _ in self._sides[1 - side]}
        if of in shown:
            return
        rank = self._ranks[1 - side].get(of)
        text = f"{rank + 1:,}." if rank is not None else "none"
        flag = Qt.AlignmentFlag.AlignLeft if side == 0 else Qt.AlignmentFlag.AlignRight
        painter.setPen(theme.colour("madder" if side == 0 else "verdigris"))
        painter.drawText(
            QRectF(gap[0] + 5, top, gap[1] - gap[0] - 10, line), int(flag | Qt.AlignmentFlag.AlignVCenter), text
        )
