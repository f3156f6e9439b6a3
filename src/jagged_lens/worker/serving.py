# SPDX-License-Identifier: GPL-3.0-or-later
"""The worker's own end: take what is asked for, compute it, tell of it; end with the window."""

from __future__ import annotations

import dataclasses
import os
import signal
import threading
import time
import traceback
from multiprocessing.connection import Connection
from multiprocessing.reduction import send_handle
from typing import Any

from jagged_lens.errors import JaggedLensError, Stopped, fault_of_ours
from jagged_lens.lens import PART, Part, compute, keys_of
from jagged_lens.parallel import set_threads
from jagged_lens.progress import Progress
from jagged_lens.worker.news import Asked, Began, Deferred, Done, Failed, Finished, Grew, News, Planned, Share
from jagged_lens.worker.sealed import SealedMemory, room_for_descriptors, seal

BUDGET = 3_000_000_000
"""Bytes of results that are remembered, where nothing else is said."""

HELD = {signal.SIGINT, signal.SIGTERM}
"""Signals that reach a new process only once it has said what is to become of them."""

_SHARES_APART = 0.04  # seconds between two news of the share done
_PREVIEWS_APART = 0.2  # seconds between two previews


def serve_process(connection: Connection, wanted: Any, ordered: Any) -> None:
    """The life of a worker in a process of its own."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.pthread_sigmask(signal.SIG_UNBLOCK, HELD)
    serve(connection, wanted, ordered)


def serve(connection: Connection, wanted: Any, ordered: Any) -> None:
    """A worker's life: take the newest that is asked for, do it, say so; until the window is gone.

    wanted, ordered: shared numbers (`.value`) of the work that is wanted, 0 for none, and of the newest order of its parts.
    """
    memory = SealedMemory(BUDGET, room_for_descriptors())
    listening = _Listening(connection, wanted, ordered)
    while True:
        try:
            asked = listening.take()
            memory.budget = asked.budget
            set_threads(asked.threads)
            _work(connection, listening, memory, asked)
        except _Gone:
            return


def _work(connection: Connection, listening: _Listening, memory: SealedMemory, asked: Asked) -> None:
    number = asked.number
    telling = _Telling(connection, number, memory)
    stopped = False
    try:
        telling.send(Planned(number, keys_of(asked.job).of))
        compute(
            dataclasses.replace(asked.job, warned=telling.warned), memory, telling, listening.parts, listening.enough
        )
    except Stopped:
        stopped = True
    except JaggedLensError as error:
        telling.send(Failed(number, "", error))
    except Exception as error:  # a fault of ours: said, with what can be reported, and the window lives on
        telling.send(Failed(number, "", fault_of_ours(type(error).__name__), traceback.format_exc()))
    telling.send(Finished(number, stopped, listening.order))


class _Gone(BaseException):
    """The window is gone: nobody hears what is said. No other error means that."""


class _Listening:
    """The window's orders, read as far as they have arrived; safe in any thread of the worker."""

    def __init__(self, connection: Connection, wanted: Any, ordered: Any) -> None:
        self._connection = connection
        self._wanted = wanted
        self._ordered = ordered
        self._lock = threading.Lock()
        self._coming: Asked | None = None
        self._now: Asked | None = None
        self._parts: tuple[Part[Any], ...] = ()

    def take(self) -> Asked:
        """Wait for a request, and begin with the newest. Raises _Gone where the window is."""
        with self._lock:
            try:
                if self._coming is None:
                    self._coming = self._connection.recv()
                self._read()
            except (EOFError, OSError) as error:
                raise _Gone from error
            request, self._coming = self._coming, None
            assert request is not None
            self._begin(request)
            return request

    def parts(self) -> tuple[Part[Any], ...]:
        """The parts of the work at hand, in the order in which they are wanted now. Raises Stopped where none is any more."""
        now = self._now
        assert now is not None
        if self._wanted.value != now.number:
            raise Stopped
        if self._ordered.value != now.order:
            with self._lock:
                try:
                    self._read()
                except (EOFError, OSError) as error:
                    raise _Gone from error
                if self._coming is not None and self._coming.number == now.number:
                    self._begin(self._coming)
                    self._coming = None
        return self._parts

    def enough(self, part: Part[Any]) -> bool:
        """True if what there is of a part so far is to do."""
        self.parts()
        return self._now is not None and part.name in self._now.enough

    @property
    def order(self) -> int:
        """The newest order of the work at hand that is known."""
        return self._now.order if self._now is not None else 0

    def _begin(self, request: Asked) -> None:
        self._now = request
        self._parts = tuple(PART[name] for name in request.parts)

    def _read(self) -> None:
        while self._connection.poll():
            self._coming = self._connection.recv()


class _Telling:
    """The listener in the worker: sends news."""

    def __init__(self, connection: Connection, number: int, memory: SealedMemory) -> None:
        self._connection = connection
        self._number = number
        self._memory = memory
        self._lock = threading.Lock()
        self._grew = 0.0

    def send(self, news: News, descriptor: int | None = None) -> None:
        try:
            with self._lock:
                self._connection.send(news)
                if descriptor is not None:
                    send_handle(self._connection, descriptor, 0)
        except OSError as error:
            raise _Gone from error

    def began(self, part: Part[Any]) -> Progress:
        self.send(Began(self._number, part.name))
        last = [0.0, 0.0]

        def progress(share: float) -> None:
            now = time.monotonic()
            if share > last[1] and now - last[0] > _SHARES_APART:
                last[:] = [now, share]
                self.send(Share(self._number, part.name, share))

        return progress

    def grew(self, part: Part[Any], preview: Any) -> None:
        now = time.monotonic()
        if now - self._grew < _PREVIEWS_APART:
            return
        self._grew = now
        sealed = seal(preview)
        try:
            self.send(Grew(self._number, part.name), sealed.descriptor)
        finally:
            os.close(sealed.descriptor)

    def done(self, part: Part[Any], key: str, result: Any, seconds: float) -> None:
        self.send(Done(self._number, part.name, key, seconds), self._memory.descriptor(key))

    def failed(self, part: Part[Any], error: JaggedLensError, details: str = "") -> None:
        self.send(Failed(self._number, part.name, error, details))

    def deferred(self, part: Part[Any]) -> None:
        self.send(Deferred(self._number, part.name))

    def warned(self, error: JaggedLensError) -> None:
        self.send(Failed(self._number, "", error))
