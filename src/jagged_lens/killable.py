# SPDX-License-Identifier: GPL-3.0-or-later
"""A function called in a process of its own, which is ended when it takes too long or is not wanted any more.

An expression that a user typed can search a text for longer than the world will last, a database can be asked for rows without
an end, a spreadsheet can claim a thousand million rows: none of them looks up to see whether it is still wanted. Here they run
where they can be killed. What comes back is unpickled without being able to name anything but arrays and our own types.
"""

from __future__ import annotations

import dataclasses
import enum
import importlib
import io
import os
import pickle
import struct
import threading
import time
from collections.abc import Callable
from typing import Any, TypeVar

from jagged_lens.errors import JaggedLensError, Stopped
from jagged_lens.helper import START_SECONDS, Ending, Helper, Say, limit_memory, serve
from jagged_lens.progress import Progress, unheard

Result = TypeVar("Result")

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
    """The result of `function` (of a module, with `progress` among its arguments) for the arguments, from a separate process.

    progress: told the share done, and also while nothing is heard; where it raises, the process is ended at once. seconds: the
    limit, None for none. memory: bytes of address space that the process may have. what: names the work in an error.
    TookTooLong after the limit, EndedEarly where the process dies, else whatever error the function raises.
    """
    caller = getattr(_here, "caller", None) or _Caller()
    _here.caller = None
    try:
        place = (os.getcwd(), dict(os.environ))
        order = (function.__module__, function.__qualname__, arguments, memory, place, what)
        answer = caller.ask(order, progress, seconds, what)
    except BaseException:
        caller.end()
        raise
    _here.caller = caller
    kind, result = answer
    if kind == _ERROR:
        raise result
    return result  # type: ignore[no-any-return]


_here = threading.local()  # a helper ends with the thread that started it, so each thread has its own


class _Caller:
    """A helper that calls functions, one after the other."""

    def __init__(self) -> None:
        self._helper = Helper("jagged_lens.killable")

    def ask(self, order: object, progress: Progress, seconds: float | None, what: str) -> tuple[bytes, Any]:
        shares = [0.0]
        until = time.monotonic() + START_SECONDS
        ending = self._helper.order(pickle.dumps(order, protocol=5), lambda: progress(0.0))
        while ending is None:
            said = self._helper.hear(until, lambda: progress(shares[0]))
            if isinstance(said, Ending):
                ending = said
            elif said.kind == _SHARE:
                shares[:] = struct.unpack("<d", said.body)
                progress(shares[0])
            elif said.kind == _BEGUN:
                until = time.monotonic() + seconds if seconds is not None else float("inf")
            else:
                try:
                    return said.kind, _Plain(io.BytesIO(said.body)).load()
                except (EOFError, pickle.UnpicklingError):
                    ending = Ending.BROKEN
        if ending is Ending.LATE:
            raise TookTooLong(f"{what} took longer than {seconds or START_SECONDS:g} secondsand was stopped")
        raise EndedEarly(f"{what} stopped: it needed too much memory, or its process was killed")

    def end(self) -> None:
        self._helper.end()


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


def _answer(order: bytes, say: Say) -> None:
    """Call the function that an order names, and say how it goes and what it gives."""
    module, name, arguments, memory, place, what = pickle.loads(order)
    last = 0.0

    def progress(share: float) -> None:
        nonlocal last
        if time.monotonic() - last > _SHARES_APART:
            last = time.monotonic()
            say(_SHARE, struct.pack("<d", share))

    os.chdir(place[0])
    os.environ.update(place[1])
    for gone in set(os.environ) - set(place[1]):
        del os.environ[gone]
    function = getattr(importlib.import_module(module), name)
    limit_memory(memory)
    say(_BEGUN, b"")
    try:
        answer = _RESULT, pickle.dumps(function(*arguments, progress=progress), protocol=5)
    except (JaggedLensError, Stopped) as error:
        answer = _ERROR, pickle.dumps(error)
    except MemoryError:
        limit_memory(None)
        answer = _ERROR, pickle.dumps(EndedEarly(f"{what} needs too much memory"))
    except Exception as error:
        answer = _ERROR, pickle.dumps(EndedEarly(f"{what} went wrong inside ({type(error).__name__}: {error})"))
    limit_memory(None)
    say(*answer)


if __name__ == "__main__":
    # The module that callers import is the one whose errors and types they know.
    serve(importlib.import_module("jagged_lens.killable")._answer)
