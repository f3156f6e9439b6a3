# SPDX-License-Identifier: GPL-3.0-or-later
"""Reading sources again, apart from the results that are shown: what is new, changed and gone is told before it is taken in."""

from __future__ import annotations

import dataclasses
import time
from collections.abc import Collection, Sequence

from jagged_lens.gather import Corpus, Source
from jagged_lens.lens import CORPUS, Job, stamp_of
from jagged_lens.project.current import Current
from jagged_lens.project.front import Front
from jagged_lens.project.refreshed import compared
from jagged_lens.signal import Signal
from jagged_lens.worker import Began, Done, Ended, Failed, News, Queue, Request, Share, Urgency


class Refreshing:
    """Reads sources again. refreshed(what) is told of what differs from the documents that are there."""

    def __init__(self, queue: Queue, current: Current, front: Front) -> None:
        self._queue = queue
        self._current = current
        self._front = front
        self.refreshed = Signal()
        self._sources: Sequence[Source] = ()
        self._corpus: Corpus | None = None

    @property
    def working(self) -> bool:
        """True if sources are being read again."""
        return self._queue.wants(self)

    def read(self, numbers: Collection[int] | None = None, failed_only: bool = False) -> None:
        """Read sources again; None: all. failed_only: of links, fetch those alone that did not come."""
        self._sources, self._corpus = self._current.state.sources, None
        chosen = {self._sources[number] for number in (range(len(self._sources)) if numbers is None else numbers)}
        job = job_to_refresh(self._current.job(), chosen, failed_only)
        self._queue.put(Request(self, Urgency.SOURCES, job, "the sources", (CORPUS,)))

    def forget(self) -> None:
        """Other sources: what is read of the old ones is not wanted."""
        self._queue.withdraw(self)
        self._front.tell_share(CORPUS, None)

    def hear(self, news: News) -> None:
        """Take in what the worker says of it."""
        match news:
            case Began():
                self._front.tell_share(CORPUS, 0.0)
            case Share(share=share):
                self._front.tell_share(CORPUS, share)
            case Done(result=corpus):
                self._corpus = corpus
            case Failed(error=error, details=details):
                self._queue.trouble.emit(str(error), details)
            case _:
                pass

    def ended(self, how: Ended) -> None:
        """All was read, or will not be."""
        self._front.tell_share(CORPUS, None)
        before, corpus = self._front.results.get(CORPUS), self._corpus
        self._corpus = None
        if how is Ended.DONE and before is not None and corpus is not None:
            self.refreshed.emit(compared(before, corpus, self._sources))


def job_to_refresh(job: Job, chosen: Collection[Source], failed_only: bool) -> Job:
    """The job that reads some of the sources anew. failed_only: of links, fetch those alone that did not come."""
    stamps = {}
    for source in chosen:
        # A server or a page does not show from outside whether it has changed: its stamp is of this moment.
        now = f"{stamp_of(source, job.folder)}-{time.time_ns():x}"
        stamps[source] = now if source.kind in ("links", "database") else stamp_of(source, job.folder)
    again = not failed_only and job.store is not None and any(source.kind == "links" for source in chosen)
    return dataclasses.replace(job, stamps=tuple({**dict(job.stamps), **stamps}.items()), again=again, anew=True)
