"""Bars that take a number apart: the parts of a similarity side by side."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import show_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture


class PartsBar(KeyedPicture):
    """One bar of segments, each as wide as its part; what is too small to name is one segment at the end. chosen(at): a segment was
    clicked, or chosen by the arrows and Space."""

    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._parts: list[tuple[str, float]] = []
        self._areas: list[tuple[QRectF, str]] = []
        self._current = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_parts(self, parts: Sequence[tuple[str, float]]) -> None:
        self._parts = list(parts)
        self._current = 0
        self.setAccessibleName("Parts: " + ", ".join(f"{name} {part:.2f}" for name, part in self._parts[:12]))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, int(QFontMetricsF(theme.ui_font()).height() * 3.3))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._areas = []
        total = sum(part for _, part in self._parts)
        if total <= 0:
            return
        small = theme.ui_font(0.88)
        metrics = QFontMetricsF(small)
        line = metrics.height()
        tall = line * 1.75
        painter.setFont(small)
        left, rest, more = 0.0, total, len(self._parts)
        for name, part in self._parts:
            width = self.width() * part / total
            if width < metrics.horizontalAdvance("0.000") + 6:
                break
            self._segment(painter, QRectF(left, 0, width - 2, tall), name, part, "verdigris", "on_verdigris", metrics)
            left, rest, more = left + width, rest - part, more - 1
        if more and rest > 0:
            area = QRectF(left, 0, max(self.width() - left, 4.0), tall)
            self._segment(painter, area, f"{more} more", rest, "quiet", "ink", metrics)

        if self.hasFocus() and self._areas:
            self._current = min(self._current, len(self._areas) - 1)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("ink"), 1.6))
            painter.drawRoundedRect(self._areas[self._current][0].adjusted(1, 1, -1, -1), 3, 3)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        for at, (area, _) in enumerate(self._areas):
            if area.contains(event.position()) and at < len(self._parts):
                self._choose(at)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            last = max(len(self._areas) - 1, 0)
            self._current = min(max(self._current + (1 if key == Qt.Key.Key_Right else -1), 0), last)
        elif key == Qt.Key.Key_Space:
            self._choose(self._current)
        else:
            return False
        return True

    def _choose(self, at: int) -> None:
        self._current = at
        if at < len(self._areas) and not self._areas[at][1].startswith(f"{len(self._parts) - at} more"):
            self.chosen.emit(at)
        self.update()

    def _segment(
        self, painter: QPainter, area: QRectF, name: str, part: float, ground: str, ink: str, metrics: QFontMetricsF
    ) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour(ground) if ground != "quiet" else theme.colour("quiet"))
        painter.drawRoundedRect(area, 3, 3)
        painter.setPen(theme.colour(ink) if ground != "quiet" else theme.colour("ink"))
        inside = area.adjusted(6, 0, -4, 0)
        painter.drawText(
            inside, Qt.AlignmentFlag.AlignVCenter, metrics.elidedText(name, Qt.TextElideMode.ElideRight, inside.width())
        )
        painter.setPen(theme.colour("muted"))
        below = QRectF(area.left() - 10, area.bottom() + 2, area.width() + 20, metrics.height())
        painter.drawText(below, Qt.AlignmentFlag.AlignCenter, f"{part:.3f}")
        self._areas.append((area, f"{name}: {part:.4f}"))

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            for area, text in self._areas:
                if area.contains(event.pos().toPointF()):
                    show_tip(event.globalPos(), text, self)
                    return True
        return super().event(event)
