"""The worker: one process that owns the chain for the window.

Text work holds the interpreter for seconds at a time, so it is done in a process of its own, started anew (never
forked). Asking for something else, or for nothing, makes the work at hand stop at its next progress; a worker that does
not stop is ended and another is started.
"""

from __future__ import annotations

import contextlib
import dataclasses
import multiprocessing
import os
import signal
import threading
import time
import traceback
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from enum import Enum, auto
from multiprocessing import resource_tracker
from multiprocessing.connection import Connection
from multiprocessing.reduction import recv_handle, send_handle
from typing import Any

from jagged_lens.errors import JaggedLensError, Stopped, fault_of_ours
from jagged_lens.lens.chain import compute, keys_of
from jagged_lens.lens.job import Job
from jagged_lens.lens.part import Part
from jagged_lens.lens.sealed import SealedMemory, room_for_descriptors, seal, unseal
from jagged_lens.lens.steps import ALWAYS, PART
from jagged_lens.parallel import set_threads
from jagged_lens.progress import Progress

_SHARES_APART = 0.04  # seconds between two news of the share done
_PREVIEWS_APART = 0.2  # seconds between two previews
_PATIENCE = 2.0  # seconds that a worker has to stop
_PATIENCE_WITH_RESULT = 2.0  # seconds from its being told of to the result itself: the window waits for it
_PATIENCE_WITH_OLD_WORK = (
    15.0  # seconds that it has to leave old work for new; after them what it remembers is given up
)
_HELD = {signal.SIGINT, signal.SIGTERM}
BUDGET = 3_000_000_000  # bytes of results that are remembered


@dataclass(frozen=True)
class Planned:
    """Work began; the keys of all parts."""

    number: int
    keys: dict[str, str]


@dataclass(frozen=True)
class Began:
    """A part is being computed."""

    number: int
    part: str


@dataclass(frozen=True)
class Share:
    """How much of a part is done, from 0 to 1."""

    number: int
    part: str
    share: float


@dataclass(frozen=True)
class Deferred:
    """A part that had begun makes way for another that is wanted first; it is begun again later."""

    number: int
    part: str


@dataclass(frozen=True)
class Grew:
    """What there is of a part's result so far."""

    number: int
    part: str
    preview: Any = field(default=None, repr=False)


@dataclass(frozen=True)
class Done:
    """A part's result is there."""

    number: int
    part: str
    key: str
    seconds: float
    result: Any = field(default=None, repr=False)


@dataclass(frozen=True)
class Failed:
    """A part could not be computed, or, where no part is named, something went wrong beside the parts."""

    number: int
    part: str
    error: JaggedLensError
    details: str = ""


@dataclass(frozen=True)
class Finished:
    """All parts were seen to, or the work was stopped. order: the newest one that was known then."""

    number: int
    stopped: bool
    order: int


class Ending(Enum):
    """Why a worker's process was ended, or ended by itself."""

    UNEXPECTED = auto()
    OLD_WORK = auto()  # what was asked before did not make way for something new
    NOT_STOPPED = auto()  # it was asked to stop, and did not


@dataclass(frozen=True)
class Restarted:
    """The worker's process is another one. ending: why. again: whether the newest request is still wanted."""

    number: int
    ending: Ending
    again: bool


News = Planned | Began | Share | Deferred | Grew | Done | Failed | Finished | Restarted


@dataclass(frozen=True)
class _Request:
    """number: of the work; order: how often an order of parts was given by then. parts: their names, in the order in which they
    are wanted. enough: those whose results so far are to do."""

    number: int
    order: int
    parts: tuple[str, ...]
    job: Job
    budget: int
    threads: int
    enough: tuple[str, ...] = ()


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

    def __init__(self, budget: int = BUDGET, threads: int | None = None) -> None:
        self.budget = budget
        self.threads = threads or os.cpu_count() or 1
        self._context = multiprocessing.get_context("spawn")
        self._number = 0
        self._order = 0
        self._request: _Request | None = None
        self._asked_to_stop = 0.0
        self._asked = 0.0  # when something was asked of a worker that has not taken it up yet
        self._busy = False
        self._start()

    def _start(self) -> None:
        self._wanted = self._context.RawValue("Q", self._number)
        self._ordered = self._context.RawValue("Q", self._order)
        self.connection, far = self._context.Pipe()
        self._process = self._context.Process(
            target=_serve, args=(far, self._wanted, self._ordered), daemon=True, name="jagged-lens-worker"
        )
        # Until the new process says what is to become of signals it is not to be ended by one in the middle of its libraries.
        resource_tracker.ensure_running()  # which lets signals in again when it begins
        before = signal.pthread_sigmask(signal.SIG_BLOCK, _HELD)
        try:
            self._process.start()
        finally:
            signal.pthread_sigmask(signal.SIG_SETMASK, before)
        far.close()
        self._sender = _Sender(self.connection)

    @property
    def busy(self) -> bool:
        """Whether an answer to the newest request is still to come."""
        return self._busy

    @property
    def process_id(self) -> int:
        """The number of the worker's process."""
        return self._process.pid or 0

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
        """Of the work that was asked for last, and is not done yet, compute these parts in this order; what is done stays.

        enough: of parts that can be ended early, those whose results so far are to do.
        """
        if self._request is not None:
            self._send(self._request.job, parts, enough)

    def _send(self, job: Job, parts: Sequence[Part[Any]], enough: Sequence[Part[Any]] = ()) -> None:
        self._order += 1
        self._ordered.value = self._order
        names = tuple(part.name for part in parts)
        early = tuple(part.name for part in enough)
        self._request = _Request(self._number, self._order, names, job, self.budget, self.threads, early)
        self._sender.send(self._request)

    def stop(self) -> None:
        """Give up the work at hand; what was there before stays."""
        self._wanted.value = 0
        if self._busy and not self._asked_to_stop:
            self._asked_to_stop = time.monotonic()

    def news(self) -> Iterator[News]:
        """What has been said since the last call, without waiting."""
        try:
            while self.connection.poll():
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
            self._process.kill()
            asked = bool(self._asked_to_stop)
            yield self._anew(Ending.NOT_STOPPED if asked else Ending.UNEXPECTED, not asked)
        except (EOFError, OSError):
            yield self._anew(Ending.UNEXPECTED, True)
        if self._asked and time.monotonic() - self._asked > _PATIENCE_WITH_OLD_WORK:
            self._process.kill()
            yield self._anew(Ending.OLD_WORK, True)
        if self._asked_to_stop and time.monotonic() - self._asked_to_stop > _PATIENCE:
            self._process.kill()
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
            self._process.kill()  # which ends the sending, too
            self._sender.end(1.0)
        self.connection.close()
        self._process.join(0.5)
        if self._process.is_alive():
            self._process.kill()
            self._process.join()

    def _anew(self, ending: Ending, again: bool) -> Restarted:
        again = again and self._busy
        self._process.join(1.0)
        self._sender.end(1.0)
        self.connection.close()
        self._busy = False
        self._asked_to_stop = self._asked = 0.0
        self._start()
        return Restarted(self._number, ending, again)


class _Gone(BaseException):
    """The window is gone: nobody hears what is said. No other error means that."""


class _Requests:
    """What the window asks for, read as far as it has come; safe in any thread of the worker."""

    def __init__(self, connection: Connection, wanted: Any, ordered: Any) -> None:
        self._connection = connection
        self._wanted = wanted
        self._ordered = ordered
        self._lock = threading.Lock()
        self._coming: _Request | None = None
        self._now: _Request | None = None
        self._parts: tuple[Part[Any], ...] = ()

    def take(self) -> _Request:
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
        """Whether what there is of a part so far is to do."""
        self.parts()
        return self._now is not None and part.name in self._now.enough

    @property
    def order(self) -> int:
        """The newest order of the work at hand that is known."""
        return self._now.order if self._now is not None else 0

    def _begin(self, request: _Request) -> None:
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


def _serve(connection: Connection, wanted: Any, ordered: Any) -> None:
    """The worker's life: take the newest request, do it, say so; end with the window."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.pthread_sigmask(signal.SIG_UNBLOCK, _HELD)
    memory = SealedMemory(BUDGET, room_for_descriptors())
    requests = _Requests(connection, wanted, ordered)
    while True:
        try:
            request = requests.take()
            memory.budget = request.budget
            set_threads(request.threads)
            _work(connection, requests, memory, request)
        except _Gone:
            return


def _work(connection: Connection, requests: _Requests, memory: SealedMemory, request: _Request) -> None:
    number = request.number
    telling = _Telling(connection, number, memory)
    stopped = False
    try:
        telling.send(Planned(number, keys_of(request.job).of))
        compute(
            dataclasses.replace(request.job, warned=telling.warned), memory, telling, requests.parts, requests.enough
        )
    except Stopped:
        stopped = True
    except JaggedLensError as error:
        telling.send(Failed(number, "", error))
    except Exception as error:  # a fault of ours: said, with what can be reported, and the window lives on
        telling.send(Failed(number, "", fault_of_ours(type(error).__name__), traceback.format_exc()))
    telling.send(Finished(number, stopped, requests.order))
