# SPDX-License-Identifier: GPL-3.0-or-later
"""The rules of Clean, a line each: switched on or off by its box, with the bar of what is left after it falling from rule to rule."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture

_LEAST_BAR = 120  # pixels


@dataclass(frozen=True)
class RuleLine:
    """name: of the rule, for whoever asks. words: as it is shown. on: whether it is at work. None where it has no switch. taken: tokens;
    left: after it. hits: stretches of text, where it works on those."""

    name: str
    words: str
    on: bool | None
    taken: int
    left: int
    hits: int | None = None


class RuleBars(KeyedPicture):
    """A click on a box emits `switched`, a click on a line `chosen`; Up and Down choose, Space switches."""

    switched = pyqtSignal(str)
    chosen = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._lines: list[RuleLine] = []
        self._current = ""
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Rules, with the tokens left after each")
        set_tip(self, "Click a box to switch a rule, or its line to see what it removed")

    def show_lines(self, lines: Sequence[RuleLine], current: str) -> None:
        self._lines = list(lines)
        self._current = current
        self.setAccessibleDescription(", ".join(f"{line.words}: {line.left:,} left" for line in self._lines))
        self.updateGeometry()
        self.update()

    def line_height(self) -> float:
        return QFontMetricsF(theme.ui_font(bold=True)).height() * 1.42

    def sizeHint(self) -> QSize:
        return QSize(300, int(self.line_height() * max(len(self._lines), 1)) + 4)

    def box_of(self, name: str) -> QPointF:
        """The middle of the box of a rule."""
        place = next(at for at, line in enumerate(self._lines) if line.name == name)
        return QPointF(9, (place + 0.5) * self.line_height())

    def _line_at(self, y: float) -> RuleLine | None:
        place = int(y // self.line_height())
        return self._lines[place] if 0 <= place < len(self._lines) else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        line = self._line_at(event.position().y())
        if line is not None and event.position().x() < 20 and line.on is not None:
            self.switched.emit(line.name)
        elif line is not None:
            self._choose(line.name)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        names = [line.name for line in self._lines]
        place = names.index(self._current) if self._current in names else 0
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(key)
        if step is not None and names:
            self._choose(names[min(max(place + step, 0), len(names) - 1)])
        elif key == Qt.Key.Key_Space and names and self._lines[place].on is not None:
            self.switched.emit(names[place])
        else:
            return False
        return True

    def _choose(self, name: str) -> None:
        self._current = name
        self.chosen.emit(name)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        tall = self.line_height()
        plain, bold = theme.ui_font(0.95), theme.ui_font(0.95, bold=True)
        metrics = QFontMetricsF(bold)
        start = 22 + max((metrics.horizontalAdvance(line.words) for line in self._lines), default=0.0) + 14
        numbers = metrics.horizontalAdvance("00,000,000   100%   (−0,000,000)")
        brief = self.width() - start - numbers < _LEAST_BAR
        if brief:  # the bars say the shares
            numbers = metrics.horizontalAdvance("000,000  (−000,000)")
        room = max(self.width() - start - numbers - 8, 30.0)
        most = max((line.left for line in self._lines), default=1) or 1
        for place, line in enumerate(self._lines):
            top = place * tall
            if line.name == self._current:
                painter.fillRect(QRectF(20, top + 1, self.width() - 20, tall - 2), theme.colour("tint"))
            if line.on is not None:
                theme.draw_tick_box(painter, QRectF(3, top + tall / 2 - 6, 12, 12), line.on)
            last = place == len(self._lines) - 1
            painter.setFont(bold if last else plain)
            quiet = line.on is False
            painter.setPen(theme.colour("muted" if quiet else "ink"))
            painter.drawText(QRectF(22, top, start, tall), Qt.AlignmentFlag.AlignVCenter, line.words)
            if quiet:
                continue
            bar = QRectF(start, top + tall * 0.22, max(room * line.left / most, 1.0), tall * 0.56)
            painter.fillRect(bar, theme.colour("verdigris" if last else "quiet"))
            if line.taken:  # what this rule took, in outline
                painter.setPen(QPen(theme.colour("madder"), 1))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(QRectF(bar.right(), bar.top(), max(room * line.taken / most, 1.0), bar.height()))
            painter.setPen(theme.colour("ink" if last else "muted"))
            share = "" if brief else f"   {line.left / most:.0%}"
            words = f"{line.left:,}{share}" + (f"   (−{line.taken:,})" if line.taken else "")
            if line.hits is not None and not line.taken:
                words = f"{line.hits:,} hits" if line.hits else "no hit"
            painter.drawText(QRectF(start + room + 8, top, numbers + 20, tall), Qt.AlignmentFlag.AlignVCenter, words)
        if self.hasFocus():
            theme.draw_focus(painter, self.rect())
