"""What goes out of a desk into a file or a folder, and what is said where that does not work."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.look.plain import message


def save_to(parent: QWidget, path: Path, save: Callable[[Path], None]) -> None:
    """Have something written; a box says it where it cannot be."""
    try:
        save(path)
    except OSError as error:
        message(parent.window(), f"{path.name} was not saved.", f"{path}: {error.strerror}").exec()
