# SPDX-License-Identifier: GPL-3.0-or-later
"""Scripts: which language a script alone tells, which are written without spaces, which need joiners inside a word.

By the blocks of the Unicode Standard.
"""

from __future__ import annotations

import re
from functools import cache

import numpy as np
from numpy.typing import NDArray

# First and last code point, and the language that the script tells where its words do not tell another.
_BLOCKS = (
    (0x0370, 0x03FF, "el"), (0x0530, 0x058F, "hy"), (0x0590, 0x05FF, "he"), (0x0600, 0x077F, "ar"), (0x0900, 0x097F, "hi"),
    (0x0980, 0x09FF, "bn"), (0x0A80, 0x0AFF, "gu"), (0x0B80, 0x0BFF, "ta"), (0x0E00, 0x0E7F, "th"), (0x10A0, 0x10FF, "ka"),
    (0x1100, 0x11FF, "ko"), (0x1F00, 0x1FFF, "el"), (0x3040, 0x30FF, "ja"), (0x3400, 0x4DBF, "zh"), (0x4E00, 0x9FFF, "zh"),
    (0xAC00, 0xD7AF, "ko"), (0xF900, 0xFAFF, "zh"), (0xFB50, 0xFDFF, "ar"), (0xFE70, 0xFEFE, "ar"),
)  # fmt: skip
_SPACELESS = re.compile("[\u0e00-\u0eff\u1000-\u109f\u1780-\u17ff\u3040-\u30ff\u3400-\u4dbf\u4e00-\u9fff\uf900-\ufaff]")
_LETTER = re.compile(r"[^\W\d_]")
_JOINED = re.compile("[\u0600-\u08ff\u0900-\u0dff\u0e80-\u109f\u1780-\u17ff\u1800-\u18af\ufb50-\ufdff\ufe70-\ufefe]")


@cache
def _starts() -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    blocks = sorted(_BLOCKS)
    return np.array([first for first, _, _ in blocks]), np.array([last for _, last, _ in blocks])


def script_languages() -> tuple[str, ...]:
    """The languages that scripts tell, by the numbers that `scripts_of` gives."""
    return tuple(language for _, _, language in sorted(_BLOCKS))


def scripts_of(points: NDArray[np.int64]) -> NDArray[np.int64]:
    """For each code point the number of its block in `script_languages`, -1 where the script tells nothing.

    points: int64, p; gives int64, p.
    """
    first, last = _starts()
    at = np.searchsorted(first, points, "right") - 1
    return np.where((at >= 0) & (points <= last[at]), at, -1)


_KANA = re.compile("[\u3041-\u30ff]")


def telling_character(word: str) -> str:
    """The character of a word that tells its script: the first of kana, where it holds any, else its first.

    >>> telling_character("抽出する"), telling_character("Garten")
    ('す', 'G')
    """
    found = _KANA.search(word)
    return found[0] if found else word[0]


def is_spaceless_script(word: str) -> bool:
    """True if a word begins in a script that is written without spaces."""
    return bool(_SPACELESS.match(word))


def is_spaceless(code: str) -> bool:
    """True if a language is written without spaces between its words."""
    return code in ("zh", "ja", "th")


def spaceless_share(text: str) -> float:
    """The share of the letters of a text in scripts that are written without spaces.

    >>> spaceless_share("蛞蝓吃了豆子"), spaceless_share("slugs"), spaceless_share("")
    (1.0, 0.0, 0.0)
    """
    if text.isascii():
        return 0.0
    letters = len(_LETTER.findall(text))
    return min(1.0, len(_SPACELESS.findall(text)) / letters) if letters else 0.0


def word_count(text: str) -> int:
    """About how many words a text has; two characters are taken for one where none is parted from the next.

    >>> word_count("slugs ate it"), word_count("蛞蝓吃了豆子")
    (3, 3)
    """
    words = len(text.split())
    return words if text.isascii() else max(words, len(_SPACELESS.findall(text)) // 2)


def needs_joiners(character: str) -> bool:
    """True if the script of a character shapes its letters by the joiners U+200C and U+200D."""
    return bool(_JOINED.match(character))
