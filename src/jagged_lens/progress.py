"""How long work tells its share done, and how it is stopped: `progress` raises `Stopped`."""

from __future__ import annotations

from collections.abc import Callable

Progress = Callable[[float], None]
"""Told the share done, from 0 to 1. Raises `jagged_lens.errors.Stopped` to end the work."""


def unheard(share: float) -> None:
    """A progress that nobody listens to."""


def unseen(preview: object) -> None:
    """A preview that nobody looks at."""


def never() -> bool:
    """What is asked whether a result so far is to do: it is not."""
    return False


def portion(progress: Progress, low: float, high: float) -> Progress:
    """The stretch from `low` to `high` of a longer work, as a progress of its own.

    >>> told = []
    >>> portion(told.append, 0.5, 1.0)(0.5)
    >>> told
    [0.75]
    """
    return lambda share: progress(low + (high - low) * share)
