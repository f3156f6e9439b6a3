# SPDX-License-Identifier: GPL-3.0-or-later
"""The pages of the dialog for adding documents, one for each kind of source."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action, Button, Choice, TickBox
from jagged_lens.desktop.look.number_boxes import WholeBox
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.read_out import name_editable
from jagged_lens.gather import ENDINGS, TABLES, Source, split_password

_MOST_PASTED = 20_000_000


def line(name: str, hint: str, changed: Callable[[], object]) -> QLineEdit:
    """A field of one line with its name and a hint."""
    field = QLineEdit()
    field.setAccessibleName(name)
    field.setPlaceholderText(hint)
    field.textChanged.connect(lambda: changed())
    return field


def _text(name: str, hint: str, changed: Callable[[], object]) -> QPlainTextEdit:
    field = QPlainTextEdit()
    field.setAccessibleName(name)
    field.setPlaceholderText(hint)
    field.setMaximumHeight(field.fontMetrics().height() * 6)
    field.setTabChangesFocus(True)
    field.textChanged.connect(lambda: changed())
    return field


def _button(words: str, does: Callable[[], object]) -> Button:
    button = Action(words)
    button.setAutoDefault(False)
    button.clicked.connect(lambda: does())
    return button


class SourcePage(QWidget):
    """The fields of one kind of source. changed() is told of every change."""

    kind = ""
    words = ""
    changed = pyqtSignal()

    def __init__(self, folder: Path) -> None:
        """folder: of the project; a path below it is kept relative, so that both can move together."""
        super().__init__()
        self.folder = folder
        self.build()

    def build(self) -> None:
        """Make the fields, once."""

    def values(self) -> dict[str, Any]:
        """The values of the fields, by recipe key."""
        return {}

    def show_source(self, source: Source) -> None:
        """Fill the fields with a source that is there."""

    def take_focus(self) -> None:
        """Give the keyboard to the main field."""

    def relative(self, text: str) -> str:
        """A path as it is kept."""
        path = Path(text.strip()).expanduser()
        try:
            return str(path.relative_to(self.folder)) if path.is_absolute() else text.strip()
        except ValueError:
            return text.strip()


class FilePage(SourcePage):
    kind = "file"
    words = "File or folder"

    def build(self) -> None:
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.file = line(
            "File, folder or pattern",
            "a table, text, folder, zip archive, or a pattern such as notes/*.txt",
            self.changed.emit,
        )
        row.addWidget(self.file, 1)
        row.addWidget(_button("File…", self._browse_file))
        row.addWidget(_button("Folder…", self._browse_folder))

    def values(self) -> dict[str, Any]:
        return {"file": self.relative(self.file.text()) if self.file.text().strip() else ""}

    def show_source(self, source: Source) -> None:
        self.file.setText(source.file)

    def take_focus(self) -> None:
        self.file.setFocus()

    def _browse_file(self) -> None:
        endings = " ".join(f"*{ending}" for ending in sorted({*TABLES, *ENDINGS}))
        name, _ = QFileDialog.getOpenFileName(
            self.window(), "Choose a file", str(self.folder), f"Tables and texts ({endings});;All files (*)"
        )
        if name:
            self.file.setText(name)

    def _browse_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self.window(), "Choose a folder", str(self.folder))
        if name:
            self.file.setText(name)


class PastedPage(SourcePage):
    kind = "pasted"
    words = "Pasted text"

    def build(self) -> None:
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        hint = "Paste a table with tabs between its cells, or texts"
        self.pasted = _text("The pasted text", hint, self.changed.emit)
        row.addWidget(self.pasted, 1)
        self.from_clipboard = _button("From the clipboard", self.paste)
        row.addWidget(self.from_clipboard, 0, Qt.AlignmentFlag.AlignTop)

    def values(self) -> dict[str, Any]:
        return {"pasted": self.pasted.toPlainText()}

    def show_source(self, source: Source) -> None:
        self.pasted.setPlainText(source.pasted)

    def take_focus(self) -> None:
        self.pasted.setFocus()

    def paste(self) -> None:
        """Fill in what is on the clipboard."""
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        self.pasted.setPlainText(clipboard.text()[:_MOST_PASTED])


class DatabasePage(SourcePage):
    """tables_wanted: the tables of the database are to be listed."""

    kind = "database"
    words = "Database"
    tables_wanted = pyqtSignal()

    def build(self) -> None:
        form = QFormLayout(self)
        form.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.database = line("Database", "an SQLite file, or postgresql://reader@host/name", self.changed.emit)
        self.database.editingFinished.connect(self._list_if_new)
        self._listed = ""
        row.addWidget(self.database, 1)
        row.addWidget(_button("File…", self._browse))
        form.addRow("Database", row)
        self.password = line("Password", "kept in memory only, never in the project", self.changed.emit)
        self.password.setEchoMode(QLineEdit.EchoMode.Password)
        form.addRow("Password", self.password)
        row = QHBoxLayout()
        self.database_table = Choice()
        self.database_table.setEditable(True)
        name_editable(self.database_table, "Table")
        self.database_table.setMinimumContentsLength(18)
        self.database_table.editTextChanged.connect(self.changed)
        row.addWidget(self.database_table, 1)
        row.addWidget(_button("List its tables", self.tables_wanted.emit))
        form.addRow("Table", row)
        self.query = line("Query", "or a SELECT that gives the rows", self.changed.emit)
        form.addRow("Query", self.query)

    def _list_if_new(self) -> None:
        """The tables of another database are listed at once, so that one can be chosen."""
        address = self.database.text().strip()
        if address and address != self._listed:
            self._listed = address
            self.tables_wanted.emit()

    def values(self) -> dict[str, Any]:
        address, _ = self.address()
        query = self.query.text().strip()
        return {
            "database": self.relative(address) if "://" not in address else address,
            "query" if query else "table": query or self.database_table.currentText().strip(),
        }

    def address(self) -> tuple[str, str]:
        """The address, and the password that was typed in it or beside it."""
        address, password = split_password(self.database.text().strip())
        return address, password or self.password.text()

    def show_source(self, source: Source) -> None:
        self.database.setText(source.database)
        self.database_table.setCurrentText(source.table)
        self.query.setText(source.query)

    def show_tables(self, names: list[str]) -> None:
        """Offer tables to choose from; what was typed stays."""
        chosen = self.database_table.currentText()
        self.database_table.clear()
        self.database_table.addItems(names)
        if chosen:
            self.database_table.setCurrentText(chosen)

    def take_focus(self) -> None:
        self.database.setFocus()

    def _browse(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window(), "Choose an SQLite file", str(self.folder))
        if name:
            self.database.setText(name)
            self._list_if_new()


class LinksPage(SourcePage):
    kind = "links"
    words = "Web pages"

    def build(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        hint = "Web addresses, one per line; or the path of a table or text file with addresses"
        self.links = _text("Web addresses", hint, self.changed.emit)
        row.addWidget(self.links, 1)
        row.addWidget(_button("File…", self._browse), 0, Qt.AlignmentFlag.AlignTop)
        column.addLayout(row)
        row = QHBoxLayout()
        self.at_a_time, self.page_seconds, self.page_megabytes = WholeBox(), WholeBox(), WholeBox()
        for spin, low, high, value, words in (
            (self.at_a_time, 1, 16, 4, "pages at a time"),
            (self.page_seconds, 1, 600, 20, "seconds per page"),
            (self.page_megabytes, 1, 200, 10, "MB per page"),
        ):
            spin.setRange(low, high)
            spin.setValue(value)
            spin.setAccessibleName(words)
            row.addWidget(spin)
            row.addWidget(PlainLabel(words))
            row.addSpacing(10)
        self.private = TickBox("include private networks")
        set_tip(self.private, "Allow addresses on this machine and in private networks, for this source only")
        row.addWidget(self.private)
        row.addStretch(1)
        column.addLayout(row)
        note = PlainLabel("Only these pages are fetched, when you add them. Each site's robots.txt is respected.")
        theme.tone(note, "muted")
        column.addWidget(note)

    def values(self) -> dict[str, Any]:
        text = self.links.toPlainText().strip()
        return {"links": text if not text or Source(links=text).lists_links else self.relative(text)}

    def manners(self) -> dict[str, Any]:
        """The settings for fetching pages, by recipe key."""
        return {
            "private": self.private.isChecked(),
            "at-a-time": self.at_a_time.value(),
            "page-seconds": self.page_seconds.value(),
            "page-megabytes": self.page_megabytes.value(),
        }

    def show_source(self, source: Source) -> None:
        self.links.setPlainText(source.links)
        self.private.setChecked(source.private)
        self.at_a_time.setValue(source.at_a_time)
        self.page_seconds.setValue(source.page_seconds)
        self.page_megabytes.setValue(source.page_megabytes)

    def take_focus(self) -> None:
        self.links.setFocus()

    def _browse(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window(), "Choose a file with web addresses", str(self.folder))
        if name:
            self.links.setPlainText(name)
