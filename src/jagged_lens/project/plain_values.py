# SPDX-License-Identifier: GPL-3.0-or-later
"""Plain values out of a project file, each checked for its kind. TypeError or ValueError where it is another."""

from __future__ import annotations

from typing import Any


def a_text(value: Any) -> str:
    """The value, which is a text."""
    if not isinstance(value, str):
        raise TypeError(f"{str(value)[:40]} is not text")
    return value


def a_list(values: Any) -> list[Any]:
    """The values, which are a list."""
    if not isinstance(values, list):
        raise TypeError(f"{str(values)[:40]} is not a list")
    return values


def texts(values: Any) -> tuple[str, ...]:
    """The texts of a list."""
    return tuple(map(a_text, a_list(values)))


def pairs(values: Any) -> tuple[tuple[str, str], ...]:
    """Pairs of texts."""
    return tuple((a_text(first), a_text(second)) for first, second in values)
