# SPDX-License-Identifier: GPL-3.0-or-later
"""The card that tells of the document under the mouse."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import QFrame, QVBoxLayout, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.reading.marked_text import MarkedText

_TOLD = 180


class HoverCard(QFrame):
    """Title, labels and the first words of a document, beside a place on its parent."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 8)
        column.setSpacing(2)
        self.title = PlainLabel()
        self.title.setFont(theme.ui_font(bold=True))
        self.title.setTextFormat(Qt.TextFormat.PlainText)
        self.about = muted("", 0.86)
        self.about.setTextFormat(Qt.TextFormat.PlainText)
        self.about.setWordWrap(True)
        self.words = MarkedText(fits=True)
        for widget in (self.title, self.about, self.words):
            column.addWidget(widget)
        self.setFixedWidth(int(QFontMetricsF(theme.ui_font()).averageCharWidth() * 50))
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hide()

    def tell(self, title: str, about: str, text: str, place: QPointF, room: QSize) -> None:
        """Show this of a document beside a place, without leaving the room."""
        text = " ".join(text[: _TOLD + 80].split())
        self.title.setText(title)
        self.about.setText(about)
        self.words.setFixedWidth(self.width() - 26)
        self.words.show_text(text[:_TOLD].rsplit(" ", 1)[0] + " …" if len(text) > _TOLD else text)
        self.words.setFixedHeight(self.words.sizeHint().height())
        self.adjustSize()
        self.move(_beside(place, self.size(), room))
        self.show()
        self.raise_()


def _beside(place: QPointF, size: QSize, room: QSize) -> QPoint:
    x = place.x() + 18 if place.x() + 18 + size.width() < room.width() else place.x() - 18 - size.width()
    y = min(max(place.y() - size.height() / 2, 4), room.height() - size.height() - 4)
    return QPoint(int(max(x, 4)), int(y))
