# SPDX-License-Identifier: GPL-3.0-or-later
"""The similarity of two texts of the demo, by their runs of four words."""

from __future__ import annotations

import re


def words_of(text: str) -> list[str]:
    """Words as near-duplicates are told by them: lower case, apostrophes inside kept."""
    return [word.lower() for word in re.findall(r"[^\W_]+(?:['’][^\W_]+)*", text)]


def shingles_of(text: str) -> set[tuple[str, ...]]:
    words = words_of(text)
    return {tuple(words[at : at + 4]) for at in range(max(len(words) - 3, 1))}


def likeness(a: str, b: str) -> tuple[float, float]:
    """Resemblance and containment of two texts."""
    first, second = shingles_of(a), shingles_of(b)
    common = len(first & second)
    return common / len(first | second), common / min(len(first), len(second))
