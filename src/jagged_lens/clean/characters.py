# SPDX-License-Identifier: GPL-3.0-or-later
"""The class of each character, found at the level of bytes: one translation of UTF-8, made from Unicode's general categories."""

from __future__ import annotations

import unicodedata

import numpy as np
from numpy.typing import NDArray

LETTER = 1  # categories L and M
NUMBER = 2  # category N
SPACE = 4
SENTENCE_MARK = 8
APOSTROPHE = 16
HYPHEN = 32
SYMBOL = 64  # category S
INVISIBLE = 128  # soft hyphens, zero-width spaces and joiners
_JOINERS = APOSTROPHE | HYPHEN | INVISIBLE
_UNKNOWN = 255
MOST_BYTES = 4
"""The most bytes that a character takes."""


def kinds_of(data: bytes) -> NDArray[np.uint8]:
    """The kind of each byte of a text in UTF-8, as the sum of the flags above; 0 for what only separates.

    Every byte of a character has its kind, but a sentence mark stands on its last byte and an apostrophe, a hyphen or
    what cannot be seen on its first, so that each is found once. ValueError where the last character is cut. Gives uint8.

    >>> kinds_of("a7_ é’".encode()).tolist()
    [1, 2, 0, 4, 1, 1, 16, 0, 0]
    """
    kinds = np.frombuffer(bytearray(data.translate(_ASCII)), np.uint8)
    if data.isascii():
        return kinds
    codes = np.frombuffer(data, np.uint8)
    leads = np.flatnonzero(codes >= 0xC0)
    sizes = sizes_at(codes, leads)
    if len(leads) and leads[-1] + sizes[-1] > len(codes):
        raise ValueError("the last character is cut")
    points = codes[leads].astype(np.int32) & (0x7F >> sizes)
    for step in range(1, MOST_BYTES):
        longer = sizes > step
        points[longer] = points[longer] << 6 | (codes[leads[longer] + step] & 0x3F)
    found = _kinds[points]
    if (found == _UNKNOWN).any():
        for point in np.unique(points[found == _UNKNOWN]).tolist():
            _kinds[point] = _kind(chr(point))
        found = _kinds[points]
    for step in range(MOST_BYTES):
        there = sizes > step
        here = found[there]
        here[(here & SENTENCE_MARK != 0) & (sizes[there] != step + 1)] = 0
        if step:
            here[here & _JOINERS != 0] = 0
        kinds[leads[there] + step] = here
    return kinds


def sizes_at(codes: NDArray[np.uint8], places: NDArray[np.int64]) -> NDArray[np.uint8]:
    """The number of bytes the characters take that begin at some places.

    codes: uint8, the bytes of a text. places: int64, p of them; gives uint8 (p).
    """
    first = codes[places]
    return 1 + (first >= 0xC0).astype(np.uint8) + (first >= 0xE0) + (first >= 0xF0)


def _kind(character: str) -> int:
    major = unicodedata.category(character)[0]
    if major in "LM":
        return LETTER
    if major == "N":
        return NUMBER
    if character.isspace():
        return SPACE
    if major == "S":
        return SYMBOL
    return {
        **dict.fromkeys(".!?…。！？｡؟։।॥\u037e", SENTENCE_MARK),
        **dict.fromkeys("\u00ad\u200b\u200c\u200d\u2060\ufeff", INVISIBLE),
        "'": APOSTROPHE, "’": APOSTROPHE,
        "-": HYPHEN, "\u2010": HYPHEN, "\u2011": HYPHEN,
    }.get(character, 0)  # fmt: skip


_ASCII = bytes(_kind(chr(code)) if code < 0x80 else 0 for code in range(256))
_kinds = np.full(0x110000, _UNKNOWN, np.uint8)


_OWN_LETTERS = frozenset("йЙўЎїЇ")  # of their own, not a letter with an accent
_ACCENTS = (
    (0x300, 0x36F),
    (0x483, 0x487),
    (0x591, 0x5C7),
    (0x610, 0x61A),
    (0x64B, 0x65F),
    (0x670, 0x670),
    (0x1AB0, 0x1AFF),
)


def without_accents(text: str) -> str:
    """Letters without their accents: of Latin, Greek and Cyrillic, points of Hebrew, vowel signs of Arabic.

    Decomposed, without the nonspacing marks of these scripts, composed again. What is a letter of its own stays, such as й;
    so do the signs of other scripts, which are no accents.

    >>> without_accents("crème brûlée, Ärger, ёж, Чай, が")
    'creme brulee, Arger, еж, Чай, が'
    """
    if text.isascii():
        return text
    bare = []
    for character in unicodedata.normalize("NFC", text):
        if character in _OWN_LETTERS:
            bare.append(character)
        else:
            bare += [
                c for c in unicodedata.normalize("NFD", character) if not any(a <= ord(c) <= b for a, b in _ACCENTS)
            ]
    return unicodedata.normalize("NFC", "".join(bare))


_BETWEEN_DIGITS = frozenset(".,'\u066b\u066c")


def is_number(word: str) -> bool:
    """True if every character is in category N, or stands between two that are, as in 1,000 and 3.5.

    >>> is_number("2026"), is_number("½"), is_number("3.5"), is_number("2nd"), is_number("")
    (True, True, True, False, False)
    """
    return (
        word[:1] not in _BETWEEN_DIGITS
        and all(unicodedata.category(character)[0] == "N" or character in _BETWEEN_DIGITS for character in word)
        and bool(word)
    )
