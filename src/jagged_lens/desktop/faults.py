# SPDX-License-Identifier: GPL-3.0-or-later
"""Faults of ours: whatever is raised in a slot is told once, can be copied, is noted without any text of a document, and the window
lives on."""

from __future__ import annotations

import contextlib
import datetime
import sys
import threading
import traceback
from pathlib import Path
from types import TracebackType

import platformdirs
from PyQt6.QtCore import QObject, pyqtSignal

from jagged_lens import __version__

_MOST = 400_000  # bytes of the log
_Kind = type[BaseException]


def log_file() -> Path:
    """The log of errors."""
    return Path(platformdirs.user_state_dir("jagged-lens")) / "faults.log"


class Faults(QObject):
    """Takes what nobody caught, in the interface thread and in others. Each fault is told once, by a signal.

    fault(words, details): the details are the places in the program and what Python says of it.
    """

    fault = pyqtSignal(str, str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._known: set[tuple[str, int, str]] = set()
        self._before = sys.excepthook, threading.excepthook
        sys.excepthook = self.take
        threading.excepthook = self._take_of_thread

    def forget(self) -> None:
        """Leave faults to whoever took them before."""
        sys.excepthook, threading.excepthook = self._before

    def _take_of_thread(self, said: threading.ExceptHookArgs) -> None:
        if said.exc_value is not None and said.exc_type is not SystemExit:
            self.take(said.exc_type, said.exc_value, said.exc_traceback)

    def take(self, kind: _Kind, error: BaseException, places: TracebackType | None) -> None:
        """Take a fault: what `sys.excepthook` is called with."""
        if issubclass(kind, (KeyboardInterrupt, SystemExit)):
            self._before[0](kind, error, places)
            return
        frames = traceback.extract_tb(places)
        last = frames[-1] if frames else None
        known = (last.filename, last.lineno or 0, kind.__name__) if last is not None else ("", 0, kind.__name__)
        if known in self._known:
            return
        self._known.add(known)
        with contextlib.suppress(OSError):
            _note(kind, frames)
        details = "".join(traceback.format_exception(kind, error, places))
        sys.stderr.write(details)
        with contextlib.suppress(RuntimeError):  # the window is gone
            self.fault.emit(f"Internal error ({kind.__name__}). You can go on working.", details)


def _note(kind: _Kind, frames: traceback.StackSummary) -> None:
    """Note a fault: when, where in the program, of what kind. What it says may hold words of a document, and is left out."""
    path = log_file()
    path.parent.mkdir(parents=True, exist_ok=True)
    if path.exists() and path.stat().st_size > _MOST:
        path.replace(path.with_suffix(".old"))
    now = datetime.datetime.now(datetime.UTC).isoformat(timespec="seconds")
    lines = [f"{now} {__version__} {kind.__name__}", *(f"  {one.filename}:{one.lineno} {one.name}" for one in frames)]
    with path.open("a", encoding="utf-8", errors="backslashreplace") as log:
        log.write("\n".join(lines) + "\n")
