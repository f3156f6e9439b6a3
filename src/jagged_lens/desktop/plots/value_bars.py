"""The values of a label as bars, to pick their documents from."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.keyed import KeyedPicture


class ValueBars(KeyedPicture):
    """A line a value: name, bar, count; the picked part of the bar is marked. A click picks, with Ctrl it adds."""

    chosen = pyqtSignal(int, bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._values: list[tuple[str, int]] = []
        self._picked: list[int] = []
        self._current = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName("Values of the label")

    def show_values(self, values: Sequence[tuple[str, int]]) -> None:
        """Show other values and their counts, in the order given."""
        self._values = list(values)
        self._picked = [0] * len(self._values)
        self._current = min(self._current, max(len(self._values) - 1, 0))
        self.setMinimumHeight(self._line() * max(len(self._values), 1))
        self.update()

    def show_picked(self, picked: Sequence[int]) -> None:
        """How many documents of each value are picked."""
        self._picked = list(picked)
        self.update()

    def _line(self) -> int:
        return int(QFontMetricsF(theme.ui_font(0.92)).height() * 1.35)

    def sizeHint(self) -> QSize:
        return QSize(220, self._line() * max(len(self._values), 1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        place = int(event.position().y() // self._line())
        if place < len(self._values):
            self._current = place
            self.chosen.emit(place, bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
            self.update()

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        if not self._values:
            return False
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(key)
        if step is not None:
            self._current = min(max(self._current + step, 0), len(self._values) - 1)
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return):
            self.chosen.emit(self._current, control)
        else:
            return False
        self.setAccessibleDescription("{}: {:,}".format(*self._values[self._current]))
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        font = theme.ui_font(0.92)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        line = self._line()
        most = max((count for _, count in self._values), default=1) or 1
        name_width = min(
            max((metrics.horizontalAdvance(name) for name, _ in self._values), default=0) + 8, self.width() * 0.45
        )
        number_width = metrics.horizontalAdvance(f"{most:,}") + 10
        room = max(self.width() - name_width - number_width, 10)
        for place, (name, count) in enumerate(self._values):
            top = place * line
            if self.hasFocus() and place == self._current:
                painter.fillRect(QRectF(0, top, self.width(), line), theme.colour("tint"))
            painter.setPen(theme.colour("ink" if name else "muted"))
            shown = metrics.elidedText(name or "(none)", Qt.TextElideMode.ElideRight, name_width - 6)
            painter.drawText(QRectF(0, top, name_width - 6, line), Qt.AlignmentFlag.AlignVCenter, shown)
            bar = QRectF(name_width, top + 3, max(room * count / most, 1.5), line - 6)
            painter.fillRect(bar, theme.colour("quiet"))
            if self._picked[place] and count:
                painter.fillRect(
                    QRectF(bar.left(), bar.top(), bar.width() * self._picked[place] / count, bar.height()),
                    theme.colour("verdigris"),
                )
            painter.setPen(theme.colour("muted"))
            number = QRectF(bar.right() + 5, top, number_width + 20, line)
            painter.drawText(number, Qt.AlignmentFlag.AlignVCenter, f"{count:,}")
