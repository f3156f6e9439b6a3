# SPDX-License-Identifier: GPL-3.0-or-later
"""Likely spelling variants: words that differ by one letter, one of them far rarer than the other."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

_SHORTEST = 5
_MOST_WORDS = 40_000


def spelling_variants(
    words: Sequence[str], times: NDArray[np.integer], rarer: float = 10.0, most: int = 200
) -> list[tuple[int, int]]:
    """Pairs (rare, common) of places in `words`, most frequent common word first, at most `most`.

    They become each other by one letter left out, put in or exchanged, or by two neighbours changing places (Damerau, "A
    technique for computer detection and correction of spelling errors", 1964). The first letter is the same, or the first two
    changed places: a slip seldom comes first (Pollock and Zamora, "Automatic spelling correction in scientific and scholarly
    text", 1984). times: int64 or int32, how often each occurs. rarer: the common one occurs so many times as often. Words of five letters or
    more; the 40,000 most frequent are looked at. Found by what is left of words when one letter is left out: two words at
    distance one share such a rest.
    """
    falling = np.argsort(-np.asarray(times), kind="stable").tolist()
    order = [at for at in falling if len(words[at]) >= _SHORTEST][:_MOST_WORDS]
    rests: dict[str, list[int]] = {}
    for at in order:
        word = words[at]
        for rest in {word, *(word[:cut] + word[cut + 1 :] for cut in range(len(word)))}:
            rests.setdefault(rest, []).append(at)
    pairs: dict[int, int] = {}
    for sharing in rests.values():
        for place, common in enumerate(sharing):  # most frequent first
            for rare in sharing[place + 1 :]:
                if rare in pairs or times[common] < rarer * times[rare]:
                    continue
                if (
                    _begin_alike(words[common], words[rare])
                    and near(words[common], words[rare])
                    and not _inflected(words[common], words[rare])
                ):
                    pairs[rare] = common
    found = sorted(((rare, common) for rare, common in pairs.items()), key=lambda pair: (-int(times[pair[1]]), pair))
    return found[:most]


def _begin_alike(one: str, other: str) -> bool:
    return one[0] == other[0] or one[:2] == other[1::-1]


def near(one: str, other: str) -> bool:
    """True if two different words are one edit apart."""
    if len(one) > len(other):
        one, other = other, one
    start = 0
    while start < len(one) and one[start] == other[start]:
        start += 1
    if len(one) == len(other):
        rest, swapped = one[start + 1 :] == other[start + 1 :], one[start : start + 2] == other[start : start + 2][::-1]
        return rest or (swapped and one[start + 2 :] == other[start + 2 :])
    return len(other) - len(one) == 1 and one[start:] == other[start + 1 :]


def _inflected(one: str, other: str) -> bool:
    """True if the words differ by a letter at the end alone: that is a form of the word, not a variant."""
    short, long = sorted((one, other), key=len)
    return long.startswith(short) or short[:-1] == long[:-1]
