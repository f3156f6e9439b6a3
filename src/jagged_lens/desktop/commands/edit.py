# SPDX-License-Identifier: GPL-3.0-or-later
"""Commands that take back, find and filter."""

from __future__ import annotations

from jagged_lens.desktop.commands.command import Command

EDIT = (
    Command(
        "&Undo",
        lambda window: window.bench.undo(),
        "Ctrl+Z",
        "Undo the last change.",
        enabled=lambda window: window.bench.history.undo_text is not None,
    ),
    Command(
        "&Redo",
        lambda window: window.bench.redo(),
        "Ctrl+Shift+Z",
        "Redo the last undone change.",
        enabled=lambda window: window.bench.history.redo_text is not None,
    ),
    Command(
        "&Find in all texts…",
        lambda window: window.find_bar.open_bar(),
        "Ctrl+F",
        "Words, word* and phrases; the hits become the pick.",
        rule=True,
    ),
    Command(
        "Filter this table",
        lambda window: window.desk.find_in_front(),
        "/",
        "Filter the table of this desk.",
    ),
)
