# SPDX-License-Identifier: GPL-3.0-or-later
"""Regular expressions that a user typed, checked before they are used. What they search runs in a process that can be killed."""

from __future__ import annotations

import re

_LONGEST = 2_000
_MOST_REPEATS = 1_000_000
_REPEATS = re.compile(r"\{(\d+)")


def expression(pattern: str, flags: int = 0) -> re.Pattern[str]:
    """The expression. ValueError says in words what is wrong: no expression, too long, nested too deep, too many repeats.

    >>> expression("plot [0-9]+").search("see plot 31").group()
    'plot 31'
    >>> expression("(a{5000}){5000}")
    Traceback (most recent call last):
    ...
    ValueError: it repeats something more than 1,000,000 times
    """
    if len(pattern) > _LONGEST:
        raise ValueError(f"it is longer than {_LONGEST:,} characters")
    repeats = 1
    for count in _REPEATS.findall(pattern):
        repeats *= max(int(count[:12]), 1)
        if repeats > _MOST_REPEATS:
            raise ValueError(f"it repeats something more than {_MOST_REPEATS:,} times")
    try:
        return re.compile(pattern, flags)
    except RecursionError:
        raise ValueError("it is nested too deeply") from None
    except (re.error, OverflowError, MemoryError) as error:
        raise ValueError(f"it is not a regular expression: {error}") from None
