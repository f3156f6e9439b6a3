# SPDX-License-Identifier: GPL-3.0-or-later
"""A list, one entry a line: searched, added to, taken from, read from a text file and written to one."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path

from PyQt6.QtCore import QModelIndex, Qt
from PyQt6.QtWidgets import (
    QCompleter,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QListView,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action, Choice
from jagged_lens.desktop.look.plain import PlainLabel, set_tip, without_icons
from jagged_lens.desktop.look.read_out import name_editable
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.look.worn import wear
from jagged_lens.desktop.sheets.list_entries import ListEntries
from jagged_lens.errors import JaggedLensError, SourceError
from jagged_lens.gather import decoded
from jagged_lens.line_lists import entries_in, text_of
from jagged_lens.named_file import small_file, write_text, write_whole
from jagged_lens.progress import Progress

_SEARCHED_FROM = 8  # entries


class ListEditor(QDialog):
    """Entries of a list. `done` is called with them when they are taken over; an error it raises is said here.

    offered: entries that may be chosen, each with its words. hits: how often each entry was found. files: whether an entry may be the
    path of a file.
    """

    def __init__(
        self,
        title: str,
        help_: str,
        entries: Sequence[str],
        done: Callable[[tuple[str, ...]], None],
        parent: QWidget,
        *,
        example: str = "",
        offered: Mapping[str, str] | None = None,
        hits: Mapping[str, int] | None = None,
        files: bool = False,
    ) -> None:
        super().__init__(parent)
        wear(self)
        self.setWindowTitle(title)
        self._done = done
        self._offered = dict(offered or {})
        self._asker = Asker(self)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        said = PlainLabel(help_)
        said.setWordWrap(True)
        theme.tone(said, "muted")
        column.addWidget(said)
        row = QHBoxLayout()
        self.field = self._field(example)
        row.addWidget(self.field, 1)
        self.add_button = Action("Add")
        self.add_button.setAutoDefault(False)
        self.add_button.clicked.connect(self.add)
        row.addWidget(self.add_button)
        if files:
            choose = Action("A file…")
            choose.setAutoDefault(False)
            choose.clicked.connect(self._choose_file)
            row.addWidget(choose)
        column.addLayout(row)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search the list")
        self.search.setAccessibleName("Search the list")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda words: self.listed.search(words))
        column.addWidget(self.search)
        self.list = QListView()
        self.list.setAccessibleName(title)
        self.list.setUniformItemSizes(True)
        self.listed = ListEntries(self._offered, dict(hits or {}), self)
        self.list.setModel(self.listed)
        self.list.setSelectionMode(QListView.SelectionMode.ExtendedSelection)
        self.list.setEditTriggers(QListView.EditTrigger.DoubleClicked | QListView.EditTrigger.EditKeyPressed)
        self.listed.modelReset.connect(self._count)
        self.list.doubleClicked.connect(self._change)
        column.addWidget(self.list, 1)
        row = QHBoxLayout()
        for words, tip, does in (
            ("Remove", "Remove the chosen entries from the list (Delete)", self.take_off),
            ("Import…", "Add the lines of a text file", self._import),
            ("Export…", "Write the list to a text file, one entry per line; Import reads it back", self._export),
        ):
            button = Action(words)
            set_tip(button, tip)
            button.setAutoDefault(False)
            button.clicked.connect(does)
            row.addWidget(button)
        row.addStretch(1)
        self.count = PlainLabel()
        theme.tone(self.count, "muted")
        row.addWidget(self.count)
        column.addLayout(row)
        self.wrong = PlainLabel()
        self.wrong.setWordWrap(True)
        theme.tone(self.wrong, "madder")
        self.wrong.hide()
        column.addWidget(self.wrong)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        without_icons(buttons)
        self.main = buttons.addButton("Use this list", QDialogButtonBox.ButtonRole.AcceptRole)
        assert self.main is not None
        self.main.setProperty("kind", "main")
        self.main.setAutoDefault(False)
        buttons.accepted.connect(self._accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.listed.add(entries)
        wide = self.fontMetrics().averageCharWidth()
        self.resize(wide * 74, wide * 64)
        self.field.setFocus()

    def _field(self, example: str) -> Choice | QLineEdit:
        if not self._offered:
            line = QLineEdit()
            line.setPlaceholderText(f"one entry, such as {example}" if example else "one entry")
            line.setAccessibleName("New entry")
            line.returnPressed.connect(self.add)
            return line
        box = Choice()
        box.setEditable(True)
        box.setInsertPolicy(Choice.InsertPolicy.NoInsert)
        name_editable(box, "New entry")
        for entry, words in self._offered.items():
            box.addItem(words, entry)
        completer = box.completer()
        assert completer is not None
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        completer.setCompletionMode(QCompleter.CompletionMode.PopupCompletion)
        box.setCurrentIndex(-1)
        edit = box.lineEdit()
        assert edit is not None
        edit.setPlaceholderText("type to find one")
        edit.returnPressed.connect(self.add)
        return box

    @property
    def entries(self) -> tuple[str, ...]:
        """The entries as they are now."""
        return self.listed.entries

    def add(self) -> None:
        """Add what is in the field."""
        typed = self.field.currentText() if isinstance(self.field, Choice) else self.field.text()
        by_words = {words: entry for entry, words in self._offered.items()}
        entry = by_words.get(typed, typed).strip()
        if entry:
            self.listed.add([entry])
            self.list.setCurrentIndex(self.listed.index(self.listed.rowCount() - 1))
        if isinstance(self.field, Choice):
            self.field.setCurrentIndex(-1)
            self.field.clearEditText()
        else:
            self.field.clear()

    def _change(self, index: QModelIndex) -> None:
        """An entry that stands with its hits comes into the field, to be changed there."""
        if isinstance(self.field, QLineEdit) and not self.listed.editable(index.row()):
            self.field.setText(self.listed.entry(index.row()))
            self.field.setFocus()
            self.listed.remove([index.row()])

    def take_off(self) -> None:
        """Take the chosen entries off the list."""
        chosen = self.list.selectionModel()
        self.listed.remove([index.row() for index in chosen.selectedIndexes()] if chosen is not None else ())

    def _count(self) -> None:
        count = len(self.entries)
        self.search.setVisible(count > _SEARCHED_FROM)
        self.count.setText(amount(count, "entry", "entries"))

    def _choose_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A text file, one entry per line")
        if name:
            self.listed.add([name])

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Add the lines of a text file")
        if name:
            self._read_lines(Path(name))

    def _read_lines(self, path: Path) -> None:
        def read(progress: Progress) -> list[str]:
            try:
                return entries_in(decoded(small_file(path))[0])
            except OSError as error:
                raise SourceError(f"it cannot be read ({error.strerror})", path.name) from error

        self._asker.ask_stoppable("import", read, self.listed.add, self._say)

    def _export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write the list to a text file", "list.txt")
        if not name:
            return
        try:
            write_whole(Path(name), lambda beside: write_text(beside, text_of(self.entries)))
        except OSError as error:
            self._say(f"{name} cannot be written ({error.strerror}).")
        else:
            self._say(f"Saved {name}.")

    def _say(self, words: str) -> None:
        self.wrong.setText(words)
        self.wrong.show()

    def _accept(self) -> None:
        self.add()
        try:
            self._done(self.entries)
        except JaggedLensError as error:
            self._say(str(error))
            return
        self.accept()

    def keyPressEvent(self, event: object) -> None:
        if event is not None and event.key() == Qt.Key.Key_Delete and self.focusWidget() is self.list:  # type: ignore[attr-defined]
            self.take_off()
            return
        super().keyPressEvent(event)  # type: ignore[arg-type]
