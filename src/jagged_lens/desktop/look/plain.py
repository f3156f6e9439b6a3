# SPDX-License-Identifier: GPL-3.0-or-later
"""Text from documents, names, recipes and errors is shown as it stands, never as markup: what looks like a tag could make the
window read files or addresses that it names."""

from __future__ import annotations

import html
from typing import Protocol

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QDialogButtonBox, QInputDialog, QLabel, QMenu, QMessageBox, QToolTip, QWidget

from jagged_lens.desktop.look.worn import wear

Message = QMessageBox
"""A box that says something, as `message` makes it."""


class PlainLabel(QLabel):
    """A label that shows its text as it stands."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


_MOST_OF_TIP = 1500  # characters


def tip(text: str) -> str:
    """A text for a place where Qt takes what looks like markup for markup: tool tips, and the second text of a message. Of a very
    long one the beginning."""
    if len(text) > _MOST_OF_TIP:
        text = f"{text[:_MOST_OF_TIP]} …"
    if "<" not in text:
        return text
    return f"<span>{html.escape(text)}</span>".replace("\n", "<br>")


class Tipped(Protocol):
    """A thing with a tool tip: a widget, an entry of a menu, an item of a list."""

    def setToolTip(self, text: str | None) -> None: ...


def set_tip(of: Tipped, text: str) -> None:
    """Give something a tool tip."""
    of.setToolTip(tip(text))


def ask_line(parent: QWidget, title: str, label: str, text: str = "") -> tuple[str, bool]:
    """A line that the user types, and whether it was taken over."""
    box = _asking(parent, title, label)
    box.setInputMode(QInputDialog.InputMode.TextInput)
    box.setTextValue(text)
    return _answer(box)


def ask_choice(
    parent: QWidget, title: str, label: str, choices: list[str], current: int, editable: bool
) -> tuple[str, bool]:
    """One of some lines, or one that is typed, and whether it was taken over."""
    box = _asking(parent, title, label)
    box.setComboBoxItems(choices)
    box.setComboBoxEditable(editable)
    box.setTextValue(choices[current])
    return _answer(box)


def _asking(parent: QWidget, title: str, label: str) -> QInputDialog:
    box = QInputDialog(parent)
    box.setWindowTitle(title)
    box.setLabelText(tip(label))
    wear(box)
    return box


def _answer(box: QInputDialog) -> tuple[str, bool]:
    taken = box.exec() == QInputDialog.DialogCode.Accepted
    words = box.textValue()
    box.deleteLater()
    return words, taken


def show_tip(at: QPoint, text: str, widget: QWidget) -> None:
    """Show a tool tip now."""
    QToolTip.showText(at, tip(text), widget)


def message(
    parent: QWidget | None,
    words: str,
    details: str = "",
    icon: QMessageBox.Icon = QMessageBox.Icon.Warning,
    buttons: QMessageBox.StandardButton = QMessageBox.StandardButton.NoButton,
) -> QMessageBox:
    """A message, not yet shown."""
    box = QMessageBox(icon, "Jagged Lens", "", buttons, parent)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(words)
    box.setInformativeText(tip(details))
    without_icons(box)
    wear(box)
    return box


def without_icons(box: QMessageBox | QDialogButtonBox) -> None:
    """Take the icons off the standard buttons of a box: their words say it."""
    for button in box.buttons():
        button.setIcon(QIcon())


_ENTRY = 80  # characters


def plain_entry(text: str) -> str:
    """A text from outside as the entry of a menu: in one line, no letter of it underlined."""
    line = " ".join(text.split())
    return (line if len(line) <= _ENTRY else line[: _ENTRY - 1] + "…").replace("&", "&&")


def add_heading(menu: QMenu, words: str) -> None:
    """Put a heading into a menu, as words that cannot be chosen; the sections of Qt lose their words where a menu is dressed."""
    if menu.actions():
        menu.addSeparator()
    heading = menu.addAction(plain_entry(words))
    assert heading is not None
    heading.setEnabled(False)
