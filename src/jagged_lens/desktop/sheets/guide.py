# SPDX-License-Identifier: GPL-3.0-or-later
"""The guide, the formulas and the file formats inside the window, opened at the place that fits."""

from __future__ import annotations

import re
from functools import cache
from importlib import resources
from pathlib import Path

from PyQt6.QtCore import QTimer, QUrl
from PyQt6.QtGui import QTextBlock, QTextCursor, QTextDocument
from PyQt6.QtWidgets import (
    QButtonGroup,
    QDialog,
    QHBoxLayout,
    QLineEdit,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.look.controls import Button, Tab
from jagged_lens.desktop.look.worn import wear

PAGES = {"guide": "Guide", "formulas": "Formulas", "formats": "Files and recipes"}
_PICTURES = re.compile(r"!\[[^\]]*\]\([^)]*\)\n?")


def page_text(name: str) -> str:
    """A page of the documentation, as Markdown, without its pictures; "" where it was not installed."""
    installed = resources.files("jagged_lens").joinpath(f"docs/{name}.md")
    beside = Path(__file__).parents[4] / "docs" / f"{name}.md"
    for place in (installed, beside):
        if place.is_file():
            return _PICTURES.sub("", place.read_text("utf-8"))
    return ""


@cache
def glossary() -> dict[str, str]:
    """The words of the glossary and their definitions, in the order of the guide."""
    _, _, page = page_text("guide").partition("# Glossary")
    found = re.findall(r"^- \*\*(.+?)\*\*: (.+?)(?: \[\d\])?[.;]?$", page, re.MULTILINE)
    return {word: text.partition(" [")[0] for word, text in found}


class Guide(QDialog):
    """The pages, one at a time; a field searches the page in front."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        wear(self)
        self.setWindowTitle("Guide")
        column = QVBoxLayout(self)
        row = QHBoxLayout()
        self.buttons: dict[str, Button] = {}
        group = QButtonGroup(self)
        for name, title in PAGES.items():
            button = Tab(title)
            button.setAutoDefault(False)
            button.clicked.connect(lambda _=False, name=name: self.show_page(name))
            group.addButton(button)
            row.addWidget(button)
            self.buttons[name] = button
        row.addStretch(1)
        self.field = QLineEdit()
        self.field.setPlaceholderText("Find on this page")
        self.field.setAccessibleName("Find on this page")
        self.field.setClearButtonEnabled(True)
        self.field.returnPressed.connect(self.find_next)
        row.addWidget(self.field)
        column.addLayout(row)
        self.page = QTextBrowser()
        self.page.setAccessibleName("The page")
        self.page.setOpenLinks(False)
        self.page.anchorClicked.connect(self._follow)
        column.addWidget(self.page, 1)
        self.name = ""
        self._at = QTextBlock()
        wide = self.fontMetrics().averageCharWidth()
        self.resize(min(wide * 108, parent.width() - 40), min(wide * 96, parent.height() - 40))

    def show_page(self, name: str, heading: str = "") -> None:
        """Show a page from a heading, such as Terms, or from a word of the glossary."""
        if self.name != name:
            self.name = name
            self.page.setMarkdown(page_text(name) or "This page is not installed; see docs/ in the project.")
        self.buttons[name].setChecked(True)
        cursor = QTextCursor(self._document())
        cursor.setPosition(max(self.place_of(heading), 0))
        self.page.setTextCursor(cursor)
        self._at = cursor.block()
        QTimer.singleShot(0, self._to_the_top)

    def _to_the_top(self) -> None:
        """Bring the heading that was asked for to the top, once the page is laid out."""
        bar, layout = self.page.verticalScrollBar(), self._document().documentLayout()
        if bar is not None and layout is not None and self._at.isValid():
            bar.setValue(int(layout.blockBoundingRect(self._at).top()))

    def place_of(self, heading: str) -> int:
        """The position of a heading on the page in front, whatever number is in front of it; -1 where there is none."""
        block = self._document().begin()
        while heading and block.isValid():
            entry = block.textList() is not None and block.text().startswith(f"{heading}: ")
            if entry or (block.blockFormat().headingLevel() and re.sub(r"^\d+ ", "", block.text()) == heading):
                return block.position()
            block = block.next()
        return -1

    def find_next(self) -> None:
        """Go to the next place that holds what stands in the field."""
        if not self.page.find(self.field.text()):
            self.page.moveCursor(QTextCursor.MoveOperation.Start)
            self.page.find(self.field.text())

    def _document(self) -> QTextDocument:
        document = self.page.document()
        assert document is not None
        return document

    def _follow(self, url: QUrl) -> None:
        name = Path(url.path()).stem
        if name in PAGES:
            self.show_page(name)
