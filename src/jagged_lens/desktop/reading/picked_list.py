# SPDX-License-Identifier: GPL-3.0-or-later
"""The documents that are picked, as a list of cards."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen
from PyQt6.QtWidgets import (
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import paint_letter
from jagged_lens.desktop.look.words import WEAK
from jagged_lens.gather import Corpus
from jagged_lens.lens import CORPUS
from jagged_lens.project import Shown


class PickedList(QAbstractListModel):
    """The documents that are picked."""

    def __init__(self, bench: Shown) -> None:
        super().__init__()
        self._bench = bench
        self.rows: tuple[int, ...] = ()

    def show(self, rows: tuple[int, ...]) -> None:
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | QPersistentModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(self.rows)

    def data(self, index: QModelIndex | QPersistentModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        corpus: Corpus = self._bench.results[CORPUS]
        row = self.rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return corpus.titles[row]
        if role == Qt.ItemDataRole.UserRole:
            documents = self._bench.documents
            start = corpus.texts[row][:160].replace("\n", " ")
            return documents.group_of(row), corpus.titles[row], start, documents.is_weak(row)
        return None


class CardPainter(QStyledItemDelegate):
    """Draws a document as a card: the letter of its group, its title, how it begins; a mark where it is a weak member."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        return QSize(100, int(QFontMetricsF(theme.ui_font()).height() * 3.9))

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        group, title, start, weak = index.data(Qt.ItemDataRole.UserRole)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        card = QRectF(option.rect).adjusted(1, 2, -2, -3)
        painter.setPen(QPen(theme.colour("verdigris" if chosen else "hairline"), 1.6 if chosen else 1))
        painter.setBrush(theme.colour("tint" if chosen else "card"))
        painter.drawRoundedRect(card, 5, 5)
        line = QFontMetricsF(theme.ui_font()).height()
        left = card.left() + 9
        if group >= 0:
            chip = QRect(int(left), int(card.top() + line * 0.35), int(line * 1.25), int(line * 1.2))
            paint_letter(painter, chip, group)
            left += line * 1.25 + 7
        font = theme.ui_font(bold=True)
        painter.setFont(font)
        painter.setPen(theme.colour("ink"))
        width = card.right() - left - 6
        if weak:
            mark = QFontMetricsF(font).horizontalAdvance(WEAK) + 8
            painter.setPen(theme.colour("madder"))
            painter.drawText(
                QRectF(card.right() - mark, card.top() + line * 0.35, mark, line * 1.2),
                Qt.AlignmentFlag.AlignVCenter,
                WEAK,
            )
            painter.setPen(theme.colour("ink"))
            width -= mark
        words = QFontMetricsF(font).elidedText(title, Qt.TextElideMode.ElideRight, width)
        painter.drawText(
            QRectF(left, card.top() + line * 0.35, width, line * 1.2), Qt.AlignmentFlag.AlignVCenter, words
        )
        serif = theme.reading_font(0.95)
        painter.setFont(serif)
        painter.setPen(theme.colour("muted"))
        below = QRectF(card.left() + 9, card.top() + line * 1.75, card.width() - 16, line * 1.6)
        painter.drawText(
            below,
            Qt.AlignmentFlag.AlignVCenter,
            QFontMetricsF(serif).elidedText(start, Qt.TextElideMode.ElideRight, below.width()),
        )
        painter.restore()
