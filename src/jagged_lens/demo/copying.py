# SPDX-License-Identifier: GPL-3.0-or-later
"""Ways to copy a note: word for word, with words exchanged, or some sentences of it."""

from __future__ import annotations

import random
import re

from jagged_lens.demo.likeness import likeness, words_of

# What a writer changes who copies a text: a word for another of its kind, one that reads as well in its place.
_ALIKE = (
    "good fine", "small little", "big large", "quite rather", "evening night", "ground soil", "path track", "nearly almost", "best finest",
    "first earliest", "next following", "enough plenty", "perhaps maybe", "strong sturdy", "warm mild", "whole entire", "began started",
    "every each", "old ancient", "always ever", "plenty enough", "thick stout",
    "sweet sugary", "hardly scarcely", "slowly gradually", "lovely pretty", "young tender", "thin slender",
    "two three", "three four", "four five", "five six", "six seven", "seven eight", "eight nine", "nine ten", "ten eleven", "eleven twelve",
    "twelve fifteen", "twenty thirty", "March April", "April May", "May June", "June July", "July August", "August September",
    "September October", "October November", "Monday Tuesday", "Tuesday Wednesday", "Wednesday Thursday", "Thursday Friday",
    "Friday Saturday", "Saturday Sunday",
)  # fmt: skip
_ADDED = (
    "I think",
    "as I said",
    "if you ask me",
    "for all that",
    "in the end",
    "by the way",
    "to be honest",
    "after all",
)


def _same(text: str, pick: random.Random, strength: float) -> str | None:
    """The same words; capitals, line ends and marks may differ."""
    return pick.choice(
        (text, text.replace(". ", ".\n"), text.upper() if len(text) < 260 else text, text.replace(", ", " - "))
    )


def _edited(text: str, pick: random.Random, strength: float) -> str | None:
    """Words exchanged for others that fit, here and there some words added; the more the greater the strength."""
    other = dict(entry.split(" ") for entry in _ALIKE)
    pieces = re.split(r"(\W+)", text)
    able = [at for at, piece in enumerate(pieces) if piece in other]
    wanted = 1 + round(strength * len(pieces) * 0.035)
    for at in pick.sample(able, min(len(able), wanted)):
        pieces[at] = other[pieces[at]]
    changed = "".join(pieces).replace(" a earliest", " an earliest")
    if strength > 0.5 or not able:
        ends = [match.start() for match in re.finditer(r"(?<=[a-z])\.(?= |$)", changed)]
        if ends:
            at = pick.choice(ends)
            changed = f"{changed[:at]}, {pick.choice(_ADDED)}{changed[at:]}"
    resemblance, _ = likeness(text, changed)
    return changed if 0.45 <= resemblance < 1 else None


def _holds(text: str, pick: random.Random, strength: float) -> str | None:
    """Some sentences in a row out of the note, and nothing else."""
    sentences = re.split(r"(?<=[.!?])\s+", text.split("\n\nOtter")[0])
    for length in range(2, len(sentences)):
        start = pick.randrange(0, len(sentences) - length)
        part = " ".join(sentences[start : start + length])
        resemblance, containment = likeness(text, part)
        if len(words_of(part)) >= 20 and resemblance < 0.38 and containment >= 0.85:
            return part
    return None


VARIED = {"same": _same, "edited": _edited, "holds": _holds}
