# SPDX-License-Identifier: GPL-3.0-or-later
"""Progress and stopping of long work: `progress` raises `Stopped`."""

from __future__ import annotations

from collections.abc import Callable

Progress = Callable[[float], None]
"""Told the share done, from 0 to 1. Raises `jagged_lens.errors.Stopped` to end the work."""


def unheard(share: float) -> None:
    """A progress that nobody listens to."""


def unseen(preview: object) -> None:
    """A preview that nobody looks at."""


def never() -> bool:
    """Always False: a result so far is never good enough to stop."""
    return False


def portion(progress: Progress, low: float, high: float) -> Progress:
    """The stretch from `low` to `high` of a longer work, as a progress of its own.

    >>> told = []
    >>> portion(told.append, 0.5, 1.0)(0.5)
    >>> told
    [0.75]
    """
    return lambda share: progress(low + (high - low) * share)


class Told:
    """A progress for parts of a work that goes on beside each other: each tells the share that is done of the whole, so that it can be
    stopped in the middle of a part."""

    def __init__(self, progress: Progress) -> None:
        self._progress = progress
        self._share = 0.0

    def at(self, share: float) -> None:
        """So much of the whole is done now."""
        self._share = share
        self._progress(share)

    def again(self, share: float) -> None:
        """A part goes on."""
        self._progress(self._share)
