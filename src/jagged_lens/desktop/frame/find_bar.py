# SPDX-License-Identifier: GPL-3.0-or-later
"""Find in all texts: a field above the pick bar; what is found becomes the pick, with the hits marked in the reader."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.look.words import amount
from jagged_lens.gather import find
from jagged_lens.lens import CORPUS
from jagged_lens.project import Bench

_WAIT = 250


class FindBar(QFrame):
    """Words, word* and "phrases"; all of them must be in a text."""

    found = pyqtSignal(str)

    def __init__(self, bench: Bench, asker: Asker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("pickbar")
        self._bench = bench
        self._asker = asker
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 12, 4)
        label = PlainLabel("Find in all texts")
        row.addWidget(label)
        self.field = QLineEdit()
        self.field.setPlaceholderText('slugs   "first sowing"   seed*')
        self.field.setAccessibleName("Find in all texts")
        self.field.setClearButtonEnabled(True)
        self.field.setMaximumWidth(420)
        label.setBuddy(self.field)
        row.addWidget(self.field, 1)
        self.said = PlainLabel()
        theme.tone(self.said, "muted")
        row.addWidget(self.said, 1)
        close = Action("Close")
        close.clicked.connect(self.close_bar)
        row.addWidget(close)
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.setInterval(_WAIT)
        self._wait.timeout.connect(self._look)
        self.field.textChanged.connect(self._wait.start)
        self.field.returnPressed.connect(self._look)
        self.hide()

    def open_bar(self) -> None:
        self.show()
        self.field.setFocus()
        self.field.selectAll()

    def close_bar(self) -> None:
        """Close, and mark hits no more; the pick stays."""
        self.hide()
        self._asker.forget("find in texts")
        self.found.emit("")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.close_bar()
        else:
            super().keyPressEvent(event)

    def _look(self) -> None:
        self._wait.stop()
        corpus = self._bench.results.get(CORPUS)
        words = self.field.text()
        if corpus is None or not words.strip():
            self.said.setText("")
            return

        def show(rows: list[int]) -> None:
            self.said.setText(f"in {amount(len(rows), 'document')}, now picked" if rows else "in no document")
            if rows:
                self.found.emit(words)
                self._bench.pick.set(rows, rows[0])

        self.said.setText("looking …")
        self._asker.ask("find in texts", lambda: find(corpus, words), show)
