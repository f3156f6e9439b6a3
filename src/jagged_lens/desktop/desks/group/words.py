# SPDX-License-Identifier: GPL-3.0-or-later
"""The sentences about groups."""

from __future__ import annotations

from jagged_lens.desktop.look.words import amount
from jagged_lens.group import BREAKS, HOLDS, TRIES, Holding

HOLDING_TIP = (
    f"{TRIES} random subsets of four fifths of the documents are grouped with the same settings. A group is stable if its mean overlap "
    f"with the best match is at least {HOLDS}, and not stable below {BREAKS}. Overlap: documents in both ÷ documents in either."
)


def held(value: float) -> str:
    """The stability of a group, in one or two words."""
    if value != value:
        return ""
    return "stable" if value >= HOLDS else "not stable" if value < BREAKS else "partly stable"


def holding_said(holding: Holding | None, group: int) -> str:
    """The stability of a group in the tries so far, in a sentence; "" if nothing was measured."""
    if holding is None or not holding.tries or group >= len(holding.groups):
        return ""
    value, back = float(holding.groups[group]), int(holding.came_back[group])
    if value != value:
        return "None of its documents was in any try."
    word = held(value)
    tries = amount(holding.tries, "try", "tries")
    said = f"{word[:1].upper()}{word[1:]}: in {back} of {tries} it came back; mean overlap {value:.2f}."
    return said + (sample_said(holding.sample) if holding.sample else "")


def sample_said(documents: int) -> str:
    """That something was measured on a sample, as a sentence that follows others."""
    return f" Measured on a random sample of {documents:,} documents."


def number(value: float, digits: int = 2) -> str:
    """A figure, or a dash where it is not known."""
    if value != value:
        return "–"
    said = f"{abs(value):.{digits}f}"
    return f"−{said}" if value < 0 and float(said) else said
