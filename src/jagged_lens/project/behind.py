"""The other lenses, computed in the background while nothing else is to be done, so that their profiles are known."""

from __future__ import annotations

from collections.abc import Iterable

from jagged_lens.lens import PART, Done, Finished, Job, News, Results, Worker
from jagged_lens.project.profile import profile
from jagged_lens.signal import Signal


class Behind:
    """Profiles of lenses by their job.

    known: those that were computed. learned() is told of each new one.
    """

    def __init__(self, worker: Worker) -> None:
        self._worker = worker
        self.known: dict[Job, tuple[float, ...]] = {}
        self.learned = Signal()
        self._job: Job | None = None
        self._results = Results()

    def ask(self, jobs: Iterable[Job]) -> int | None:
        """Compute the first of some jobs whose profile is not known: the number of that work; None where there is none."""
        self._job = next((job for job in jobs if job not in self.known), None)
        self._results = Results()
        return self._worker.ask(self._job) if self._job is not None else None

    def hear(self, news: News) -> None:
        """Take in what the worker says of the job that was asked for."""
        match news:
            case Done(part=name, result=result):
                self._results[PART[name]] = result
            case Finished() if self._job is not None:
                self.known[self._job] = profile(self._results)
                self.learned.emit()
