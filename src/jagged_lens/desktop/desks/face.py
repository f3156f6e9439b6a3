# SPDX-License-Identifier: GPL-3.0-or-later
"""A face: one of several pictures of a desk, each brought up by its button."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QStackedLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.drawn import WAITING, Drawn
from jagged_lens.desktop.look.cards import muted_line
from jagged_lens.desktop.reading.reader import Reader
from jagged_lens.project import Verbs


class Face(Drawn):
    """A picture with a `name`, which stands on its button. A subclass makes its widgets in `build` and puts them in `body`. That is done
    when it is first shown, or asked for: a window has many faces, and begins with one.

    It knows the results and the settings that it shows, and not the desk that it stands on. said: a few words about it, which are
    shown beside the buttons. made: its widgets are there.
    """

    said = pyqtSignal(str)
    made = pyqtSignal()

    def __init__(self, bench: Verbs, asker: Asker, reader: Reader) -> None:
        super().__init__(bench, asker, reader)
        self._pages = QStackedLayout(self)
        page = QWidget()
        self.body = QVBoxLayout(page)
        self.body.setContentsMargins(0, 0, 0, 0)
        waiting = muted_line(WAITING)
        waiting.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._pages.addWidget(waiting)
        self._pages.addWidget(page)
        self._is_made = False

    @property
    def is_made(self) -> bool:
        """True if its widgets are there."""
        return self._is_made

    def make(self) -> None:
        """Make the widgets, if that has not been done yet."""
        if not self._is_made:
            self._is_made = True
            self.build()
            self.made.emit()

    def prepare(self) -> None:
        self.make()
        super().prepare()

    def showEvent(self, event: QShowEvent | None) -> None:
        self.make()
        super().showEvent(event)

    def take_focus(self) -> None:
        """Give the keyboard to what this face is mainly about."""

    def build(self) -> None:
        """Make the widgets of the body, once."""

    def filter(self, words: str) -> None:
        """Show only what has these words."""

    def summary(self) -> str:
        """The current sentence about it."""
        return ""

    def own_words(self) -> str:
        return self.summary() if self.is_made else ""

    def say(self) -> None:
        """Say it, where this is in front."""
        if self.isVisible():
            self.said.emit(self.summary())

    def _unveil(self) -> None:
        self._pages.setCurrentIndex(1)
        if self.hasFocus():  # there was nothing in it yet that could take the keyboard
            first = next(
                (
                    child
                    for child in self.findChildren(QWidget)
                    if child.focusPolicy() & Qt.FocusPolicy.TabFocus and child.isVisibleTo(self)
                ),
                self,
            )
            first.setFocus(Qt.FocusReason.OtherFocusReason)
