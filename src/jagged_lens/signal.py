# SPDX-License-Identifier: GPL-3.0-or-later
"""A signal of our own kind: plain objects tell whoever subscribed that something changed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any


class Signal:
    """Listeners, callables that are told in the order in which they subscribed.

    >>> changed = Signal()
    >>> changed.subscribe(print)
    >>> changed.emit("three picked")
    three picked
    """

    def __init__(self) -> None:
        self._listeners: list[Callable[..., Any]] = []

    def subscribe(self, listener: Callable[..., Any]) -> None:
        """Have a callable told of every emission from now on."""
        self._listeners.append(listener)

    def leave(self, listener: Callable[..., Any]) -> None:
        """Tell a callable no more; nothing where it was not told."""
        self._listeners = [one for one in self._listeners if one != listener]

    def emit(self, *news: object) -> None:
        """Tell all who subscribed, in order."""
        for listener in list(self._listeners):
            listener(*news)
