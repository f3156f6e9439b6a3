# SPDX-License-Identifier: GPL-3.0-or-later
"""A picture that is worked with the keyboard too."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QWidget

PICKS = "picks"
"""Property of widgets that are no pictures, such as a table of documents, where a click picks documents."""


class KeyedPicture(QWidget):
    """Takes the keyboard, is drawn anew when it comes and goes, and hands on the keys that it has no use for."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        """Do what a key stands for; whether it stands for anything."""
        raise NotImplementedError

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        held = event.modifiers()
        shift = bool(held & Qt.KeyboardModifier.ShiftModifier)
        control = bool(held & Qt.KeyboardModifier.ControlModifier)
        if self.take_key(Qt.Key(event.key()), shift, control):
            self.update()
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.update()
