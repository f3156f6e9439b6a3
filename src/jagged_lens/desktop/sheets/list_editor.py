"""A list, one entry a line: searched, added to, taken from, read from a text file and written to one."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QCompleter,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.errors import JaggedLensError

_ENTRY = Qt.ItemDataRole.UserRole


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
        self.setWindowTitle(title)
        self._done = done
        self._offered = dict(offered or {})
        self._hits = dict(hits or {})
        column = QVBoxLayout(self)
        column.setSpacing(8)
        said = PlainLabel(help_)
        said.setWordWrap(True)
        theme.tone(said, "muted")
        column.addWidget(said)
        row = QHBoxLayout()
        self.field = self._field(example)
        row.addWidget(self.field, 1)
        self.add_button = QPushButton("Add")
        self.add_button.setAutoDefault(False)
        self.add_button.clicked.connect(self.add)
        row.addWidget(self.add_button)
        if files:
            choose = QPushButton("A file…")
            choose.setAutoDefault(False)
            choose.clicked.connect(self._choose_file)
            row.addWidget(choose)
        column.addLayout(row)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search the list")
        self.search.setAccessibleName("Search the list")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._filter)
        column.addWidget(self.search)
        self.list = QListWidget()
        self.list.setAccessibleName(title)
        self.list.setSelectionMode(QListWidget.SelectionMode.ExtendedSelection)
        self.list.setEditTriggers(QListWidget.EditTrigger.DoubleClicked | QListWidget.EditTrigger.EditKeyPressed)
        self.list.itemChanged.connect(self._edited)
        self.list.itemDoubleClicked.connect(self._change)
        column.addWidget(self.list, 1)
        row = QHBoxLayout()
        for words, tip, does in (
            ("Take off", "Take the chosen entries off the list (Delete)", self.take_off),
            ("Import…", "Add the lines of a text file", self._import),
            ("Export…", "Write the list to a text file, one entry a line", self._export),
        ):
            button = QPushButton(words)
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
        self.main = buttons.addButton("Use this list", QDialogButtonBox.ButtonRole.AcceptRole)
        assert self.main is not None
        self.main.setProperty("main", "true")
        self.main.setAutoDefault(False)
        buttons.accepted.connect(self._accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        for entry in entries:
            self._append(entry)
        self._filter()
        wide = self.fontMetrics().averageCharWidth()
        self.resize(wide * 74, wide * 64)
        self.field.setFocus()

    def _field(self, example: str) -> QComboBox | QLineEdit:
        if not self._offered:
            line = QLineEdit()
            line.setPlaceholderText(f"one entry, such as {example}" if example else "one entry")
            line.setAccessibleName("New entry")
            line.returnPressed.connect(self.add)
            return line
        box = QComboBox()
        box.setEditable(True)
        box.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        box.setAccessibleName("New entry")
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
        items = (self.list.item(at) for at in range(self.list.count()))
        return tuple(dict.fromkeys(str(item.data(_ENTRY)) for item in items if item is not None))

    def add(self) -> None:
        """Add what is in the field."""
        typed = self.field.currentText() if isinstance(self.field, QComboBox) else self.field.text()
        by_words = {words: entry for entry, words in self._offered.items()}
        entry = by_words.get(typed, typed).strip()
        if entry and entry not in self.entries:
            self._append(entry)
            self.list.setCurrentRow(self.list.count() - 1)
        if isinstance(self.field, QComboBox):
            self.field.setCurrentIndex(-1)
            self.field.clearEditText()
        else:
            self.field.clear()
        self._filter()

    def _change(self, item: QListWidgetItem) -> None:
        """An entry that stands with its hits comes into the field, to be changed there."""
        if isinstance(self.field, QLineEdit) and not item.flags() & Qt.ItemFlag.ItemIsEditable:
            self.field.setText(str(item.data(_ENTRY)))
            self.field.setFocus()
            self.list.takeItem(self.list.row(item))
            self._filter()

    def take_off(self) -> None:
        """Take the chosen entries off the list."""
        for item in self.list.selectedItems():
            self.list.takeItem(self.list.row(item))
        self._filter()

    def _append(self, entry: str) -> None:
        words = self._offered.get(entry, entry)
        if entry in self._hits:
            words += f"   ·   {amount(self._hits[entry], 'hit')}"
        item = QListWidgetItem(words)
        item.setData(_ENTRY, entry)
        if entry in self._hits and not self._hits[entry]:
            item.setForeground(theme.colour("madder"))
            set_tip(item, "It finds nothing in these documents")
        if entry not in self._offered and entry not in self._hits:
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsEditable)
        self.list.addItem(item)

    def _edited(self, item: QListWidgetItem) -> None:
        if item.flags() & Qt.ItemFlag.ItemIsEditable and item.text() != item.data(_ENTRY):
            item.setData(_ENTRY, item.text().strip())

    def _filter(self) -> None:
        wanted = self.search.text().casefold()
        for at in range(self.list.count()):
            item = self.list.item(at)
            assert item is not None
            item.setHidden(wanted not in item.text().casefold())
        self.search.setVisible(self.list.count() > 8)
        self.count.setText(amount(self.list.count(), "entry", "entries"))

    def _choose_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A text file, one entry a line")
        if name:
            self._append(name)
            self._filter()

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Add the lines of a text file")
        if name:
            self._read_lines(Path(name))

    def _read_lines(self, path: Path) -> None:
        try:
            lines = path.read_text("utf-8-sig").splitlines()
        except (OSError, UnicodeDecodeError) as error:
            self._say(f"{path.name} cannot be read as text in UTF-8 ({error}).")
            return
        there = set(self.entries)
        for line in lines:
            entry = line.partition("#")[0].strip() if not line.startswith("/") else line.strip()
            if entry and entry not in there:
                there.add(entry)
                self._append(entry)
        self._filter()

    def _export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write the list to a text file", "list.txt")
        if name:
            try:
                Path(name).write_text("".join(f"{entry}\n" for entry in self.entries), "utf-8")
            except OSError as error:
                self._say(f"{name} cannot be written ({error.strerror}).")

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
