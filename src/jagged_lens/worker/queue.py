# SPDX-License-Identifier: GPL-3.0-or-later
"""The queue of requests: one room owns the worker, and says what it computes, for whom, and how long still.

A request is in one of these states. What moves it is in the table; nothing else does.

| state | what it is | by what it leaves it | for |
|---|---|---|---|
| waiting | put; another goes first, or nothing may begin | it is the first that may begin | under way |
| | | its owner puts another, or withdraws it | gone, untold |
| | | all is stopped | dropped |
| | | put although it was given up, and not by hand | given up |
| under way | the worker was asked for it | its owner puts one that continues it | under way, in the new order |
| | | its owner puts another, or withdraws it | gone, untold |
| | | a more urgent one may begin | waiting |
| | | the worker says that it has finished | done |
| | | it is stopped | stopping |
| | | the worker's process ends for the first time | waiting |
| | | the worker's process ends for the second time | given up |
| stopping | the worker was told to stop | it says so, or its process ends | stopped |
| | | it had finished before | done |
| | | its owner puts another, or withdraws it | gone, untold |
| | | a more urgent one may begin | stopped |
| done, stopped, dropped, given up | the owner was told, once | | |

Which may begin: nothing while all is held; what is beside or behind only once every part that each lens has is there in front.
Of those the most urgent goes first; at equal urgency the one that was put first. A worker that did not make way for new work is
ended, which is not laid to the new work's charge.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any, Protocol

from jagged_lens.lens import ALWAYS, Job, Part
from jagged_lens.signal import Signal
from jagged_lens.worker.news import Done, Ending, Failed, Finished, News, Planned, Restarted
from jagged_lens.worker.remaining import Durations
from jagged_lens.worker.request import Ended, Owner, Request, Urgency

_MOST_ENDS = 2
"""So often may a request end the worker's process."""

_SAID = {
    Ending.UNEXPECTED: "The worker process ended unexpectedly and was restarted.",
    Ending.OLD_WORK: "The previous work did not stop; its process was ended.",
    Ending.NOT_STOPPED: "The work did not stop; its process was ended and restarted.",
}


class Hands(Protocol):
    """The worker: `Worker`, or a double of it in a test."""

    @property
    def busy(self) -> bool:
        """True if an answer to what was asked for last is still to come."""

    def ask(self, job: Job, parts: Sequence[Part[Any]]) -> int:
        """Ask for parts of a job; what was asked before is given up. Gives the number of its news."""

    def reorder(self, parts: Sequence[Part[Any]], enough: Sequence[Part[Any]] = ()) -> None:
        """Compute these parts of the last request, in this order."""

    def stop(self) -> None:
        """Give up the work at hand."""

    def news(self) -> Iterator[News]:
        """The messages since the last call."""


@dataclass(frozen=True)
class UnderWay:
    """The part being computed now.

    request: for whom, and what. part: the one at hand; None before the first. share: of the whole request, from 0 to 1. seconds:
    that it will still take; None where nothing is known of that. at_least: parts are to come of which nothing is known.
    """

    request: Request
    part: Part[Any] | None
    share: float
    seconds: float | None
    at_least: bool


@dataclass(eq=False)
class _Entry:
    """A request in the queue, and how far it is."""

    request: Request
    number: int
    stopping: bool = False
    planned: bool = False
    after_another: bool = False  # the worker was busy with other work when it was asked
    seen: set[str] = field(default_factory=set)  # parts that are done, or have failed
    done: set[str] = field(default_factory=set)

    def begin(self, after_another: bool) -> None:
        self.planned, self.after_another = False, after_another
        self.seen.clear()
        self.done.clear()


class Queue:
    """Requests, at most one of each owner, and the worker that computes them one at a time.

    changed(): something began, went on or ended. trouble(words, details): what the user must be told. held: nothing begins.
    """

    def __init__(self, worker: Hands, clock: Callable[[], float] = time.monotonic) -> None:
        self.changed = Signal()
        self.trouble = Signal()
        self._worker = worker
        self._entries: dict[Owner, _Entry] = {}
        self._at_work: _Entry | None = None
        self._number = 0
        self._put = 0
        self._held = False
        self._front_is_there = False
        self._ends: dict[tuple[Owner, Job], int] = {}
        self._durations = Durations(clock)

    def put(self, request: Request, by_hand: bool = True) -> None:
        """Have something computed, in place of what its owner wanted before. by_hand: also where it was given up."""
        owner, key = request.owner, (request.owner, request.job)
        before = self._entries.get(owner)
        if before is not None and not before.stopping and request.continues(before.request):
            self._continue(before, request)
            return
        if by_hand:
            self._ends.pop(key, None)
        elif self._ends.get(key, 0) >= _MOST_ENDS:
            self.withdraw(owner)
            owner.ended(Ended.GIVEN_UP)
            return
        self._remove(before)
        self._put += 1
        self._entries[owner] = _Entry(request, self._put)
        self._go_on()

    def withdraw(self, owner: Owner) -> None:
        """Its request is not wanted any more, and nothing more is said of it."""
        self._remove(self._entries.get(owner))
        self._go_on()

    def stop(self, owner: Owner) -> None:
        """Stop the request of an owner; the owner is told."""
        entry = self._entries.get(owner)
        if entry is None or entry.stopping:
            return
        if entry is self._at_work:
            entry.stopping = True
            self._worker.stop()
            self.changed.emit()
        else:
            self._end(entry, Ended.DROPPED)

    def stop_all(self) -> None:
        """Stop what is under way, and drop what waits."""
        for owner in list(self._entries):
            self.stop(owner)

    def forgive(self) -> None:
        """Allow asking again for what was given up."""
        self._ends.clear()

    @property
    def held(self) -> bool:
        """True if nothing begins; what is under way goes on."""
        return self._held

    def hold(self, held: bool) -> None:
        """Begin nothing from now on, or begin again."""
        self._held = held
        self._go_on()

    def wants(self, owner: Owner) -> bool:
        """True if a request of an owner is under way, or will be by itself."""
        entry = self._entries.get(owner)
        return entry is not None and (entry is self._at_work or not self._held)

    def is_under_way(self, owner: Owner) -> bool:
        """True if it is the request of this owner that the worker computes."""
        return self._at_work is not None and self._at_work.request.owner is owner

    @property
    def under_way(self) -> UnderWay | None:
        """The part being computed now; None if there is none."""
        entry = self._at_work
        if entry is None:
            return None
        parts = entry.request.parts
        names = [part.name for part in parts]
        seconds, at_least = self._durations.left(name for name in names if name not in entry.seen)
        now, share = self._durations.at_hand
        part = next((one for one in parts if one.name == now), None)
        done = sum(name in entry.seen for name in names)
        return UnderWay(entry.request, part, (done + share) / max(len(names), 1), seconds, at_least)

    def listen(self) -> None:
        """Take in what the worker has said since the last call."""
        for news in self._worker.news():
            if isinstance(news, Restarted):
                self._hear_restart(news)
            elif news.number == self._number:
                self._hear(news)

    def _hear(self, news: News) -> None:
        entry = self._at_work
        if isinstance(news, Finished):
            if entry is not None:
                self._end(entry, Ended.STOPPED if news.stopped else Ended.DONE)
            return
        if entry is None:
            return
        self._durations.hear(news)
        if isinstance(news, Planned):
            entry.planned = True
        elif isinstance(news, Done):
            entry.seen.add(news.part)
            entry.done.add(news.part)
        elif isinstance(news, Failed) and news.part:
            entry.seen.add(news.part)
        entry.request.owner.hear(news)
        self.changed.emit()

    def _hear_restart(self, news: Restarted) -> None:
        entry, self._at_work = self._at_work, None
        self._durations.forget_part()
        if entry is None:
            self.trouble.emit(f"{_SAID[news.ending]} No results were lost.", "")
            self._go_on()
            return
        how: Ended | None = None
        if entry.stopping:
            how = Ended.STOPPED
        elif news.ending is Ending.UNEXPECTED and not (entry.after_another and not entry.planned):
            key = (entry.request.owner, entry.request.job)
            self._ends[key] = self._ends.get(key, 0) + 1
            how = Ended.GIVEN_UP if self._ends[key] >= _MOST_ENDS else None
        then = {
            None: "The work was started again.",
            Ended.GIVEN_UP: f"This happened again: {entry.request.name} will not be computed until you press F5.",
        }.get(how, "No results were lost.")
        self.trouble.emit(f"{_SAID[news.ending]} {then}", "")
        if how is None:
            self._go_on()
        else:
            self._end(entry, how)

    def _continue(self, entry: _Entry, request: Request) -> None:
        before, entry.request = entry.request, request
        if entry is self._at_work and (before.parts, before.enough) != (request.parts, request.enough):
            self._worker.reorder(request.parts, request.enough)
        self.changed.emit()

    def _remove(self, entry: _Entry | None) -> None:
        """Out of the queue, without a word."""
        if entry is None:
            return
        del self._entries[entry.request.owner]
        if entry is self._at_work:
            self._at_work = None
            self._durations.forget_part()
            self._worker.stop()
        if entry.request.urgency is Urgency.FRONT:
            self._front_is_there = False

    def _end(self, entry: _Entry, how: Ended) -> None:
        """Out of the queue, and told so."""
        owner = entry.request.owner
        if self._entries.get(owner) is entry:
            del self._entries[owner]
        if entry is self._at_work:
            self._at_work = None
            self._durations.forget_part()
        if entry.request.urgency is Urgency.FRONT:
            self._front_is_there = all(part.name in entry.done for part in ALWAYS)
        owner.ended(how)
        self._go_on()

    def _may_begin(self, entry: _Entry) -> bool:
        return entry.request.urgency <= Urgency.FRONT or self._front_is_there

    def _go_on(self) -> None:
        """Begin with the first that may begin, where it is more urgent than what is under way."""
        ready = [one for one in self._entries.values() if self._may_begin(one) and not one.stopping]
        first = min(ready, key=lambda one: (one.request.urgency, one.number), default=None)
        before = self._at_work
        if (
            first is not None
            and first is not before
            and not self._held
            and (before is None or first.request.urgency < before.request.urgency)
        ):
            first.begin(self._worker.busy)
            self._durations.begin()
            self._at_work = first
            self._number = self._worker.ask(first.request.job, first.request.parts)
            if first.request.enough:
                self._worker.reorder(first.request.parts, first.request.enough)
            if before is not None and before.stopping:
                self._end(before, Ended.STOPPED)
        self.changed.emit()
