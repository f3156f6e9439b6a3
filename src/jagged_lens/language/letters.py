# SPDX-License-Identifier: GPL-3.0-or-later
"""Letters: how common each character is in the writing of a language, so that bytes can be asked in which encoding they make sense."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from jagged_lens.language.words import by_language

_CAPITAL = 0.06  # of a letter's share: what its capital has
_COMMON_MARKS = "’“”„‚‘–—…«»°€£§\u00a0"
_RARE_MARKS = "•·©®™ªº²³½¼¾±×÷µ¶†‡‰‹›¢¥¤¦¨¬¯´¸¹\u00ad№′″"
_FLIPPED = {"es": "¿¡", "gl": "¿¡", "ca": "·¿¡", "ast": "¿¡"}
_STRANGE = 2e-6  # a letter of the same script that the language does not have
_FOREIGN = 1e-7  # a letter of another script
_SYMBOL = 3e-7
_CONTROL = 1e-10
_CJK_MARKS = "。、，「」『』（）！？：；・ー“”《》…\u3000〜～"


@dataclass(frozen=True)
class Script:
    """code: of the language. shares: of each code point below 65,536, how large a share of a text it is likely to be: float32."""

    code: str
    shares: NDArray[np.float32]


@cache
def letter_shares() -> tuple[Script, ...]:
    """For each language that is written with letters, how common each character beyond ASCII is, as logarithms: float32, 65,536 each.

    The shares of letters fall with their rank; marks that any text may have, letters of the same script that the language does not
    have, letters of other scripts, symbols and control characters follow, each class far below the one before.
    """
    return tuple(_of_letters(code, words) for code, words in by_language("letters").items())


def _of_letters(code: str, words: tuple[str, ...]) -> Script:
    whole, letters = float(words[0]), dict.fromkeys(words[1])
    shares = _plain_shares(unicodedata.name(next(iter(letters))).split()[0])
    for mark in _FLIPPED.get(code, ""):
        shares[ord(mark)] = 1e-3
    ranks = 1 / (np.arange(len(letters)) + (3.0 if whole == 1 else 0.6))
    for letter, share in zip(letters, ranks / ranks.sum() * whole, strict=True):
        _raise(shares, letter, share)
        if len(letter.upper()) == 1 and letter.upper() != letter:
            _raise(shares, letter.upper(), share * _CAPITAL)
    if code == "tr":
        _raise(shares, "İ", 0.002)
    return Script(code, np.log(shares).astype(np.float32))


def _raise(shares: NDArray[np.float64], letter: str, share: float) -> None:
    shares[ord(letter)] = max(shares[ord(letter)], share)


def _plain_shares(script: str) -> NDArray[np.float64]:
    shares = np.where(_letters_of(script), _STRANGE, _plain_classes())
    shares[:128] = 1.0
    return shares


@cache
def _plain_classes() -> NDArray[np.float64]:
    shares = np.full(0x10000, _SYMBOL)
    shares[_letters()] = _FOREIGN
    for marks, share in ((_COMMON_MARKS, 3e-4), (_RARE_MARKS, 2e-5)):
        shares[[ord(mark) for mark in marks]] = share
    shares[0x80:0xA0] = _CONTROL
    shares[[0xFFFD, 0xFFFE, 0xFFFF]] = _CONTROL
    shares[0xE000:0xF900] = _CONTROL
    shares[0xD800:0xE000] = _CONTROL
    return shares


@cache
def _letters() -> NDArray[np.bool_]:
    return np.fromiter((chr(point).isalpha() for point in range(0x10000)), bool, 0x10000)


@cache
def _letters_of(script: str) -> NDArray[np.bool_]:
    """The code points below U+3000 that are letters of a script, by their names."""
    found = np.zeros(0x10000, bool)
    for point in np.flatnonzero(_letters()[:0x3000]):
        found[point] = unicodedata.name(chr(point), "").startswith(script)
    return found


@cache
def character_shares() -> tuple[Script, ...]:
    """The same for languages with thousands of characters: Chinese in either writing, Japanese and Korean.

    What is common in them is listed; the others are told by the level on which a national standard has them (GB 2312, Big5,
    JIS X 0208, KS X 1001).
    """
    listed = by_language("characters")
    return tuple(Script(code.partition("-")[0], _of_characters(code, listed[code][0])) for code in listed)


def _of_characters(code: str, common: str) -> NDArray[np.float32]:
    shares = _plain_classes().copy()
    shares[:128] = 1.0
    shares[0x3400:0x4DC0] = 1e-9
    shares[0x4E00:0xA000] = 0.03 / 20_000
    shares[0xAC00:0xD7A4] = 1e-8
    if code == "zh":
        _spread(shares, _standard("gb2312", range(0xB0, 0xD8), range(0xA1, 0xFF)), 0.45)
    elif code == "zh-hant":
        _spread(shares, _standard("big5", range(0xA4, 0xC7), (*range(0x40, 0x7F), *range(0xA1, 0xFF))), 0.45)
    elif code == "ja":
        shares[0x4E00:0xA000] = 0.01 / 20_000
        _spread(shares, _standard("euc_jp", range(0xB0, 0xD0), range(0xA1, 0xFF)), 0.25)
        _spread(shares, (chr(point) for point in range(0x3041, 0x3094)), 0.45)
        _spread(shares, (chr(point) for point in range(0x30A1, 0x30F7)), 0.1)
        shares[0xFF61:0xFFA0] = 1e-6
    else:
        shares[0x4E00:0xA000] = 0.003 / 20_000
        shares[0xAC00:0xD7A4] = 0.004 / 11_172
        _spread(shares, _standard("euc_kr", range(0xB0, 0xC9), range(0xA1, 0xFF)), 0.3)
    _spread(shares, common, {"ja": 0.1, "ko": 0.6}.get(code, 0.45))
    for mark in _CJK_MARKS:
        shares[ord(mark)] = 0.01
    return np.log(shares).astype(np.float32)


def _spread(shares: NDArray[np.float64], characters: Iterator[str] | str, whole: float) -> None:
    points = list({ord(character) for character in characters if len(character) == 1})
    shares[points] = np.maximum(shares[points], whole / len(points))


def _standard(encoding: str, first: range, second: range | tuple[int, ...]) -> Iterator[str]:
    """The characters whose two bytes stand in these ranges."""
    for lead in first:
        for trail in second:
            yield bytes((lead, trail)).decode(encoding, "ignore")
