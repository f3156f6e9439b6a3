# SPDX-License-Identifier: GPL-3.0-or-later
"""The members of a group, the most typical first; weak ones are marked, and can be dragged onto another group."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QMimeData, QPoint, Qt
from PyQt6.QtGui import QDrag, QMouseEvent
from PyQt6.QtWidgets import QApplication, QWidget

from jagged_lens.desktop.look.words import WEAK
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.row_names import by_key
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.gather import Corpus
from jagged_lens.group import Grouping, Quality, letter

MEMBERS = "application/x-jagged-lens-members"
"""The dragged rows: those chosen in the table."""


class MemberTable(TableView):
    """rows: the places of the members in the lens, in the order of the table's arrays."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("Members of the group", parent)
        self.rows = np.zeros(0, np.int64)
        self._pressed: QPoint | None = None

    def show_members(
        self, corpus: Corpus, lens_rows: np.ndarray, grouping: Grouping, quality: Quality, group: int
    ) -> None:
        """Show the members of another group."""
        members = np.flatnonzero(grouping.group == group)
        self.rows = rows = members[np.argsort(-grouping.closeness[members], kind="stable")]
        titles = corpus.titles.take(lens_rows[rows])
        silhouette = quality.silhouette[rows]
        lead = grouping.closeness[rows] - quality.next_closeness[rows]
        following = quality.next[rows]

        def nearer(row: int) -> str:
            return letter(int(following[row])) if following[row] >= 0 else ""

        columns = [
            Column(
                "Member",
                lambda row: titles[row],
                searched=True,
                texts=titles,
                tip="In this order, the most typical first",
            ),
            Column("Next", nearer, following, tip="The group with the next nearest centroid"),
            Column(
                "Margin",
                lambda row: f"{lead[row]:+.2f}" if following[row] >= 0 else "",
                lead,
                right=True,
                tip="Margin: how much closer it is to the centroid of its group than to that of the next",
                ink=lambda row: "madder" if lead[row] < 0 else None,
            ),
            Column(
                "Silhouette",
                lambda row: (
                    "" if np.isnan(silhouette[row]) else f"{silhouette[row]:+.2f}{WEAK * bool(silhouette[row] < 0)}"
                ),
                np.nan_to_num(silhouette, nan=2.0),
                right=True,
                tip=f"{WEAK}: weak member, closer to the documents of another group than to those of its own",
                ink=lambda row: "madder" if silhouette[row] < 0 else None,
            ),
        ]
        self.show_rows(columns, len(rows), 0, by_key(corpus.keys, lens_rows[rows]))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._pressed = event.position().toPoint() if self.indexAt(event.position().toPoint()).isValid() else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        far = (event.position().toPoint() - self._pressed).manhattanLength()
        if far >= QApplication.startDragDistance():
            self._pressed = None
            self.drag()

    def drag(self) -> None:
        """Drag what is chosen."""
        mime = QMimeData()
        mime.setData(MEMBERS, b"")
        mime.setText("\n".join(self.listed.columns[0].text(row) for row in self.chosen_rows()))
        drag = QDrag(self)
        drag.setMimeData(mime)
        drag.exec(Qt.DropAction.MoveAction)
