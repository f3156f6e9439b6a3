"""A second lens, to be compared with the one in front: its results are computed while nothing else is to be done."""

from __future__ import annotations

from collections.abc import Callable

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import ALWAYS, PART, Began, Deferred, Done, Failed, Finished, Job, News, Results, Share, Worker
from jagged_lens.signal import Signal


class Second:
    """The results of another lens.

    name: of the lens; "" where none is wanted. job: what it is asked for. results: of its parts, as they come.
    ready: all of them are there, and belong to the lens as
    it is now. share: how much of it is done. error: what went wrong. changed() is told of all that.
    """

    def __init__(
        self,
        worker: Worker,
        job_of: Callable[[str], Job | None],
        begin: Callable[[], None],
        under_way: Callable[[], bool],
    ) -> None:
        """job_of: the job of a lens by its name; None where there is none. begin: told when something is to be computed. under_way:
        whether it is this lens that the worker computes."""
        self._worker = worker
        self._job_of = job_of
        self._begin = begin
        self._under_way = under_way
        self.name = ""
        self.results = Results()
        self.ready = False
        self.share = 0.0
        self.error: JaggedLensError | None = None
        self.stopped = False
        self.changed = Signal()
        self.job: Job | None = None
        self._done = 0

    def choose(self, name: str) -> None:
        """Have the lens of a name computed; "": none."""
        self.name = name
        self.follow()

    def follow(self) -> None:
        """Lenses or documents may have changed: go by what they are now."""
        job = self._job_of(self.name) if self.name else None
        if job is None:
            self.name = ""
        if job != self.job:
            self.job = job
            self.ready, self.stopped, self.error, self.share = False, False, None, 0.0
            self.results = Results()
        self.changed.emit()
        if self.lacking:
            self._begin()

    @property
    def lacking(self) -> bool:
        """Whether it is to be computed."""
        return self.job is not None and not self.ready and not self.stopped and self.error is None

    def ask(self) -> int:
        """Have it computed: the number of that work."""
        assert self.job is not None
        self._done = 0
        return self._worker.ask(self.job)

    def stop(self) -> None:
        """Stop computing it, and nothing else."""
        if self._under_way():
            self._worker.stop()
        self.give_up()

    def give_up(self) -> None:
        """It is not computed any more, before somebody wants it again."""
        self.stopped = True
        self.changed.emit()

    def again(self) -> None:
        """It is wanted after all."""
        self.stopped, self.error = False, None
        self.changed.emit()
        self._begin()

    def hear(self, news: News) -> None:
        """Take in what the worker says of it."""
        match news:
            case Began() | Deferred():
                return
            case Share(share=share):
                self.share = (self._done + share) / len(ALWAYS)
            case Done(part=name, result=result):
                self.results[PART[name]] = result
                self._done += 1
                self.share = self._done / len(ALWAYS)
            case Failed(error=error):
                self.error = error
            case Finished(stopped=stopped):
                self.ready = not stopped and self.error is None and all(part in self.results for part in ALWAYS)
                self.stopped |= stopped
        self.changed.emit()
