# SPDX-License-Identifier: GPL-3.0-or-later
"""The first tour: five short cards that point at real things, and never come back uninvited."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPoint, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action, Way
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.look.worn import wear

_CARDS = (
    (
        "This is a lens",
        "Seven steps lead from documents to a map. Each shows its settings and its result; its tooth shows how much "
        "came through. Click a step to see its desk.",
    ),
    (
        "The map",
        "Each point is a document. Drag around some to pick them; hover over one to see its first lines. Rings are "
        "points whose position cannot be trusted.",
    ),
    (
        "Read, and change",
        "The reader shows the pick. Settings shows what this step does. Change a setting, and only what depends on it "
        "is computed again.",
    ),
    (
        "Copies and near-copies",
        "Compare lists the most similar pairs, shows them side by side, and takes every number apart term by term.",
    ),
    (
        "Try another lens",
        "Here are other ways to look at the same notes. Duplicate a lens with Ctrl+D and change the copy. Ctrl+K finds everything else.",
    ),
)
"""Heading and words of each card; what they point at comes from the window."""


class Tour(QWidget):
    """Lies over the window; Enter goes on, Esc ends."""

    ended = pyqtSignal()

    def __init__(self, window: QWidget, pointed: Sequence[QWidget]) -> None:
        super().__init__(window)
        wear(self)
        self._pointed = pointed
        self._at = 0
        self.setAccessibleName("Tour")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.card = QFrame(self)
        self.card.setObjectName("card")
        column = QVBoxLayout(self.card)
        column.setContentsMargins(16, 12, 16, 12)
        self._heading = PlainLabel()
        self._heading.setFont(theme.ui_font(1.12, bold=True))
        self._words = PlainLabel()
        self._words.setWordWrap(True)
        column.addWidget(self._heading)
        column.addWidget(self._words)
        row = QHBoxLayout()
        self._count = PlainLabel()
        theme.tone(self._count, "muted")
        row.addWidget(self._count)
        row.addStretch(1)
        skip = Way("Leave the tour")
        skip.clicked.connect(self.end)
        self.next = Action("Next")
        self.next.clicked.connect(self.go_on)
        row.addWidget(skip)
        row.addWidget(self.next)
        column.addLayout(row)
        self.card.setFixedWidth(int(self.fontMetrics().averageCharWidth() * 52))
        self.resize(window.size())
        self.show()
        self.raise_()
        self._show()

    def go_on(self) -> None:
        self._at += 1
        if self._at == len(_CARDS):
            self.end()
        else:
            self._show()

    def end(self) -> None:
        self.hide()
        self.ended.emit()
        self.deleteLater()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.end()
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.go_on()

    def _target(self) -> QRect:
        widget = self._pointed[self._at]
        place = widget.mapTo(self.parentWidget(), QPoint(0, 0))
        return QRect(place, widget.size()).adjusted(-2, -2, 2, 2).intersected(self.rect())

    def _show(self) -> None:
        heading, text = _CARDS[self._at]
        self._heading.setText(heading)
        self._words.setText(text)
        self._count.setText(f"{self._at + 1} of {len(_CARDS)}")
        self.next.setText("Done" if self._at + 1 == len(_CARDS) else "Next")
        self.card.adjustSize()
        target, size = self._target(), self.card.size()
        right = target.right() + 14 + size.width() < self.width()
        left = target.left() - 14 - size.width() > 0
        if right or left:
            x = target.right() + 14 if right else target.left() - 14 - size.width()
            y = target.center().y() - size.height() // 2
        else:
            x = target.center().x() - size.width() // 2
            y = (
                target.top() - 14 - size.height()
                if target.top() > size.height() + 20
                else target.bottom() - size.height() - 24
            )
        self.card.move(
            max(8, min(x, self.width() - size.width() - 8)), max(8, min(y, self.height() - size.height() - 8))
        )
        self.setFocus()
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        target = self._target()
        shade = theme.colour("spine", 120)
        for part in (
            QRect(0, 0, self.width(), target.top()),
            QRect(0, target.bottom() + 1, self.width(), self.height()),
            QRect(0, target.top(), target.left(), target.height()),
            QRect(target.right() + 1, target.top(), self.width(), target.height()),
        ):
            painter.fillRect(part, shade)
        painter.setPen(QPen(theme.colour("gold"), 2))
        painter.drawRoundedRect(QRectF(target).adjusted(1, 1, -1, -1), 4, 4)
