# SPDX-License-Identifier: GPL-3.0-or-later
"""A worker that says what a test has it say, and owners that note what becomes of their requests."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import ALWAYS, Job, Part, Recipe
from jagged_lens.worker import Done, Ended, Ending, Failed, Finished, News, Planned, Request, Restarted, Urgency

JOBS = [Job(Recipe().with_setting("group", "groups", 2 + number), Path("/")) for number in range(3)]


class Scripted:
    """A worker that says what it is told to say."""

    def __init__(self) -> None:
        self.number = 0
        self.asked: list[tuple[Job, tuple[Part[Any], ...]]] = []
        self.parts: list[str] = []
        self.stopped = self.busy = self.planned = False
        self.said: list[News | Ending] = []

    def ask(self, job: Job, parts: Sequence[Part[Any]] = ALWAYS) -> int:
        self.number += 1
        self.asked.append((job, tuple(parts)))
        self.parts = [part.name for part in parts]
        self.busy, self.stopped, self.planned = True, False, False
        return self.number

    def reorder(self, parts: Sequence[Part[Any]], enough: Sequence[Part[Any]] = ()) -> None:
        self.parts = [part.name for part in parts]

    def stop(self) -> None:
        self.stopped = True

    def news(self) -> Iterator[News]:
        while self.said:
            word = self.said.pop(0)
            if isinstance(word, Ending):
                self.said.clear()
                self.busy = False
                yield Restarted(self.number, word, True)
            else:
                if isinstance(word, Finished) and word.number == self.number:
                    self.busy = False
                yield word

    @property
    def works(self) -> bool:
        """Whether it has more to say of what it was asked for last."""
        ended = any(isinstance(one, Ending) for one in self.said)
        return (
            self.busy
            and not ended
            and not any(isinstance(one, Finished) and one.number == self.number for one in self.said)
        )

    def say(self, news: News | Ending) -> None:
        if not self.planned:
            self.said.append(Planned(self.number, {}))
            self.planned = True
        self.said.append(news)

    def finish(self, failing: str = "") -> None:
        for name in self.parts:
            if name == failing:
                self.say(Failed(self.number, name, JaggedLensError("it cannot be computed")))
            else:
                self.say(Done(self.number, name, name, 0.1, self.number))
        self.say(Finished(self.number, False, 0))


class Somebody:
    """An owner that notes what becomes of its requests."""

    def __init__(self, urgency: Urgency, worker: Scripted) -> None:
        self.urgency = urgency
        self.worker = worker
        self.mine: Request | None = None
        self.told_to_stop = False
        self.endings: list[Ended] = []
        self.done: set[str] = set()

    def hear(self, news: News) -> None:
        assert self.mine is not None, "something is said of what it does not want"
        assert self.worker.asked[news.number - 1][0] is self.mine.job, "it is of other work"
        if isinstance(news, Planned):
            self.done.clear()
        if isinstance(news, Done):
            self.done.add(news.part)

    def ended(self, how: Ended) -> None:
        assert self.mine is not None, "it is answered twice"
        assert how is not Ended.STOPPED or self.told_to_stop, "what was stopped is what it wanted before"
        self.mine = None
        self.endings.append(how)
