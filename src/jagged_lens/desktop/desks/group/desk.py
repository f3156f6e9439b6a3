"""The Group desk: the groups, what tells each apart, its most typical and its oddest document."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QRect
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStyledItemDelegate, QStyleOptionViewItem

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.look.cards import card, muted
from jagged_lens.desktop.look.group_colours import paint_letter
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import ShareCell, fill_ground
from jagged_lens.desktop.tables.table import ArrayModel, TableView
from jagged_lens.group import letter
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, TERMS


class _LetterCell(QStyledItemDelegate):
    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        fill_ground(painter, option)
        size = int(option.fontMetrics.height() * 1.3)
        chip = QRect(option.rect.left() + 8, option.rect.center().y() - size // 2, max(size, 22), size)
        painter.save()
        paint_letter(painter, chip, index.data(ArrayModel.MARK))
        painter.restore()


_SAID = "A row picks its group. Tightness is the mean cosine of its documents to the group's centroid."


class GroupDesk(Desk):
    step = "group"
    picture = "Groups"
    needs = (CORPUS, TERMS, GROUPING, KEY_TERMS)

    def build(self) -> None:
        self.said = muted(_SAID)
        self.said.setWordWrap(True)
        self.body.addWidget(self.said)
        self.table = TableView("Groups")
        self.table.setItemDelegateForColumn(0, _LetterCell(self.table))
        self.table.setItemDelegateForColumn(2, ShareCell(self.table))
        self.table.row_changed.connect(self._pick_group)
        self.table.read_wanted.connect(self._read_group)
        self.body.addWidget(self.table, 1)
        self.ends, column = card()
        self.typical, self.oddest = QPushButton(), QPushButton()
        for label, button in (("Most typical:", self.typical), ("Oddest:", self.oddest)):
            line = QHBoxLayout()
            line.addWidget(muted(label))
            button.setProperty("flat", "true")
            line.addWidget(button)
            line.addStretch(1)
            column.addLayout(line)
        self.typical.clicked.connect(lambda: self._read_end("typical"))
        self.oddest.clicked.connect(lambda: self._read_end("oddest"))
        self.ends.hide()
        self.body.addWidget(self.ends)
        self.keys = [("Space", "pick the group and read it"), ("Ctrl+C", "copy the chosen rows")]

    def _pick_group(self, row: int) -> None:
        results = self.bench.results
        rows = results[TERMS].rows
        typical = int(rows[results[KEY_TERMS].typical[row]])
        self.bench.pick.set(rows[results[GROUPING].group == row].tolist(), typical)

        self._show_ends(row)

    def _read_group(self, row: int) -> None:
        self._pick_group(row)
        self.read()

    def _show_ends(self, row: int) -> None:
        """The most typical and the oddest document of the group under the cursor."""
        results = self.bench.results
        self.ends.setVisible(0 <= row < len(results[GROUPING]))
        if not self.ends.isHidden():
            for button, rows in ((self.typical, results[KEY_TERMS].typical), (self.oddest, results[KEY_TERMS].oddest)):
                title = results[CORPUS].titles[int(results[TERMS].rows[rows[row]])]
                button.setText(title)
                button.setAccessibleName(f"Read {title}")

    def _read_end(self, end: str) -> None:
        results = self.bench.results
        row = int(getattr(results[KEY_TERMS], end)[self.table.current_row()])
        self.read_document(int(results[TERMS].rows[row]))

    def refresh(self) -> None:
        results = self.bench.results
        grouping, key_terms, terms = results[GROUPING], results[KEY_TERMS], results[TERMS]
        out = int((grouping.group < 0).sum())
        none = f" · {amount(out, 'document')} in none" if out else ""
        fewer = self.bench.recipe.group.groups - len(grouping)
        self.figures.setText(
            f"{amount(len(grouping), 'group')} · {grouping.quality:.3f} mean cosine to the own centroid{none}"
        )
        if fewer > 0:
            self.said.setText(
                f"There are only {amount(len(grouping), 'document')} to group, so there are {fewer} groups fewer than asked for."
            )
        else:
            self.said.setText(_SAID)

        def words(row: int) -> str:
            return " · ".join(terms.shown[column] for column in key_terms.columns(row)[:7])

        columns = [
            Column("Group", letter, np.arange(len(grouping)), mark=lambda row: row),
            Column("Documents", lambda row: f"{grouping.sizes[row]:,}", grouping.sizes, right=True),
            Column(
                "Tightness",
                lambda row: f"{grouping.tightness[row]:.3f}",
                grouping.tightness,
                right=True,
                share=lambda row: float(grouping.tightness[row]),
            ),
            Column("Telling terms", words, searched=True),
        ]
        self.table.show_rows(columns, len(grouping), [6, 10, 14, 40], 3)
        self._show_ends(self.table.current_row())
