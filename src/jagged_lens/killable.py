"""A function called in a process of its own, which is ended when it takes too long or is not wanted any more.

An expression that a user typed can search a text for longer than the world will last, a database can be asked for rows without
an end, a spreadsheet can claim a thousand million rows: none of them looks up to see whether it is still wanted. Here they run
where they can be killed. What comes back is unpickled without being able to name anything but arrays and our own types.
"""

from __future__ import annotations

import contextlib
import ctypes
import dataclasses
import enum
import importlib
import io
import os
import pickle
import resource
import select
import signal
import struct
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from typing import Any, TypeVar

from jagged_lens.errors import JaggedLensError, Stopped
from jagged_lens.progress import Progress, unheard

Result = TypeVar("Result")

_LOOK = 0.1
_START_SECONDS = 60.0
_HEAD = struct.Struct("<cQ")
_RESULT, _ERROR, _SHARE, _BEGUN = b"r", b"e", b"s", b"b"
_SHARES_APART = 0.1
_PLAIN = frozenset(
    {
        ("numpy", "ndarray"),
        ("numpy", "dtype"),
        ("numpy._core.multiarray", "_reconstruct"),
        ("numpy._core.multiarray", "scalar"),
        ("numpy._core.numeric", "_frombuffer"),
        ("builtins", "frozenset"),
        ("builtins", "set"),
    }
)


class TookTooLong(JaggedLensError):  # noqa: N818 - it says what happened
    """A function did not end within the time that it was given."""


class EndedEarly(JaggedLensError):  # noqa: N818
    """The process of a function ended before the function did: it needed too much memory, or was killed from outside."""


def call_killable(
    function: Callable[..., Result],
    *arguments: Any,
    progress: Progress = unheard,
    seconds: float | None = None,
    memory: int | None = None,
    what: str = "this",
) -> Result:
    """What `function` (of a module, with `progress` among its arguments) gives for the arguments, from a process of its own.

    progress: told the share done, and also while nothing is heard; where it raises, the process is ended at once. seconds: the
    limit, None for none. memory: bytes of address space that the process may have. what: names the work in an error.
    TookTooLong after the limit, EndedEarly where the process dies, else whatever error the function raises.
    """
    helper = getattr(_here, "helper", None) or _Helper()
    _here.helper = None
    try:
        place = (os.getcwd(), dict(os.environ))
        order = (function.__module__, function.__qualname__, arguments, memory, place, what)
        answer = helper.ask(order, progress, seconds, what)
    except BaseException:
        helper.end()
        raise
    _here.helper = helper
    kind, result = answer
    if kind == _ERROR:
        raise result
    return result  # type: ignore[no-any-return]


_here = threading.local()  # a helper ends with the thread that started it, so each thread has its own


def die_with_starter() -> None:
    """Have the system kill this process as soon as the thread that started it has ended, however that happens."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None, use_errno=True).prctl(1, int(signal.SIGKILL), 0, 0, 0)


def is_ready(pipe: int, events: int, seconds: float) -> bool:
    """Whether a pipe can be read (events = select.POLLIN) or written (POLLOUT) within so many seconds, or is at its end.

    `select.select` takes no descriptor above 1023, and a window with many results open has such.
    """
    poll = select.poll()
    poll.register(pipe, events)
    return bool(poll.poll(seconds * 1000))


def end_process(process: subprocess.Popen[bytes]) -> None:
    """Kill a process that this one talks to, and let go of it."""
    process.kill()
    for pipe in (process.stdin, process.stdout):
        if pipe:
            with contextlib.suppress(OSError):
                pipe.close()
    process.wait()


class _Helper:
    """A process that calls functions, one after the other."""

    def __init__(self) -> None:
        self._process = subprocess.Popen(
            [sys.executable, "-m", "jagged_lens.killable"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            start_new_session=True,  # Ctrl+C in a terminal is for whoever started it
            env={**os.environ, "PYTHONPATH": os.pathsep.join(filter(None, sys.path))},
        )

    def ask(self, order: object, progress: Progress, seconds: float | None, what: str) -> tuple[bytes, Any]:
        ended = EndedEarly(f"{what} broke off: it needed too much memory, or its process was ended")
        share = [0.0]
        limit = time.monotonic() + _START_SECONDS
        try:
            self._say(order, progress)
            while True:
                kind, body = self._message(limit, lambda: progress(share[0]))
                if kind == _SHARE:
                    share[:] = struct.unpack("<d", body)
                    progress(share[0])
                elif kind == _BEGUN:
                    limit = time.monotonic() + seconds if seconds is not None else float("inf")
                else:
                    return kind, _Plain(io.BytesIO(body)).load()
        except _Late:
            words = f"{what} took longer than {seconds or _START_SECONDS:g} seconds, and was ended"
            raise TookTooLong(words) from None
        except (OSError, EOFError, pickle.UnpicklingError, struct.error) as error:
            raise ended from error

    def _say(self, order: object, progress: Progress) -> None:
        assert self._process.stdin
        body = memoryview(pickle.dumps(order, protocol=5))
        pipe = self._process.stdin.fileno()
        os.set_blocking(pipe, False)
        whole = [memoryview(_HEAD.pack(_BEGUN, len(body))), body]
        for part in whole:
            while len(part):
                if is_ready(pipe, select.POLLOUT, _LOOK):
                    part = part[os.write(pipe, part[: 1 << 16]) :]
                else:
                    progress(0.0)

    def _message(self, limit: float, waiting: Callable[[], None]) -> tuple[bytes, bytes]:
        kind, length = _HEAD.unpack(self._bytes(_HEAD.size, limit, waiting))
        return kind, self._bytes(length, limit, waiting)

    def _bytes(self, count: int, limit: float, waiting: Callable[[], None]) -> bytes:
        assert self._process.stdout
        pipe = self._process.stdout.fileno()
        found = bytearray()
        while len(found) < count:
            if time.monotonic() > limit:
                raise _Late
            if not is_ready(pipe, select.POLLIN, _LOOK):
                waiting()
                continue
            data = os.read(pipe, min(count - len(found), 1 << 20))
            if not data:
                raise EOFError
            found += data
        return bytes(found)

    def end(self) -> None:
        end_process(self._process)

    def __del__(self) -> None:
        with contextlib.suppress(Exception):
            self.end()


class _Late(Exception):  # noqa: N818
    """The time is over."""


def _member(kind: object, name: object) -> enum.Enum:
    if isinstance(kind, type) and issubclass(kind, enum.Enum) and isinstance(name, str):
        return kind[name]
    raise pickle.UnpicklingError(f"{kind}.{name} is not expected")


class _Plain(pickle.Unpickler):
    """Reads arrays, plain values and objects of our own data classes and errors; nothing else can be named."""

    def find_class(self, module: str, name: str) -> Any:
        if (module, name) in _PLAIN:
            return super().find_class(module, name)
        if (module, name) == ("builtins", "getattr"):  # by which some versions of Python pickle the members of an enum
            return _member
        if module.startswith("jagged_lens."):
            found = super().find_class(module, name)
            if isinstance(found, type) and (dataclasses.is_dataclass(found) or issubclass(found, (Exception, int))):
                return found
        raise pickle.UnpicklingError(f"{module}.{name} is not expected")


def _serve() -> None:
    """The life of a helper: an order in, news of it and a result out."""
    die_with_starter()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    out = os.fdopen(os.dup(1), "wb", buffering=0)
    os.dup2(2, 1)  # whatever a library prints must not get between
    lock = threading.Lock()

    def say(kind: bytes, body: bytes = b"") -> None:
        with lock:
            for part in (_HEAD.pack(kind, len(body)), memoryview(body)):
                while len(part):
                    part = part[out.write(part) :]

    while head := sys.stdin.buffer.read(_HEAD.size):
        module, name, arguments, memory, place, what = pickle.loads(sys.stdin.buffer.read(_HEAD.unpack(head)[1]))
        last = [0.0]

        def progress(share: float, last: list[float] = last) -> None:
            if time.monotonic() - last[0] > _SHARES_APART:
                last[0] = time.monotonic()
                say(_SHARE, struct.pack("<d", share))

        os.chdir(place[0])
        os.environ.update(place[1])
        for gone in set(os.environ) - set(place[1]):
            del os.environ[gone]
        function = getattr(importlib.import_module(module), name)
        _limit(memory)
        say(_BEGUN)
        try:
            answer = _RESULT, pickle.dumps(function(*arguments, progress=progress), protocol=5)
        except (JaggedLensError, Stopped) as error:
            answer = _ERROR, pickle.dumps(error)
        except MemoryError:
            _limit(None)
            answer = _ERROR, pickle.dumps(EndedEarly(f"{what} needs too much memory"))
        except Exception as error:
            answer = _ERROR, pickle.dumps(EndedEarly(f"{what} went wrong inside ({type(error).__name__}: {error})"))
        _limit(None)
        say(*answer)


def _limit(memory: int | None) -> None:
    hard = resource.getrlimit(resource.RLIMIT_AS)[1]
    wanted = hard if memory is None else memory if hard == resource.RLIM_INFINITY else min(memory, hard)
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_AS, (wanted, hard))


if __name__ == "__main__":
    # The module that callers import is the one whose errors and types they know.
    importlib.import_module("jagged_lens.killable")._serve()
