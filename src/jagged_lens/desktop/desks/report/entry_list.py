# SPDX-License-Identifier: GPL-3.0-or-later
"""The findings as cards, with the headings and paragraphs between them; they are put in order by dragging and by keys."""

from __future__ import annotations

import datetime
from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QModelIndex, QPersistentModelIndex, QRect, QRectF, QSize, QSizeF, Qt, pyqtSignal
from PyQt6.QtGui import QDropEvent, QFont, QFontMetricsF, QImage, QKeyEvent, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.words import TITLES
from jagged_lens.desktop.plots.drawing_file import image_of_svg
from jagged_lens.project import Drawing, Entry, Finding, Heading

_THUMB = QSize(116, 80)
_THUMB_LINES = 2.8  # lines of text that it is high
Changes = Sequence[tuple[str, str, str]]


class EntryList(QListWidget):
    """One row an entry. moved(number, to), removed(number), edited(number), opened(number): what is wanted of an entry, by its number."""

    moved = pyqtSignal(int, int)
    removed = pyqtSignal(int)
    edited = pyqtSignal(int)
    opened = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("What goes in")
        self.setItemDelegate(_Cards(self))
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setDefaultDropAction(Qt.DropAction.MoveAction)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.itemActivated.connect(lambda item: self.opened.emit(item.data(Qt.ItemDataRole.UserRole).number))
        self._pictures: dict[int, tuple[Drawing, QPixmap]] = {}
        self._changes: dict[int, Changes] = {}
        theme.changed.connect(self._measure)

    def _measure(self) -> None:
        self.scheduleDelayedItemsLayout()

    def show_entries(self, entries: Sequence[Entry]) -> None:
        """Show other entries; the current one stays the current one."""
        current = self.current_number()
        self.blockSignals(True)
        self.clear()
        for entry in entries:
            text = entry.title if isinstance(entry, Finding) else entry.text
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, entry)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{_kind(entry)}: {text}")
            self.addItem(item)
            if entry.number == current:
                self.setCurrentItem(item)
        self.blockSignals(False)
        if self.currentRow() < 0 and entries:
            self.setCurrentRow(0)

    def show_changes(self, changes: Mapping[int, Changes]) -> None:
        """Say which figures of findings are others now: name, then and now, by the number of the finding."""
        self._changes = dict(changes)
        self._measure()
        port = self.viewport()
        if port is not None:
            port.update()

    def changes_of(self, number: int) -> Changes:
        """The figures of a finding that are others now."""
        return self._changes.get(number, ())

    def current_number(self) -> int:
        """The number of the current entry, -1 where there is none."""
        entry = self.current_entry()
        return entry.number if entry is not None else -1

    def current_entry(self) -> Entry | None:
        """The current entry."""
        item = self.currentItem()
        entry: Entry | None = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        return entry

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        number = self.current_number()
        if event is None or number < 0:
            super().keyPressEvent(event)
            return
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        by = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0) if alt else 0
        if by:
            self.moved.emit(number, min(max(self.currentRow() + by, 0), self.count() - 1))
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit(number)
        elif event.key() == Qt.Key.Key_F2:
            self.edited.emit(number)
        else:
            super().keyPressEvent(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Move the dragged entry: the state says where it is then, and the list follows it."""
        if event is None or event.source() is not self:
            return
        number, came_from = self.current_number(), self.currentRow()
        at = self.indexAt(event.position().toPoint())
        to = at.row() if at.isValid() else self.count()
        if at.isValid() and event.position().y() > self.visualRect(at).center().y():
            to += 1
        event.setDropAction(Qt.DropAction.IgnoreAction)
        event.accept()
        if number >= 0:
            self.moved.emit(number, to - (to > came_from))

    def lacking(self, findings: Sequence[Finding]) -> list[tuple[int, Drawing]]:
        """The numbers and drawings of those findings whose small pictures are not there yet, or are of other drawings."""
        known = {number: drawing for number, (drawing, _) in self._pictures.items()}
        return [
            (one.number, one.drawing)
            for one in findings
            if one.drawing is not None and known.get(one.number) is not one.drawing
        ]

    def take_pictures(self, pictures: Sequence[tuple[int, Drawing, QImage]]) -> None:
        """Show these small pictures of findings from now on."""
        for number, drawing, image in pictures:
            self._pictures[number] = (drawing, QPixmap.fromImage(image))
        port = self.viewport()
        if port is not None and pictures:
            port.update()

    def thumb(self, finding: Finding) -> QPixmap | None:
        """The small picture of a finding, where it is there."""
        known = self._pictures.get(finding.number)
        return known[1] if known is not None and finding.drawing is not None else None


def small_picture(drawing: Drawing) -> QImage:
    """A drawing as a small image. It takes no widget, so it can be called in any thread."""
    if not drawing.png:
        return image_of_svg(drawing.svg, QSizeF(_THUMB), Qt.GlobalColor.transparent)
    image = QImage.fromData(drawing.png)
    smooth = Qt.TransformationMode.SmoothTransformation
    return image if image.isNull() else image.scaled(_THUMB, Qt.AspectRatioMode.KeepAspectRatio, smooth)


def _kind(entry: Entry) -> str:
    return "Finding" if isinstance(entry, Finding) else "Heading" if isinstance(entry, Heading) else "Paragraph"


def changed_words(changes: Changes) -> str:
    """The figures that are others now, in words.

    >>> changed_words([("documents", "69", "71")])
    'documents: then 69, now 71'
    """
    return "; ".join(f"{name}: then {then}, now {now}" for name, then, now in changes)


class _Cards(QStyledItemDelegate):
    """Draws an entry: a finding as a card, a heading in bold, a paragraph in italics."""

    def __init__(self, shown: EntryList) -> None:
        super().__init__(shown)
        self._list = shown

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        entry: Entry = index.data(Qt.ItemDataRole.UserRole)
        line = QFontMetricsF(theme.ui_font()).height()
        if isinstance(entry, Finding):
            lines = 2 + (not self._on_one_line(entry)) + bool(self._list.changes_of(entry.number))
            return QSize(100, int(line * (0.75 + 1.1 * lines)) + 6)
        return QSize(100, int(line * 1.9))

    def _on_one_line(self, finding: Finding) -> bool:
        port = self._list.viewport()
        line = QFontMetricsF(theme.ui_font()).height()
        room = (
            (port.width() if port is not None else 300) - 22 - (line * _THUMB_LINES * 1.45 + 8) * bool(finding.drawing)
        )
        return QFontMetricsF(theme.ui_font(bold=True)).horizontalAdvance(finding.title) <= room

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        assert painter is not None
        entry: Entry = index.data(Qt.ItemDataRole.UserRole)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        card = QRectF(option.rect).adjusted(1, 2, -2, -3)
        if isinstance(entry, Finding):
            self._paint_finding(painter, card, entry, chosen)
        else:
            self._paint_words(painter, card, entry, chosen)
        painter.restore()

    def _paint_words(self, painter: QPainter, card: QRectF, entry: Entry, chosen: bool) -> None:
        assert not isinstance(entry, Finding)
        if chosen:
            painter.setPen(QPen(theme.colour("verdigris"), 1.6))
            painter.setBrush(theme.colour("tint"))
            painter.drawRoundedRect(card, 5, 5)
        font = theme.ui_font(1.08 if isinstance(entry, Heading) else 1.0, bold=isinstance(entry, Heading))
        font.setItalic(not isinstance(entry, Heading))
        _write(painter, card.adjusted(8, 0, -8, 0), entry.text, font, "ink")

    def _paint_finding(self, painter: QPainter, card: QRectF, finding: Finding, chosen: bool) -> None:
        changes = self._list.changes_of(finding.number)
        edge = "verdigris" if chosen else "ochre" if changes else "hairline"
        painter.setPen(QPen(theme.colour(edge), 1.6 if chosen or changes else 1))
        painter.setBrush(theme.colour("tint" if chosen else "card"))
        painter.drawRoundedRect(card, 5, 5)
        line = QFontMetricsF(theme.ui_font()).height()
        left = card.left() + 9
        thumb = self._list.thumb(finding)
        if thumb is not None and not thumb.isNull():
            high = min(line * _THUMB_LINES, card.height() - line * 0.7)
            box = QRectF(left, card.top() + line * 0.35, high * 1.45, high)
            size = thumb.size().scaled(box.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
            place = QRect(int(box.left()), int(box.top()), size.width(), size.height())
            painter.drawPixmap(place, thumb)
            left += line * _THUMB_LINES * 1.45 + 8
        text = QRectF(left, card.top() + line * 0.3, card.right() - left - 8, line * 1.2)
        bold = theme.ui_font(bold=True)
        words = finding.title
        first = _fitting(words, bold, text.width())
        _write(painter, text, first, bold, "ink")
        text.translate(0, line * 1.1)
        if rest := words[len(first) :].strip():
            _write(painter, text, rest, bold, "ink")
            text.translate(0, line * 1.1)
        day = datetime.date.fromisoformat(finding.day)
        place_words = " · ".join(
            filter(None, (TITLES.get(finding.way.desk, ""), finding.way.face, finding.lens, f"{day.day} {day:%b}"))
        )
        _write(painter, text, place_words, theme.ui_font(0.9), "muted")
        if changes:
            text.translate(0, line * 1.0)
            _write(painter, text, changed_words(changes), theme.ui_font(0.9, bold=True), "ochre")


def _fitting(words: str, font: QFont, width: float) -> str:
    """As many of the first words as there is room for."""
    metrics, found = QFontMetricsF(font), ""
    for word in words.split(" "):
        longer = f"{found} {word}".strip()
        if found and metrics.horizontalAdvance(longer) > width:
            break
        found = longer
    return found


def _write(painter: QPainter, box: QRectF, words: str, font: QFont, ink: str) -> None:
    painter.setFont(font)
    painter.setPen(theme.colour(ink))
    shown = QFontMetricsF(font).elidedText(words, Qt.TextElideMode.ElideRight, box.width())
    painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, shown)
