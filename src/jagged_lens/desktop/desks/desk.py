"""What all desks have in common: a head with figures, a body, and what is shown while there is nothing or a fault."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.look.words import TITLES
from jagged_lens.desktop.reading.reader import Reader
from jagged_lens.lens import Part
from jagged_lens.project import Bench


class Desk(QWidget):
    """The picture of one step. A subclass names the results it `needs` and draws them in `refresh`.

    It is refreshed only when all of them belong to each other; until then the old picture stays.
    """

    step = ""
    needs: tuple[Part[Any], ...] = ()
    empty_words = "There are no documents yet. What is computed from them will be here."

    def __init__(self, bench: Bench, asker: Asker, reader: Reader) -> None:
        super().__init__()
        self.bench = bench
        self.asker = asker
        self.reader = reader
        self._stale = True
        self._drawn: tuple[int, ...] = ()  # which results were drawn last
        self.keys: list[tuple[str, str]] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(22, 12, 14, 10)
        column.setSpacing(9)
        head = QHBoxLayout()
        head.setSpacing(10)
        title = PlainLabel(TITLES[self.step])
        title.setFont(theme.ui_font(1.5, bold=True))
        head.addWidget(title)
        self.figures = ElidedLabel()
        theme.tone(self.figures, "muted")
        head.addWidget(self.figures, 1, Qt.AlignmentFlag.AlignVCenter)
        self.tools = QHBoxLayout()
        self.tools.setSpacing(6)
        head.addLayout(self.tools)
        column.addLayout(head)
        self._notice = Notice()
        column.addWidget(self._notice)
        self._waiting = PlainLabel("This is being computed. What is here will be shown as soon as it is ready.")
        theme.tone(self._waiting, "muted")
        self._waiting.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self._waiting, 1)
        self.fill = QPushButton("Add documents…")
        self.fill.setProperty("main", "true")
        self.fill.setToolTip(
            "Files, folders, tables, a database, web pages, or what is on the clipboard (Ctrl+Shift+D)"
        )
        self.fill.hide()
        column.addWidget(self.fill, 0, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop)
        self._below = QWidget()
        self._below.hide()
        column.addWidget(self._below, 1)
        self.content = QWidget()
        self.body = QVBoxLayout(self.content)
        self.body.setContentsMargins(0, 0, 0, 0)
        self.body.setSpacing(9)
        self.content.hide()
        column.addWidget(self.content, 1)
        self._due = QTimer(self)
        self._due.setSingleShot(True)
        self._due.setInterval(0)
        self._due.timeout.connect(self._refresh_if_ready)
        self.build()
        bench.part_changed.subscribe(self._part_changed)
        bench.settled.subscribe(self._due.start)

    def build(self) -> None:
        """Make the widgets of the body, once."""

    def refresh(self) -> None:
        """Draw the results in `needs`, all of which are there and belong together."""

    def take_focus(self) -> None:
        """Give the keyboard to what this desk is mainly about."""
        main = getattr(self, "canvas", None) or getattr(self, "table", None)
        if isinstance(main, QWidget):
            main.setFocus(Qt.FocusReason.OtherFocusReason)

    def read(self) -> None:
        """Bring the reader up."""
        self.reader.wanted.emit(True)

    def read_document(self, row: int) -> None:
        """Pick one document (a corpus row) and bring the reader up."""
        self.bench.pick.set([row])
        self.read()

    def find_in_front(self) -> None:
        """What / does here: go to the field that filters what is in front."""
        field = self.findChild(QLineEdit, "filter")
        if field is not None:
            field.setFocus(Qt.FocusReason.ShortcutFocusReason)
            field.selectAll()

    def filter_field(self, words: str, changed: Callable[[str], None]) -> QLineEdit:
        """A field that filters what is in front; / goes to it."""
        field = QLineEdit()
        field.setObjectName("filter")
        field.setPlaceholderText(words)
        field.setAccessibleName(words)
        field.setClearButtonEnabled(True)
        field.setMaximumWidth(230)
        field.textChanged.connect(changed)
        return field

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._due.start()

    def catch_up(self) -> None:
        """Draw at once what is due to be drawn, where somebody wants to point at it."""
        self._due.stop()
        self._refresh_if_ready()

    def look_again(self) -> None:
        """Draw the same results again, when it is next seen: the look or what hangs on documents changed."""
        self._stale = True
        self._due.start()

    def _part_changed(self, part: Part[Any]) -> None:
        if part in self.needs:
            self._due.start()

    def _refresh_if_ready(self) -> None:
        error = next((self.bench.errors[part.name] for part in self.needs if part.name in self.bench.errors), None)
        error = error or (next(iter(self.bench.errors.values()), None) if not self.bench.ready(*self.needs) else None)
        self._notice.say(str(error) if error else "")
        ready = self.bench.ready(*self.needs)
        newest = tuple(id(self.bench.results.get(part)) for part in self.needs)
        if ready and (self._stale or newest != self._drawn) and self.isVisible():
            self._stale = False
            self._drawn = newest
            self.content.show()
            for widget in (self._waiting, self.fill, self._below):
                widget.hide()
            self.refresh()
        elif not self.bench.state.sources:
            self._show_empty()
        elif self.content.isHidden():
            self._waiting.setVisible(error is None)
            self._waiting.setText("This is being computed. What is here will be shown as soon as it is ready.")
            self._waiting.setAlignment(Qt.AlignmentFlag.AlignCenter)
            self.fill.hide()
            self._below.hide()

    def _show_empty(self) -> None:
        """There is no source yet: what will be here, and the one action that fills it."""
        self.content.hide()
        self.figures.setText("")
        self._stale = True
        self._waiting.setText(self.empty_words)
        self._waiting.setAlignment(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom)
        for widget in (self._waiting, self.fill, self._below):
            widget.show()


class Notice(QFrame):
    """A sentence that asks for attention, which can be copied."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 7, 8, 7)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        self.words.setAccessibleName("Notice")
        self.words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        row.addWidget(self.words, 1)
        copy = QPushButton("Copy")
        copy.setAccessibleName("Copy what this notice says")
        copy.clicked.connect(lambda: QApplication.clipboard().setText(self.words.text()))  # type: ignore[union-attr]
        row.addWidget(copy)
        self.hide()

    def say(self, words: str) -> None:
        self.words.setText(words)
        self.setVisible(bool(words))
