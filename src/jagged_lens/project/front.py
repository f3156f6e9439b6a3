# SPDX-License-Identifier: GPL-3.0-or-later
"""The lens in front: what is asked for, in which order, what has come, and what of it belongs together."""

from __future__ import annotations

import dataclasses
from collections.abc import Hashable, Iterable
from typing import Any

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import ALWAYS, CORPUS, PART, PARTS, Job, Part, Recipe, ResultsSoFar, keys_of, with_needs
from jagged_lens.project.current import Current
from jagged_lens.project.pick import Pick
from jagged_lens.project.snapshot import Snapshot
from jagged_lens.signal import Signal
from jagged_lens.worker import (
    Began,
    Deferred,
    Done,
    Ended,
    Failed,
    Finished,
    Grew,
    News,
    Planned,
    Queue,
    Request,
    Restarted,
    Share,
    Urgency,
)


class Front:
    """Asks for the parts of the lens in front: those that are looked at first, then the others that every lens has.

    results: the newest of each part. fresh: names of the parts whose result belongs to the lens as it is now; the others are out
    of date, or not there. growing: previews of those under way. errors: by name. share: how much of each part under way is done.

    Signals: part_changed(part) when a part began, went on, grew, failed or was done; settled() when nothing is under way any
    more.
    """

    def __init__(self, queue: Queue, current: Current, pick: Pick) -> None:
        self._queue = queue
        self._current = current
        self._pick = pick
        self.results = ResultsSoFar()
        self.growing = ResultsSoFar()
        self.fresh: set[str] = set()
        self.errors: dict[str, JaggedLensError] = {}
        self.share: dict[str, float] = {}
        self.part_changed = Signal()
        self.settled = Signal()
        self.asked: Job | None = None
        """For what the newest request was."""
        self._recipe: Recipe | None = None  # to which what is fresh belongs
        self._keys: dict[str, str] = {}
        self._request: Request | None = None
        self._looked_at: dict[Hashable, tuple[Part[Any], ...]] = {}
        self._declined: set[Part[Any]] = set()
        self._early: Part[Any] | None = None  # what was ended early when all was stopped

    @property
    def working(self) -> bool:
        """True if anything of it is under way, or waits for its turn."""
        return self._queue.wants(self)

    @property
    def order(self) -> tuple[Part[Any], ...]:
        """The parts that are wanted, in the order in which to compute them: what was looked at last comes first."""
        looked_at = [part for parts in reversed(self._looked_at.values()) for part in parts]
        return with_needs((part for part in looked_at if part not in self._declined), ALWAYS)

    @property
    def snapshot(self) -> Snapshot:
        """The results that belong to the lens as it is now, and what is on its way."""
        fresh = {name: result for name, result in self.results.items() if name in self.fresh}
        recipe = self._recipe or self._current.state.recipe
        return Snapshot(recipe, fresh, self._keys, dict(self.growing.items()))

    def keys_of(self, parts: Iterable[Part[Any]]) -> tuple[str, ...]:
        """The keys of the newest results of some parts, "" for one that is not there or is out of date."""
        return tuple(self._keys.get(part.name, "") if part.name in self.fresh else "" for part in parts)

    @property
    def complete(self) -> bool:
        """True if all parts that every lens has belong to the lens as it is now."""
        return all(part.name in self.fresh for part in ALWAYS)

    # What is wanted.

    def compute(self, to_the_end: Part[Any] | None = None, anew: bool = False) -> None:
        """Ask for everything that is wanted, what was given up by hand too. to_the_end: a part that is wanted as a whole, even where
        it was ended early. anew: try again what failed."""
        self._declined.clear()
        self._ask(to_the_end, anew)

    def _ask(self, to_the_end: Part[Any] | None = None, anew: bool = False, by_hand: bool = True) -> None:
        self.asked = job = self._current.job()
        whole = frozenset([to_the_end.name]) if to_the_end is not None else frozenset[str]()
        job = dataclasses.replace(job, to_the_end=whole, anew=anew)
        self._put(Request(self, Urgency.FRONT, job, f"the lens “{self._current.state.lens.name}”", self.order), by_hand)

    def _put(self, request: Request, by_hand: bool = True) -> None:
        self._early = None
        before, self._request = self._request, request
        if before is not None and self._queue.wants(self) and request.continues(before):
            self._request = dataclasses.replace(request, job=before.job)  # what it tries again, it still does
        self._queue.put(self._request, by_hand)

    def look_at(self, who: Hashable, parts: tuple[Part[Any], ...]) -> None:
        """Somebody looks at the results of these parts, which come first from now on; at none: looks no more."""
        before = self.order
        self._looked_at.pop(who, None)
        if parts:
            self._looked_at[who] = parts
        self._reorder(before)

    def decline(self, part: Part[Any]) -> None:
        """Give up a part that is computed on demand; the others go on."""
        before = self.order
        self._declined.add(part)
        self._reorder(before)
        self.share.pop(part.name, None)
        self.growing.drop(part)
        self.part_changed.emit(part)

    def demand(self, part: Part[Any]) -> None:
        """Compute a part that was given up after all."""
        self._declined.discard(part)
        if self._current.state.sources and not self._queue.held:
            if self.working:
                self._reorder(())
            else:
                self._ask()

    def declined(self, part: Part[Any]) -> bool:
        """True if a part was given up by hand."""
        return part in self._declined

    def enough(self, part: Part[Any], alone: bool = False) -> None:
        """Take the partial result of a part as its result. alone: compute only its dependants, and nothing else."""
        request = self._request
        if request is None or not self.working:
            return
        after = [one for one in ALWAYS if part in one.needs]
        order = with_needs(after or [part]) if alone else self.order
        self._put(dataclasses.replace(request, parts=order, enough=(*request.enough, part)))
        self._early = part if alone else None

    @property
    def can_end(self) -> Part[Any] | None:
        """The part under way that can be ended early, and of which something is there; None where there is none."""
        return next((part for part in PARTS if part.unfinished is not None and part in self.growing), None)

    def stop(self) -> None:
        """Give up what is under way; what was there stays. What can be ended early stays as it is by now, if it was not stopped so
        before."""
        early = self.can_end
        if early is not None and early is not self._early:
            self.enough(early, alone=True)
        else:
            self._queue.stop(self)

    def _reorder(self, before: tuple[Part[Any], ...]) -> None:
        order = self.order
        if order == before:
            return
        if self.working and self._request is not None and self._early is None:
            self._put(dataclasses.replace(self._request, parts=order))
        elif self.complete and self.lacking and self._current.state.sources and not self._queue.held:
            self._ask(by_hand=False)

    @property
    def lacking(self) -> bool:
        """True if a part that is wanted on demand is neither there nor has failed."""
        return any(
            part.on_demand
            and part.name not in self.fresh
            and not any(one.name in self.errors for one in with_needs([part]))
            for part in self.order
        )

    def forget(self) -> None:
        """Other documents: nothing that was known belongs to them."""
        self._queue.withdraw(self)
        self.results.clear()
        self._keys.clear()
        self._request = self.asked = self._recipe = self._early = None
        for known in (self.growing, self.fresh, self.errors, self.share, self._declined):
            known.clear()

    def look_over(self) -> None:
        """The lens was changed and nothing is to be computed: give up what is, and find out which results belong to it."""
        self._queue.withdraw(self)
        self.share.clear()
        self.growing.clear()
        self._recipe = self._current.state.recipe
        self._compare(keys_of(self._current.job()).of)

    # What comes.

    def hear(self, news: News) -> None:
        """Take in what the worker says of the work that was asked for."""
        match news:
            case Planned(keys=keys):
                self.errors.clear()
                self.share.clear()
                self._recipe = self._request.job.recipe if self._request is not None else None
                self._compare(keys)
            case Began(part=name):
                self.tell_share(PART[name], 0.0)
            case Share(part=name, share=share):
                self.tell_share(PART[name], share)
            case Grew(part=name, preview=preview):
                self.growing[PART[name]] = preview
                self.part_changed.emit(PART[name])
            case Deferred(part=name):
                self._leave(PART[name])
                self.part_changed.emit(PART[name])
            case Done():
                self._hear_done(news)
            case Failed(part=name, error=error, details=details):
                if name:
                    self._leave(PART[name])
                    self.errors[name] = error
                    self.part_changed.emit(PART[name])
                self._queue.trouble.emit(str(error), details)
            case Finished() | Restarted():
                pass

    def ended(self, how: Ended) -> None:
        """Nothing is under way any more. Where that was not for the end of the work, what is wanted on demand and is not there is
        given up."""
        if how is not Ended.DONE or self._early is not None:
            self._declined |= {part for part in self.order if part.on_demand and part.name not in self.fresh}
        self._early = None
        self.share.clear()
        self.growing.clear()
        for part in PARTS:
            self.part_changed.emit(part)
        self.settled.emit()

    def tell_share(self, part: Part[Any], share: float | None) -> None:
        """So much of a part is done; None: it is not under way any more."""
        if share is None:
            self.share.pop(part.name, None)
        else:
            self.share[part.name] = share
        self.part_changed.emit(part)

    def _compare(self, keys: dict[str, str]) -> None:
        self.fresh.clear()
        self.fresh |= {name for name, key in keys.items() if self._keys.get(name) == key}
        for part in PARTS:
            self.part_changed.emit(part)

    def _leave(self, part: Part[Any]) -> None:
        self.share.pop(part.name, None)
        self.growing.drop(part)

    def _hear_done(self, news: Done) -> None:
        part = PART[news.part]
        self._leave(part)
        if self._keys.get(part.name) != news.key:
            self.results[part] = news.result
            self._keys[part.name] = news.key
            if part is CORPUS:
                self._pick.follow(news.result)
                state = self._current.state
                self._current.look(state.with_stamps(dict(zip(state.sources, news.result.stamps, strict=False))))
        self.fresh.add(part.name)
        self.part_changed.emit(part)
