"""Text from documents, names, recipes and errors is shown as it stands, never as markup: what looks like a tag could make the
window read files or addresses that it names."""

from __future__ import annotations

import html

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QLabel, QMenu, QMessageBox, QToolTip, QWidget


class PlainLabel(QLabel):
    """A label that shows its text as it stands."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def tip(text: str) -> str:
    """A text for a place where Qt takes what looks like markup for markup: tool tips, and the second text of a message."""
    if "<" not in text:
        return text
    return f"<span>{html.escape(text)}</span>".replace("\n", "<br>")


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
    return box


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
