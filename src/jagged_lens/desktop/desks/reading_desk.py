# SPDX-License-Identifier: GPL-3.0-or-later
"""A desk over which two texts are read side by side, without anything being decided of them."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.reading.reading_table import ReadingTable
from jagged_lens.project import Shown


class ReadingDesk(Desk):
    """Its faces stand under the head. reading(bool): the reading table lies over the desk, or not any more."""

    reading = pyqtSignal(bool)

    def build(self) -> None:
        self.field = self.filter_field("Filter ( / )")
        self.tools.addWidget(self.field)
        self.show_faces()
        self.read_of = Shown(self.bench)  # what is read in full width, of the face that it was opened on
        self.reading_table = ReadingTable(self.read_of, self.asker, self, decides=False)
        self.reading_table.closed.connect(self.close_reading)
        self.leaf_row.shown.connect(lambda _: self.take_focus())

    def open_reading(self) -> None:
        """Bring the reading table up."""
        table = self.reading_table
        table.setGeometry(self.rect())
        table.show()
        table.raise_()
        table.setFocus()
        self.reading.emit(True)

    def close_reading(self) -> bool:
        """Back from the reading table; whether it was open."""
        if not self.reading_table.isVisible():
            return False
        self.reading_table.hide()
        self.reading.emit(False)
        self.take_focus()
        return True

    def take_focus(self) -> None:
        if self.reading_table.isVisible():
            self.reading_table.setFocus()
        else:
            self.front_face.take_focus()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.reading_table.setGeometry(self.rect())
