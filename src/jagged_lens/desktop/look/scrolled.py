# SPDX-License-Identifier: GPL-3.0-or-later
"""A widget that is scrolled up and down where it has too little room."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QWidget


def scrolled(widget: QWidget) -> QScrollArea:
    """The widget in an area without a frame, which the keyboard passes over."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(widget)
    return area
