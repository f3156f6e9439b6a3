"""The other lenses, computed in the background while nothing else is to be done, so that their profiles are known."""

from __future__ import annotations

from collections.abc import Iterable

from jagged_lens.lens import PART, Done, Finished, Job, News, Results, Worker
from jagged_lens.project.profile import profile
from jagged_lens.signal import Signal

_MOST_DEATHS = 2


class Behind:
    """Profiles of lenses by their job.

    known: those that were computed. learned() is told of each new one. A job that was stopped, or has ended the worker's process
    twice, is given up until somebody tries again.
    """

    def __init__(self, worker: Worker) -> None:
        self._worker = worker
        self.known: dict[Job, tuple[float, ...]] = {}
        self.learned = Signal()
        self._job: Job | None = None
        self._results = Results()
        self._deaths: dict[Job, int] = {}
        self._given_up: set[Job] = set()

    def ask(self, jobs: Iterable[Job]) -> int | None:
        """Compute the first of some jobs whose profile is not known: the number of that work; None where there is none."""
        self._job = next((job for job in jobs if job not in self.known and job not in self._given_up), None)
        self._results = Results()
        return self._worker.ask(self._job) if self._job is not None else None

    def hear(self, news: News) -> None:
        """Take in what the worker says of the job that was asked for."""
        match news:
            case Done(part=name, result=result):
                self._results[PART[name]] = result
            case Finished(stopped=True) if self._job is not None:
                self._given_up.add(self._job)
            case Finished() if self._job is not None:
                self.known[self._job] = profile(self._results)
                self.learned.emit()

    def hear_restart(self) -> None:
        """The worker's process ended while it computed a job of these."""
        if self._job is not None:
            self._deaths[self._job] = self._deaths.get(self._job, 0) + 1
            if self._deaths[self._job] >= _MOST_DEATHS:
                self._given_up.add(self._job)

    def try_again(self) -> None:
        """What was given up may be computed after all."""
        self._deaths.clear()
        self._given_up.clear()
