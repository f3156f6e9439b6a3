# SPDX-License-Identifier: GPL-3.0-or-later
"""The time left, from the progress of the current part and the durations of earlier parts."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from jagged_lens.worker.news import Began, Deferred, Done, Failed, News, Planned, Share

_TOLD_FROM = 0.03
"""A share below this says nothing of the time that the rest will take."""


class Durations:
    """The seconds that parts took, and the part at hand. A part whose result is there under its key takes no time."""

    def __init__(self, clock: Callable[[], float]) -> None:
        self._clock = clock
        self._seconds: dict[str, float] = {}
        self._there: dict[str, str] = {}  # the key of the newest result of each part
        self._keys: dict[str, str] = {}  # of the work at hand
        self._part = ""
        self._began = 0.0
        self._share = 0.0

    @property
    def at_hand(self) -> tuple[str, float]:
        """The name of the part at hand, "" where there is none, and its share done."""
        return self._part, self._share

    def begin(self) -> None:
        """Other work begins."""
        self._keys = {}
        self.forget_part()

    def forget_part(self) -> None:
        """No part is at hand."""
        self._part, self._share = "", 0.0

    def hear(self, news: News) -> None:
        """Take in what the worker says."""
        match news:
            case Planned(keys=keys):
                self._keys = keys
            case Began(part=part):
                self._part, self._began, self._share = part, self._clock(), 0.0
            case Share(part=part, share=share) if part == self._part:
                self._share = share
            case Done(part=part, key=key, seconds=seconds):
                self._there[part] = key
                if part == self._part:
                    self._seconds[part] = seconds
                    self.forget_part()
            case Failed(part=part) | Deferred(part=part) if part == self._part:
                self.forget_part()
            case _:
                pass

    def left(self, names: Iterable[str]) -> tuple[float | None, bool]:
        """Seconds that parts will still take, None where nothing is known of any; and whether of some nothing is known."""
        total, known, unknown = 0.0, False, False
        for name in names:
            seconds = self._of(name)
            if seconds is None:
                unknown = True
            else:
                known = True
                total += seconds
        return (total if known else None), unknown

    def _of(self, name: str) -> float | None:
        before = self._seconds.get(name)
        if name == self._part:
            gone = self._clock() - self._began
            if self._share >= _TOLD_FROM:
                return gone * (1 - self._share) / self._share
            return max(before - gone, 0.0) if before is not None else None
        if name in self._keys and self._there.get(name) == self._keys[name]:
            return 0.0
        return before
