# SPDX-License-Identifier: GPL-3.0-or-later
"""The sheet on which the columns of a table of documents are chosen."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QDialog, QGridLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import TickBox
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.sheet_end import end_sheet
from jagged_lens.desktop.look.worn import wear
from jagged_lens.export import Wanted

_COLUMNS = 2


class ColumnsWanted(QDialog):
    """A tick box a choice. `done` gets the keys of those that are ticked; absent: keys of those whose results are not there."""

    def __init__(
        self,
        choices: Sequence[Wanted],
        ticked: Sequence[str],
        absent: Sequence[str],
        done: Callable[[list[str]], None],
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        wear(self)
        self.setWindowTitle("Documents as a table")
        self._done = done
        column = QVBoxLayout(self)
        said = muted(
            "One row per document of this lens. Choose the columns; the ending of the file chooses its format.", 0.95
        )
        said.setWordWrap(True)
        column.addWidget(said)
        grid = QGridLayout()
        self.boxes: dict[str, TickBox] = {}
        half = -(-len(choices) // _COLUMNS)
        for at, choice in enumerate(choices):
            box = self.boxes[choice.key] = TickBox(choice.name)
            box.setChecked(choice.key in ticked and choice.key not in absent)
            box.setEnabled(choice.key not in absent)
            if choice.key in absent:
                set_tip(box, "It has not been computed in this lens")
            box.toggled.connect(self._offer)
            grid.addWidget(box, at % half, at // half)
        column.addLayout(grid)
        self.save = end_sheet(self, column, "Save…", self._accept)
        self._offer()

    @property
    def ticked(self) -> list[str]:
        """The keys of the choices that are ticked."""
        return [key for key, box in self.boxes.items() if box.isChecked()]

    def _offer(self) -> None:
        self.save.setEnabled(bool(self.ticked))

    def _accept(self) -> None:
        self.accept()
        self._done(self.ticked)
