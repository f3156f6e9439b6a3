# SPDX-License-Identifier: GPL-3.0-or-later
"""The Place desk: new documents in the lens as it is, and labels that are suggested."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal

from jagged_lens.desktop.desks.place.new_documents import NewDocumentsFace
from jagged_lens.desktop.desks.place.suggest import SuggestFace
from jagged_lens.desktop.desks.reading_desk import ReadingDesk
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.reading.reading_table import Texts
from jagged_lens.lens import CORPUS, LENS_ROWS


class PlaceDesk(ReadingDesk):
    """add_wanted: new documents are to be described. term_wanted(row, column): of a document of the lens and a term, how the weight comes about."""

    step = "place"
    needs = (CORPUS, LENS_ROWS)
    faces = (NewDocumentsFace, SuggestFace)
    add_wanted = pyqtSignal()
    term_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        super().build()
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
        self.read_of.show(self.unmade(NewDocumentsFace).bench.results)
        self.reading_table.show_texts(texts, title, figures)
        self.open_reading()
