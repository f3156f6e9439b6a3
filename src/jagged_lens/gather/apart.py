"""Files read in processes of their own, several at a time, in order, with limits of time and memory.

The libraries that take PDF, office files, e-mail or HTML apart can be made to hang or to eat memory by a file that was
made to do so. Such a file costs its reader, which is ended and started anew, and is listed with the reason; nothing else.
What comes back is JSON, so that a process gone wrong can say nothing but text.
"""

from __future__ import annotations

import json
import os
import resource
import select
import subprocess
import sys
import threading
import time
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from jagged_lens.errors import Stopped
from jagged_lens.gather.corpus import Doubt, Unread
from jagged_lens.gather.readers import Options, Piece, Unreadable, read_bytes
from jagged_lens.gather.readers.piece import Found
from jagged_lens.killable import die_with_starter, end_process, is_ready
from jagged_lens.named_file import open_plain
from jagged_lens.progress import Progress

MOST_BYTES = 400_000_000
MOST_MEMORY = 3_000_000_000
SECONDS = 40.0
_START_SECONDS = 60.0
_SECONDS_PER_MB = 4.0
_AHEAD = 400
_LOOK = 0.1


@dataclass(frozen=True)
class File:
    """A file to read: where it is, the name the user knows it by, and the encoding that came with it, from a server."""

    path: Path
    name: str
    said: str = ""


def read_apart(
    files: Sequence[File], options: Options, processes: int, progress: Progress, seconds: float = SECONDS
) -> Iterator[list[Found]]:
    """What is found in each file, in their order. A file that gives nothing gives an Unread.

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
    """What the threads share, each of which feeds one process."""

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
        """What was found in a file, if it is there soon."""
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
                    found = [Unread(file.name, f"reading it went wrong ({type(error).__name__})")]
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
        self._process: subprocess.Popen[bytes] | None = None
        self._rest = b""

    def read(self, file: File, options: Options, limit: float, over: Any) -> list[Found]:
        found: list[Found] = []
        try:
            self._say({"path": os.fsdecode(file.path), "name": file.name, **asdict(options), "said": file.said})
            deadline = (
                time.monotonic() + _START_SECONDS
            )  # on a busy machine a process takes long to start: not the file's fault
            while (line := self._line(deadline, over)) is not None:
                said = json.loads(line)
                if "begin" in said:
                    deadline = time.monotonic() + limit
                elif "end" in said:
                    return found
                else:
                    found.append(_found(said, file.name))
        except (OSError, EOFError, ValueError, LookupError, TypeError):
            self.end()
            return [*found, Unread(file.name, "reading it broke off: it is damaged, or needs too much memory")]
        self.end()
        return [*found, Unread(file.name, f"reading it took longer than {limit:.0f} seconds")]

    def end(self) -> None:
        if self._process is not None:
            end_process(self._process)
        self._process, self._rest = None, b""

    def _say(self, order: dict[str, Any]) -> None:
        if self._process is None:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "jagged_lens.gather.apart"],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                start_new_session=True,  # Ctrl+C in a terminal is for whoever started it
            )
        assert self._process.stdin
        self._process.stdin.write(json.dumps(order).encode() + b"\n")
        self._process.stdin.flush()

    def _line(self, deadline: float, over: Any) -> bytes | None:
        """The next line it says; None after the deadline."""
        assert self._process
        assert self._process.stdout
        pipe = self._process.stdout.fileno()
        parts = [self._rest]
        while b"\n" not in parts[-1]:
            if over():
                raise Stopped
            if time.monotonic() > deadline:
                return None
            if is_ready(pipe, select.POLLIN, _LOOK):
                data = os.read(pipe, 1 << 20)
                if not data:
                    raise EOFError
                parts.append(data)
        line, _, self._rest = b"".join(parts).partition(b"\n")
        return line


def _found(said: dict[str, Any], name: str) -> Found:
    if "text" in said:
        return Piece(*(str(said[key]) for key in ("text", "title", "name", "date")))
    if "reason" in said:
        return Unread(f"{name}/{said['name']}" if said["name"] else name, str(said["reason"]))
    if "readings" in said:
        return Doubt(str(said["doubted"]), tuple((str(encoding), str(line)) for encoding, line in said["readings"]))
    return str(said["notice"])


def _serve() -> None:
    """The life of a reading process: a line with an order in, lines with what was found out."""
    die_with_starter()
    hard = resource.getrlimit(resource.RLIMIT_AS)[1]
    most = MOST_MEMORY if hard == resource.RLIM_INFINITY else min(MOST_MEMORY, hard)
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    out = os.fdopen(os.dup(1), "wb", buffering=1 << 16)
    os.dup2(2, 1)  # whatever a library prints must not get between the lines

    def say(**words: Any) -> None:
        out.write(json.dumps(words).encode() + b"\n")

    for line in sys.stdin.buffer:
        order = json.loads(line)
        options = Options(order["encoding"], order["replies"], order["likely"], order["said"])
        say(begin=True)
        out.flush()
        try:
            with open_plain(Path(order["path"])) as file:
                data = file.read()
            for one in read_bytes(order["name"], data, options):
                if isinstance(one, Piece):
                    say(**asdict(one))
                elif isinstance(one, Unread):
                    say(name=one.name, reason=one.reason)
                elif isinstance(one, Doubt):
                    say(doubted=one.name, readings=one.readings)
                else:
                    say(notice=one)
        except Unreadable as error:
            say(name="", reason=str(error))
        except OSError as error:
            say(name="", reason=f"it cannot be read ({error.strerror})")
        except MemoryError:
            say(name="", reason="reading it needs too much memory")
        except Exception as error:  # a library stumbled in a way we did not foresee: this file's loss alone
            say(name="", reason=f"it is damaged ({type(error).__name__})")
        say(end=True)
        out.flush()


if __name__ == "__main__":
    _serve()
