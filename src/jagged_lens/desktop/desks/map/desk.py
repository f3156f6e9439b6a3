# SPDX-License-Identifier: GPL-3.0-or-later
"""The Map desk: what lies where, and how far to believe it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QStackedWidget

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.map.documents import DocumentMap
from jagged_lens.desktop.desks.map.terms import TermPoints
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.lens import CORPUS, TERMS


class MapDesk(Desk):
    """Documents or terms as points, each on a face."""

    step = "map"
    needs = (CORPUS, TERMS)
    faces = (DocumentMap, TermPoints)

    def build(self) -> None:
        self.show_faces()
        documents, terms = self.face(DocumentMap), self.face(TermPoints)
        self.legend = legends = QStackedWidget()
        legends.addWidget(documents.legend)
        legends.addWidget(terms.legend)
        self.leaf_row.shown.connect(legends.setCurrentIndex)
        self.keys = documents.keys

    @property
    def canvas(self) -> MapCanvas:
        """The picture of the face in front."""
        terms = self.face(TermPoints)
        return terms.canvas if self.leaf_row.leaves.currentWidget() is terms else self.face(DocumentMap).canvas

    def take_focus(self) -> None:
        front = self.leaf_row.leaves.currentWidget()
        canvas = self.canvas
        (canvas if canvas.isVisible() else front or canvas).setFocus(Qt.FocusReason.OtherFocusReason)
