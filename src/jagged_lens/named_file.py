"""Files that a user or a recipe names: where they are, and their bytes where they are small and plain files.

Whatever is wrong with one is an OSError whose `strerror` says it in words.
"""

from __future__ import annotations

import errno
import os
import stat
from pathlib import Path

MOST_BYTES = 20_000_000


def path_of(name: str, folder: Path) -> Path:
    """The path that a name means; a relative one is relative to `folder`, ~ is a home. OSError where it can mean none."""
    if "\0" in name:
        raise OSError(errno.EINVAL, "no file can have such a name", name)
    try:
        return folder / Path(name).expanduser()
    except RuntimeError:
        raise OSError(errno.ENOENT, "there is no home folder of that user", name) from None


def shown_name(name: str) -> str:
    r"""A name as it is shown and kept: bytes of it that are no UTF-8 stand as \xNN, so that no two names become one.

    >>> shown_name("notes-\udce9t\udce9.txt")
    'notes-\\xe9t\\xe9.txt'
    """
    return os.fsencode(name).decode("utf-8", "backslashreplace")


def plain_file(path: Path) -> int:
    """The size in bytes of a plain file. OSError where it is none: a pipe or a device would be read without an end."""
    try:
        state = path.stat()
    except ValueError:
        raise OSError(errno.EINVAL, "no file can have such a name", str(path)) from None
    if stat.S_ISDIR(state.st_mode):
        raise OSError(errno.EISDIR, "it is a folder", str(path))
    if not stat.S_ISREG(state.st_mode):
        raise OSError(errno.EINVAL, "it is no plain file", str(path))
    return state.st_size


def small_file(path: Path, most: int = MOST_BYTES) -> bytes:
    """The bytes of a plain file of at most `most` bytes."""
    if plain_file(path) > most:
        raise OSError(errno.EFBIG, f"it is larger than {most / 1e6:g} MB", str(path))
    with open(os.open(path, os.O_RDONLY | os.O_CLOEXEC | os.O_NONBLOCK), "rb") as file:
        return file.read(most)


def file_state(path: Path) -> tuple[int, int]:
    """Size and time of change (ns) of a file, by which it is known whether it changed; -1, -1 where there is none."""
    try:
        state = os.stat(path)
    except (OSError, ValueError):
        return -1, -1
    return state.st_size, state.st_mtime_ns
