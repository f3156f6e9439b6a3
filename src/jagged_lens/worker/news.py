# SPDX-License-Identifier: GPL-3.0-or-later
"""The messages between the window and the worker: orders one way, news of the work the other."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import Enum, auto
from typing import Any

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import Job


@dataclass(frozen=True)
class Asked:
    """The current request to the worker.

    number: of the work; order: how often an order of parts was given by then. parts: their names, in the order in which they
    are wanted. enough: those whose results so far are to do. budget: bytes of results that are remembered. threads: that compute.
    """

    number: int
    order: int
    parts: tuple[str, ...]
    job: Job
    budget: int
    threads: int
    enough: tuple[str, ...] = ()


@dataclass(frozen=True)
class Planned:
    """Work began; the keys of all parts."""

    number: int
    keys: dict[str, str]


@dataclass(frozen=True)
class Began:
    """A part is being computed."""

    number: int
    part: str


@dataclass(frozen=True)
class Share:
    """The share of a part that is done, from 0 to 1."""

    number: int
    part: str
    share: float


@dataclass(frozen=True)
class Deferred:
    """A part that had begun makes way for another that is wanted first; it is begun again later."""

    number: int
    part: str


@dataclass(frozen=True)
class Grew:
    """The partial result of a part."""

    number: int
    part: str
    preview: Any = field(default=None, repr=False)


@dataclass(frozen=True)
class Done:
    """A part's result is there."""

    number: int
    part: str
    key: str
    seconds: float
    result: Any = field(default=None, repr=False)


@dataclass(frozen=True)
class Failed:
    """A part could not be computed, or, where no part is named, something went wrong beside the parts."""

    number: int
    part: str
    error: JaggedLensError
    details: str = ""


@dataclass(frozen=True)
class Finished:
    """All parts were seen to, or the work was stopped. order: the newest one that was known then."""

    number: int
    stopped: bool
    order: int


class Ending(Enum):
    """The cause of the end of a worker's process."""

    UNEXPECTED = auto()
    OLD_WORK = auto()  # what was asked before did not make way for something new
    NOT_STOPPED = auto()  # it was asked to stop, and did not


@dataclass(frozen=True)
class Restarted:
    """The worker's process is another one. ending: why. again: whether the newest request is still wanted."""

    number: int
    ending: Ending
    again: bool


News = Planned | Began | Share | Deferred | Grew | Done | Failed | Finished | Restarted
