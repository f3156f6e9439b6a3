# SPDX-License-Identifier: GPL-3.0-or-later
"""A widget that is scrolled where it has too little room."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QScrollArea, QWidget


class Floor(QWidget):
    """Gives the widget on it all its room, but no less than the widget must have. An area asks a widget whose height depends on its
    width for the height that it would like; that of this one does not."""

    def __init__(self, widget: QWidget) -> None:
        super().__init__()
        self._widget = widget
        widget.setParent(self)

    def minimumSizeHint(self) -> QSize:
        return self._widget.minimumSizeHint()

    def sizeHint(self) -> QSize:
        return self._widget.sizeHint()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._widget.setGeometry(self.rect())

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self.updateGeometry()
        return super().event(event)


def scrolled(widget: QWidget, both_ways: bool = False) -> QScrollArea:
    """The widget in an area without a frame, which the keyboard passes over. both_ways: it is scrolled to the sides, too."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    if not both_ways:
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(widget)
    return area
