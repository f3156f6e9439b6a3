"""Reading sources again, apart from the results that are shown: what is new, changed and gone is told before it is taken in."""

from __future__ import annotations

import dataclasses
import time
from collections.abc import Callable, Collection, Sequence

from jagged_lens.gather import Corpus, Source
from jagged_lens.lens import CORPUS, PART, Done, Finished, Job, News, Results, Worker, stamp_of
from jagged_lens.project.refreshed import Refreshed, compared


class Refreshing:
    """One reading of the sources again."""

    def __init__(self, worker: Worker, job: Job, sources: Sequence[Source], told: Callable[[Refreshed], None]) -> None:
        """job: as of `job_to_refresh`. told: what was found, compared with what is there."""
        self._sources = sources
        self._told = told
        self._results = Results()
        self.number = worker.ask(job, (CORPUS,))

    def hear(self, news: News, before: Corpus | None) -> None:
        """Take in what the worker says of it. before: the documents that are there."""
        match news:
            case Done(part=name, result=result):
                self._results[PART[name]] = result
            case Finished() if before is not None and CORPUS in self._results:
                self._told(compared(before, self._results[CORPUS], self._sources))


def job_to_refresh(job: Job, chosen: Collection[Source], failed_only: bool) -> Job:
    """The job that reads some of the sources anew. failed_only: of links, fetch those alone that did not come."""
    stamps = {}
    for source in chosen:
        # A server or a page does not show from outside whether it has changed: its stamp is of this moment.
        now = f"{stamp_of(source, job.folder)}-{time.time_ns():x}"
        stamps[source] = now if source.kind in ("links", "database") else stamp_of(source, job.folder)
    again = not failed_only and job.store is not None and any(source.kind == "links" for source in chosen)
    return dataclasses.replace(job, stamps=tuple({**dict(job.stamps), **stamps}.items()), again=again)
