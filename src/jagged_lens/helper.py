# SPDX-License-Identifier: GPL-3.0-or-later
"""A process of our own that answers orders, and can be ended at any time: one protocol for all that runs apart.

Orders go in and messages come out as frames: one byte that says of what kind it is, the length, the body. What a body means
is a matter of those who talk. Whoever waits is asked now and then, and may raise; a time that is over, or a process that is
gone, is told as a value.
"""

from __future__ import annotations

import contextlib
import ctypes
import os
import resource
import select
import signal
import struct
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum, auto

START_SECONDS = 60.0
"""On a busy machine a process takes long to start, which is not the fault of what it is to do."""

_HEAD = struct.Struct("<cQ")
_LOOK = 0.1  # seconds between two looks at whether it is still wanted
_PIECE = 1 << 16  # bytes that are written at once
_READ = 1 << 16  # bytes that are read at once, at the least

Say = Callable[[bytes, bytes], None]
"""Sends a message: its kind, one byte, and its body."""


@dataclass(frozen=True)
class Message:
    """Something that was said. kind: one byte."""

    kind: bytes
    body: bytes


class Ending(Enum):
    """The reason why no message comes."""

    LATE = auto()  # the time was over
    BROKEN = auto()  # the process is gone, or said what makes no sense


class Helper:
    """A process that runs a module of ours, which calls `serve`. It ends with the thread that started it."""

    def __init__(self, module: str, quiet: bool = False) -> None:
        """quiet: what it writes on its error stream is thrown away."""
        self._process = subprocess.Popen(
            [sys.executable, "-m", module],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL if quiet else None,
            start_new_session=True,  # Ctrl+C in a terminal is for whoever started it
            env={**os.environ, "PYTHONPATH": os.pathsep.join(filter(None, sys.path))},
        )
        self._rest = bytearray()  # what has come of messages that nobody has heard yet

    def order(self, body: bytes, waiting: Callable[[], None]) -> Ending | None:
        """Send an order; None where it arrived."""
        assert self._process.stdin
        pipe = self._process.stdin.fileno()
        os.set_blocking(pipe, False)
        rest = memoryview(_HEAD.pack(b"o", len(body)) + body)
        try:
            while len(rest):
                if is_ready(pipe, select.POLLOUT, _LOOK):
                    rest = rest[os.write(pipe, rest[:_PIECE]) :]
                else:
                    waiting()
        except OSError:
            return Ending.BROKEN
        return None

    def hear(self, until: float, waiting: Callable[[], None]) -> Message | Ending:
        """The next message, within a time (as of time.monotonic). waiting: called while there is none."""
        head = self._bytes(_HEAD.size, until, waiting)
        if isinstance(head, Ending):
            return head
        kind, length = _HEAD.unpack(head)
        body = self._bytes(length, until, waiting)
        return body if isinstance(body, Ending) else Message(kind, body)

    def _bytes(self, count: int, until: float, waiting: Callable[[], None]) -> bytes | Ending:
        assert self._process.stdout
        pipe = self._process.stdout.fileno()
        while len(self._rest) < count:
            if time.monotonic() > until:
                return Ending.LATE
            if not is_ready(pipe, select.POLLIN, _LOOK):
                waiting()
                continue
            try:
                data = os.read(pipe, max(count - len(self._rest), _READ))
            except OSError:
                return Ending.BROKEN
            if not data:
                return Ending.BROKEN
            self._rest += data
        found = bytes(self._rest[:count])
        del self._rest[:count]
        return found

    def end(self) -> None:
        """Kill it, and let go of it."""
        self._process.kill()
        for pipe in (self._process.stdin, self._process.stdout):
            if pipe:
                with contextlib.suppress(OSError):
                    pipe.close()
        self._process.wait()

    def __del__(self) -> None:
        with contextlib.suppress(Exception):
            self.end()


def serve(answer: Callable[[bytes, Say], None]) -> None:
    """The life of a helper: `answer` is given the body of each order, and says what there is to say."""
    die_with_starter()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    out = os.fdopen(os.dup(1), "wb", buffering=0)
    os.dup2(2, 1)  # whatever a library prints must not get between
    lock = threading.Lock()

    def say(kind: bytes, body: bytes = b"") -> None:
        with lock:
            head = _HEAD.pack(kind, len(body))
            for part in (head + body,) if len(body) < _PIECE else (head, body):
                rest = memoryview(part)
                while len(rest):
                    rest = rest[out.write(rest) :]

    while head := sys.stdin.buffer.read(_HEAD.size):
        answer(sys.stdin.buffer.read(_HEAD.unpack(head)[1]), say)


def limit_memory(most: int | None) -> None:
    """Let this process have so many bytes of address space; None: as many as the system grants."""
    hard = resource.getrlimit(resource.RLIMIT_AS)[1]
    wanted = hard if most is None else most if hard == resource.RLIM_INFINITY else min(most, hard)
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_AS, (wanted, hard))


def die_with_starter() -> None:
    """Have the system kill this process as soon as the thread that started it has ended, however that happens."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None, use_errno=True).prctl(1, int(signal.SIGKILL), 0, 0, 0)


def is_ready(pipe: int, events: int, seconds: float) -> bool:
    """True if a pipe can be read (events = select.POLLIN) or written (POLLOUT) within so many seconds, or is at its end.

    `select.select` takes no descriptor above 1023, and a window with many results open has such.
    """
    poll = select.poll()
    poll.register(pipe, events)
    return bool(poll.poll(seconds * 1000))
