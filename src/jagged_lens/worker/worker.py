# SPDX-License-Identifier: GPL-3.0-or-later
"""The window's end of the worker, which owns the chain.

Text work holds the interpreter for seconds at a time, so it is done in a process of its own, started anew (never
forked). Asking for something else, or for nothing, makes the work at hand stop at its next progress; a worker that does
not stop is ended and another is started. For debuggers and profilers, it can be a thread of this process.
"""

from __future__ import annotations

import contextlib
import dataclasses
import multiprocessing
import os
import signal
import threading
import time
from collections.abc import Iterator, Sequence
from multiprocessing import resource_tracker
from multiprocessing.connection import Connection
from multiprocessing.reduction import recv_handle
from typing import Any, Protocol

from jagged_lens.lens import ALWAYS, Job, Part
from jagged_lens.worker.news import Asked, Done, Ending, Finished, Grew, News, Planned, Restarted
from jagged_lens.worker.sealed import unseal
from jagged_lens.worker.serving import BUDGET, HELD, serve, serve_process

_TURN = 0.03  # seconds for which news are taken in at a time: then the window has its turn
_PATIENCE = 2.0  # seconds that a worker has to stop
_PATIENCE_WITH_RESULT = 2.0  # seconds from its being told of to the result itself: the window waits for it
_PATIENCE_WITH_OLD_WORK = (
    15.0  # seconds that it has to leave old work for new; after them what it remembers is given up
)


class _Life(Protocol):
    """The host of a worker: a process, or a thread of this one."""

    @property
    def pid(self) -> int | None:
        """The number of the process."""

    def start(self) -> None:
        """Begin."""

    def is_alive(self) -> bool:
        """True if it has not ended."""

    def kill(self) -> None:
        """End it at once."""

    def join(self, timeout: float | None = None) -> None:
        """Wait for its end."""


class _Here(threading.Thread):
    """A worker in this process. It cannot be killed: it is left alone, and ends at its next word."""

    def __init__(self, *arguments: Any) -> None:
        super().__init__(target=serve, args=arguments, daemon=True, name="worker")
        self.pid = os.getpid()

    def kill(self) -> None:
        """Nothing: as soon as the window's end of the connection is closed, nobody hears it any more."""

    def join(self, timeout: float | None = None) -> None:
        super().join(1.0 if timeout is None else timeout)


class _Sender:
    """Sends requests from a thread of its own, the newest alone: a worker that does not listen never makes the window wait."""

    def __init__(self, connection: Connection) -> None:
        self._connection = connection
        self._newest: object = None
        self._changed = threading.Condition()
        self._over = False
        self._thread = threading.Thread(target=self._run, name="worker-requests", daemon=True)
        self._thread.start()

    def send(self, request: object) -> None:
        with self._changed:
            self._newest = request
            self._changed.notify()

    def end(self, seconds: float) -> bool:
        """Send nothing more; False where a request is still under way after so many seconds."""
        with self._changed:
            self._over = True
            self._changed.notify()
        self._thread.join(seconds)
        return not self._thread.is_alive()

    def _run(self) -> None:
        while True:
            with self._changed:
                self._changed.wait_for(lambda: self._newest is not None or self._over)
                if self._over:
                    return
                request, self._newest = self._newest, None
            # A dead worker is noticed, and another one started, where the news are read.
            with contextlib.suppress(OSError):
                self._connection.send(request)


class _HeldUp(Exception):  # noqa: N818 - what happened
    """The worker told of a result and then held still, as when it is suspended."""


class Worker:
    """The window's end: ask for work, and read what there is to say about it.

    budget: bytes of results that are remembered; threads: how many compute. Both may be changed between requests.
    """

    def __init__(self, budget: int = BUDGET, threads: int | None = None, in_process: bool = False) -> None:
        """in_process: in a thread of this process, where a debugger or a profiler sees it; what does not stop cannot be ended."""
        self.budget = budget
        self.threads = threads or os.cpu_count() or 1
        self._in_process = in_process
        self._context = multiprocessing.get_context("spawn")
        self._number = 0
        self._order = 0
        self._request: Asked | None = None
        self._asked_to_stop = 0.0
        self._asked = 0.0  # when something was asked of a worker that has not taken it up yet
        self._busy = False
        self._start()

    def _start(self) -> None:
        self._wanted = self._context.RawValue("Q", self._number)
        self._ordered = self._context.RawValue("Q", self._order)
        self.connection, far = self._context.Pipe()
        if self._in_process:
            self._life: _Life = _Here(far, self._wanted, self._ordered)
            self._life.start()
        else:
            self._life = self._context.Process(
                target=serve_process, args=(far, self._wanted, self._ordered), daemon=True, name="jagged-lens-worker"
            )
            self._start_process()
            far.close()
        self._sender = _Sender(self.connection)

    def _start_process(self) -> None:
        # Until the new process says what is to become of signals it is not to be ended by one in the middle of its libraries.
        resource_tracker.ensure_running()  # which lets signals in again when it begins
        before = signal.pthread_sigmask(signal.SIG_BLOCK, HELD)
        try:
            self._life.start()
        finally:
            signal.pthread_sigmask(signal.SIG_SETMASK, before)

    @property
    def busy(self) -> bool:
        """True if an answer to the newest request is still to come."""
        return self._busy

    @property
    def process_id(self) -> int:
        """The number of the worker's process."""
        return self._life.pid or 0

    def ask(self, job: Job, parts: Sequence[Part[Any]] = ALWAYS) -> int:
        """Ask for parts of a job, in the order in which to compute them; what was asked before is given up. Gives the number of
        its news."""
        self._number += 1
        self._wanted.value = self._number
        self._asked = (self._asked or time.monotonic()) if self._busy else 0.0
        self._busy = True
        self._asked_to_stop = 0.0
        self._send(job, parts)
        return self._number

    def reorder(self, parts: Sequence[Part[Any]], enough: Sequence[Part[Any]] = ()) -> None:
        """Compute these unfinished parts of the last request in this order; finished parts stay.

        enough: of parts that can be ended early, those whose results so far are to do.
        """
        if self._request is not None:
            self._send(self._request.job, parts, enough)

    def _send(self, job: Job, parts: Sequence[Part[Any]], enough: Sequence[Part[Any]] = ()) -> None:
        self._order += 1
        self._ordered.value = self._order
        names = tuple(part.name for part in parts)
        early = tuple(part.name for part in enough)
        self._request = Asked(self._number, self._order, names, job, self.budget, self.threads, early)
        self._sender.send(self._request)

    def stop(self) -> None:
        """Give up the work at hand; what was there before stays."""
        self._wanted.value = 0
        if self._busy and not self._asked_to_stop:
            self._asked_to_stop = time.monotonic()

    def news(self) -> Iterator[News]:
        """The messages since the last call, without waiting; those that come faster than they are taken in wait for the next call."""
        until = time.monotonic() + _TURN
        try:
            while time.monotonic() < until and self.connection.poll():
                said = self.connection.recv()
                if isinstance(said, Done):
                    said = dataclasses.replace(said, result=self._received())
                elif isinstance(said, Grew):
                    said = dataclasses.replace(said, preview=self._received())
                if isinstance(said, Planned) and said.number == self._number:
                    self._asked = 0.0
                if isinstance(said, Finished) and said.number == self._number:
                    if said.order != self._order and not said.stopped:
                        continue  # another order is on its way to it: it is not done
                    self._busy = False
                    self._asked_to_stop = 0.0
                yield said
        except _HeldUp:
            self._life.kill()
            asked = bool(self._asked_to_stop)
            yield self._anew(Ending.NOT_STOPPED if asked else Ending.UNEXPECTED, not asked)
        except (EOFError, OSError):
            yield self._anew(Ending.UNEXPECTED, True)
        if self._asked and time.monotonic() - self._asked > _PATIENCE_WITH_OLD_WORK:
            self._life.kill()
            yield self._anew(Ending.OLD_WORK, True)
        if self._asked_to_stop and time.monotonic() - self._asked_to_stop > _PATIENCE:
            self._life.kill()
            yield self._anew(Ending.NOT_STOPPED, False)

    def _received(self) -> Any:
        if not self.connection.poll(_PATIENCE_WITH_RESULT):
            raise _HeldUp
        descriptor = recv_handle(self.connection)
        try:
            return unseal(descriptor)
        finally:
            os.close(descriptor)

    def close(self) -> None:
        """End the worker; at once where it does not stop by itself."""
        self._wanted.value = 0
        if not self._sender.end(0.2):
            self._life.kill()  # which ends the sending, too
            self._sender.end(1.0)
        self.connection.close()
        self._life.join(0.5)
        if self._life.is_alive():
            self._life.kill()
            self._life.join()

    def _anew(self, ending: Ending, again: bool) -> Restarted:
        again = again and self._busy
        self._life.join(1.0)
        self._sender.end(1.0)
        self.connection.close()
        self._busy = False
        self._asked_to_stop = self._asked = 0.0
        self._start()
        return Restarted(self._number, ending, again)
