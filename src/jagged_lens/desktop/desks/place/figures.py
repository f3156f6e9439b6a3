# SPDX-License-Identifier: GPL-3.0-or-later
"""The quality of suggestions: the confusion tables of both parts side by side, figures for each value, and calibration."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QSplitter, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QVBoxLayout, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import heading
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.held_bars import HeldBars
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.array_model import ArrayModel
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.place import BANDS, Part, Suggestions

_MOST_VALUES = 40  # that have a column
_NAMES = {Part.HELD_OUT: "Held out", Part.TRAINING: "Learned from"}


class Figures(QWidget):
    """cell_chosen(part, given, suggested): a cell was clicked."""

    cell_chosen = pyqtSignal(int, int, int)

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        down = QSplitter(Qt.Orientation.Vertical)
        down.setChildrenCollapsible(False)
        across = QSplitter(Qt.Orientation.Horizontal)
        across.setChildrenCollapsible(False)
        self.tables: dict[Part, TableView] = {}
        self.heads = {}
        for part in (Part.HELD_OUT, Part.TRAINING):
            page = QWidget()
            inner = QVBoxLayout(page)
            inner.setContentsMargins(0, 0, 0, 0)
            inner.setSpacing(3)
            head = heading("", 0.95)
            set_tip(
                head,
                "Rows: true values. Columns: suggested values. Click a cell to pick its documents.",
            )
            inner.addWidget(head)
            table = TableView(f"Confusion table, {_NAMES[part].lower()}")
            table.setSelectionBehavior(TableView.SelectionBehavior.SelectItems)
            table.setItemDelegate(_Cell(table))
            table.clicked.connect(lambda index, part=part: self._choose(part, index))
            inner.addWidget(table, 1)
            across.addWidget(page)
            self.tables[part], self.heads[part] = table, head
        down.addWidget(across)
        lower = QWidget()
        below = QVBoxLayout(lower)
        below.setContentsMargins(0, 0, 0, 0)
        below.setSpacing(3)
        below.addWidget(heading("Calibration", 0.95))
        self.held = HeldBars()
        set_tip(
            self.held,
            "Suggestions for held-out documents by probability. Bar: the share that is right. Red line: the stated "
            "probability. Below: the number of suggestions.",
        )
        below.addWidget(self.held)
        self.scores = TableView("Figures of each value")
        below.addWidget(self.scores, 1)
        down.addWidget(lower)
        down.setSizes([330, 230])
        column.addWidget(down, 1)

    def show_figures(self, found: Suggestions) -> None:
        """Show the figures of both parts."""
        parts = {part: found.figures(part) for part in (Part.HELD_OUT, Part.TRAINING)}
        names = found.values
        for part, own in parts.items():
            self.heads[part].setText(
                f"{_NAMES[part]}: {_share(own.accuracy)} of {int(own.counts.sum()):,} right · macro-F1 {_figure(own.macro_f1)} "
                f"· always the most common: {_share(own.trivial)}"
            )
            self.heads[part].setWordWrap(True)
            counts, whole = own.counts, np.maximum(own.documents, 1)
            columns = [Column("True value", lambda at: f"{at + 1}  {names[at]}", np.arange(len(names)), searched=True)]
            columns += [
                Column(
                    str(value + 1),
                    lambda at, value=value, counts=counts: f"{counts[at, value]:,}" if counts[at, value] else "",  # type: ignore[misc]
                    counts[:, value],
                    right=True,
                    tip=f"Suggested: {names[value]}",
                    mark=lambda at, value=value: at if at == value else -1,  # type: ignore[misc]
                    share=lambda at, value=value, counts=counts, whole=whole: float(counts[at, value] / whole[at]),  # type: ignore[misc]
                )
                for value in range(min(len(names), _MOST_VALUES))
            ]
            self.tables[part].show_rows(columns, len(names), 0)
        self._show_held(found)
        held, training = parts[Part.HELD_OUT], parts[Part.TRAINING]
        self.scores.show_rows(
            [
                Column("Value", lambda at: f"{at + 1}  {names[at]}", np.arange(len(names)), searched=True),
                Column("Held out", lambda at: f"{held.documents[at]:,}", held.documents, right=True),
                *(
                    _scored(title, values, tip)
                    for title, values, tip in (
                        ("Precision", held.precision, "Share of its suggestions that are right (precision)"),
                        ("Recall", held.recall, "Share of its documents that get it as a suggestion (recall)"),
                        ("F1", held.f1, "Harmonic mean of precision and recall"),
                        (
                            "F1 learned from",
                            training.f1,
                            "On the documents learned from; this is optimistic",
                        ),
                    )
                ),
            ],
            len(names),
            0,
        )

    def _show_held(self, found: Suggestions) -> None:
        bands = found.held
        self.held.show_bands(BANDS, bands.documents.tolist(), bands.right.tolist())

    def filter(self, words: str) -> None:
        """Show only values that have these words."""
        for table in (*self.tables.values(), self.scores):
            table.listed.filter(words)

    def _choose(self, part: Part, index: QModelIndex) -> None:
        if index.isValid():
            given = int(self.tables[part].listed.order[index.row()])
            self.cell_chosen.emit(int(part), given, index.column() - 1)


def _scored(title: str, values: NDArray[np.float64], tip: str) -> Column:
    return Column(title, lambda at: _figure(float(values[at])), np.nan_to_num(values, nan=-1.0), right=True, tip=tip)


def _figure(value: float) -> str:
    return f"{value:.3f}" if value == value else "—"


def _share(value: float) -> str:
    return f"{value:.1%}" if value == value else "—"


class _Cell(QStyledItemDelegate):
    """A cell of a confusion table: right in verdigris, wrong in madder, the deeper the larger a share of the row it is."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        words = index.data() or ""
        share = index.data(ArrayModel.SHARE)
        painter.save()
        ink = theme.colour("ink")
        if share is not None and words:
            right = (index.data(ArrayModel.MARK) or 0) >= 0 and index.data(ArrayModel.MARK) is not None
            depth = 0.12 + 0.5 * min(float(share), 1.0)
            name = "verdigris" if right else "madder"
            painter.fillRect(option.rect, theme.mixed(theme.colour("card"), theme.colour(name), depth))
            if not right:
                ink = theme.colour("ink")
        elif option.features & QStyleOptionViewItem.ViewItemFeature.Alternate:
            painter.fillRect(option.rect, theme.colour("paper"))
        painter.setPen(ink)
        area = QRectF(option.rect).adjusted(*((6, 0, -2, 0) if index.column() == 0 else (1, 0, -4, 0)))
        side = Qt.AlignmentFlag.AlignLeft if index.column() == 0 else Qt.AlignmentFlag.AlignRight
        shown = option.fontMetrics.elidedText(words, Qt.TextElideMode.ElideRight, int(area.width()))
        painter.drawText(area, int(side | Qt.AlignmentFlag.AlignVCenter), shown)
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("ink"), 1.6))
            painter.drawRect(QRectF(option.rect).adjusted(1, 1, -2, -2))
        painter.restore()
