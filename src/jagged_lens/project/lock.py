# SPDX-License-Identifier: GPL-3.0-or-later
"""The lock of a project file: one window at a time has it, whatever the name it was opened by."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import struct
from pathlib import Path
from typing import Any

import platformdirs

from jagged_lens.project.schema import NotWritableError, ProjectError, reason

_TRIES = 20


class Lock:
    """Holds a project file for one window; the lock ends with the process, however that ends.

    It is of the name, in a file beside the project, and of the file itself, so that a second name (a hard link, a folder that is
    mounted twice) does not lead to it either.
    """

    def __init__(self, path: Path) -> None:
        """ProjectError where another window has it open. The project itself need not be there yet."""
        self._file: Any = None
        self._itself: Any = None
        self._path = path
        try:
            # Of its own file: SQLite's locks on the project itself must not meet another opener in this process. A project
            # is one, whatever links lead to it.
            real = path.resolve()
            self._place = real.with_name(f".{real.name}.lock")
            for _ in range(_TRIES):
                file = self._place.open("w")
                try:
                    fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                except OSError:
                    file.close()
                    raise
                if _same(self._place, file):
                    self._file = file
                    break
                file.close()  # whoever held it has removed it meanwhile: what was locked is no longer looked at
            else:
                raise BlockingIOError
            with contextlib.suppress(FileNotFoundError):
                self._itself = _held(os.stat(path))
        except BlockingIOError:
            self.release()
            raise ProjectError("the project is open in another window", path.name, "Close it there first.") from None
        except (OSError, RuntimeError) as error:
            raise NotWritableError(f"the folder cannot be written to ({reason(error)})", str(path.parent)) from error

    def follow(self) -> None:
        """Hold the file that stands under the name now, which was just made."""
        if self._itself is not None:
            self._itself.close()
            self._itself = None
        with contextlib.suppress(OSError):  # a new file is nobody else's: what holds its number held one that is gone
            self._itself = _held(os.stat(self._path))

    def release(self) -> None:
        """Let go of the file."""
        if self._itself is not None:
            self._itself.close()
            self._itself = None
        if self._file is not None:
            with contextlib.suppress(OSError):
                if _same(self._place, self._file):
                    self._place.unlink()
            self._file.close()
            self._file = None


def _same(path: Path, file: Any) -> bool:
    """True if a file that is open still stands under its name."""
    try:
        there, own = os.stat(path), os.fstat(file.fileno())
    except OSError:
        return False
    return (there.st_dev, there.st_ino) == (own.st_dev, own.st_ino)


def _held(state: os.stat_result) -> Any:
    """A file that is open as long as this window holds the project of that device and number. None where the folder of the user's state
    cannot be written. BlockingIOError where another window holds it.

    All windows lock one byte each of the same file, the one whose place stands for the project: so nothing has to be cleared away.
    """
    name = hashlib.blake2b(f"{state.st_dev} {state.st_ino}".encode(), digest_size=7).digest()
    folder = Path(platformdirs.user_state_dir("jagged-lens"))
    try:
        folder.mkdir(parents=True, exist_ok=True)
        file = (folder / "open-projects").open("ab")
    except OSError:
        return None
    # A lock of the open file, not of the process: it stays when another reader in this process closes the same file.
    wanted = struct.pack("hhqqi4x", fcntl.F_WRLCK, os.SEEK_SET, int.from_bytes(name, "big"), 1, 0)
    try:
        fcntl.fcntl(file, fcntl.F_OFD_SETLK, wanted)
    except BlockingIOError:
        file.close()
        raise
    except OSError:  # a file system without locks
        file.close()
        return None
    return file
