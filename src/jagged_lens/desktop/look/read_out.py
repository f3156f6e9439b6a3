# SPDX-License-Identifier: GPL-3.0-or-later
"""The name of a field for a screen reader."""

from __future__ import annotations

from jagged_lens.desktop.look.controls import Choice


def name_editable(box: Choice, name: str) -> None:
    """Name a box that is typed into, and the field inside it, which takes the keyboard and is read out by itself."""
    box.setAccessibleName(name)
    if (field := box.lineEdit()) is not None:
        field.setAccessibleName(name)
