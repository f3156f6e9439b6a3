# SPDX-License-Identifier: GPL-3.0-or-later
"""Files that a user or a recipe names: where they are, and their bytes where they are small and plain files.

Whatever is wrong with one is an OSError whose `strerror` says it in words.
"""

from __future__ import annotations

import contextlib
import errno
import os
import shutil
import stat
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import BinaryIO

MOST_BYTES = 20_000_000
_HALF = ".half-written-"


def path_of(name: str, folder: Path) -> Path:
    """The path that a name means; a relative one is relative to `folder`, ~ is a home. OSError where it can mean none."""
    if "\0" in name:
        raise OSError(errno.EINVAL, "that is not a possible file name", name)
    try:
        return folder / Path(name).expanduser()
    except RuntimeError:
        raise OSError(errno.ENOENT, "that user has no home folder", name) from None


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
        raise OSError(errno.EINVAL, "that is not a possible file name", str(path)) from None
    if stat.S_ISDIR(state.st_mode):
        raise OSError(errno.EISDIR, "it is a folder", str(path))
    if not stat.S_ISREG(state.st_mode):
        raise OSError(errno.EINVAL, "it is not a regular file", str(path))
    return state.st_size


def open_plain(path: Path) -> BinaryIO:
    """A plain file, open to be read. OSError where it is none: a pipe is not even waited for."""
    plain_file(path)
    file = open(os.open(path, os.O_RDONLY | os.O_CLOEXEC | os.O_NONBLOCK), "rb")  # noqa: SIM115 - given to the caller
    if not stat.S_ISREG(os.fstat(file.fileno()).st_mode):  # another has taken its place
        file.close()
        raise OSError(errno.EINVAL, "it is not a regular file", str(path))
    return file


def small_file(path: Path, most: int = MOST_BYTES) -> bytes:
    """The bytes of a plain file of at most `most` bytes."""
    if plain_file(path) > most:
        raise OSError(errno.EFBIG, f"it is larger than {most / 1e6:g} MB", str(path))
    with open_plain(path) as file:
        return file.read(most)


def file_state(path: Path) -> tuple[int, int]:
    """Size and time of change (ns) of a file, by which it is known whether it changed; -1, -1 where there is none."""
    try:
        state = os.stat(path)
    except (OSError, ValueError):
        return -1, -1
    return state.st_size, state.st_mtime_ns


@contextlib.contextmanager
def half_written(folder: Path) -> Iterator[Path]:
    """A folder inside a folder for files that are being written. What a program that was killed left of such is removed first, this one
    when it is done with."""
    for left in folder.glob(f"{_HALF}*"):
        process = left.name.removeprefix(_HALF).partition("-")[0]
        if not process.isdigit() or not Path(f"/proc/{process}").exists():
            shutil.rmtree(left, ignore_errors=True)
    half = Path(tempfile.mkdtemp(prefix=f"{_HALF}{os.getpid()}-", dir=folder))
    try:
        yield half
    finally:
        shutil.rmtree(half, ignore_errors=True)


def write_whole(path: Path, save: Callable[[Path], object]) -> None:
    """Have a file written, with what belongs beside it, or files into a folder: they take their places once all are whole and on
    the disk. OSError where that does not work; what was there before then stays.

    save: writes to the path that it is given, which has the name of `path`, or into it where it is a folder.
    """
    if path.exists() and not (path.is_file() or path.is_dir()):  # a pipe or a device is written to, not replaced
        save(path)
        return
    path = path.resolve()  # what stands behind a link is replaced, not the link
    folder = path if path.is_dir() else path.parent
    with half_written(folder) as half:
        save(half if path.is_dir() else half / path.name)
        made = sorted(half.iterdir())
        for file in made:
            with contextlib.suppress(FileNotFoundError):
                file.chmod(stat.S_IMODE((folder / file.name).stat().st_mode))
            with file.open("rb") as written:
                os.fsync(written.fileno())
        for file in made:
            file.replace(folder / file.name)


def write_text(path: Path, text: str) -> None:
    """Write a text as UTF-8; what no text can hold stands as an escape."""
    path.write_text(text, "utf-8", "backslashreplace")
