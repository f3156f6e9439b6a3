# SPDX-License-Identifier: GPL-3.0-or-later
"""A line of text that ends in dots where it has no room."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QSize, Qt
from PyQt6.QtGui import QHelpEvent, QPainter, QPaintEvent

from jagged_lens.desktop.look.plain import PlainLabel, show_tip

_LEAST = 3  # letters


class ElidedLabel(PlainLabel):
    """A line that ends in dots where it has no room; the pointer over it then shows the whole of it."""

    def minimumSizeHint(self) -> QSize:
        return QSize(self.fontMetrics().averageCharWidth() * _LEAST, super().minimumSizeHint().height())

    def shown(self) -> str:
        """The part of the text that is visible."""
        return self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setPen(self.palette().color(self.foregroundRole()))
        painter.drawText(self.rect(), int(self.alignment() | Qt.AlignmentFlag.AlignVCenter), self.shown())

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and not self.toolTip() and self.shown() != self.text():
            show_tip(event.globalPos(), self.text(), self)
            return True
        return super().event(event)
