# SPDX-License-Identifier: GPL-3.0-or-later
"""The sheet on which the title and the note of a finding are written, or a heading or paragraph of the report."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QDialog, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.sheet_end import end_sheet
from jagged_lens.desktop.look.worn import wear


class EntryEditor(QDialog):
    """One line, or text, or both. `done` gets the line and the text; a sheet without one gives "" for it."""

    def __init__(
        self,
        title: str,
        line: str | None,
        text: str | None,
        done: Callable[[str, str], None],
        parent: QWidget,
        line_name: str = "Title",
        text_name: str = "Note",
    ) -> None:
        super().__init__(parent)
        wear(self)
        self.setWindowTitle(title)
        self._done = done
        column = QVBoxLayout(self)
        self.line, self.text = QLineEdit(line or ""), QPlainTextEdit(text or "")
        if line is not None:
            column.addWidget(muted(line_name))
            self.line.setAccessibleName(line_name)
            self.line.setMinimumWidth(440)
            column.addWidget(self.line)
        if text is not None:
            column.addWidget(muted(text_name))
            self.text.setAccessibleName(text_name)
            self.text.setTabChangesFocus(True)
            column.addWidget(self.text)
        self._needs_line, self._needs_text = line is not None, line is None
        self.keep = end_sheet(self, column, "Keep", self._accept)
        self.line.textChanged.connect(self._offer)
        self.text.textChanged.connect(self._offer)
        (self.line if line is not None else self.text).setFocus()
        self.line.selectAll()
        self._offer()

    def _offer(self) -> None:
        written = self.line.text().strip() if self._needs_line else self.text.toPlainText().strip()
        self.keep.setEnabled(bool(written))

    def _accept(self) -> None:
        self.accept()
        self._done(" ".join(self.line.text().split()), self.text.toPlainText().strip())
