# SPDX-License-Identifier: GPL-3.0-or-later
"""All groups as cards in a list: each with its letter, name, figures and first telling terms."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent, QFontMetricsF, QPainter, QPen
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from jagged_lens.desktop.desks.group.members import MEMBERS
from jagged_lens.desktop.desks.group.words import held, number
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import paint_letter
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.array_model import ArrayModel
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.group import BREAKS, letter

_TERMS = 3
SORTS = ("size", "name", "cohesion", "silhouette", "stability", "weak members")
"""The orders of the cards. Each is a column of the list, behind that of the cards."""


@dataclass(frozen=True, eq=False)
class Shown:
    """The contents of the cards of g groups. titles, telling: for each group; a telling term has its share inside. The figures: g of
    each."""

    titles: list[str]
    telling: list[list[tuple[str, float]]]
    sizes: NDArray[np.int32]
    tightness: NDArray[np.float32]
    silhouette: NDArray[np.float32]
    holding: NDArray[np.float32]
    weak: NDArray[np.int64]
    noted: list[bool]


class GroupCards(TableView):
    """A card a group. dropped(group): documents that were dragged there are to go into it."""

    dropped = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("Groups", parent)
        self.shown: Shown | None = None
        self.takes_documents = False
        self.over = -1  # the group over which documents are dragged
        across, down = self.horizontalHeader(), self.verticalHeader()
        assert across is not None
        assert down is not None
        across.hide()
        down.setDefaultSectionSize(int(QFontMetricsF(theme.ui_font()).height() * (2.9 + 1.2 * _TERMS)))
        self.setItemDelegateForColumn(0, _CardPainter(self))
        self.setAlternatingRowColors(False)
        self.setAcceptDrops(True)
        self.setVerticalScrollMode(TableView.ScrollMode.ScrollPerPixel)

    def show_groups(self, shown: Shown) -> None:
        """Show other groups; order, filter and the group under the cursor are kept."""
        self.shown = shown
        g = len(shown.titles)

        def said(row: int) -> str:
            words = ", ".join(f"{name} {share:.0%}" for name, share in shown.telling[row])
            return f"{letter(row)} {shown.titles[row]}: {words}"

        columns = [
            Column("Group", said, np.arange(g), searched=True, mark=lambda row: row),
            Column("Documents", lambda row: f"{shown.sizes[row]:,}", -shown.sizes, used=False),
            Column("Name", lambda row: shown.titles[row], used=False),
            Column("Cohesion", lambda row: number(shown.tightness[row], 3), -shown.tightness, used=False),
            Column("Silhouette", lambda row: number(shown.silhouette[row], 3), -shown.silhouette, used=False),
            Column(
                "Stability", lambda row: number(shown.holding[row]), np.nan_to_num(shown.holding, nan=2.0), used=False
            ),
            Column("Weak members", lambda row: f"{shown.weak[row]:,}", -shown.weak, used=False),
        ]
        self.show_rows(columns, g, 0)  # all but the first are only there to sort by

    def sort_by(self, name: str) -> None:
        """Sort by one of SORTS: falling for sizes and cohesion, rising for names and stability."""
        self.sortByColumn(SORTS.index(name) + 1, Qt.SortOrder.AscendingOrder)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        mime = event.mimeData() if event is not None else None
        if event is not None and mime is not None and mime.hasFormat(MEMBERS) and self.takes_documents:
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        if event is None:
            return
        self.over = self._group_at(event.position().toPoint())
        event.setAccepted(self.over >= 0)
        self._redraw()

    def dragLeaveEvent(self, event: object) -> None:
        self.over = -1
        self._redraw()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is not None and (group := self._group_at(event.position().toPoint())) >= 0:
            event.acceptProposedAction()
            self.over = -1
            self.dropped.emit(group)

    def _group_at(self, place: object) -> int:
        index = self.indexAt(place)  # type: ignore[arg-type]
        return int(self.listed.order[index.row()]) if index.isValid() else -1

    def _redraw(self) -> None:
        viewport = self.viewport()
        if viewport is not None:
            viewport.update()


class _CardPainter(QStyledItemDelegate):
    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        cards = self.parent()
        assert painter is not None
        assert isinstance(cards, GroupCards)
        group, shown = index.data(ArrayModel.MARK), cards.shown
        if shown is None or group is None or group >= len(shown.titles):
            return
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        breaks = shown.holding[group] < BREAKS
        card = QRectF(option.rect).adjusted(2, 2, -4, -4)
        edge = "verdigris" if chosen or group == cards.over else "madder" if breaks else "hairline"
        painter.setPen(
            QPen(theme.colour(edge), 1.8 if chosen else 1.2, Qt.PenStyle.DashLine if breaks else Qt.PenStyle.SolidLine)
        )
        painter.setBrush(theme.colour("tint" if chosen or group == cards.over else "card"))
        painter.drawRoundedRect(card, 5, 5)
        self._head(painter, card, shown, group)
        self._terms(painter, card, shown.telling[group])
        painter.restore()

    @staticmethod
    def _head(painter: QPainter, card: QRectF, shown: Shown, group: int) -> None:
        line = QFontMetricsF(theme.ui_font()).height()
        chip = QRect(int(card.left() + 9), int(card.top() + line * 0.4), int(line * 1.35), int(line * 1.3))
        paint_letter(painter, chip, group)
        left = chip.right() + 8
        bold, small = theme.ui_font(bold=True), theme.ui_font(0.9)
        size = f"{shown.sizes[group]:,}"
        wide = QFontMetricsF(small).horizontalAdvance(size) + 8
        painter.setFont(bold)
        painter.setPen(theme.colour("ink"))
        room = QRectF(left, card.top() + line * 0.2, card.right() - left - wide - 8, line * 1.2)
        name = shown.titles[group] + (" ✎" if shown.noted[group] else "")
        painter.drawText(
            room,
            Qt.AlignmentFlag.AlignVCenter,
            QFontMetricsF(bold).elidedText(name, Qt.TextElideMode.ElideRight, room.width()),
        )
        painter.setFont(small)
        painter.drawText(
            QRectF(card.right() - wide - 6, room.top(), wide, room.height()),
            Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
            size,
        )
        words = [f"silhouette {number(shown.silhouette[group])}"]
        if shown.weak[group]:
            words.append(f"{shown.weak[group]:,} weak")
        below = QRectF(left, card.top() + line * 1.3, card.right() - left - 6, line * 1.1)
        value = float(shown.holding[group])
        metrics = QFontMetricsF(small)
        if held(value):
            told = f"{held(value)} {value:.2f}"
            painter.setPen(theme.colour("madder" if value < BREAKS else "muted"))
            painter.drawText(below, Qt.AlignmentFlag.AlignVCenter, told)
            below.setLeft(below.left() + metrics.horizontalAdvance(f"{told} · "))
        painter.setPen(theme.colour("muted"))
        said = metrics.elidedText(" · ".join(words), Qt.TextElideMode.ElideRight, below.width())
        painter.drawText(below, Qt.AlignmentFlag.AlignVCenter, said)

    @staticmethod
    def _terms(painter: QPainter, card: QRectF, telling: list[tuple[str, float]]) -> None:
        small = theme.ui_font(0.9)
        metrics, line = QFontMetricsF(small), QFontMetricsF(theme.ui_font()).height()
        painter.setFont(small)
        number_wide = metrics.horizontalAdvance("100 %") + 4
        names = (card.width() - 20) * 0.42
        for place, (name, share) in enumerate(telling[:_TERMS]):
            top = card.top() + line * (2.45 + 1.15 * place)
            painter.setPen(theme.colour("ink"))
            shown = metrics.elidedText(name, Qt.TextElideMode.ElideRight, names - 6)
            painter.drawText(QRectF(card.left() + 10, top, names, line), Qt.AlignmentFlag.AlignVCenter, shown)
            room = card.width() - 20 - names - number_wide
            painter.fillRect(
                QRectF(card.left() + 10 + names, top + 4, room * share, line - 8), theme.colour("verdigris")
            )
            painter.setPen(theme.colour("muted"))
            end = QRectF(card.right() - 8 - number_wide, top, number_wide, line)
            painter.drawText(end, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, f"{share:.0%}")
