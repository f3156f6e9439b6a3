"""The sheet on which a source is added or changed, with a live preview of what it would give."""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QSpinBox,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.sheets.role_header import PreviewTable
from jagged_lens.errors import JaggedLensError, RecipeError
from jagged_lens.gather import (
    ENDINGS,
    TABLES,
    Means,
    Preview,
    Source,
    plain_source,
    preview,
    roles_in,
    source_of,
    source_with,
    split_password,
    tables_of,
)
from jagged_lens.progress import Progress

_WAIT = 400  # milliseconds without a further change before the preview is made anew
_MOST_PASTED = 20_000_000
_KINDS = (
    ("file", "File or folder"),
    ("pasted", "Pasted text"),
    ("database", "Database"),
    ("links", "Web pages"),
)
_CUTS = (
    ("no", "one document"),
    ("line", "each line a document"),
    ("blank-line", "each paragraph a document"),
    ("at", "cut at a separator"),
)


_OF_TEXTS = ("cut", "cut-at", "replies", "path-labels")
_NOTHING = object()


def _entries(text: str) -> list[str]:
    """Names between commas; a place that is left empty counts, unless all are."""
    parts = [part.strip() for part in text.split(",")]
    return parts if any(parts) else []


def _labelled(text: str) -> list[str]:
    """Labels written NAME = VALUE, several with commas between them; a value may hold commas itself.

    >>> _labelled("origin = letters, cards, crop = bean")
    ['origin = letters, cards', 'crop = bean']
    """
    return [part.strip() for part in re.split(r",(?=[^,=]+=)", text) if "=" in part]


class AddSource(QDialog):
    """Says what a source is and shows its first rows. `done` is called with it, and with the password of its database."""

    def __init__(
        self,
        folder: Path,
        asker: Asker,
        done: Callable[[Source, dict[str, str]], None],
        parent: QWidget,
        source: Source | None = None,
        passwords: dict[str, str] | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Change how a source is read" if source else "Add documents")
        self._folder = folder
        self._asker = asker
        self._done = done
        self._passwords = dict(passwords or {})
        self._kept = source
        self._seen: Preview | None = None
        self._roles_by_hand = source is not None
        self._roles_touched = False
        self._before: dict[str, Any] = {}  # what the fields say of a source that nobody has changed yet
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.setInterval(_WAIT)
        self._wait.timeout.connect(self._look)
        self._building = True
        self._lay_out()
        self._building = False
        self._before = self._values()
        if source is not None:
            self._show_source(source)
        wide = self.fontMetrics().averageCharWidth()
        screen = parent.size()
        self.resize(min(wide * 128, screen.width() - 60), min(int(wide * 88), screen.height() - 60))

    # The parts.

    def _lay_out(self) -> None:
        whole = QVBoxLayout(self)
        whole.setContentsMargins(18, 14, 18, 12)
        whole.setSpacing(9)
        kinds = QHBoxLayout()
        kinds.setSpacing(6)
        self.kinds: dict[str, QPushButton] = {}
        group = QButtonGroup(self)
        for kind, words in _KINDS:
            button = QPushButton(words)
            button.setCheckable(True)
            button.setAutoDefault(False)
            group.addButton(button)
            button.clicked.connect(lambda _=False, kind=kind: self.show_kind(kind))
            kinds.addWidget(button)
            self.kinds[kind] = button
        kinds.addStretch(1)
        whole.addLayout(kinds)
        self._pages = QStackedWidget()
        for page in (self._file_page(), self._paste_page(), self._database_page(), self._links_page()):
            self._pages.addWidget(page)
        whole.addWidget(self._pages)
        whole.addWidget(self._table_options())
        whole.addWidget(self._text_options())
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setAccessibleName("What was found")
        whole.addWidget(self.said)
        self.table = PreviewTable()
        self.table.roles_changed.connect(self._roles_changed)
        whole.addWidget(self.table, 1)
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.main = self.buttons.addButton("Add", QDialogButtonBox.ButtonRole.AcceptRole)
        assert self.main is not None
        if self._kept is not None:
            self.main.setText("Read it so")
        self.main.setDefault(True)
        self.main.setProperty("main", "true")
        self.buttons.accepted.connect(self._accept)
        self.buttons.rejected.connect(self.reject)
        whole.addWidget(self.buttons)
        self.show_kind("file")

    def _line(self, words: str, hint: str) -> QLineEdit:
        field = QLineEdit()
        field.setAccessibleName(words)
        field.setPlaceholderText(hint)
        field.textChanged.connect(self._changed)
        return field

    def _button(self, words: str, does: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setAutoDefault(False)
        button.clicked.connect(lambda: does())
        return button

    def _file_page(self) -> QWidget:
        page = QWidget()
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        self.file = self._line(
            "File, folder or pattern", "a table, a text, a folder, a zip archive, or a pattern such as notes/*.txt"
        )
        row.addWidget(self.file, 1)
        row.addWidget(self._button("File…", self._browse_file))
        row.addWidget(self._button("Folder…", self._browse_folder))
        return page

    def _paste_page(self) -> QWidget:
        page = QWidget()
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        self.pasted = QPlainTextEdit()
        self.pasted.setAccessibleName("The pasted text")
        self.pasted.setPlaceholderText("Paste here: a table with tabs between its cells, or texts")
        self.pasted.setMaximumHeight(self.fontMetrics().height() * 6)
        self.pasted.setTabChangesFocus(True)
        self.pasted.textChanged.connect(self._changed)
        row.addWidget(self.pasted, 1)
        row.addWidget(self._button("From the clipboard", self.paste), 0, Qt.AlignmentFlag.AlignTop)
        return page

    def _database_page(self) -> QWidget:
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.database = self._line("Database", "an SQLite file, or postgresql://reader@host/name")
        row.addWidget(self.database, 1)
        row.addWidget(self._button("File…", self._browse_database))
        form.addRow("Database", row)
        self.password = self._line("Password", "kept in memory only, never in the project")
        self.password.setEchoMode(QLineEdit.EchoMode.Password)
        form.addRow("Password", self.password)
        row = QHBoxLayout()
        self.database_table = QComboBox()
        self.database_table.setEditable(True)
        self.database_table.setAccessibleName("Table")
        self.database_table.setMinimumContentsLength(18)
        self.database_table.editTextChanged.connect(self._changed)
        row.addWidget(self.database_table, 1)
        row.addWidget(self._button("List its tables", self._list_tables))
        form.addRow("Table", row)
        self.query = self._line("Query", "or a SELECT that gives the rows")
        form.addRow("Query", self.query)
        return page

    def _links_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.links = QPlainTextEdit()
        self.links.setAccessibleName("Web addresses")
        self.links.setPlaceholderText("Web addresses, one a line; or the path of a table or text file that holds them")
        self.links.setMaximumHeight(self.fontMetrics().height() * 6)
        self.links.setTabChangesFocus(True)
        self.links.textChanged.connect(self._changed)
        row.addWidget(self.links, 1)
        row.addWidget(self._button("File…", self._browse_links), 0, Qt.AlignmentFlag.AlignTop)
        column.addLayout(row)
        row = QHBoxLayout()
        self.at_a_time, self.page_seconds, self.page_megabytes = QSpinBox(), QSpinBox(), QSpinBox()
        for spin, low, high, value, words in (
            (self.at_a_time, 1, 16, 4, "pages at a time"),
            (self.page_seconds, 1, 600, 20, "seconds a page"),
            (self.page_megabytes, 1, 200, 10, "MB a page"),
        ):
            spin.setRange(low, high)
            spin.setValue(value)
            spin.setAccessibleName(words)
            row.addWidget(spin)
            row.addWidget(PlainLabel(words))
            row.addSpacing(10)
        self.private = QCheckBox("private networks too")
        self.private.setToolTip("Allow addresses of this machine and of private networks, for this source alone")
        row.addWidget(self.private)
        row.addStretch(1)
        column.addLayout(row)
        note = PlainLabel("Only these pages are fetched, when you add them; each site's robots.txt is respected.")
        theme.tone(note, "muted")
        column.addWidget(note)
        return page

    def _table_options(self) -> QWidget:
        """How a table is read; shown where the preview is one."""
        self.table_options = QWidget()
        row = QHBoxLayout(self.table_options)
        row.setContentsMargins(0, 0, 0, 0)
        self.separator, self.header, self.sheet, self.encoding = QComboBox(), QComboBox(), QComboBox(), QComboBox()
        self.header.addItems(["guess", "yes", "no"])
        for field in (self.separator, self.encoding):
            field.setEditable(True)
        self.encoding.addItems(
            ["", "utf-8", "utf-16", "cp1252", "iso-8859-1", "iso-8859-15", "cp1250", "koi8-r", "shift_jis"]
        )
        self._option_labels: dict[str, QLabel] = {}
        for name, words, choice in (
            ("separator", "Separator", self.separator),
            ("header", "First row names the columns", self.header),
            ("sheet", "Sheet", self.sheet),
        ):
            label = PlainLabel(words)
            self._option_labels[name] = label
            row.addWidget(label)
            row.addWidget(choice)
            choice.setAccessibleName(words)
            choice.currentTextChanged.connect(self._reading_changed)
        self.encoding_label = PlainLabel("Encoding")
        row.addWidget(self.encoding_label)
        row.addWidget(self.encoding)
        self.encoding.setAccessibleName("Encoding")
        self.encoding.setToolTip("Left empty, it is detected")
        self.encoding.editTextChanged.connect(self._reading_changed)
        row.addStretch(1)
        return self.table_options

    def _text_options(self) -> QWidget:
        """How texts are read; shown where the preview is no table."""
        self.text_options = QWidget()
        column = QVBoxLayout(self.text_options)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(PlainLabel("A text is"))
        self.cut = QComboBox()
        self.cut.addItems([words for _, words in _CUTS])
        self.cut.setAccessibleName("What a text is cut into")
        self.cut.currentIndexChanged.connect(self._cut_changed)
        row.addWidget(self.cut)
        self.cut_at = self._line("Separator", "a line such as ***, or /a regular expression/")
        self.cut_at.setEnabled(False)
        row.addWidget(self.cut_at, 1)
        self.replies = QCheckBox("without quoted replies")
        self.replies.setToolTip("Of e-mail: leave out what is quoted of earlier messages")
        self.replies.toggled.connect(self._changed)
        row.addWidget(self.replies)
        column.addLayout(row)
        row = QHBoxLayout()
        self.path_words = PlainLabel("Labels from the path")
        row.addWidget(self.path_words)
        self.path_labels = self._line("Labels from the path", "names for its parts, from the left: year, district")
        row.addWidget(self.path_labels, 1)
        row.addWidget(PlainLabel("Label of all"))
        self.labelled = self._line("Label of all", "such as origin = letters")
        row.addWidget(self.labelled, 1)
        self.text_encoding_label = PlainLabel("Encoding")
        row.addWidget(self.text_encoding_label)
        self.text_encoding = self._line("Encoding of the texts", "detected")
        self.text_encoding.setMaximumWidth(self.fontMetrics().averageCharWidth() * 14)
        row.addWidget(self.text_encoding)
        column.addLayout(row)
        return self.text_options

    # What is chosen.

    @property
    def kind(self) -> str:
        return next(kind for kind, button in self.kinds.items() if button.isChecked())

    def show_kind(self, kind: str) -> None:
        """Bring up the fields of one kind of source."""
        self.kinds[kind].setChecked(True)
        self._pages.setCurrentIndex([name for name, _ in _KINDS].index(kind))
        for at in range(self._pages.count()):  # a hidden page must not make the shown one taller
            page = self._pages.widget(at)
            assert page is not None
            policy = page.sizePolicy()
            shown = at == self._pages.currentIndex()
            policy.setVerticalPolicy(policy.Policy.Preferred if shown else policy.Policy.Ignored)
            page.setSizePolicy(policy)
        {"file": self.file, "pasted": self.pasted, "database": self.database, "links": self.links}[kind].setFocus()
        self._changed()

    def choose(self, path: Path) -> None:
        """Fill in a file or folder."""
        self.show_kind("file")
        self.file.setText(str(path))
        self._look_now()

    def paste(self) -> None:
        """Fill in what is on the clipboard."""
        self.show_kind("pasted")
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        self.pasted.setPlainText(clipboard.text()[:_MOST_PASTED])
        self._look_now()

    def _look_now(self) -> None:
        self._wait.stop()
        self._look()

    def _relative(self, text: str) -> str:
        """A path below the folder of the project is kept relative, so that both can move together."""
        path = Path(text.strip()).expanduser()
        try:
            return str(path.relative_to(self._folder)) if path.is_absolute() else text.strip()
        except ValueError:
            return text.strip()

    def _values(self) -> dict[str, Any]:
        """What the fields say, by recipe key."""
        values: dict[str, Any] = dict.fromkeys(("file", "pasted", "database", "links", "table", "query"), "")
        kind = self.kind
        if kind == "file":
            values["file"] = self._relative(self.file.text()) if self.file.text().strip() else ""
        elif kind == "pasted":
            values["pasted"] = self.pasted.toPlainText()
        elif kind == "database":
            address, _ = split_password(self.database.text().strip())
            values["database"] = self._relative(address) if "://" not in address else address
            query = self.query.text().strip()
            values["query" if query else "table"] = query or self.database_table.currentText().strip()
        else:
            text = self.links.toPlainText().strip()
            values["links"] = text if "://" in text or not text else self._relative(text)
        table = self._seen is not None and self._seen.is_table
        cut = _CUTS[self.cut.currentIndex()][0]
        return {
            **values,
            "private": self.private.isChecked(),
            "at-a-time": self.at_a_time.value(),
            "page-seconds": self.page_seconds.value(),
            "page-megabytes": self.page_megabytes.value(),
            "header": self.header.currentText(),
            "separator": self.separator.currentText().strip(),
            "sheet": self.sheet.currentText(),
            "encoding": (self.encoding.currentText() if table else self.text_encoding.text()).strip(),
            "cut": "no" if cut == "at" and not self.cut_at.text().strip() else cut,
            "cut-at": self.cut_at.text() if cut == "at" else "",
            "replies": "drop" if self.replies.isChecked() else "keep",
            "path-labels": _entries(self.path_labels.text()),
            "labelled": _labelled(self.labelled.text()),
        }

    def _source(self) -> Source | None:
        """The source that the fields describe: what is there, with what was changed by hand and nothing else changed. None while
        nothing is filled in. RecipeError where it cannot be."""
        values = self._values()
        self._note_password()
        kind = self.kind
        if not values[kind].strip() or (kind == "database" and not (values["query"] or values["table"])):
            return None
        kept = plain_source(self._kept) if self._kept is not None else {}
        changed = {key: value for key, value in values.items() if value != self._before.get(key, _NOTHING)}
        if self._seen is not None and self._seen.is_table:
            for key in _OF_TEXTS:
                changed.pop(key, None)
        whole = {**kept, **changed}
        others = {"file", "pasted", "database", "links"} - {kind}
        for key in others | ({"table", "query"} if kind != "database" else set()):
            whole.pop(key, None)
        whole[kind] = changed.get(kind, kept.get(kind, values[kind]))
        source = source_of({key: value for key, value in whole.items() if value not in ("", [])})
        seen = self._seen
        if seen is None or not seen.is_table or not self.table.roles:
            return source
        if self._kept is None or self._roles_touched or roles_in(source, seen.columns) is None:
            return source_with(source, seen.columns, self.table.roles)
        return source

    def _note_password(self) -> None:
        address, password = split_password(self.database.text().strip())
        if self.kind == "database" and (password or self.password.text()):
            self._passwords[address] = password or self.password.text()

    # What happens when something is changed.

    def _changed(self) -> None:
        if not self._building:
            self._wait.start()

    def _reading_changed(self) -> None:
        if not self._building:
            self._roles_by_hand = self._kept is not None
            self._changed()

    def _cut_changed(self) -> None:
        self.cut_at.setEnabled(_CUTS[self.cut.currentIndex()][0] == "at")
        self._changed()

    def _roles_changed(self) -> None:
        self._roles_by_hand = self._roles_touched = True
        self._say()

    def _look(self) -> None:
        """Make the preview anew, in a thread."""
        by_hand = self._roles_by_hand
        try:
            source = self._source()
        except RecipeError as error:
            self._failed(error)
            return
        if source is None:
            self._seen = None
            self.table.show_preview(None)
            self.said.setText("The first rows or documents will be shown here, before anything is added.")
            theme.tone(self.said, "muted")
            self._show_options()
            return
        if not by_hand:
            source = dataclasses.replace(source, key="", text=(), title="", labels=(), date="", numbers=(), column="")
        means = Means(self._folder, 2, dict(self._passwords))
        self.said.setText("Looking …")

        def question(progress: Progress) -> Preview | JaggedLensError:
            try:
                return preview(source, means, progress)
            except JaggedLensError as error:
                return error

        self._asker.ask_stoppable("preview", question, self._show)

    def _show(self, found: Preview | JaggedLensError) -> None:
        if isinstance(found, JaggedLensError):
            self._failed(found)
            return
        self._seen = found
        self.table.show_preview(found)
        untouched = {key for key, value in self._values().items() if self._before.get(key, _NOTHING) == value}
        if found.is_table:
            self._building = True
            for name, field in (("separator", self.separator), ("sheet", self.sheet)):
                choices = found.choices.get(name, [])
                if choices and [field.itemText(at) for at in range(field.count())] != choices:
                    field.clear()
                    field.addItems(choices)
                if name in found.settings:
                    field.setCurrentText(found.settings[name])
            if self.header.currentText() == "guess" and "header" in found.settings:
                self.header.setItemText(0, "guess")
            if not self.encoding.currentText() and found.settings.get("encoding"):
                line = self.encoding.lineEdit()
                assert line is not None
                line.setPlaceholderText(found.settings["encoding"])
            self._building = False
            self._roles_by_hand = True
        now = self._values()
        self._before |= {key: now[key] for key in untouched & {"separator", "sheet", "header", "encoding"}}
        self._show_options()
        self._say()

    def _show_options(self) -> None:
        seen = self._seen
        table = seen is not None and seen.is_table
        known = {**seen.settings, **seen.choices} if seen is not None and table else {}
        self.table_options.setVisible(table and bool(known))
        for name, field in (("separator", self.separator), ("header", self.header), ("sheet", self.sheet)):
            field.setVisible(name in known)
            self._option_labels[name].setVisible(name in known)
        has_encoding = "encoding" in known and bool(known["encoding"])
        self.encoding.setVisible(has_encoding)
        self.encoding_label.setVisible(has_encoding)
        self.text_options.setVisible(not table and self.kind in ("file", "pasted"))
        files = self.kind == "file"
        for widget in (self.path_words, self.path_labels, self.replies, self.text_encoding, self.text_encoding_label):
            widget.setVisible(files)

    def _say(self) -> None:
        """What was found and what is odd about it, in words."""
        seen = self._seen
        if seen is None:
            return
        lines = []
        if seen.is_table:
            roles = self.table.roles
            if "text" not in roles and "link" not in roles:
                lines.append("Choose the column with the text on its header.")
            elif "link" in roles:
                lines.append("The pages that the link column names are fetched; the other columns stay beside them.")
            else:
                first = (
                    f"The first {len(seen.rows):,} rows."
                    if len(seen.rows) >= 200
                    else amount(len(seen.rows), "row") + "."
                )
                lines.append(f"{first} Set each column's role on its header.")
            if seen.files > 1:
                lines.append(f"The first of {seen.files:,} tables is shown.")
            lines += self.table.warnings
        elif seen.source.kind == "links":
            lines.append(amount(seen.files, "web address", "web addresses") + ".")
        else:
            lines.append(
                f"{amount(seen.files, 'file')}; the first are shown."
                if seen.files
                else amount(len(seen.rows), "document")
            )
        lines += seen.notices
        warned = bool(seen.is_table and self.table.warnings)
        self.said.setText("\n".join(lines[:5]))
        theme.tone(self.said, "madder" if warned else "muted")
        style = self.said.style()
        assert style is not None
        style.polish(self.said)

    def _failed(self, error: JaggedLensError) -> None:
        self._seen = None
        self.table.show_preview(None)
        self._show_options()
        self.said.setText(str(error))
        theme.tone(self.said, "madder")
        style = self.said.style()
        assert style is not None
        style.polish(self.said)

    def _accept(self) -> None:
        try:
            source = self._source()
        except RecipeError as error:
            self._failed(error)
            return
        if source is None:
            self.said.setText("Say first where the documents are.")
            return
        self._give_up()
        self.accept()
        self._done(source, self._passwords)

    def reject(self) -> None:
        self._give_up()
        super().reject()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self._give_up()
        super().closeEvent(event)

    def _give_up(self) -> None:
        for topic in ("preview", "tables"):
            self._asker.forget(topic)

    # Files and tables from lists.

    def _browse_file(self) -> None:
        endings = " ".join(f"*{ending}" for ending in sorted({*TABLES, *ENDINGS}))
        name, _ = QFileDialog.getOpenFileName(
            self, "Choose a file", str(self._folder), f"Tables and texts ({endings});;All files (*)"
        )
        if name:
            self.file.setText(name)

    def _browse_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Choose a folder", str(self._folder))
        if name:
            self.file.setText(name)

    def _browse_database(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Choose an SQLite file", str(self._folder))
        if name:
            self.database.setText(name)
            self._list_tables()

    def _browse_links(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Choose a file with web addresses", str(self._folder))
        if name:
            self.links.setPlainText(name)

    def _list_tables(self) -> None:
        address, _ = split_password(self.database.text().strip())
        if not address:
            return
        self._note_password()
        means = Means(self._folder, 1, dict(self._passwords))
        self.said.setText("Asking the database …")

        def question(progress: Progress) -> list[str] | JaggedLensError:
            try:
                return tables_of(address, means, progress)
            except JaggedLensError as error:
                return error

        self._asker.ask_stoppable("tables", question, self._show_tables)

    def _show_tables(self, found: list[str] | JaggedLensError) -> None:
        if isinstance(found, JaggedLensError):
            self._failed(found)
            return
        chosen = self.database_table.currentText()
        self.database_table.clear()
        self.database_table.addItems(found)
        if chosen:
            self.database_table.setCurrentText(chosen)
        self.said.setText(f"{amount(len(found), 'table')}." if found else "The database has no tables.")

    def _show_source(self, source: Source) -> None:
        """Fill the fields with a source that is there."""
        self._building = True
        self.show_kind(source.kind)
        self.file.setText(source.file)
        self.pasted.setPlainText(source.pasted)
        self.database.setText(source.database)
        self.database_table.setCurrentText(source.table)
        self.query.setText(source.query)
        self.links.setPlainText(source.links)
        self.private.setChecked(source.private)
        for spin, value in (
            (self.at_a_time, source.at_a_time),
            (self.page_seconds, source.page_seconds),
            (self.page_megabytes, source.page_megabytes),
        ):
            spin.setValue(value)
        self.header.setCurrentText(source.header)
        self.separator.setCurrentText(source.separator)
        self.sheet.addItem(source.sheet)
        self.encoding.setCurrentText(source.encoding)
        self.text_encoding.setText(source.encoding)
        self.cut.setCurrentIndex([name for name, _ in _CUTS].index(source.cut))
        self.cut_at.setText(source.cut_at)
        self.replies.setChecked(source.replies == "drop")
        self.path_labels.setText(", ".join(source.path_labels))
        self.labelled.setText(", ".join(source.labelled))
        self._building = False
        self._before = self._values()
        self._look_now()
