# SPDX-License-Identifier: GPL-3.0-or-later
"""The progress of a part that is computed on demand, on the face that shows it; it can be stopped there."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.lens import Part
from jagged_lens.project import Shown


class PartState(QWidget):
    """A word and a button, which are gone where the result is there."""

    def __init__(self, bench: Shown, part: Part[Any], name: str) -> None:
        """name: of the result, as it is read out."""
        super().__init__()
        self._bench = bench
        self._part = part
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 0, 0, 0)
        row.setSpacing(4)
        self.words = muted("", 0.92)
        row.addWidget(self.words)
        self.button = Action()
        self.button.clicked.connect(self._clicked)
        row.addWidget(self.button)
        self._name = name
        self.show_state()

    def show_state(self) -> None:
        """Show how far the part is."""
        bench, part = self._bench, self._part
        there, share = bench.ready(part), bench.share.get(part.name)
        failed, declined = part.name in bench.errors, bench.declined(part)
        text = "failed" if failed else "stopped" if declined else "waiting" if share is None else f"{share:.0%}"
        self.words.setText(text)
        self.button.setText("Compute" if failed or declined else "Stop")
        self.button.setAccessibleName(f"{self.button.text()} {self._name}")
        set_tip(
            self.button,
            f"Compute {self._name}"
            if failed or declined
            else f"Stop {self._name} and keep what is there; other work goes on"
            if self._some_is_there
            else f"Cancel {self._name}; other work goes on",
        )
        self.setVisible(not there and (failed or declined or bench.working))

    def _clicked(self) -> None:
        bench, part = self._bench, self._part
        if bench.declined(part):
            bench.demand(part)
        elif part.name in bench.errors:
            bench.compute_anew()
        elif self._some_is_there:
            bench.enough(part)
        else:
            bench.decline(part)
        self.show_state()

    @property
    def _some_is_there(self) -> bool:
        """True if the part can be ended early, with what there is of it by now."""
        return self._part.unfinished is not None and self._bench.grows(self._part)
