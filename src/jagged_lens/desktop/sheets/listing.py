# SPDX-License-Identifier: GPL-3.0-or-later
"""A window with a table in it, to be read, filtered and copied: what was not read, how links went, what a refresh found."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLineEdit, QVBoxLayout, QWidget

from jagged_lens.desktop.look.plain import PlainLabel, without_icons
from jagged_lens.desktop.look.worn import wear
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView


class Listing(QDialog):
    """Rows of texts under a sentence; optionally with a main action."""

    def __init__(
        self,
        title: str,
        words: str,
        titles: Sequence[str],
        rows: Sequence[Sequence[str]],
        parent: QWidget,
        action: tuple[str, Callable[[], None]] | None = None,
    ) -> None:
        super().__init__(parent)
        wear(self)
        self.setWindowTitle(title)
        column = QVBoxLayout(self)
        said = PlainLabel(words)
        said.setWordWrap(True)
        column.addWidget(said)
        self.table = TableView(title)
        columns = [
            Column(name, lambda row, at=at: rows[row][at], searched=True)  # type: ignore[misc]
            for at, name in enumerate(titles)
        ]
        if len(rows) > 8:
            field = QLineEdit()
            field.setPlaceholderText("Filter")
            field.setAccessibleName("Filter")
            field.setClearButtonEnabled(True)
            field.textChanged.connect(self.table.listed.filter)
            column.addWidget(field)
        column.addWidget(self.table, 1)
        self.table.show_rows(columns, len(rows), len(titles) - 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        without_icons(buttons)
        buttons.rejected.connect(self.reject)
        if action is not None:
            main = buttons.addButton(action[0], QDialogButtonBox.ButtonRole.AcceptRole)
            assert main is not None
            main.setDefault(True)
            main.setProperty("kind", "main")
            self.main = main
            buttons.accepted.connect(self.accept)
            self.accepted.connect(action[1])
        column.addWidget(buttons)
        wide = self.fontMetrics().averageCharWidth()
        self.resize(wide * 110, int(wide * 62))
