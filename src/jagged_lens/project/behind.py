# SPDX-License-Identifier: GPL-3.0-or-later
"""The other lenses, computed while nothing else is to be done, so that their profiles are known."""

from __future__ import annotations

from jagged_lens.lens import PART, Job, ResultsSoFar
from jagged_lens.project.current import Current
from jagged_lens.project.front import Front
from jagged_lens.project.profile import profile
from jagged_lens.project.second import Second
from jagged_lens.signal import Signal
from jagged_lens.worker import Done, Ended, News, Queue, Request, Urgency


class Behind:
    """Profiles of lenses by their job.

    known: those that were computed. wanted: whether lenses are computed for their profile alone. learned() is told of each new
    profile. A job that was stopped, or has ended the worker's process twice, is given up until somebody tries again.
    """

    def __init__(self, queue: Queue, current: Current, front: Front, second: Second) -> None:
        self._queue = queue
        self._current = current
        self._front = front
        self._second = second
        self.known: dict[Job, tuple[float, ...]] = {}
        self.wanted = True
        self.learned = Signal()
        self._job: Job | None = None
        self._results = ResultsSoFar()
        self._given_up: set[Job] = set()
        front.settled.subscribe(self._learn_front)
        second.changed.subscribe(self._learn_second)

    def profile(self, lens: int) -> tuple[float, ...] | None:
        """The shares that come through the steps of a lens; None while they are not known."""
        if lens == self._current.state.active and len(self._front.results):
            return profile(self._front.results)
        return self.known.get(self._current.job(lens))

    def hear(self, news: News) -> None:
        """Take in what the worker says of the job that was asked for."""
        if isinstance(news, Done):
            self._results[PART[news.part]] = news.result

    def ended(self, how: Ended) -> None:
        """The job that was asked for is done, or will not be."""
        assert self._job is not None
        if how is Ended.DONE:
            self.known[self._job] = profile(self._results)
            self.learned.emit()
        elif how is not Ended.DROPPED:
            self._given_up.add(self._job)
        self._results = ResultsSoFar()
        if how is not Ended.DROPPED:
            self._ask()

    def forget(self) -> None:
        """Another project: nothing that was known belongs to it."""
        self._queue.withdraw(self)
        self.known.clear()
        self.try_again()

    def try_again(self) -> None:
        """Allow computing again what was given up."""
        self._given_up.clear()

    def _learn_front(self) -> None:
        if self._front.complete:
            self.known[self._current.job()] = profile(self._front.results)
            self._ask()

    def _learn_second(self) -> None:
        if self._second.ready and self._second.job is not None:
            self.known[self._second.job] = profile(self._second.results)

    def _ask(self) -> None:
        """Compute the first of the lenses whose profile is not known."""
        jobs = ((lens.name, self._current.job(at)) for at, lens in enumerate(self._current.state.lenses))
        for name, job in jobs if self.wanted else ():
            if job not in self.known and job not in self._given_up:
                if job != self._job:
                    self._job, self._results = job, ResultsSoFar()
                self._queue.put(Request(self, Urgency.BEHIND, job, f"the lens “{name}”"), by_hand=False)
                return
        self._queue.withdraw(self)
