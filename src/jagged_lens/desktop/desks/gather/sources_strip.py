# SPDX-License-Identifier: GPL-3.0-or-later
"""The sources of the project, a line each: what they gave, what went wrong, and what can be done with them."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QMenu, QScrollArea, QVBoxLayout, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.words import amount, listed_roles
from jagged_lens.gather import Corpus, Source

_LINES = 4
_KINDS = {"file": "", "database": "database", "links": "web pages", "pasted": "pasted"}


class SourcesStrip(QFrame):
    """Emits what is wanted of a source, by its number."""

    change_wanted = pyqtSignal(int)
    refresh_wanted = pyqtSignal(int)
    retry_wanted = pyqtSignal(int)
    remove_wanted = pyqtSignal(int)
    unread_wanted = pyqtSignal(int)
    pick_wanted = pyqtSignal(int)
    add_wanted = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        whole = QVBoxLayout(self)
        whole.setContentsMargins(10, 4, 6, 4)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        whole.addWidget(self._area)
        self.lines: list[SourceLine] = []

    def show_sources(
        self, sources: tuple[Source, ...], corpus: Corpus | None, changed: set[int], wrong: str = ""
    ) -> None:
        """Show other sources. changed: those that differ from what was taken in of them. wrong: why none could be read."""
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.lines = []
        for number, source in enumerate(sources):
            line = SourceLine(number, source, corpus, number in changed, self, wrong)
            self.lines.append(line)
            column.addWidget(line)
        column.addStretch(1)
        self._area.setWidget(inner)
        tall = self.lines[0].sizeHint().height() + 2 if self.lines else 30
        self._area.setFixedHeight(tall * min(max(len(sources), 1), _LINES))


class SourceLine(QWidget):
    """One source."""

    def __init__(
        self, number: int, source: Source, corpus: Corpus | None, changed: bool, strip: SourcesStrip, wrong: str
    ) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        name = PlainLabel(" ".join(source.name.split()))
        name.setFont(theme.ui_font(bold=True))
        name.setTextFormat(Qt.TextFormat.PlainText)
        set_tip(name, source.file or source.links[:300] or source.database or source.pasted[:300])
        name.setMaximumWidth(name.fontMetrics().averageCharWidth() * 44)
        row.addWidget(name)
        words = []
        if kind := _KINDS[source.kind]:
            words.append(kind)
        pages = [page for page in corpus.pages if page.problem] if corpus is not None and source.links else []
        if corpus is not None and number < len(corpus.counts):
            words.append(amount(corpus.counts[number], "document"))
            if source.text:
                words.append(listed_roles(source))
            if number < len(corpus.stamps) and not corpus.stamps[number]:
                reason = next((one.reason for one in corpus.unread if one.name == source.name), "could not be read")
                self.state = ElidedLabel(f"not read: {reason}")
                theme.tone(self.state, "madder")
            else:
                self.state = ElidedLabel(" · ".join(words))
                theme.tone(self.state, "muted")
        else:
            self.state = ElidedLabel(f"not read: {wrong}" if wrong else " · ".join([*words, "being read"]))
            theme.tone(self.state, "madder" if wrong else "muted")
        self.state.setTextFormat(Qt.TextFormat.PlainText)
        set_tip(self.state, self.state.text())
        self.state.setMinimumWidth(20)
        row.addWidget(self.state, 1)
        if changed:
            self._button(
                row, "Changed on disk: refresh", "Read it again and list what is new", strip.refresh_wanted, number
            )
        if pages:
            self._button(
                row,
                f"Try {amount(len(pages), 'page')} again",
                "Fetch the failed pages again",
                strip.retry_wanted,
                number,
            )
        self._button(row, "Change…", "How it is read: columns, encoding and more", strip.change_wanted, number)
        failed = self.state.text().startswith("not read")
        if not changed:
            self._button(
                row,
                "Try again" if failed else "Refresh",
                "Read it again and list new, changed and missing documents",
                strip.refresh_wanted,
                number,
            )
        if failed:
            self._button(row, "Remove", "Remove it from the project; undo restores it", strip.remove_wanted, number)
        more = Action("More")
        more.setAccessibleName(f"More for {source.name}")
        menu = QMenu(more)
        menu.addAction("Pick its documents", lambda: strip.pick_wanted.emit(number))
        if source.links:
            menu.addAction("Results of the links…", lambda: strip.unread_wanted.emit(number))
        menu.addAction("Remove it from the project", lambda: strip.remove_wanted.emit(number))
        more.setMenu(menu)
        row.addWidget(more)

    def _button(self, row: QHBoxLayout, words: str, tip: str, signal: object, number: int) -> None:
        button = Action(words)
        set_tip(button, tip)
        button.clicked.connect(lambda: signal.emit(number))  # type: ignore[attr-defined]
        row.addWidget(button)
