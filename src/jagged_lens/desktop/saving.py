# SPDX-License-Identifier: GPL-3.0-or-later
"""Export from a desk to a file or folder, and its message: where it went, or why it could not be written."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look.plain import message
from jagged_lens.desktop.plots.drawing_file import ENDINGS
from jagged_lens.named_file import write_whole


class _Announcer(QObject):
    saved = pyqtSignal(QWidget, Path)


_announcer = _Announcer()
saved = _announcer.saved
"""saved(window, path): a file was written, or files into a folder, for somebody in this window."""
_SAVER = "saver"


def drawing_path(parent: QWidget, name: str) -> Path | None:
    """Ask where a drawing is to go: a file with the ending of one of its kinds; None where the user thought better of it."""
    chosen, kind = QFileDialog.getSaveFileName(parent.window(), "Save the picture", name, ";;".join(ENDINGS))
    if not chosen:
        return None
    path = Path(chosen)
    return path if path.suffix.lower() in ENDINGS.values() else path.with_name(path.name + ENDINGS.get(kind, ".png"))


def table_path(parent: QWidget, name: str) -> Path | None:
    """Ask where a table is to go: a file that ends in .csv unless the user says otherwise; None where he thought better of it."""
    chosen, _ = QFileDialog.getSaveFileName(parent.window(), "Save the table", name, "Tables (*.csv)")
    if not chosen:
        return None
    path = Path(chosen)
    return path if path.suffix else path.with_suffix(".csv")


def save_to(parent: QWidget, path: Path, save: Callable[[Path], None]) -> None:
    """Have a file written beside the window, and what belongs beside it, or files into a folder. A box says it where they cannot
    be, and what was there before then stays."""
    window = parent.window()
    assert window is not None
    asker = next(iter(window.findChildren(Asker, _SAVER)), None) or _new_saver(window)
    asker.ask(str(path), lambda: _tried(path, save), partial(_say, window, path))


def _new_saver(window: QWidget) -> Asker:
    saver = Asker(window)
    saver.setObjectName(_SAVER)
    return saver


def save_drawn(parent: QWidget, path: Path, save: Callable[[Path], None]) -> None:
    """Have a picture written, which only this thread can draw; the same is said of it."""
    window = parent.window()
    assert window is not None
    _say(window, path, _tried(path, save))


def _tried(path: Path, save: Callable[[Path], None]) -> str:
    """The error; "" if there was none."""
    try:
        write_whole(path, save)
    except OSError as error:
        return error.strerror or str(error)
    return ""


def _say(window: QWidget, path: Path, wrong: str) -> None:
    if wrong:
        message(window, f"{path.name} was not saved.", f"{path}: {wrong}").exec()
    else:
        saved.emit(window, path)
