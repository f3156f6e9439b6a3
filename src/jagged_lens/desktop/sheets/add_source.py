# SPDX-License-Identifier: GPL-3.0-or-later
"""The sheet on which a source is added or changed, with a live preview of what it would give."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Button, Tab
from jagged_lens.desktop.look.plain import PlainLabel, without_icons
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.look.worn import wear
from jagged_lens.desktop.sheets.reading_options import OF_TEXTS, TableOptions, TextOptions
from jagged_lens.desktop.sheets.role_header import PreviewTable
from jagged_lens.desktop.sheets.source_pages import DatabasePage, FilePage, LinksPage, PastedPage, SourcePage
from jagged_lens.errors import JaggedLensError, RecipeError
from jagged_lens.gather import (
    Means,
    Preview,
    Source,
    plain_source,
    preview,
    roles_in,
    source_of,
    source_with,
    tables_of,
)
from jagged_lens.progress import Progress

_WAIT = 400  # milliseconds without a further change before the preview is made anew
_NOTHING = object()


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
        wear(self)
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

    def _lay_out(self) -> None:
        whole = QVBoxLayout(self)
        whole.setContentsMargins(18, 14, 18, 12)
        whole.setSpacing(9)
        self.files, self.pasted = FilePage(self._folder), PastedPage(self._folder)
        self.database, self.links = DatabasePage(self._folder), LinksPage(self._folder)
        self.pages: dict[str, SourcePage] = {
            page.kind: page for page in (self.files, self.pasted, self.database, self.links)
        }
        self.database.tables_wanted.connect(self._list_tables)
        self.pasted.from_clipboard.clicked.connect(self._look_now)
        kinds = QHBoxLayout()
        kinds.setSpacing(6)
        self.kinds: dict[str, Button] = {}
        group = QButtonGroup(self)
        self._stack = QStackedWidget()
        for kind, page in self.pages.items():
            button = Tab(page.words)
            button.setAutoDefault(False)
            group.addButton(button)
            button.clicked.connect(lambda _=False, kind=kind: self.show_kind(kind))
            kinds.addWidget(button)
            self.kinds[kind] = button
            self._stack.addWidget(page)
            page.changed.connect(self._changed)
        kinds.addStretch(1)
        whole.addLayout(kinds)
        whole.addWidget(self._stack)
        self.table_options, self.text_options = TableOptions(), TextOptions()
        self.table_options.changed.connect(self._reading_changed)
        self.text_options.changed.connect(self._changed)
        whole.addWidget(self.table_options)
        whole.addWidget(self.text_options)
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setAccessibleName("What was found")
        whole.addWidget(self.said)
        self.offers = QWidget()
        self._offers_row = QHBoxLayout(self.offers)
        self._offers_row.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self.offers)
        self.table = PreviewTable()
        self.table.roles_changed.connect(self._roles_changed)
        whole.addWidget(self.table, 1)
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        without_icons(self.buttons)
        self.main = self.buttons.addButton("Add", QDialogButtonBox.ButtonRole.AcceptRole)
        assert self.main is not None
        if self._kept is not None:
            self.main.setText("Read with these settings")
        self.main.setDefault(True)
        self.main.setProperty("kind", "main")
        self.buttons.accepted.connect(self._accept)
        self.buttons.rejected.connect(self.reject)
        whole.addWidget(self.buttons)
        self.show_kind("file")

    # What is chosen.

    @property
    def kind(self) -> str:
        """The kind of source whose page is in front."""
        return next(kind for kind, button in self.kinds.items() if button.isChecked())

    def show_kind(self, kind: str) -> None:
        """Bring up the fields of one kind of source."""
        self.kinds[kind].setChecked(True)
        self._stack.setCurrentWidget(self.pages[kind])
        for page in self.pages.values():  # a hidden page must not make the shown one taller
            policy = page.sizePolicy()
            shown = page is self.pages[kind]
            policy.setVerticalPolicy(policy.Policy.Preferred if shown else policy.Policy.Ignored)
            page.setSizePolicy(policy)
        self.pages[kind].take_focus()
        self._changed()

    def choose(self, path: Path) -> None:
        """Fill in a file or folder."""
        self.show_kind("file")
        self.files.file.setText(str(path))
        self._look_now()

    def paste(self) -> None:
        """Fill in what is on the clipboard."""
        self.show_kind("pasted")
        self.pasted.paste()
        self._look_now()

    def _values(self) -> dict[str, Any]:
        """The values of the fields, by recipe key."""
        nothing: dict[str, Any] = dict.fromkeys(("file", "pasted", "database", "links", "table", "query"), "")
        table = self._seen is not None and self._seen.is_table
        options = (self.text_options.values(), self.table_options.values())
        first, last = options if table else reversed(options)  # the encoding is that of the last
        return {**nothing, **self.pages[self.kind].values(), **self.links.manners(), **first, **last}

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
            for key in OF_TEXTS:
                changed.pop(key, None)
        whole = {**kept, **changed}
        others = set(self.pages) - {kind}
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
        address, password = self.database.address()
        if self.kind == "database" and password:
            self._passwords[address] = password

    # What happens when something is changed.

    def _changed(self) -> None:
        if not self._building:
            self._wait.start()

    def _reading_changed(self) -> None:
        if not self._building:
            self._roles_by_hand = self._kept is not None
            self._changed()

    def _roles_changed(self) -> None:
        self._roles_by_hand = self._roles_touched = True
        self._say()

    def _look_now(self) -> None:
        self._wait.stop()
        self._look()

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
            self.said.setText("The first rows or documents appear here before anything is added.")
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
            self.table_options.show_preview(found)
            self._roles_by_hand = True
        now = self._values()
        self._before |= {key: now[key] for key in untouched & {"separator", "sheet", "header", "encoding"}}
        self._show_options()
        self._say()

    def _show_options(self) -> None:
        """Show how it is read, as far as that means something."""
        seen = self._seen
        self.table_options.show_known(seen)
        table = seen is not None and seen.is_table
        self.text_options.setVisible(not table and self.kind in ("file", "pasted"))
        names = [row[0] for row in seen.rows] if seen is not None and not table and self.kind == "file" else []
        mails = any(name.lower().endswith((".eml", ".mbox", ".msg")) for name in names)
        self.text_options.show_for(self.kind, mails or self.text_options.replies.isChecked())
        deepest = max(names, key=lambda name: name.count("/"), default="")
        self.text_options.show_path(deepest if "/" in deepest or len(names) > 1 else "")

    def _say(self) -> None:
        """The findings and oddities, in words."""
        seen = self._seen
        if seen is None:
            return
        lines = []
        if seen.is_table:
            roles = self.table.roles
            if "text" not in roles and "link" not in roles:
                lines.append("Choose the text column on its header.")
            elif "link" in roles:
                lines.append("The pages in the link column are fetched; the other columns are kept with them.")
            else:
                first = (
                    f"The first {len(seen.rows):,} rows."
                    if len(seen.rows) >= 200
                    else amount(len(seen.rows), "row") + "."
                )
                lines.append(f"{first} Set the role of each column on its header.")
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
        self._show_offers(seen)
        warned = bool(seen.is_table and self.table.warnings)
        self.said.setText("\n".join(lines[:5]))
        theme.tone(self.said, "madder" if warned else "muted")

    def _show_offers(self, seen: Preview) -> None:
        """Other ways to cut the text, which it looks as if it were made for."""
        while (item := self._offers_row.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        for words, settings in seen.offers:
            button = Tab(f"{words[:1].upper()}{words[1:]}")
            button.setAutoDefault(False)
            button.clicked.connect(partial(self.text_options.cut_into, settings["cut"], settings["cut-at"]))
            self._offers_row.addWidget(button)
        self._offers_row.addStretch(1)
        self.offers.setVisible(bool(seen.offers))

    def _failed(self, error: JaggedLensError) -> None:
        self._seen = None
        self.offers.hide()
        self.table.show_preview(None)
        self._show_options()
        self.said.setText(str(error))
        theme.tone(self.said, "madder")

    def _accept(self) -> None:
        try:
            source = self._source()
        except RecipeError as error:
            self._failed(error)
            return
        if source is None:
            self.said.setText("First say where the documents are.")
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

    # The tables of a database.

    def _list_tables(self) -> None:
        address, _ = self.database.address()
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
        self.database.show_tables(found)
        self.said.setText(f"{amount(len(found), 'table')}." if found else "The database has no tables.")

    def _show_source(self, source: Source) -> None:
        """Fill the fields with a source that is there."""
        self._building = True
        self.show_kind(source.kind)
        for page in self.pages.values():
            page.show_source(source)
        self.table_options.show_source(source)
        self.text_options.show_source(source)
        self._building = False
        self._before = self._values()
        self._look_now()
