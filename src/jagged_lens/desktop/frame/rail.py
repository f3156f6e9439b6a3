# SPDX-License-Identifier: GPL-3.0-or-later
"""The folded side: the names of its leaves, written upwards."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QFrame, QVBoxLayout

from jagged_lens.desktop.frame.side import Side
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip


class Rail(QFrame):
    """A click on a name opens the side with that leaf; a click on the one that is open over the desk folds it again."""

    fold_wanted = pyqtSignal()

    def __init__(self, side: Side) -> None:
        super().__init__()
        self._side = side
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 22, 0, 0)
        column.setSpacing(10)
        self.buttons = {
            name: _Upright(name, key) for name, key in (("Settings", "F8"), ("Reader", "F9"), ("Legend", "F7"))
        }
        for name, shows in zip(self.buttons, (side.show_settings, side.show_reader, side.show_legend), strict=True):
            button = self.buttons[name]
            button.clicked.connect(lambda _, name=name, shows=shows: self._choose(name, shows))
            column.addWidget(button)
        column.addStretch(1)
        side.legend_offered.connect(self.buttons["Legend"].setVisible)
        self.buttons["Legend"].hide()

    def _choose(self, name: str, shows: object) -> None:
        if self._side.isVisible() and self._side.leaf == name:
            self.fold_wanted.emit()
        else:
            shows()  # type: ignore[operator]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("card"))
        painter.fillRect(0, 0, 1, self.height(), theme.colour("hairline"))


class _Upright(QAbstractButton):
    """A name and its key, written from below to above."""

    def __init__(self, name: str, key: str) -> None:
        super().__init__()
        self._words = f"{name}  {key}"
        self.setText(name)
        self.setAccessibleName(f"Open the side panel: {name}")
        set_tip(self, f"{name} ({key})")
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        metrics = QFontMetricsF(theme.ui_font())
        return QSize(round(metrics.height() * 1.9), round(metrics.horizontalAdvance(self._words)) + 16)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.ui_font())
        painter.setPen(theme.colour("ink" if self.underMouse() or self.hasFocus() else "muted"))
        painter.translate(0, self.height())
        painter.rotate(-90)
        painter.drawText(QRectF(0, 0, self.height(), self.width()), Qt.AlignmentFlag.AlignCenter, self._words)
        if self.hasFocus():
            painter.resetTransform()
            theme.draw_focus(painter, self.rect().adjusted(2, 2, -2, -2))
