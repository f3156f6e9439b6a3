# SPDX-License-Identifier: GPL-3.0-or-later
"""The keeper: saves the state of a project in a thread of its own, so that a crash loses at most the last few seconds.

A project that has no name yet is kept in the XDG state folder from its first moment, and found again after a crash.
"""

from __future__ import annotations

import contextlib
import datetime
import os
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import platformdirs

from jagged_lens.project.file import ProjectFile, Reading
from jagged_lens.project.lock import Lock
from jagged_lens.project.schema import ENDING, NotWritableError, ProjectError, create

_PAUSE = 0.4  # seconds between two savings, so that a dragged limit does not save at every step
_MOST_UNNAMED = 12
_PRUNING = 2.0  # seconds at closing


def unnamed_folder() -> Path:
    """The folder of unnamed projects."""
    return Path(platformdirs.user_state_dir("jagged-lens")) / "unnamed"


def left_over(folder: Path | None = None) -> list[Path]:
    """Projects without a name that no window has open, the newest first."""
    found = []
    for path in left_over_candidates(folder):
        with contextlib.suppress(ProjectError):
            lock = Lock(path)
            lock.release()
            found.append(path)
    return found


def crashed_projects(folder: Path | None = None) -> list[Path]:
    """Projects without a name whose window did not let go of them: it ended unexpectedly. The newest first.

    A project is offered once: afterwards it is like any other that is left over.
    """
    found = []
    for path in left_over_candidates(folder):
        lock = path.with_name(f".{path.name}.lock")
        if lock.exists():
            with contextlib.suppress(ProjectError):
                Lock(path).release()
                found.append(path)
    return found


def left_over_candidates(folder: Path | None) -> list[Path]:
    """All projects without a name, the newest first; one that another window removes meanwhile is none."""
    found = []
    with contextlib.suppress(OSError):
        for path in (folder or unnamed_folder()).glob(f"*{ENDING}"):
            with contextlib.suppress(OSError):
                found.append((-path.stat().st_mtime, path))
    return [path for _, path in sorted(found)]


def hold(path: Path) -> tuple[Keeper | None, Reading | None, str]:
    """The keeper of a project; or its reader, and why nothing can be kept in it. ProjectError where another window has it."""
    try:
        return Keeper(path, path.parent != unnamed_folder()), None, ""
    except NotWritableError as error:
        return None, Reading(path), str(error)


def _redate(folder: Path) -> None:
    """Date projects of tomorrow, which there are after a clock has gone back, to now: else they would be the newest for as long
    as it takes, and those of today would be given up before them."""
    now = time.time()
    for number, path in enumerate(left_over_candidates(folder)):
        with contextlib.suppress(OSError):
            if path.stat().st_mtime > now:
                os.utime(path, (now - number / 1000,) * 2)


class Keeper:
    """Keeps one project file: holds it for this window, and saves what it is told, the newest first.

    failure: why saving does not work at the moment; "" where it does. saved: whether all that was told is in the file.
    """

    def __init__(self, path: Path, named: bool, new: bool = False) -> None:
        """Take hold of a project file that is there. ProjectError where another window has it.

        new: make an empty one first, in place of one that may be there.
        """
        if new:
            with contextlib.suppress(OSError):  # the lock says it
                path.parent.mkdir(parents=True, exist_ok=True)
        self._lock = Lock(path)
        if new:
            try:
                create(path)
            except ProjectError:
                self._lock.release()
                raise
            self._lock.follow()
        elif path.exists() and not os.access(path, os.W_OK):
            self._lock.release()
            raise NotWritableError("the project cannot be written to", str(path))
        self.file = ProjectFile(path)
        self._identity = _identity(path)
        self.named = named
        self.failure = ""
        self._failures = 0
        self._told: tuple[Callable[[], dict[str, Any]], dict[str, Any] | None] | None = None
        self._changed = threading.Condition()
        self._over = False
        self._busy = False
        self._thread = threading.Thread(target=self._run, name="keeper", daemon=True)
        self._thread.start()

    @classmethod
    def unnamed(cls, folder: Path | None = None) -> Keeper:
        """A new project file without a name."""
        folder = folder or unnamed_folder()
        now = datetime.datetime.now().strftime("%Y-%m-%d %H.%M.%S")
        path = folder / f"{now} {os.getpid()}{ENDING}"
        number = 2
        while path.exists():
            path = folder / f"{now} {os.getpid()} {number}{ENDING}"
            number += 1
        keeper = cls(path, False, new=True)
        _redate(folder)
        for old in left_over(folder)[_MOST_UNNAMED:]:  # not this one, since it is open
            with contextlib.suppress(OSError):
                old.unlink()
        return keeper

    @property
    def path(self) -> Path:
        """The project file."""
        return self.file.path

    @property
    def saved(self) -> bool:
        """True if all that was told is in the file."""
        with self._changed:
            return self._told is None and not self._busy and not self.failure

    def save(self, state: Callable[[], dict[str, Any]], window: dict[str, Any] | None = None) -> None:
        """Save soon. state: makes the plain state, in the keeper's thread."""
        with self._changed:
            if window is None and self._told is not None:
                window = self._told[1]
            self._told = (state, window)
            self._changed.notify_all()

    def flush(self, seconds: float = 20.0) -> bool:
        """Wait until all that was told is saved; False where that did not work."""
        with self._changed:
            before = self._failures
            self._changed.notify_all()
            self._changed.wait_for(
                lambda: (self._told is None and not self._busy) or self._failures > before or self._over, seconds
            )
            return self._told is None and not self._busy and not self.failure

    def move_to(self, path: Path, rescue: Callable[[ProjectFile], None] = lambda file: None) -> None:
        """Go on under another name: a copy there, and this one given up where it had no name.

        rescue: where this one is gone, damaged or replaced, writes into a new file what is still known.
        """
        gone = not self.present
        if not gone:
            self.flush()
        if path.absolute() == self.path.absolute():
            self.named = True
            return
        lock = Lock(path)
        try:
            if gone:
                create(path)
                rescue(ProjectFile(path))
            else:
                self.file.copy_to(path)
        except ProjectError:
            lock.release()
            raise
        lock.follow()
        before, named = self.path, self.named
        self._lock.release()
        with self._changed:
            self._lock, self.file, self.named = lock, ProjectFile(path), True
            self._identity = _identity(path)
            self.failure = ""
            self._changed.notify_all()
        if not named and not gone:
            with contextlib.suppress(OSError):
                before.unlink()

    @property
    def present(self) -> bool:
        """True if the file is still the one that was opened: not deleted, replaced, or on a drive that is gone."""
        return self._identity is not None and _identity(self.path) == self._identity

    def close(self, worth_keeping: bool = True, stamps: set[str] | None = None, seconds: float = 5.0) -> None:
        """Save what is left, and let go of the file. An unnamed one that is not worth keeping is removed.

        stamps: of the documents that the state needs; others are given up, as many as can be in a few seconds.
        """
        self.flush(seconds)
        with self._changed:
            self._over = True
            self._changed.notify_all()
        self._thread.join(seconds)
        if self.named or worth_keeping:
            if stamps is not None and self.present and not self.failure:
                with contextlib.suppress(ProjectError):
                    self.file.prune(stamps, _PRUNING)
        elif self.present:
            with contextlib.suppress(OSError):
                self.path.unlink()
        self._lock.release()

    def _saved(self, state: Callable[[], dict[str, Any]], window: dict[str, Any] | None) -> str:
        """Save; why that did not work, or ""."""
        if not self.present:
            return str(
                ProjectError(
                    "the project cannot be saved (its file is gone or was replaced)",
                    str(self.path),
                    "Nothing is lost while the window is open. Save it under another name.",
                )
            )
        try:
            self.file.save(state(), window)
        except ProjectError as error:
            return str(error)
        except Exception as error:  # whatever nobody foresaw is told like the rest, and the thread lives on
            return str(
                ProjectError(
                    f"the project cannot be saved (internal error: {type(error).__name__}: {error})",
                    str(self.path),
                    "Save it under another name, or save the recipe.",
                )
            )
        return ""

    def _run(self) -> None:
        while True:
            with self._changed:
                self._changed.wait_for(lambda: self._told is not None or self._over)
                if self._told is None:
                    return
                told, self._told, self._busy = self._told, None, True
            failure = self._saved(*told)
            self.failure = failure
            if failure:
                with self._changed:
                    self._failures += 1
                    self._told = self._told or told  # tried again with the next change, and at the end
                    self._busy = False
                    self._changed.notify_all()
                    if self._over:
                        return
                    self._changed.wait(5)
                continue
            with self._changed:
                self._busy = False
                self._changed.notify_all()
                if not self._over:
                    self._changed.wait_for(lambda: self._over, _PAUSE if self._told is not None else 0)


def _identity(path: Path) -> tuple[int, int] | None:
    """The identity of a file, whatever its name; None if there is none."""
    try:
        state = path.stat()
    except OSError:
        return None
    return state.st_dev, state.st_ino
