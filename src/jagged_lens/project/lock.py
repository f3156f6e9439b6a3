"""The lock of a project file: one window at a time has it, whatever the name it was opened by."""

from __future__ import annotations

import contextlib
import fcntl
import os
from pathlib import Path
from typing import Any

from jagged_lens.project.file import ProjectError, reason

_TRIES = 20


class Lock:
    """Holds a project file for one window; the lock ends with the process, however that ends."""

    def __init__(self, path: Path) -> None:
        """ProjectError where another window has it open."""
        self._file: Any = None
        try:
            # Of its own file: SQLite's locks on the project itself must not meet another opener in this process. A project
            # is one, whatever links lead to it.
            real = path.resolve()
            self._place = real.with_name(f".{real.name}.lock")
            for _ in range(_TRIES):
                self._file = self._place.open("w")
                fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                if self._still_there():
                    return
                self._file.close()  # whoever held it has removed it meanwhile: what was locked is no longer looked at
                self._file = None
            raise BlockingIOError
        except BlockingIOError:
            if self._file is not None:
                self._file.close()
                self._file = None
            raise ProjectError("the project is open in another window", path.name, "Close it there first.") from None
        except (OSError, RuntimeError) as error:
            raise ProjectError(f"the folder cannot be written to ({reason(error)})", str(path.parent)) from error

    def _still_there(self) -> bool:
        try:
            there, own = os.stat(self._place), os.fstat(self._file.fileno())
        except OSError:
            return False
        return (there.st_dev, there.st_ino) == (own.st_dev, own.st_ino)

    def release(self) -> None:
        """Let go of the file."""
        if self._file is not None:
            with contextlib.suppress(OSError):
                if self._still_there():
                    self._place.unlink()
            self._file.close()
            self._file = None
