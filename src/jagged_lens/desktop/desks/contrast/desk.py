# SPDX-License-Identifier: GPL-3.0-or-later
"""The Contrast desk: two lenses, two sides of the collection, and what goes along with a number or a date."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal

from jagged_lens.desktop.desks.contrast.along import AlongFace
from jagged_lens.desktop.desks.contrast.lenses import LensesFace
from jagged_lens.desktop.desks.contrast.sides import SidesFace
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.reading_desk import ReadingDesk
from jagged_lens.desktop.look.words import amount
from jagged_lens.lens import CORPUS, LENS_ROWS, SPACE, THEMES, TOKENS


class ContrastDesk(ReadingDesk):
    """Two lenses, two sides, along a number or date. double_wanted: there is only one lens, and a copy of it is to be made."""

    step = "contrast"
    needs = (CORPUS, LENS_ROWS)
    double_wanted = pyqtSignal()
    faces = (LensesFace, SidesFace, AlongFace)

    def build(self) -> None:
        super().build()
        self.unmade(LensesFace).double_wanted.connect(self.double_wanted)
        self.unmade(LensesFace).pair_wanted.connect(partial(self._open_two, LensesFace))
        self.unmade(SidesFace).pair_wanted.connect(partial(self._open_two, SidesFace))
        self.keys = [
            ("Return", "read a pair in full width; Esc goes back"),
            ("Space", "read; on a term, pick its documents"),
            ("↑ ↓, Return", "on the flows: from ribbon to ribbon; pick the documents"),
            ("Arrows, Space", "over periods: from bar to bar; pick the documents"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def refresh(self) -> None:
        self.figures.setText(
            f"{amount(len(self.bench.results[LENS_ROWS]), 'document')} in {self.bench.state.lens.name}"
        )

    def _open_two(self, of: type[Face], first: int, second: int) -> None:
        """Read two documents that a face shows (their rows in the lens) in full width."""
        shown = self.unmade(of).bench.results
        if shown.has(CORPUS, SPACE, TOKENS, THEMES):
            self.read_of.show(shown)
            self.reading_table.show_pair(first, second, "Side by side", "")
            self.open_reading()
