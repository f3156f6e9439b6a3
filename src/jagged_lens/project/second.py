# SPDX-License-Identifier: GPL-3.0-or-later
"""A second lens, to be compared with the one in front: its results are computed while nothing else is to be done."""

from __future__ import annotations

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import ALWAYS, PART, Job, ResultsSoFar
from jagged_lens.project.current import Current
from jagged_lens.project.snapshot import Snapshot
from jagged_lens.signal import Signal
from jagged_lens.worker import Began, Deferred, Done, Ended, Failed, News, Planned, Queue, Request, Share, Urgency


class Second:
    """The results of another lens.

    name: of the lens; "" where none is wanted. job: what it is asked for. results: of its parts, as they come. ready: all of
    them are there, and belong to the lens as it is now; snapshot: they, as they are then. share: how much of it is done. error:
    what went wrong. changed() is told of all that.
    """

    def __init__(self, queue: Queue, current: Current) -> None:
        self._queue = queue
        self._current = current
        self.name = ""
        self.results = ResultsSoFar()
        self.snapshot: Snapshot | None = None
        self.ready = False
        self.share = 0.0
        self.error: JaggedLensError | None = None
        self.stopped = False
        self.changed = Signal()
        self.job: Job | None = None
        self._done = 0
        self._keys: dict[str, str] = {}

    def choose(self, name: str) -> None:
        """Have the lens of a name computed; "": none."""
        self.name = name
        self.follow()

    def follow(self) -> None:
        """Lenses or documents may have changed: go by what they are now."""
        job = self._current.job_of(self.name) if self.name else None
        if job is None:
            self.name = ""
        if job != self.job:
            self._queue.withdraw(self)
            self.job = job
            self.ready, self.stopped, self.error, self.share = False, False, None, 0.0
            self.results, self.snapshot = ResultsSoFar(), None
        self.changed.emit()
        self._ask()

    @property
    def lacking(self) -> bool:
        """True if it is to be computed."""
        return self.job is not None and not self.ready and not self.stopped and self.error is None

    def stop(self) -> None:
        """Stop computing it, and nothing else."""
        if self._queue.wants(self):
            self.stopped = True
            self._queue.stop(self)
            self.changed.emit()

    def again(self) -> None:
        """It is wanted after all."""
        self.stopped, self.error = False, None
        self.changed.emit()
        self._ask()

    def _ask(self) -> None:
        if self.lacking and self.job is not None:
            self._queue.put(Request(self, Urgency.BESIDE, self.job, f"the lens “{self.name}”"))

    def hear(self, news: News) -> None:
        """Take in what the worker says of it."""
        match news:
            case Planned():
                self._done, self.share = 0, 0.0
                self.results, self._keys = ResultsSoFar(), {}
            case Began() | Deferred():
                return
            case Share(share=share):
                self.share = (self._done + share) / len(ALWAYS)
            case Done(part=name, key=key, result=result):
                self.results[PART[name]] = result
                self._keys[name] = key
                self._done += 1
                self.share = self._done / len(ALWAYS)
            case Failed(error=error):
                self.error = error
            case _:
                pass
        self.changed.emit()

    def ended(self, how: Ended) -> None:
        """It is all there, or will not be before somebody wants it again."""
        self.stopped = how is not Ended.DONE
        self.ready = not self.stopped and self.error is None and all(part in self.results for part in ALWAYS)
        if self.ready and self.job is not None:
            self.snapshot = Snapshot(self.job.recipe, dict(self.results.items()), self._keys, {})
        self.changed.emit()
