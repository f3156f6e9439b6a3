# SPDX-License-Identifier: GPL-3.0-or-later
"""Families: near-duplicates that belong together, each with its standard and how different its members are."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QStyledItemDelegate, QStyleOptionViewItem

from jagged_lens.compare import Families
from jagged_lens.desktop.desks.compare.decided import Decided
from jagged_lens.desktop.desks.compare.family_rules import FamilyRules
from jagged_lens.desktop.desks.compare.kinds import paint_kind
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted, muted_line
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import KINDS, amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.plots.label_choice import LabelChoice
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.array_model import ArrayModel
from jagged_lens.desktop.tables.cells import fill_ground
from jagged_lens.desktop.tables.row_names import by_key
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import CORPUS, FAMILIES, SPACE, Part

_TICKS = 400


class FamiliesFace(Face):
    """opened(family): a family is to be read."""

    name = "Families"
    reads_itself = True
    needs = (CORPUS, SPACE)
    also = (FAMILIES,)
    opened = pyqtSignal(int)

    def build(self) -> None:
        self._shown: object = None
        self.decided = Decided(self.bench)
        row = QHBoxLayout()
        self.about = muted_line("Return opens a family: its standard on the left, any member on the right.")
        row.addWidget(self.about, 1)
        self.label_word = muted("Label")
        row.addWidget(self.label_word)
        self.label = LabelChoice("Label shown for the families")
        self.label.activated.connect(lambda: self._draw(anew=True))
        row.addWidget(self.label)
        self.rules = FamilyRules(self.bench, self.decided)
        row.addWidget(self.rules)
        self.open_button = Action("Read")
        set_tip(self.open_button, "Read the family side by side (Return)")
        self.open_button.clicked.connect(self._open)
        row.addWidget(self.open_button)
        self.state = PartState(self.bench, FAMILIES, "the families")
        row.addWidget(self.state)
        self.body.addLayout(row)
        self.table = TableView("Families of near-duplicates")
        self.table.setProperty(PICKS, True)
        self.table.setItemDelegateForColumn(2, _KindsCell(self.table))
        self.table.setItemDelegateForColumn(3, _StripCell(self.table))
        self.table.opens = True
        self.table.row_changed.connect(self._pick)
        self.table.read_wanted.connect(lambda _: self.read())
        self.table.open_wanted.connect(self.opened)
        self.body.addWidget(self.table, 1)
        self.none = muted("No two documents are copies of each other.", 1.0)
        self.none.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.none.hide()
        self.body.addWidget(self.none, 1)
        self.bench.state_changed.subscribe(self._decisions_changed)

    def summary(self) -> str:
        families = self.bench.results.get(FAMILIES)
        if families is None:
            return ""
        return f"{amount(len(families), 'family', 'families')} of {amount(len(families.members), 'document')}"

    def refresh(self) -> None:
        self.label.offer(self.bench.documents.labels())
        for widget in (self.label_word, self.label):
            widget.setVisible(self.label.count() > 0)
        self._draw()

    def draw_part(self, part: Part[Any]) -> None:
        self.state.show_state()
        if self.bench.results.has(FAMILIES):
            self._draw()

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    def take_focus(self) -> None:
        """Give the keyboard to the table."""
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def _draw(self, anew: bool = False) -> None:
        families = self.bench.results.get(FAMILIES)
        if families is None or not self.bench.results.has(*self.needs, FAMILIES):
            return
        if families is self._shown and not anew:
            return
        first = self._shown is None
        self._shown = families
        keys, rows = self.bench.results[CORPUS].keys, self.bench.results[SPACE].terms.rows
        names = by_key(keys, rows[families.standard])
        self.table.show_rows(self._columns(families), len(families), 4, names)
        self.table.setVisible(len(families) > 0)
        self.none.setVisible(not len(families))
        if first and len(families):
            self.table.step(0)
        self.say()

    def _columns(self, families: Families) -> list[Column]:
        corpus, rows = self.bench.results[CORPUS], self.bench.results[SPACE].terms.rows
        label = self.label.label
        starts, sizes = families.starts, families.sizes
        least = np.minimum.reduceat(families.resemblance, starts[:-1]) if len(families) else np.zeros(0, np.float32)

        def across(row: int) -> str:
            if label is None:
                return ""
            values, times = np.unique(label.codes[rows[families.of(row)]], return_counts=True)
            order = np.argsort(-times, kind="stable")
            return ", ".join(f"{label.values[int(values[at])] or 'none'} {times[at]}" for at in order[:4])

        def kinds(row: int) -> str:
            return ", ".join(
                f"{count} {KINDS[kind]}" for kind, count in enumerate(families.kinds[row].tolist()) if count
            )

        def another(row: int) -> str:
            others = [int(member) for member in families.of(row).tolist() if member != families.standard[row]]
            more = f" and {len(others) - 1:,} more" if len(others) > 1 else ""
            return f"{corpus.titles[int(rows[others[0]])]}{more}" if others else ""

        goes = self.decided.goes()

        def settled(row: int) -> str:
            keys = [corpus.keys[int(rows[member])] for member in families.of(row).tolist()]
            gone = sum(key in goes for key in keys)
            return f"{gone} of {len(keys)} set aside" if gone else ""

        return [
            Column("Family", lambda row: str(row + 1), np.arange(len(families)), right=True),
            Column("Documents", lambda row: f"{sizes[row]:,}", sizes, right=True),
            Column(
                "Pairs by kind",
                kinds,
                families.kinds.sum(axis=1),
                mark=lambda row: row,
                wide=14,
                tip="Same, edited, contains",
            ),
            Column(
                "Resemblance",
                lambda row: " ".join(f"{value:.2f}" for value in families.resemblances(row)[1:9]),
                least,
                mark=lambda row: row,
                wide=14,
                tip="One tick per member: its resemblance to the standard, from 0 on the left to 1 on the right",
            ),
            Column(
                "Standard",
                lambda row: corpus.titles[int(rows[families.standard[row]])],
                searched=True,
                below=another,
                names=("Standard", "Another member"),
            ),
            Column(label.name if label is not None else "Label", across, searched=True, tip="Values in the family"),
            Column("Decided", settled, used=bool(goes)),
        ]

    def _decisions_changed(self) -> None:
        families = self.bench.results.get(FAMILIES)
        if families is not None and families is self._shown and self.bench.results.has(*self.needs, FAMILIES):
            self.table.renew(self._columns(families))

    def _pick(self, row: int) -> None:
        families = self.bench.results.get(FAMILIES)
        if families is not None and row < len(families):
            rows = self.bench.results[SPACE].terms.rows
            members = rows[families.of(row)]
            self.bench.pick.set(members.tolist(), int(members[0]))
            self.reader.wanted.emit(False)

    def _open(self) -> None:
        if self.table.current_row() >= 0:
            self.opened.emit(self.table.current_row())


class _FamilyCell(QStyledItemDelegate):
    """A cell that is drawn from its family."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        fill_ground(painter, option)
        face = self.parent()
        while face is not None and not isinstance(face, FamiliesFace):
            face = face.parent()
        row = index.data(ArrayModel.MARK)
        families = face.bench.results.get(FAMILIES) if face is not None else None
        if families is not None and row is not None and row < len(families):
            self.draw(painter, option, families, int(row))

    def draw(self, painter: QPainter, option: QStyleOptionViewItem, families: Families, row: int) -> None:
        """Draw one family."""
        raise NotImplementedError


class _KindsCell(_FamilyCell):
    """The number of pairs of each kind: its shape and the number."""

    def draw(self, painter: QPainter, option: QStyleOptionViewItem, families: Families, row: int) -> None:
        area = QRectF(option.rect)
        left = area.left() + 14
        painter.setPen(theme.colour("ink"))
        for kind, count in enumerate(families.kinds[row].tolist()):
            if count:
                paint_kind(painter, QPointF(left, area.center().y()), kind, 10)
                text = f"{count:,}"
                wide = option.fontMetrics.horizontalAdvance(text)
                room = QRectF(left + 10, area.top(), wide + 4, area.height())
                painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, text)
                left += 28 + wide


class _StripCell(_FamilyCell):
    """A tick a member on a line from 0 to 1: how much it resembles the standard."""

    def draw(self, painter: QPainter, option: QStyleOptionViewItem, families: Families, row: int) -> None:
        area = QRectF(option.rect).adjusted(8, 4, -8, -4)
        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.setPen(QPen(theme.colour("verdigris"), 1.6))
        for value in np.unique(families.resemblances(row)[1:])[:_TICKS].tolist():
            x = area.left() + value * area.width()
            painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
