# SPDX-License-Identifier: GPL-3.0-or-later
"""The characters that belong to a word: letters and numbers, and what joins them inside it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import characters

_SPACELESS = np.zeros((256, 256), np.bool_)  # by the first two bytes of a character of Thai and Lao, Burmese, Khmer
_SPACELESS[0xE0, 0xB8:0xBC] = _SPACELESS[0xE1, 0x80:0x83] = _SPACELESS[0xE1, 0x9E:0xA0] = True


def word_characters(
    codes: NDArray[np.uint8],
    kinds: NDArray[np.uint8],
    taken: NDArray[np.uint8] | None,
    letters_only: bool,
    join_hyphens: bool,
    join_first_letters: bool,
    signs: str,
) -> NDArray[np.bool_]:
    """For each byte, True if it belongs to a word: bool.

    codes, kinds: uint8, the bytes and their kinds; taken: uint8, the Reason of each byte, or None. The choices are those of `split`.
    """
    word = (kinds & (characters.LETTER if letters_only else characters.LETTER | characters.NUMBER)) != 0
    plain = word.copy() if signs and not letters_only else word
    hyphens = join_hyphens and not letters_only
    joiner = (
        characters.INVISIBLE | (0 if letters_only else characters.APOSTROPHE) | (characters.HYPHEN if hyphens else 0)
    )
    inside = [np.flatnonzero(kinds & joiner)]
    if not letters_only:
        if join_first_letters and not join_hyphens:
            inside.append(_behind_one_letter(codes, kinds, word))
        inside.append(_between_digits(codes, kinds))
    places = np.sort(np.concatenate(inside)) if len(inside) > 1 else inside[0]
    _join(codes, taken, word, places)
    if signs and not letters_only:
        for sign in signs:
            at = np.flatnonzero(codes == ord(sign))
            at = at[plain[at + 1] & ((at == 0) | ~plain[at - 1])]  # a NUL follows the last character
            word[at if taken is None else at[taken[at] == taken[at + 1]]] = True
    return np.asarray(word)


def _join(
    codes: NDArray[np.uint8], taken: NDArray[np.uint8] | None, word: NDArray[np.bool_], inside: NDArray[np.int64]
) -> None:
    """Mark the characters at `inside` that stand between two word characters."""
    inside = inside[inside > 0]
    after = inside + characters.sizes_at(codes, inside)
    both = word[inside - 1] & word[after]
    # In scripts that part no words by spaces, such as Thai, a zero-width space does.
    before = np.maximum(inside - 3, 0)
    spaceless = _SPACELESS[codes[before], codes[np.minimum(before + 1, len(codes) - 1)]]
    both &= ~((codes[inside] == 0xE2) & (codes[after - 1] == 0x8B) & spaceless)
    if taken is not None:
        both &= (taken[inside - 1] == taken[inside]) & (taken[inside] == taken[after])
    inside, after = inside[both], after[both]
    for step in range(characters.MOST_BYTES):
        place = inside + step
        word[place[place < after]] = True


def _between_digits(codes: NDArray[np.uint8], kinds: NDArray[np.uint8]) -> NDArray[np.int64]:
    """Points and commas with a number on both sides, as in 1,000.5."""
    digits = np.flatnonzero(kinds & characters.NUMBER)
    at = digits + 1  # a NUL follows the last character
    at = at[(codes[at] == ord(".")) | (codes[at] == ord(","))]
    return np.asarray(at[(kinds[at + 1] & characters.NUMBER) != 0])


def _behind_one_letter(
    codes: NDArray[np.uint8], kinds: NDArray[np.uint8], word: NDArray[np.bool_]
) -> NDArray[np.int64]:
    """Hyphens behind a letter that stands alone, as in e-mail."""
    at = np.flatnonzero(kinds & characters.HYPHEN)
    at = at[at > 0]
    first = at - 1
    for _ in range(characters.MOST_BYTES - 1):
        first = np.where((first > 0) & ((codes[first] & 0xC0) == 0x80), first - 1, first)
    alone = ((kinds[first] & characters.LETTER) != 0) & (
        (first == 0) | ~word[first - 1] & (codes[first - 1] != ord("-"))
    )
    return np.asarray(at[alone])


def initialisms(
    codes: NDArray[np.uint8],
    kinds: NDArray[np.uint8],
    taken: NDArray[np.uint8] | None,
    starts: NDArray[np.int64],
    ends: NDArray[np.int64],
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Runs of single letters with a point behind each made one run, with its last point: U.S., e.g.

    starts, ends: int64, r of each, where runs begin and end. Gives two like them.
    """
    points = np.flatnonzero(codes[ends] == ord("."))  # a NUL stands behind the last run
    linked = points[:-1] if len(points) and points[-1] == len(starts) - 1 else points
    linked = linked[starts[linked + 1] == ends[linked] + 1]
    if not len(linked):
        return starts, ends

    def letter(runs: NDArray[np.int64]) -> NDArray[np.bool_]:
        one = characters.sizes_at(codes, starts[runs]) == ends[runs] - starts[runs]
        return np.asarray(one & ((kinds[starts[runs]] & characters.LETTER) != 0))

    linked = linked[letter(linked) & letter(linked + 1)]
    if taken is not None:
        same = (taken[starts[linked]] == taken[ends[linked]]) & (taken[ends[linked]] == taken[starts[linked + 1]])
        linked = linked[same]
    if not len(linked):
        return starts, ends
    begins = np.ones(len(starts), np.bool_)
    begins[linked + 1] = False
    first = np.flatnonzero(begins)
    last = np.append(first[1:], len(starts)) - 1
    closed = (last > first) & (codes[ends[last]] == ord("."))
    if taken is not None:
        closed &= taken[ends[last]] == taken[starts[last]]
    return starts[first], ends[last] + closed
