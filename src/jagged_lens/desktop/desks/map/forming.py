# SPDX-License-Identifier: GPL-3.0-or-later
"""The progress of a forming map, and the button that keeps it as it is now."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.lens import Part
from jagged_lens.map import Laid
from jagged_lens.project import Shown


class Forming(QWidget):
    """A word and a button, which are gone where the map is whole."""

    def __init__(self, bench: Shown, part: Part[Any]) -> None:
        """part: that can be ended early, and of which the map on its way is a preview."""
        super().__init__()
        self._bench, self._part = bench, part
        self._under_way = False
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        self.words = muted()
        row.addWidget(self.words)
        self.button = Action()
        self.button.clicked.connect(self._clicked)
        row.addWidget(self.button)
        row.addStretch(1)
        self.hide()

    def show_state(self, laid: Laid | None, there: Laid | None) -> None:
        """laid: the map on its way; there: the one that is there."""
        self._under_way = laid is not None
        if laid is not None:
            self.words.setText(f"The map is forming: round {laid.rounds} of {laid.of}")
            self.button.setText("Stop")
            set_tip(self.button, "Keep the map as it is now; other work goes on")
        elif there is not None and there.stopped:
            self.words.setText(f"Stopped after {there.rounds} of {there.of} rounds")
            self.button.setText("Finish all rounds")
            set_tip(self.button, "Lay out the map again, to the end")
        self.button.show()
        self.setVisible(laid is not None or (there is not None and there.stopped))

    def say(self, words: str) -> None:
        """Say something in its place, until the map is drawn again."""
        self.words.setText(words)
        self.button.hide()
        self.show()

    def _clicked(self) -> None:
        if self._under_way:
            self._bench.enough(self._part)
        else:
            self._bench.compute(to_the_end=self._part)
