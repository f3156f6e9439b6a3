# SPDX-License-Identifier: GPL-3.0-or-later
"""Ctrl+K: any command, setting, document, term, kept pick or lens by name."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.worn import wear
from jagged_lens.lens import CORPUS, TERMS
from jagged_lens.project import Bench

_EACH = 8


@dataclass(frozen=True)
class Found:
    """One line of the list: what it is, its name, its key, what choosing it does, and that in a sentence."""

    kind: str
    name: str
    key: str
    does: Callable[[], object]
    help: str = ""


class Finder(QFrame):
    """A field and what fits it, over the window; Enter takes the first, arrows choose another, Esc leaves."""

    def __init__(
        self,
        bench: Bench,
        asker: Asker,
        commands: Callable[[], list[Found]],
        read: Callable[[int], None],
        read_term: Callable[[int], None],
        leave: Callable[[], None],
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        wear(self)
        self.setObjectName("card")
        self.setAccessibleName("Find a command, document or term")
        self._bench = bench
        self._asker = asker
        self._commands = commands
        self._read = read
        self._read_term = read_term
        self._leave = leave
        self._found: list[Found] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        self.field = QLineEdit()
        self.field.setPlaceholderText("A command, setting, document, term or word of the glossary …")
        self.field.setAccessibleName("What to find")
        self.field.setFont(theme.ui_font(1.15))
        self.field.textChanged.connect(self._look)
        self.field.installEventFilter(self)
        column.addWidget(self.field)
        self.list = QListWidget()
        self.list.setAccessibleName("Results")
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.itemClicked.connect(lambda _: self._take())
        column.addWidget(self.list)
        width = min(int(self.fontMetrics().averageCharWidth() * 78), parent.width() - 40)
        self.resize(width, min(int(self.fontMetrics().height() * 24), parent.height() - 80))
        self.move((parent.width() - width) // 2, 46)
        self._look("")

    def _look(self, words: str) -> None:
        wanted = words.casefold().split()
        names = self._names(wanted)
        self._show(names)
        if wanted:
            corpus, terms = self._bench.results.get(CORPUS), self._bench.results.get(TERMS)

            def more() -> tuple[list[int], list[int]]:
                titles = _first(wanted, corpus.titles) if corpus is not None else []
                return titles, _first(wanted, terms.shown) if terms is not None else []

            def show(found: tuple[list[int], list[int]]) -> None:
                assert corpus is not None
                documents = [
                    Found("document", corpus.titles[row], corpus.keys[row], _call(self._read, row)) for row in found[0]
                ]
                shown = (
                    [Found("term", terms.shown[at], "", _call(self._read_term, at)) for at in found[1]] if terms else []
                )
                self._show([*names, *shown, *documents])

            self._asker.ask("finder", more, show)

    def _names(self, wanted: list[str]) -> list[Found]:
        found = [command for command in self._commands() if _fits(wanted, f"{command.name} {command.help}".casefold())]
        # What has the words in its name comes before what has them in its help.
        found.sort(key=lambda one: not _fits(wanted, one.name.casefold()))
        state = self._bench.state
        lenses = [
            Found("lens", lens.name, "", _call(self._bench.choose_lens, at)) for at, lens in enumerate(state.lenses)
        ]
        kept = [Found("kept pick", one.name, "", _call(self._bench.pick_kept, one.name)) for one in state.kept]
        more = [one for one in [*lenses, *kept] if wanted and _fits(wanted, one.name.casefold())]
        return [*found[: _EACH if wanted else 60], *more[:_EACH]]

    def _show(self, found: list[Found]) -> None:
        self._found = found
        self.list.clear()
        for one in found:
            item = QListWidgetItem(f"{one.name}    {one.key}" if one.key else one.name)
            set_tip(item, one.kind)
            item.setText(f"{one.kind:<10}  {item.text()}")
            self.list.addItem(item)
        self.list.setCurrentRow(0)

    def close_finder(self) -> None:
        """Go away, and give the keyboard back."""
        if self.isHidden():
            return
        self._asker.forget("finder")
        self.field.removeEventFilter(self)
        self.hide()
        self.deleteLater()
        self._leave()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(min(max(self.list.currentRow() + step, 0), self.list.count() - 1))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._take()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.close_finder()
                return True
        if event is not None and event.type() == QEvent.Type.FocusOut:
            self.close_finder()  # a click beside it
        return False

    def _take(self) -> None:
        row = self.list.currentRow()
        self.close_finder()
        if 0 <= row < len(self._found):
            self._found[row].does()


def _fits(wanted: list[str], name: str) -> bool:
    return all(word in name for word in wanted)


def _first(wanted: list[str], names: Sequence[str]) -> list[int]:
    """The first few places whose name has all words."""
    found = []
    for at, name in enumerate(names):
        if _fits(wanted, name.casefold()):
            found.append(at)
            if len(found) == _EACH:
                break
    return found


def _call(does: Callable[..., object], *with_: object) -> Callable[[], object]:
    return lambda: does(*with_)
