"""The talk with the worker about the lens in front: what is asked for, in which order, what has come and how far the rest is."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Hashable
from typing import Any

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Corpus
from jagged_lens.lens import (
    ALWAYS,
    CORPUS,
    PART,
    PARTS,
    Began,
    Deferred,
    Done,
    Ending,
    Failed,
    Finished,
    Grew,
    Job,
    News,
    Part,
    Planned,
    Restarted,
    Results,
    Share,
    Worker,
    keys_of,
    with_needs,
)
from jagged_lens.signal import Signal

_MOST_DEATHS = 2
_ENDED = {
    Ending.UNEXPECTED: "The worker process ended unexpectedly and was started anew.",
    Ending.OLD_WORK: "What was asked before did not stop by itself; its process was ended.",
    Ending.NOT_STOPPED: "The work did not stop by itself; its process was ended and started anew.",
}


class Computing:
    """Asks for the parts of a lens: those that are looked at first, then the others that every lens has.

    results: the newest of each part. fresh: names of the parts whose result belongs to the job as it is now; the others are out
    of date, or not there. growing: previews of those under way. errors: by name. share: how much of each part under way is done.
    working: whether anything is under way.

    Signals: part_changed(part) when a part began, went on, grew, failed or was done; settled() when nothing is under way any
    more; trouble(words, details) for what the user must be told.
    """

    def __init__(self, worker: Worker, job: Callable[[], Job], new_corpus: Callable[[Corpus], None]) -> None:
        """job: what is to be computed now. new_corpus: told of other documents before they take the place of the old ones."""
        self._worker = worker
        self._job = job
        self._new_corpus = new_corpus
        self.results = Results()
        self.growing = Results()
        self.fresh: set[str] = set()
        self.errors: dict[str, JaggedLensError] = {}
        self.share: dict[str, float] = {}
        self.seconds: dict[str, float] = {}
        self.working = False
        self.part_changed = Signal()
        self.settled = Signal()
        self.trouble = Signal()
        self._keys: dict[str, str] = {}
        self._deaths = 0
        self._looked_at: dict[Hashable, tuple[Part[Any], ...]] = {}
        self._declined: set[Part[Any]] = set()
        self._enough: set[Part[Any]] = set()  # parts of the work at hand that were ended early

    def order(self) -> tuple[Part[Any], ...]:
        """The parts that are wanted, in the order in which to compute them: what was looked at last comes first."""
        looked_at = [part for parts in reversed(self._looked_at.values()) for part in parts]
        return with_needs((part for part in looked_at if part not in self._declined), ALWAYS)

    def ask(self, to_the_end: Part[Any] | None = None, anew: bool = False) -> int:
        """Ask the worker for everything that is wanted; the number of the work. to_the_end: a part that is wanted as a whole, even where
        it was ended early. anew: try again what failed."""
        self.working = True
        self._enough.clear()
        whole = frozenset([to_the_end.name]) if to_the_end is not None else frozenset[str]()
        return self._worker.ask(dataclasses.replace(self._job(), to_the_end=whole, anew=anew), self.order())

    def look_at(self, who: Hashable, parts: tuple[Part[Any], ...]) -> bool:
        """Somebody looks at the results of these parts, which come first from now on; at none: looks no more.

        Gives whether something has to be asked for that is not under way.
        """
        before = self.order()
        self._looked_at.pop(who, None)
        if parts:
            self._looked_at[who] = parts
        return self._reordered(before)

    def decline(self, part: Part[Any]) -> None:
        """Give up a part that is computed on demand; the others go on."""
        before = self.order()
        self._declined.add(part)
        self._reordered(before)
        self.share.pop(part.name, None)
        self.growing.drop(part)
        self.part_changed.emit(part)

    def enough(self, part: Part[Any], alone: bool = False) -> None:
        """What there is of a part so far is to be its result. alone: compute only what is made of it, and nothing else."""
        self._enough.add(part)
        after = [one for one in ALWAYS if part in one.needs]
        self._worker.reorder(with_needs(after or [part]) if alone else self.order(), tuple(self._enough))

    @property
    def can_end(self) -> Part[Any] | None:
        """The part under way that can be ended early, and of which something is there; None where there is none."""
        return next((part for part in PARTS if part.unfinished is not None and part in self.growing), None)

    def demand(self, part: Part[Any]) -> bool:
        """Want a part again that was given up; whether it has to be asked for."""
        before = self.order()
        self._declined.discard(part)
        return self._reordered(before)

    def declined(self, part: Part[Any]) -> bool:
        """Whether a part was given up by hand."""
        return part in self._declined

    def _reordered(self, before: tuple[Part[Any], ...]) -> bool:
        order = self.order()
        if order == before:
            return False
        if self.working:
            self._worker.reorder(order, tuple(self._enough))
            return False
        return self.lacking

    @property
    def lacking(self) -> bool:
        """Whether a part that is wanted on demand is neither there nor has failed."""
        return any(
            part.on_demand
            and part.name not in self.fresh
            and not any(one.name in self.errors for one in with_needs([part]))
            for part in self.order()
        )

    def forget(self) -> None:
        """Other documents: nothing that was known belongs to them."""
        self.results.clear()
        self._keys.clear()
        for known in (self.growing, self.fresh, self.errors, self.share, self._declined):
            known.clear()

    def begin_anew(self) -> None:
        """Everything is wanted anew, what was given up by hand too; the worker may die again."""
        self._deaths = 0
        self._declined.clear()

    def look_over(self) -> None:
        """Find out which results belong to the job as it is now, without computing anything."""
        self._compare(keys_of(self._job()).of)

    @property
    def complete(self) -> bool:
        """Whether all parts that every lens has belong to the job as it is now."""
        return all(part.name in self.fresh for part in ALWAYS)

    def hear(self, news: News) -> None:
        """Take in what the worker says of the work that was asked for."""
        match news:
            case Planned(keys=keys):
                self.errors.clear()
                self.share.clear()
                self._compare(keys)
            case Began(part=name):
                self._share(PART[name], 0.0)
            case Share(part=name, share=share):
                self._share(PART[name], share)
            case Grew(part=name, preview=preview):
                self.growing[PART[name]] = preview
                self.part_changed.emit(PART[name])
            case Deferred(part=name):
                self._ended(PART[name])
                self.part_changed.emit(PART[name])
            case Done():
                self._hear_done(news)
            case Failed(part=name, error=error, details=details):
                if name:
                    self._ended(PART[name])
                    self.errors[name] = error
                    self.part_changed.emit(PART[name])
                self.trouble.emit(str(error), details)
            case Finished(stopped=stopped):
                self.settle(stopped)

    def hear_restart(self, news: Restarted) -> bool:
        """The worker is another process now; whether the work is to be asked for again."""
        self._deaths += 1
        again = self.working and news.again and self._deaths <= _MOST_DEATHS
        then = "The work was begun again." if again else "Nothing that was there is lost."
        self.trouble.emit(f"{_ENDED[news.ending]} {then}", "")
        return again

    def settle(self, stopped: bool) -> None:
        """Nothing is under way any more. stopped: what is wanted on demand, and is not there, is given up."""
        if stopped:
            self._declined |= {part for part in self.order() if part.on_demand and part.name not in self.fresh}
        self.working = False
        self.share.clear()
        self.growing.clear()
        for part in PARTS:
            self.part_changed.emit(part)
        self.settled.emit()

    def _compare(self, keys: dict[str, str]) -> None:
        self.fresh.clear()
        self.fresh |= {name for name, key in keys.items() if self._keys.get(name) == key}
        for part in PARTS:
            self.part_changed.emit(part)

    def _share(self, part: Part[Any], share: float) -> None:
        self.share[part.name] = share
        self.part_changed.emit(part)

    def _ended(self, part: Part[Any]) -> None:
        self.share.pop(part.name, None)
        self.growing.drop(part)

    def _hear_done(self, news: Done) -> None:
        part = PART[news.part]
        self._ended(part)
        self.seconds[part.name] = news.seconds
        if self._keys.get(part.name) != news.key:
            if part is CORPUS:
                self._new_corpus(news.result)
            self.results[part] = news.result
            self._keys[part.name] = news.key
        self.fresh.add(part.name)
        self.part_changed.emit(part)
