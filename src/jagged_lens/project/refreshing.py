"""Reading sources again, apart from the results that are shown: what is new, changed and gone is told before it is taken in."""

from __future__ import annotations

import dataclasses
import time
from collections.abc import Collection, Sequence

from jagged_lens.gather import Corpus, Source
from jagged_lens.lens import CORPUS, Job, Worker, stamp_of
from jagged_lens.project.refreshed import Refreshed, compared


class Refreshing:
    """One reading of the sources again. number: of the work. corpus: what was read, once it is there."""

    def __init__(self, worker: Worker, job: Job, sources: Sequence[Source]) -> None:
        """job: as of `job_to_refresh`."""
        self._sources = sources
        self.number = worker.ask(job, (CORPUS,))
        self.corpus: Corpus | None = None

    def compared(self, before: Corpus) -> Refreshed | None:
        """What differs from the documents that are there; None where nothing could be read."""
        return compared(before, self.corpus, self._sources) if self.corpus is not None else None


def job_to_refresh(job: Job, chosen: Collection[Source], failed_only: bool) -> Job:
    """The job that reads some of the sources anew. failed_only: of links, fetch those alone that did not come."""
    stamps = {}
    for source in chosen:
        # A server or a page does not show from outside whether it has changed: its stamp is of this moment.
        now = f"{stamp_of(source, job.folder)}-{time.time_ns():x}"
        stamps[source] = now if source.kind in ("links", "database") else stamp_of(source, job.folder)
    again = not failed_only and job.store is not None and any(source.kind == "links" for source in chosen)
    return dataclasses.replace(job, stamps=tuple({**dict(job.stamps), **stamps}.items()), again=again, anew=True)
