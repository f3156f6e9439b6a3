# SPDX-License-Identifier: GPL-3.0-or-later
"""The end of a sheet: the one main action, and Cancel."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QVBoxLayout

from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import without_icons


def end_sheet(sheet: QDialog, column: QVBoxLayout, words: str, does: Callable[[], object]) -> Action:
    """Put the main action and Cancel below what is in a sheet. Gives the main action, which Return stands for."""
    buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
    without_icons(buttons)
    main = Action(words)
    main.be_main()
    main.setDefault(True)
    main.clicked.connect(does)
    buttons.addButton(main, QDialogButtonBox.ButtonRole.AcceptRole)
    buttons.rejected.connect(sheet.reject)
    column.addWidget(buttons)
    return main
