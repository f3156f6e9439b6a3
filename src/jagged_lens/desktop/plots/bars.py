"""Bars that take a number apart: the parts of a similarity side by side, and the tokens that are left after each rule."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QHelpEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from jagged_lens.desktop import theme


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
            for area, words in self._areas:
                if area.contains(event.pos().toPointF()):
                    QToolTip.showText(event.globalPos(), words, self)
                    return True
        return super().event(event)


class FallingBar(QWidget):
    """One bar a line: how much is left after each rule."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._lines: list[tuple[str, int, int]] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_lines(self, lines: Sequence[tuple[str, int, int]]) -> None:
        """Lines of (rule, taken, left)."""
        self._lines = list(lines)
        self.setAccessibleName("Tokens left: " + ", ".join(f"{name} {left:,}" for name, _, left in self._lines))
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, int(QFontMetricsF(theme.ui_font()).height() * 1.75 * max(len(self._lines), 1)) + 4)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        metrics = QFontMetricsF(theme.ui_font(bold=True))
        line = metrics.height() * 1.75
        start = max((metrics.horizontalAdvance(name) for name, _, _ in self._lines), default=0.0) + 16
        numbers = metrics.horizontalAdvance("−00,000,000   00,000,000   100 %")
        room = max(self.width() - start - numbers - 12, 40.0)
        most = max((left for _, _, left in self._lines), default=1) or 1
        for place, (name, taken, left) in enumerate(self._lines):
            top = place * line
            last = place == len(self._lines) - 1
            painter.setPen(theme.colour("ink" if last else "muted"))
            painter.setFont(theme.ui_font(bold=last))
            painter.drawText(QRectF(0, top, start, line), Qt.AlignmentFlag.AlignVCenter, name)
            bar = QRectF(start, top + line * 0.2, max(room * left / most, 1.0), line * 0.6)
            painter.fillRect(bar, theme.colour("verdigris" if last else "quiet"))
            words = f"{left:,}   {left / most:.0%}" + (f"   (−{taken:,})" if taken else "")
            painter.drawText(QRectF(bar.right() + 8, top, numbers + 40, line), Qt.AlignmentFlag.AlignVCenter, words)
