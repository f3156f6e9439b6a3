# SPDX-License-Identifier: GPL-3.0-or-later
"""A request: what somebody wants computed, and what becomes of it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum, IntEnum, auto
from typing import Any, Protocol

from jagged_lens.lens import ALWAYS, Job, Part
from jagged_lens.worker.news import News


class Urgency(IntEnum):
    """The smaller goes first."""

    SOURCES = auto()  # sources are read again
    FRONT = auto()  # the lens in front, with what is looked at
    BESIDE = auto()  # a second lens, compared with the one in front
    BEHIND = auto()  # lenses that nobody looks at now


class Ended(Enum):
    """The end of a request. One that its owner withdrew, or put another in place of, is told of no more."""

    DONE = auto()  # all its parts were seen to
    STOPPED = auto()  # the user stopped it while it was under way
    DROPPED = auto()  # the user stopped everything while it waited
    GIVEN_UP = auto()  # it ended the worker's process twice


class Owner(Protocol):
    """Who puts requests, one at a time: another takes the place of the one before."""

    def hear(self, news: News) -> None:
        """Something was said of the request that is under way."""

    def ended(self, how: Ended) -> None:
        """The request is no more. Told once."""


@dataclass(frozen=True, eq=False)
class Request:
    """A request for a computation.

    owner: who hears of it. urgency: what goes first. job: what is worked for. name: of what is computed, in the words of the
    window. parts: in the order in which they are wanted, each after what it needs. enough: parts whose results so far are to do.
    """

    owner: Owner
    urgency: Urgency
    job: Job
    name: str
    parts: tuple[Part[Any], ...] = ALWAYS
    enough: tuple[Part[Any], ...] = ()

    def continues(self, before: Request) -> bool:
        """True if the work for another request does for this one, too, at the most in another order."""
        job, old = self.job, before.job
        same = job == old and job.to_the_end == old.to_the_end and job.passwords == old.passwords
        return job is old or (same and not job.anew)
