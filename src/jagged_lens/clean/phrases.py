# SPDX-License-Identifier: GPL-3.0-or-later
"""Phrases: several words, one after the other, that become one word, or are never used."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.split import Split
from jagged_lens.clean.take_out import Reason

_Words = tuple[str, ...]
_Ways = Mapping[_Words, Sequence[_Words]]


@dataclass(frozen=True, eq=False)
class Joined:
    """For each token: form (int32. New ones follow those that there were), length (int32) and reason (uint8). phrases: the words of each
    new form. counts: how often each phrase was joined."""

    form: NDArray[np.int32]
    length: NDArray[np.int32]
    reason: NDArray[np.uint8]
    phrases: list[_Words]
    counts: Counter[_Words]


def join_phrases(
    found: Split, name: NDArray[np.int32], number_of: dict[str, int], reason: NDArray[np.uint8], phrases: _Ways
) -> Joined:
    """Make one token of each phrase: its first token stands for all of it, the others are taken as JOINED.

    From left to right, the longest phrase first. A phrase crosses neither a sentence end nor a token that is taken. name:
    int32, of each form the number of its word form; number_of: the number of each word form; reason: uint8, of each token as it is
    so far. phrases: of each the ways in which its words may be called.
    """
    form, length, reason = found.form.copy(), found.length.copy(), reason.copy()
    used: dict[_Words, int] = {}
    counts: Counter[_Words] = Counter()
    for at, last, words in _places(found, found.form, name, number_of, reason, phrases):
        form[at] = used.setdefault(words, len(found.forms) + len(used))
        length[at] = found.start[last] + found.length[last] - found.start[at]
        reason[at + 1 : last + 1] = Reason.JOINED
        counts[words] += 1
    return Joined(form, length, reason, list(used), counts)


def take_phrases(
    found: Split,
    form: NDArray[np.int32],
    name: NDArray[np.int32],
    number_of: dict[str, int],
    reason: NDArray[np.uint8],
    phrases: _Ways,
) -> tuple[NDArray[np.uint8], Counter[_Words]]:
    """The reasons, with every token of each phrase taken as NEVER; and how often each phrase was found.

    form: int32, of each token; the others as in `join_phrases`. reason: uint8, one for each token; gives another like it.
    """
    reason = reason.copy()
    counts: Counter[_Words] = Counter()
    for at, last, words in _places(found, form, name, number_of, reason, phrases):
        reason[at : last + 1] = Reason.NEVER
        counts[words] += 1
    return reason, counts


def _places(
    found: Split,
    form: NDArray[np.int32],
    name: NDArray[np.int32],
    number_of: dict[str, int],
    reason: NDArray[np.uint8],
    phrases: _Ways,
) -> list[tuple[int, int, _Words]]:
    """The positions of phrases, first and last token, from left to right, without overlap. Only tokens that begin one are looked at one
    by one."""
    beginning: dict[int, list[tuple[tuple[int, ...], _Words]]] = {}
    for words, ways in phrases.items():
        for way in ways:
            numbers = tuple(number_of.get(word, -1) for word in way)
            if min(numbers) >= 0:
                beginning.setdefault(numbers[0], []).append((numbers, words))
    if not beginning or not len(form):
        return []
    for choices in beginning.values():
        choices.sort(key=lambda choice: -len(choice[0]))
    begins = np.zeros(len(number_of), np.bool_)
    begins[list(beginning)] = True
    named = name[form]
    kept = reason == Reason.KEPT
    row_end = np.repeat(found.row_starts[1:], np.diff(found.row_starts))
    places = []
    free = 0
    for at in np.flatnonzero(begins[named] & kept).tolist():
        if at < free:
            continue
        for numbers, words in beginning[int(named[at])]:
            end = at + len(numbers)
            if (
                end <= row_end[at]
                and kept[at:end].all()
                and not found.sentence_end[at : end - 1].any()
                and tuple(named[at:end].tolist()) == numbers
            ):
                places.append((at, end - 1, words))
                free = end
                break
    return places
