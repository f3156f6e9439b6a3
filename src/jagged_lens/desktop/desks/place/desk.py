"""The Place desk: new documents in the lens as it is, and labels that are suggested."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.place.new_documents import NewDocumentsFace
from jagged_lens.desktop.desks.place.suggest import SuggestFace
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.reading.reading_table import ReadingTable, Texts
from jagged_lens.lens import CORPUS, LENS_ROWS


class PlaceDesk(Desk):
    """add_wanted: new documents are to be described. reading(bool): the reading table lies over the desk, or not any more. term_wanted(row,
    column): of a document of the lens and a term, how the weight comes about."""

    step = "place"
    needs = (CORPUS, LENS_ROWS)
    faces = (NewDocumentsFace, SuggestFace)
    add_wanted = pyqtSignal()
    reading = pyqtSignal(bool)
    term_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self.field = self.filter_field("Filter ( / )")
        self.tools.addWidget(self.field)
        self.show_faces()
        self.reading_table = ReadingTable(self.bench, self.asker, self, decides=False)
        self.reading_table.closed.connect(self.close_reading)
        self.leaf_row.shown.connect(lambda _: self.take_focus())
        self.unmade(NewDocumentsFace).add_wanted.connect(self.add_wanted)
        self.unmade(NewDocumentsFace).texts_wanted.connect(self._read_both)
        self.unmade(SuggestFace).term_wanted.connect(self.term_wanted)
        self.keys = [
            ("Return", "read a new document beside its nearest; Esc goes back"),
            ("J, K", "next and previous new document, mistake or suggestion"),
            ("Space", "read in the reader"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def refresh(self) -> None:
        self.figures.setText(
            f"in {self.bench.state.lens.name}, {amount(len(self.bench.results[LENS_ROWS]), 'document')}"
        )

    def step_on(self, by: int) -> None:
        """Next or previous new document, mistake or suggestion."""
        face = self.front_face
        if isinstance(face, NewDocumentsFace):
            face.table.step(by)
        elif isinstance(face, SuggestFace):
            face.step(by)

    def _read_both(self, texts: Texts, title: str, figures: str) -> None:
        table = self.reading_table
        table.setGeometry(self.rect())
        table.show_texts(texts, title, figures)
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
