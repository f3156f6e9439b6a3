"""A line of text that a command asks for."""

from __future__ import annotations

from PyQt6.QtWidgets import QInputDialog, QLineEdit, QWidget

from jagged_lens.desktop.look.plain import tip


def asked(
    window: QWidget, title: str, label: str, text: str, choices: list[str] | None = None, empty: bool = False
) -> str | None:
    """A line of text from the user; None where they thought better of it, or left empty what must not be."""
    if choices:
        words, fine = QInputDialog.getItem(window, title, tip(label), choices, len(choices) - 1, True)
    else:
        words, fine = QInputDialog.getText(window, title, tip(label), QLineEdit.EchoMode.Normal, text)
    words = " ".join(words.split())
    return words if fine and (words or empty) else None
