"""Phrases: several words, one after the other, that become one word, or are never used."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.split import Split
from jagged_lens.clean.take_out import Reason


@dataclass(frozen=True, eq=False)
class Joined:
    """Of each token: form (int32; new ones follow those that there were), length (int32) and reason (uint8). phrases: the words
    of each new form."""

    form: NDArray[np.int32]
    length: NDArray[np.int32]
    reason: NDArray[np.uint8]
    phrases: list[tuple[str, ...]]


def join_phrases(
    found: Split,
    folded: NDArray[np.int32],
    spelling_of: dict[str, int],
    reason: NDArray[np.uint8],
    phrases: Sequence[tuple[str, ...]],
) -> Joined:
    """Make one token of each phrase: its first token stands for all of it, the others are taken as JOINED.

    From left to right, the longest phrase first. A phrase crosses neither a sentence end nor a token that is taken. folded:
    int32, the spelling of each form; spelling_of: number of each spelling; reason: uint8, of each token as it is so far.
    """
    form, length, reason = found.form.copy(), found.length.copy(), reason.copy()
    used: dict[tuple[str, ...], int] = {}
    for at, words in _places(found, found.form, folded, spelling_of, reason, phrases):
        last = at + len(words) - 1
        form[at] = used.setdefault(words, len(found.forms) + len(used))
        length[at] = found.start[last] + found.length[last] - found.start[at]
        reason[at + 1 : last + 1] = Reason.JOINED
    return Joined(form, length, reason, list(used))


def take_phrases(
    found: Split,
    form: NDArray[np.int32],
    folded: NDArray[np.int32],
    spelling_of: dict[str, int],
    reason: NDArray[np.uint8],
    phrases: Sequence[tuple[str, ...]],
) -> NDArray[np.uint8]:
    """The reasons, with every token of each phrase taken as NEVER.

    form, folded: int32, as in `Split`. reason: uint8, one for each token; gives another like it.
    """
    reason = reason.copy()
    for at, words in list(_places(found, form, folded, spelling_of, reason, phrases)):
        reason[at : at + len(words)] = Reason.NEVER
    return reason


def _places(
    found: Split,
    form: NDArray[np.int32],
    folded: NDArray[np.int32],
    spelling_of: dict[str, int],
    reason: NDArray[np.uint8],
    phrases: Sequence[tuple[str, ...]],
) -> list[tuple[int, tuple[str, ...]]]:
    """Where phrases stand, from left to right, without overlap. Only tokens that begin one are looked at one by one."""
    beginning: dict[int, list[tuple[tuple[int, ...], tuple[str, ...]]]] = {}
    for words in dict.fromkeys(phrases):
        numbers = tuple(spelling_of.get(word, -1) for word in words)
        if min(numbers) >= 0:
            beginning.setdefault(numbers[0], []).append((numbers, words))
    if not beginning or not len(form):
        return []
    for choices in beginning.values():
        choices.sort(key=lambda choice: -len(choice[0]))
    begins = np.zeros(len(spelling_of), np.bool_)
    begins[list(beginning)] = True
    spelled = folded[form]
    kept = reason == Reason.KEPT
    row_end = np.repeat(found.row_starts[1:], np.diff(found.row_starts))
    places = []
    free = 0
    for at in np.flatnonzero(begins[spelled] & kept).tolist():
        if at < free:
            continue
        for numbers, words in beginning[int(spelled[at])]:
            end = at + len(numbers)
            if (
                end <= row_end[at]
                and kept[at:end].all()
                and not found.sentence_end[at : end - 1].any()
                and tuple(spelled[at:end].tolist()) == numbers
            ):
                places.append((at, words))
                free = end
                break
    return places
