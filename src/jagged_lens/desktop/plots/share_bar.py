# SPDX-License-Identifier: GPL-3.0-or-later
"""A set of documents by the values of a label: one bar, with one segment per value."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QHelpEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import show_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture

_INKS = (("verdigris", "on_verdigris"), ("quiet", "ink"))


class ShareBar(KeyedPicture):
    """The commonest value first and darkest; a name stands in its segment where it has room. chosen(value): its segment was clicked."""

    chosen = pyqtSignal(int)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._parts: list[tuple[str, int]] = []
        self._current = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)

    def show_parts(self, parts: Sequence[tuple[str, int]]) -> None:
        """Values and their counts, most frequent first."""
        self._parts = list(parts)
        self._current = 0
        self.setAccessibleDescription(", ".join(self.texts[:8]))
        self.update()

    @property
    def texts(self) -> list[str]:
        """The texts of the segments."""
        whole = sum(count for _, count in self._parts) or 1
        return [f"{name} {count / whole:.0%}" for name, count in self._parts]

    def sizeHint(self) -> QSize:
        return QSize(220, int(QFontMetricsF(theme.ui_font(0.9)).height() * 1.5))

    def segments(self) -> list[QRectF]:
        """The position of each value."""
        whole = sum(count for _, count in self._parts) or 1
        left, areas = 0.0, []
        for _, count in self._parts:
            wide = self.width() * count / whole
            areas.append(QRectF(left, 0, max(wide - 1, 0.6), self.height()))
            left += wide
        return areas

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        font = theme.ui_font(0.88)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        for place, (area, words) in enumerate(zip(self.segments(), self.texts, strict=True)):
            ground, ink = _INKS[min(place, 1)]
            painter.fillRect(area, theme.colour(ground))
            if area.width() > metrics.horizontalAdvance("000"):
                painter.setPen(theme.colour(ink))
                room = area.adjusted(5, 0, -3, 0)
                shown = metrics.elidedText(words, Qt.TextElideMode.ElideRight, room.width())
                painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, shown)
            if self.hasFocus() and place == self._current:
                painter.setPen(theme.colour("ink"))
                painter.drawRect(area.adjusted(1, 1, -1, -1))

    def _at(self, x: float) -> int:
        return next((at for at, area in enumerate(self.segments()) if area.left() <= x <= area.right() + 1), -1)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        at = self._at(event.position().x()) if event is not None else -1
        if at >= 0:
            self._current = at
            self.chosen.emit(at)
            self.update()

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        if not self._parts:
            return False
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = 1 if key == Qt.Key.Key_Right else -1
            self._current = min(max(self._current + step, 0), len(self._parts) - 1)
            self.setAccessibleDescription(self.texts[self._current])
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return):
            self.chosen.emit(self._current)
        else:
            return False
        return True

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            at = self._at(event.pos().x())
            if at >= 0:
                show_tip(event.globalPos(), f"{self.texts[at]} ({self._parts[at][1]:,})", self)
            return True
        return super().event(event)
