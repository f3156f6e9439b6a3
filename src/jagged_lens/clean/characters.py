"""What each character is to us: one table look-up a character, made from Unicode's general categories."""

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
_UNKNOWN = 255

_kinds = np.full(0x110000, _UNKNOWN, np.uint8)


def kinds_of(codes: NDArray[np.uint32]) -> NDArray[np.uint8]:
    """The kind of each code point, as the sum of the flags above; 0 for what only separates.

    >>> kinds_of(np.array([ord("a"), ord("7"), ord("_"), ord(" "), ord("’")], np.uint32)).tolist()
    [1, 2, 0, 4, 16]
    """
    found = _kinds[codes]
    if (found == _UNKNOWN).any():
        for code in np.unique(codes[found == _UNKNOWN]).tolist():
            _kinds[code] = _kind(chr(code))
        found = _kinds[codes]
    return found


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
        ".": SENTENCE_MARK, "!": SENTENCE_MARK, "?": SENTENCE_MARK, "…": SENTENCE_MARK,
        "'": APOSTROPHE, "’": APOSTROPHE,
        "-": HYPHEN, "\u2010": HYPHEN, "\u2011": HYPHEN,
    }.get(character, 0)  # fmt: skip


def without_accents(text: str) -> str:
    """Decomposed, without nonspacing marks (category Mn), composed again.

    >>> without_accents("crème brûlée, Ärger, ёж")
    'creme brulee, Arger, еж'
    """
    if text.isascii():
        return text
    bare = "".join(c for c in unicodedata.normalize("NFD", text) if unicodedata.category(c) != "Mn")
    return unicodedata.normalize("NFC", bare)


def is_number(word: str) -> bool:
    """Whether every character is in category N.

    >>> is_number("2026"), is_number("½"), is_number("2nd"), is_number("")
    (True, True, False, False)
    """
    return bool(word) and all(unicodedata.category(character)[0] == "N" for character in word)
