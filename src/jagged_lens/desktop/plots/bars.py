"""Bars that take a number apart: the parts of a similarity side by side."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QHelpEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import show_tip


class PartsBar(QWidget):
    """One bar of segments, each as wide as its part; what is too small to name is one segment at the end."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._parts: list[tuple[str, float]] = []
        self._areas: list[tuple[QRectF, str]] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_parts(self, parts: Sequence[tuple[str, float]]) -> None:
        self._parts = list(parts)
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
            if width < 34:
                break
            self._segment(painter, QRectF(left, 0, width - 2, tall), name, part, "verdigris", "on_verdigris", metrics)
            left, rest, more = left + width, rest - part, more - 1
        if more and rest > 0:
            area = QRectF(left, 0, max(self.width() - left, 4.0), tall)
            self._segment(painter, area, f"{more} more", rest, "quiet", "ink", metrics)

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
        painter.drawText(below, Qt.AlignmentFlag.AlignCenter, f"{part:.2f}")
        self._areas.append((area, f"{name}: {part:.4f}"))

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            for area, text in self._areas:
                if area.contains(event.pos().toPointF()):
                    show_tip(event.globalPos(), text, self)
                    return True
        return super().event(event)
