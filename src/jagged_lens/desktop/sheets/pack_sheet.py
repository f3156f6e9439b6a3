# SPDX-License-Identifier: GPL-3.0-or-later
"""The sheet on which one chooses what of a project a colleague gets."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QDialog, QVBoxLayout, QWidget

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import TickBox
from jagged_lens.desktop.look.sheet_end import end_sheet
from jagged_lens.desktop.look.worn import wear
from jagged_lens.project import PACKED, TEXTS


class PackSheet(QDialog):
    """A tick box a part. `done` gets the names of the parts that are ticked."""

    def __init__(self, done: Callable[[list[str]], None], parent: QWidget) -> None:
        super().__init__(parent)
        wear(self)
        self.setWindowTitle("Pack for a colleague")
        self._done = done
        column = QVBoxLayout(self)
        said = muted("The settings of all lenses are always in it. Choose what else your colleague gets.", 0.95)
        said.setWordWrap(True)
        column.addWidget(said)
        self.boxes: dict[str, TickBox] = {}
        for name, words in PACKED.items():
            box = self.boxes[name] = TickBox(words)
            box.setChecked(True)
            box.toggled.connect(self._say)
            column.addWidget(box)
        self.said = muted("", 0.92)
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        self.pack = end_sheet(self, column, "Pack…", self._accept)
        self._say()

    def _say(self) -> None:
        self.said.setText(
            "Titles, terms and values of labels can still be seen in settings, findings and notes."
            if not self.boxes[TEXTS].isChecked()
            else ""
        )

    def _accept(self) -> None:
        self.accept()
        self._done([name for name, box in self.boxes.items() if box.isChecked()])
