# SPDX-License-Identifier: GPL-3.0-or-later
"""Bars that take a number apart: the parts of a similarity side by side."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import show_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture

_TOLD = 12  # of the parts that are too small to name


class PartsBar(KeyedPicture):
    """One bar of segments, each as wide as its part; those that are too small to name share one segment at the end.

    chosen(at): a part was chosen, by a click or by the arrows and Space. A click on those that are too small to name goes from one of
    them to the next.
    """

    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._parts: list[tuple[str, float]] = []
        self._current = 0
        self.setAccessibleName("Parts")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_parts(self, parts: Sequence[tuple[str, float]]) -> None:
        self._parts = list(parts)
        self._current = 0
        self.setAccessibleName("Parts: " + ", ".join(f"{name} {part:.2f}" for name, part in self._parts[:12]))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, int(QFontMetricsF(theme.ui_font()).height() * 3.3))

    def segments(self) -> tuple[list[QRectF], QRectF | None]:
        """The places of the parts that can be named, the largest first, and of all others together, if there are any."""
        total = sum(part for _, part in self._parts)
        if total <= 0:
            return [], None
        metrics = QFontMetricsF(theme.ui_font(0.88))
        least, tall = metrics.horizontalAdvance(".000") + 6, metrics.height() * 1.75
        named: list[QRectF] = []
        left = 0.0
        for _, part in self._parts:
            width = self.width() * part / total
            if width < least:
                break
            named.append(QRectF(left, 0, width - 2, tall))
            left += width
        others = len(self._parts) - len(named)
        return named, QRectF(left, 0, max(self.width() - left, 4.0), tall) if others else None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.ui_font(0.88))
        named, others = self.segments()
        for area, (name, part) in zip(named, self._parts, strict=False):
            self._segment(painter, area, name, part, "verdigris", "on_verdigris")
        if others is not None:
            rest = sum(part for _, part in self._parts[len(named) :])
            self._segment(painter, others, f"{len(self._parts) - len(named)} more", rest, "quiet", "ink")
        if self.hasFocus() and self._parts:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("ink"), 1.6))
            chosen = named[self._current] if self._current < len(named) else others
            if chosen is not None:
                painter.drawRoundedRect(chosen.adjusted(1, 1, -1, -1), 3, 3)

    def _segment(self, painter: QPainter, area: QRectF, name: str, part: float, ground: str, ink: str) -> None:
        metrics = QFontMetricsF(painter.font())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour(ground))
        painter.drawRoundedRect(area, 3, 3)
        painter.setPen(theme.colour(ink))
        inside = area.adjusted(6, 0, -4, 0)
        painter.drawText(
            inside, Qt.AlignmentFlag.AlignVCenter, metrics.elidedText(name, Qt.TextElideMode.ElideRight, inside.width())
        )
        painter.setPen(theme.colour("muted"))
        below = QRectF(area.left() - 10, area.bottom() + 2, area.width() + 20, metrics.height())
        painter.drawText(below, Qt.AlignmentFlag.AlignCenter, f"{part:.3f}".removeprefix("0"))

    def _part_at(self, place: QPointF) -> int:
        """The part at a place; of those that share a segment the one behind that which was chosen last. -1: none."""
        named, others = self.segments()
        at = next((at for at, area in enumerate(named) if area.contains(place)), -1)
        if at < 0 and others is not None and others.contains(place):
            later = self._current + 1 if self._current >= len(named) else len(named)
            at = later if later < len(self._parts) else len(named)
        return at

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._choose(self._part_at(event.position()))

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = 1 if key == Qt.Key.Key_Right else -1
            self._current = min(max(self._current + step, 0), max(len(self._parts) - 1, 0))
            if self._parts:
                self.setAccessibleDescription(_in_words(self._parts[self._current]))
        elif key == Qt.Key.Key_Space and self._parts:
            self._choose(self._current)
        else:
            return False
        return True

    def _choose(self, at: int) -> None:
        if at >= 0:
            self._current = at
            self.chosen.emit(at)
            self.update()

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            named, others = self.segments()
            place = event.pos().toPointF()
            at = next((at for at, area in enumerate(named) if area.contains(place)), -1)
            if at >= 0:
                show_tip(event.globalPos(), _in_words(self._parts[at]), self)
            elif others is not None and others.contains(place):
                rest = self._parts[len(named) : len(named) + _TOLD]
                show_tip(event.globalPos(), "\n".join(map(_in_words, rest)), self)
            return True
        return super().event(event)


def _in_words(part: tuple[str, float]) -> str:
    return f"{part[0]}: {part[1]:.4f}"
