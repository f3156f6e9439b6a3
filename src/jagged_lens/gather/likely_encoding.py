# SPDX-License-Identifier: GPL-3.0-or-later
"""In which encoding bytes make sense: how likely what they would say is, as words and letters of the languages that are known.

Every encoding turns the same bytes into another text. Of each such text the likelihood is estimated in each language: characters by
their shares in its writing, function words, and what no writer does (a sign inside a word, a capital behind a small letter, two
alphabets in one word). Encodings that people use stand before those of old systems; what two of them read alike is no doubt.
"""

from __future__ import annotations

import codecs
import itertools
import math
import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from jagged_lens.language import function_words
from jagged_lens.language.detect import votes_of
from jagged_lens.language.letters import character_shares, letter_shares

_FIRST = {
    "cp1252": 0.0, "cp1250": 0.5, "cp1251": 0.5, "cp1253": 0.5, "cp1254": 0.7, "cp1255": 0.5, "cp1256": 0.5, "cp1257": 0.7,
    "cp1258": 0.7, "cp874": 0.7, "iso8859_1": 1.0, "iso8859_2": 1.0, "iso8859_15": 1.0, "koi8_r": 0.8, "koi8_u": 1.0,
    "iso8859_5": 1.2, "iso8859_6": 1.2, "iso8859_7": 1.2, "iso8859_8": 1.2, "iso8859_9": 1.2, "iso8859_13": 1.2, "iso8859_11": 1.2,
    "iso8859_3": 4.0, "iso8859_4": 3.0, "iso8859_10": 4.0, "iso8859_14": 3.5, "iso8859_16": 3.0,
}  # fmt: skip
_OLD = (
    "cp437", "cp850", "cp852", "cp866", "cp775", "cp737", "cp855", "cp857", "cp860", "cp861", "cp862", "cp863", "cp864", "cp865",
    "cp720", "mac_roman", "mac_latin2", "mac_cyrillic", "mac_greek", "mac_turkish", "mac_iceland",
)  # fmt: skip
_OLD_COST = 11.0
_SEVERAL_BYTES = {"cp932": "ja", "euc_jp": "ja", "gb18030": "zh", "big5hkscs": "zh", "cp949": "ko", "utf-8": ""}
"""Encodings of several bytes a character, and the language that is written in them."""
_ASCII_COST = 3.7  # of a character of ASCII that an encoding takes for one, and another for half a character
_WORD = 2.5  # what a function word adds, and the vote of one for its language
_WITHIN, _CASE, _MIXED, _ALONE = 6.0, 4.0, 5.0, 4.0
_CLOSER = 60.0  # encodings that are so far behind by their characters alone are not looked at closer
_LOOKED_AT_CLOSER = 9
_LANGUAGES = 5
_MOST = 65_536
_WORDS = re.compile(r"[^\W\d_]+")
_PLAIN_WORDS = re.compile(rb"(?<![A-Za-z\x80-\xff])[A-Za-z]+(?![A-Za-z\x80-\xff])")
_SIGN_WITHIN = re.compile(
    "(?<=[^\\W\\d_])[^\\w\\s\x00-\x7f’·\u00ad\u0300-\u036f\u0e00-\u0e7f\u05f3\u05f4](?=[^\\W\\d_])"
)
_LATIN, _CYRILLIC, _GREEK = "A-Za-z\u00c0-\u024f\u1e00-\u1eff", "\u0400-\u052f", "\u0370-\u03ff"
_TWO_ALPHABETS = re.compile(
    f"[{_LATIN}](?=[{_CYRILLIC}{_GREEK}\u0590-\u0e7f])|[{_CYRILLIC}{_GREEK}\u0590-\u0e7f](?=[{_LATIN}])"
)
_INSIDE_WORDS = re.compile("(?<=[a-z])[\u3040-\u9fff\uac00-\ud7af\uff61-\uff9f]+(?=[a-z])")


@dataclass(frozen=True)
class Candidate:
    """encoding: its name. score: the logarithm of how likely it is, up to a constant. text: what it reads, of what was looked at."""

    encoding: str
    score: float
    text: str


def candidates(data: bytes, known: Mapping[str, float] | None = None) -> list[Candidate]:
    """The encodings in which bytes make sense, the likeliest first, each with a text that no better one reads.

    data: the bytes, or the first of them; what is ASCII in all lines is passed over where they are long. known: what is said for
    encodings from elsewhere, such as other files of the source, as logarithms.
    """
    known = known or {}
    unknown = min(known.values(), default=0.0)
    data = _telling(data)
    votes = votes_of(word.decode("ascii").lower() for word in _PLAIN_WORDS.findall(data))
    single = _by_language(data, votes)
    for encoding, scores in single.items():
        scores += known.get(encoding, unknown)
    best = max(scores.max() for scores in single.values())
    found: list[Candidate] = []
    seen: set[str] = set()
    for encoding in sorted(single, key=lambda one: -single[one].max()):
        if len(found) >= _LOOKED_AT_CLOSER or single[encoding].max() < best - _CLOSER:
            break
        text = data.decode(encoding, "replace")
        if text not in seen:
            seen.add(text)
            found.append(Candidate(encoding, _with_words(text, single[encoding]), text))
    found += [
        Candidate(one.encoding, one.score + known.get(one.encoding, unknown), one.text)
        for one in _of_several_bytes(data)
    ]
    return sorted(found, key=lambda one: -one.score)


def _telling(data: bytes) -> bytes:
    """The lines that hold more than ASCII, if all are too many."""
    if len(data) <= _MOST:
        return data
    lines, size = [], 0
    for line in data.splitlines():
        if not line.isascii():
            lines.append(line[:_MOST])
            size += len(line) + 1
            if size > _MOST:
                break
    return b"\n".join(lines)


@dataclass(frozen=True)
class _Tables:
    """names: of the encodings of one byte a character. cost: of each, float32. shares: how common each of their upper 128 characters
    is in each language, float32, encodings × 128 × languages. strange: whether it is a letter of another script than ours."""

    names: tuple[str, ...]
    cost: NDArray[np.float32]
    shares: NDArray[np.float32]
    strange: NDArray[np.float32]


@cache
def _tables() -> _Tables:
    names = (*_FIRST, *_OLD)
    characters = [[bytes((byte,)).decode(name, "replace") for byte in range(128, 256)] for name in names]
    points = np.array([[ord(one) for one in row] for row in characters], np.int64)
    strange = [[one.isalpha() and bool(_TWO_ALPHABETS.match(one + "a")) for one in row] for row in characters]
    return _Tables(
        names,
        np.array([_FIRST.get(name, _OLD_COST) for name in names], np.float32),
        np.ascontiguousarray(np.stack([script.shares[points] for script in letter_shares()], axis=2)),
        np.array(strange, np.float32),
    )


def _by_language(data: bytes, votes: Mapping[str, float]) -> dict[str, NDArray[np.float32]]:
    """For each encoding of one byte a character, how likely the text is in each language, by its characters and its plain words."""
    tables = _tables()
    of = np.frombuffer(data, np.uint8)
    counts = np.bincount(of, minlength=256)[128:].astype(np.float32)
    plain = ((of | 0x20) >= 0x61) & ((of | 0x20) <= 0x7A)
    beside = np.r_[plain[1:], False].astype(np.int8) + np.r_[False, plain[:-1]]
    touching = np.bincount(of, beside, minlength=256)[128:].astype(np.float32)
    used = np.flatnonzero(counts)
    said = np.array([_WORD * votes.get(script.code, 0.0) for script in letter_shares()], np.float32)
    lost = tables.cost + _MIXED * (tables.strange[:, used] @ touching[used])
    scores = np.tensordot(tables.shares[:, used], counts[used], (1, 0)) + said - lost[:, None]
    return dict(zip(tables.names, scores, strict=True))


def _with_words(text: str, scores: NDArray[np.float32]) -> float:
    """The likelihood of a text in its best language, with the evidence of its words: function words of the language, less combinations
    that no writer uses."""
    words = [word for word in _WORDS.findall(text) if not word.isascii()]
    lost = _WITHIN * len(_SIGN_WITHIN.findall(text))
    for word in words:
        for before, after in itertools.pairwise(word):
            if before.islower() and after.isupper() and not (before + after).isascii():
                lost += _CASE
    small = [word.lower() for word in words]
    best = -math.inf
    for at in np.argsort(-scores, kind="stable")[:_LANGUAGES]:
        if scores[at] < scores.max() - _CLOSER:
            break
        listed = function_words(letter_shares()[int(at)].code)
        told = sum(_WORD if word in listed else -_ALONE * (len(word) == 1) for word in small)
        best = max(best, float(scores[at]) + told)
    return best - lost


def _of_several_bytes(data: bytes) -> list[Candidate]:
    """Encodings of one or several bytes a character, and UTF-8 that is damaged somewhere."""
    ascii_bytes = int((np.frombuffer(data, np.uint8) < 128).sum())
    found = []
    for encoding, language in _SEVERAL_BYTES.items():
        text = codecs.getincrementaldecoder(encoding)("replace").decode(data, False)
        points = np.fromiter(map(ord, text), np.int64, len(text))
        points[points > 0xFFFF] = 0xE000
        beyond = points[points > 127]
        if not len(beyond) or (beyond == 0xFFFD).sum() > 0.05 * len(beyond) + 1:
            continue
        scripts = [one for one in character_shares() if language in ("", one.code)]
        if not language:
            scripts += letter_shares()
        best = max(float(script.shares[beyond].sum()) for script in scripts)
        best -= _WITHIN * len(_INSIDE_WORDS.findall(text))
        consumed = ascii_bytes - (len(points) - len(beyond))
        found.append(Candidate(encoding, best + _ASCII_COST * consumed, text))
    return found
