"""The Contrast desk: two lenses, two sides of the collection, and what goes along with a number or a date."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent

from jagged_lens.desktop.desks.contrast.along import AlongFace
from jagged_lens.desktop.desks.contrast.lenses import LensesFace
from jagged_lens.desktop.desks.contrast.sides import SidesFace
from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.reading.reading_table import ReadingTable
from jagged_lens.lens import CORPUS, LENS_ROWS, SPACE, THEMES, TOKENS


class ContrastDesk(Desk):
    """reading(bool): the reading table lies over the desk, or not any more."""

    step = "contrast"
    needs = (CORPUS, LENS_ROWS)
    faces = (LensesFace, SidesFace, AlongFace)
    reading = pyqtSignal(bool)

    def build(self) -> None:
        self.field = self.filter_field("Filter ( / )")
        self.tools.addWidget(self.field)
        self.show_faces()
        self.reading_table = ReadingTable(self.bench, self.asker, self, decides=False)
        self.reading_table.closed.connect(self.close_reading)
        self.leaf_row.shown.connect(lambda _: self.take_focus())
        for face in (self.unmade(LensesFace), self.unmade(SidesFace)):
            face.pair_wanted.connect(self.open_two)
        self.keys = [
            ("Return", "read a pair in full width; Esc goes back"),
            ("Space", "read; on a term: pick its documents"),
            ("↑ ↓, Return", "on the flows: from ribbon to ribbon; pick its documents"),
            ("Arrows, Space", "over periods: from bar to bar; pick its documents"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def refresh(self) -> None:
        self.figures.setText(
            f"{amount(len(self.bench.results[LENS_ROWS]), 'document')} in {self.bench.state.lens.name}"
        )

    def open_two(self, first: int, second: int) -> None:
        """Read two documents of the lens (their rows there) in full width."""
        if self.bench.ready(CORPUS, SPACE, TOKENS, THEMES):
            self.reading_table.setGeometry(self.rect())
            self.reading_table.show_pair(first, second, "Side by side", "")
            self.reading_table.show()
            self.reading_table.raise_()
            self.reading_table.setFocus()
            self.reading.emit(True)

    def close_reading(self) -> bool:
        """Back from the reading table; whether it was open."""
        if not self.reading_table.isVisible():
            return False
        self.reading_table.hide()
        self.reading.emit(False)
        return True

    def take_focus(self) -> None:
        if self.reading_table.isVisible():
            self.reading_table.setFocus()
        else:
            self.front_face.take_focus()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.reading_table.setGeometry(self.rect())
