# SPDX-License-Identifier: GPL-3.0-or-later
"""A line of text that a command asks for."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.look.plain import ask_choice, ask_line


def asked(
    window: QWidget, title: str, label: str, text: str, choices: list[str] | None = None, empty: bool = False
) -> str | None:
    """A line of text from the user; None where they thought better of it, or left empty what must not be."""
    if choices:
        words, fine = ask_choice(window, title, label, choices, len(choices) - 1, True)
    else:
        words, fine = ask_line(window, title, label, text)
    words = " ".join(words.split())
    return words if fine and (words or empty) else None
