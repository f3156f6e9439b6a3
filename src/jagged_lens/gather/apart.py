# SPDX-License-Identifier: GPL-3.0-or-later
"""Files read in processes of their own, several at a time, in order, with limits of time and memory.

The libraries that take PDF, office files, e-mail or HTML apart can be made to hang or to eat memory by a file that was
made to do so. Such a file costs its reader, which is ended and started anew, and is listed with the reason; nothing else.
What comes back is JSON, so that a process gone wrong can say nothing but text.
"""

from __future__ import annotations

import json
import os
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from jagged_lens.errors import Stopped
from jagged_lens.gather.corpus import Doubt, Unread
from jagged_lens.gather.readers import Options, Piece, Unreadable, read_bytes
from jagged_lens.gather.readers.piece import Found
from jagged_lens.helper import START_SECONDS, Ending, Helper, Say, limit_memory, serve
from jagged_lens.named_file import open_plain
from jagged_lens.progress import Progress

MOST_BYTES = 400_000_000
MOST_MEMORY = 3_000_000_000
SECONDS = 40.0
_SECONDS_PER_MB = 4.0
_AHEAD = 400
_LOOK = 0.1
_BEGUN, _FOUND, _OVER = b"b", b"f", b"o"


@dataclass(frozen=True)
class File:
    """A file to read: where it is, the name the user knows it by, and the encoding that came with it, from a server."""

    path: Path
    name: str
    said: str = ""


def read_apart(
    files: Sequence[File], options: Options, processes: int, progress: Progress, seconds: float = SECONDS
) -> Iterator[list[Found]]:
    """The documents found in each file, in their order. A file that gives nothing gives an Unread.

    seconds: time limit of a small file, from when its reading begins. Raises Stopped where progress does.
    """
    work = _Work(files, options, seconds)
    threads = [
        threading.Thread(target=work.run, daemon=True, name=f"reader-{number}")
        for number in range(max(1, min(processes, len(files))))
    ]
    try:
        for thread in threads:
            thread.start()
        for at in range(len(files)):
            while (found := work.take(at)) is None:
                progress(at / len(files))
            yield found
    finally:
        work.end()
        for thread in threads:
            if thread.ident is not None:
                thread.join()


class _Work:
    """The state that the threads share. Each thread feeds one process."""

    def __init__(self, files: Sequence[File], options: Options, seconds: float) -> None:
        self._files = files
        self._options = options
        self._seconds = seconds
        self._next = 0
        self._taken = 0
        self._done: dict[int, list[Found]] = {}
        self._changed = threading.Condition()
        self._over = False

    def take(self, at: int) -> list[Found] | None:
        """The content of a file, if it is available soon."""
        with self._changed:
            if at not in self._done:
                self._changed.wait(_LOOK)
            self._taken = at
            self._changed.notify_all()
            return self._done.pop(at, None)

    def end(self) -> None:
        with self._changed:
            self._over = True
            self._changed.notify_all()

    def run(self) -> None:
        """A thread's life: take the next file, have it read, until there are none."""
        process = _Process()
        try:
            while (at := self._claim()) is not None:
                file = self._files[at]
                try:
                    found = self._read(process, file)
                except Stopped:
                    return
                except Exception as error:  # something that nobody foresaw costs this file alone
                    process.end()
                    found = [Unread(file.name, f"reading it failed ({type(error).__name__})")]
                with self._changed:
                    self._done[at] = found
                    self._changed.notify_all()
        finally:
            process.end()

    def _claim(self) -> int | None:
        with self._changed:
            while not self._over and self._next < len(self._files) and self._next > self._taken + _AHEAD:
                self._changed.wait(_LOOK)
            if self._over or self._next >= len(self._files):
                return None
            self._next += 1
            return self._next - 1

    def _read(self, process: _Process, file: File) -> list[Found]:
        try:
            size = file.path.stat().st_size
        except OSError as error:
            return [Unread(file.name, f"it cannot be read ({error.strerror})")]
        if size > MOST_BYTES:
            return [Unread(file.name, f"it is larger than {MOST_BYTES // 1_000_000} MB")]
        limit = self._seconds + size / 1e6 * _SECONDS_PER_MB
        return process.read(file, self._options, limit, lambda: self._over)


class _Process:
    """One reading process, started when it is first needed, and anew after one that had to be ended."""

    def __init__(self) -> None:
        self._helper: Helper | None = None

    def read(self, file: File, options: Options, limit: float, over: Callable[[], bool]) -> list[Found]:
        if self._helper is None:
            self._helper = Helper("jagged_lens.gather.apart", quiet=True)

        def waiting() -> None:
            if over():
                raise Stopped

        found: list[Found] = []
        order = {"path": os.fsdecode(file.path), "name": file.name, **asdict(options), "said": file.said}
        until = time.monotonic() + START_SECONDS
        ending = self._helper.order(json.dumps(order).encode(), waiting)
        while ending is None:
            said = self._helper.hear(until, waiting)
            if isinstance(said, Ending):
                ending = said
            elif said.kind == _BEGUN:
                until = time.monotonic() + limit
            elif said.kind == _OVER:
                return found
            else:
                try:
                    found.append(_found(json.loads(said.body), file.name))
                except (ValueError, LookupError, TypeError):
                    ending = Ending.BROKEN
        self.end()
        reason = (
            f"reading it took longer than {limit:.0f} seconds"
            if ending is Ending.LATE
            else "reading it failed: it is damaged or needs too much memory"
        )
        return [*found, Unread(file.name, reason)]

    def end(self) -> None:
        if self._helper is not None:
            self._helper.end()
        self._helper = None


def _found(said: dict[str, Any], name: str) -> Found:
    if "text" in said:
        return Piece(*(str(said[key]) for key in ("text", "title", "name", "date")))
    if "reason" in said:
        return Unread(f"{name}/{said['name']}" if said["name"] else name, str(said["reason"]))
    if "readings" in said:
        return Doubt(str(said["doubted"]), tuple((str(encoding), str(line)) for encoding, line in said["readings"]))
    return str(said["notice"])


def _answer(body: bytes, say: Say) -> None:
    """Read the file that an order names, and say what was found."""
    limit_memory(MOST_MEMORY)
    order = json.loads(body)
    options = Options(order["encoding"], order["replies"], order["likely"], order["said"])

    def tell(**words: object) -> None:
        say(_FOUND, json.dumps(words).encode())

    say(_BEGUN, b"")
    try:
        with open_plain(Path(order["path"])) as file:
            data = file.read()
        for one in read_bytes(order["name"], data, options):
            if isinstance(one, Piece):
                tell(**asdict(one))
            elif isinstance(one, Unread):
                tell(name=one.name, reason=one.reason)
            elif isinstance(one, Doubt):
                tell(doubted=one.name, readings=one.readings)
            else:
                tell(notice=one)
    except Unreadable as error:
        tell(name="", reason=str(error))
    except OSError as error:
        tell(name="", reason=f"it cannot be read ({error.strerror})")
    except MemoryError:
        tell(name="", reason="reading it needs too much memory")
    except Exception as error:  # a library stumbled in a way we did not foresee: this file's loss alone
        tell(name="", reason=f"it is damaged ({type(error).__name__})")
    say(_OVER, b"")


if __name__ == "__main__":
    serve(_answer)
