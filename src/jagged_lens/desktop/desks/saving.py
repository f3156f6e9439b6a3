# SPDX-License-Identifier: GPL-3.0-or-later
"""What goes out of a desk into a file or a folder, and what is said where that does not work."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from jagged_lens.desktop.look.plain import message
from jagged_lens.desktop.plots.drawing_file import ENDINGS
from jagged_lens.named_file import write_whole


def drawing_path(parent: QWidget, name: str) -> Path | None:
    """Ask where a drawing is to go: a file with the ending of one of its kinds; None where the user thought better of it."""
    chosen, kind = QFileDialog.getSaveFileName(parent.window(), "Save the picture", name, ";;".join(ENDINGS))
    if not chosen:
        return None
    path = Path(chosen)
    return path if path.suffix.lower() in ENDINGS.values() else path.with_name(path.name + ENDINGS.get(kind, ".png"))


def save_to(parent: QWidget, path: Path, save: Callable[[Path], None]) -> None:
    """Have a file written, and what belongs beside it, or files into a folder; a box says it where they cannot be, and what was there
    before then stays."""
    try:
        write_whole(path, save)
    except OSError as error:
        message(parent.window(), f"{path.name} was not saved.", f"{path}: {error.strerror}").exec()
