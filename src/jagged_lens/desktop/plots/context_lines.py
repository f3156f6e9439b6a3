# SPDX-License-Identifier: GPL-3.0-or-later
"""Contexts lined up on their term, to be read and gone through; sorted by what stands left or right of it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import tip
from jagged_lens.terms import Context


class _Lines(QAbstractListModel):
    def __init__(self) -> None:
        super().__init__()
        self.contexts: list[Context] = []

    def show(self, contexts: Sequence[Context]) -> None:
        self.beginResetModel()
        self.contexts = list(contexts)
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | QPersistentModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.contexts)

    def data(self, index: QModelIndex | QPersistentModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        one = self.contexts[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole, Qt.ItemDataRole.ToolTipRole):
            line = f"{one.left}{one.term}{one.right}"
            return tip(line) if role == Qt.ItemDataRole.ToolTipRole else line
        return None


class _Painter(QStyledItemDelegate):
    """The term in the middle, what stands before it right-aligned, what follows left-aligned."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(200, int(QFontMetricsF(theme.reading_font(0.95)).height() * 1.25))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        model = index.model()
        assert painter is not None
        assert isinstance(model, _Lines)
        one = model.contexts[index.row()]
        painter.save()
        area = QRectF(option.rect)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(area, theme.colour("tint"))
        serif, bold = theme.reading_font(0.95), theme.reading_font(0.95)
        bold.setBold(True)
        width = QFontMetricsF(bold).horizontalAdvance(one.term)
        middle = area.left() + area.width() * 0.45
        term = QRectF(middle, area.top(), min(width + 2, area.width() * 0.5), area.height())
        painter.setFont(bold)
        painter.setPen(theme.colour("verdigris"))
        painter.drawText(term, Qt.AlignmentFlag.AlignVCenter, one.term)
        painter.setFont(serif)
        painter.setPen(theme.colour("muted"))
        painter.setClipRect(area)
        gap = QFontMetricsF(serif).horizontalAdvance(" ")
        before = QRectF(
            area.left() - 2000,
            area.top(),
            2000 + middle - area.left() - (gap if one.left.endswith(" ") else 0),
            area.height(),
        )
        painter.drawText(before, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, one.left.rstrip())
        after = QRectF(term.right() + (gap if one.right.startswith(" ") else 0), area.top(), 2000, area.height())
        painter.drawText(after, Qt.AlignmentFlag.AlignVCenter, one.right.lstrip())
        painter.restore()


class ContextLines(QListView):
    """A list of contexts."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.lines = _Lines()
        self.setModel(self.lines)
        self.setItemDelegate(_Painter(self))
        self.setUniformItemSizes(True)
        self.setAccessibleName("The term in its contexts")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._contexts: list[Context] = []
        self._by = "document"

    def show_contexts(self, contexts: Sequence[Context]) -> None:
        self._contexts = list(contexts)
        self.sort_by(self._by)

    def sort_by(self, by: str) -> None:
        """left: by the words before the term, the nearest first; right: by what follows; document: as they come."""
        self._by = by
        keys = {
            "left": lambda one: [word.casefold() for word in reversed(one.left.split())],
            "right": lambda one: one.right.casefold().split(),
        }
        self.lines.show(sorted(self._contexts, key=keys[by]) if by in keys else self._contexts)
