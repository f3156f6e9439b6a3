# SPDX-License-Identifier: GPL-3.0-or-later
"""The first page of an empty window: the demo, the tour, and recent projects."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.look.cards import heading
from jagged_lens.desktop.look.controls import Action, Way
from jagged_lens.desktop.look.plain import set_tip

_MOST = 8


class StartPage(QWidget):
    """chosen(path): a file that was opened before. demo_wanted, tour_wanted: what their buttons say."""

    chosen = pyqtSignal(Path)
    demo_wanted = pyqtSignal()
    tour_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 8, 0, 0)
        self.demo = Action("Open the demo")
        set_tip(self.demo, "640 made-up notes from the growers of Larkmoor, with five lenses on them")
        self.demo.clicked.connect(self.demo_wanted)
        self.tour = Action("Take the tour")
        set_tip(self.tour, "Five short cards about the parts of the window (also under Help)")
        self.tour.clicked.connect(self.tour_wanted)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(self.demo)
        row.addWidget(self.tour)
        row.addStretch(1)
        column.addLayout(row)
        column.addSpacing(14)
        self._head = heading("Opened before")
        column.addWidget(self._head, 0, Qt.AlignmentFlag.AlignHCenter)
        self._list = QVBoxLayout()
        self._list.setSpacing(0)
        column.addLayout(self._list)
        self.ways: list[Way] = []
        self.offer(())

    def offer(self, paths: Sequence[Path]) -> None:
        """Offer what was opened last, the newest first."""
        while (item := self._list.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        self.ways = []
        for path in paths[:_MOST]:
            way = Way(path.name.replace("&", "&&"))
            set_tip(way, str(path))
            way.clicked.connect(partial(self.chosen.emit, path))
            self._list.addWidget(way, 0, Qt.AlignmentFlag.AlignHCenter)
            self.ways.append(way)
        self._head.setVisible(bool(self.ways))
