# SPDX-License-Identifier: GPL-3.0-or-later
"""Bytes to text: UTF-8 where it is UTF-8, what a byte order mark says, or else the likeliest encoding."""

from __future__ import annotations

import codecs
import unicodedata
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import BinaryIO

from jagged_lens.errors import SourceError
from jagged_lens.gather.likely_encoding import Candidate, candidates

_MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF32_LE, "utf-32"),
    (codecs.BOM_UTF32_BE, "utf-32"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
_LOOKED_AT = 262_144
_NO_TEXT = frozenset(("idna", "punycode", "undefined", "unicode-escape", "raw-unicode-escape"))
_CONTROL = bytes(set(range(32)) - {9, 10, 12, 13, 27})


@dataclass(frozen=True)
class Guess:
    """encoding: the one that bytes are taken to be in. likely: how likely others are beside it, as logarithms. readings: where it is
    not certain, the encodings that come into question, the one that was taken first, each with a line as it reads it."""

    encoding: str
    likely: tuple[tuple[str, float], ...] = ()
    readings: tuple[tuple[str, str], ...] = ()


_START = 1 << 20  # bytes of a file that are looked at
_CERTAIN = 4.0  # times e, by which the best encoding must be likelier than the next
_CLOSEST, _TOGETHER = 30.0, 12.0  # at most so much is said by one file against an encoding, and by all of them
_LINE = 90
_SAID = 4


def guess_of(start: bytes, whole: bool = True, known: Mapping[str, float] | None = None) -> Guess:
    """The encoding that bytes are likely to be in.

    start: the bytes, or the first of them. whole: False where more follow, so that the last character may be cut. known: what other
    files of the source say for encodings, as logarithms.
    """
    for mark, encoding in _MARKS:
        if start.startswith(mark):
            return Guess(encoding)
    if b"\x1b$B" in start[:_LOOKED_AT] or b"\x1b$@" in start[:_LOOKED_AT]:
        return Guess("iso2022_jp")
    try:
        codecs.getincrementaldecoder("utf-8")().decode(start, whole)
    except UnicodeDecodeError:
        pass
    else:
        if b"\0" not in start[:4096] or _wide(start) is None:
            return Guess("utf-8")
    if wide := _wide(start):
        return Guess(wide)
    found = candidates(start[:_LOOKED_AT], known)
    best = found[0]
    close = [one for one in found if one.score > best.score - _CERTAIN]
    return Guess(
        best.encoding,
        tuple((one.encoding, max(one.score - best.score, -_CLOSEST)) for one in found),
        tuple((one.encoding, _where_they_differ(one.text, found)) for one in close[:_SAID]) if len(close) > 1 else (),
    )


def _where_they_differ(text: str, readings: Sequence[Candidate]) -> str:
    """The first line that the two likeliest readings read differently, as one of them reads it."""
    lines = [reading.text.splitlines() for reading in readings[:2]]
    at = next((at for at, both in enumerate(zip(*lines, strict=False)) if both[0] != both[1]), 0)
    of = text.splitlines()
    line = of[at] if at < len(of) else text
    first = next((place for place, character in enumerate(line) if ord(character) > 127), 0)
    begin = max(0, first - _LINE // 2)
    return " ".join(("…" * (begin > 0) + line[begin : begin + _LINE] + "…" * (len(line) > begin + _LINE)).split())


def guess_of_file(file: BinaryIO, encodings: str = "", known: Mapping[str, float] | None = None) -> tuple[Guess, bytes]:
    """The encoding of an open file, as in `decoded`, and its first megabyte; the file is at its beginning again.

    Where that holds nothing but ASCII, what follows is looked through for the first characters that tell.
    """
    start = file.read(_START)
    part, whole = start, len(start) < _START
    while part.isascii() and not whole:
        part = file.read(_START)
        whole = len(part) < _START
    file.seek(0)
    if encodings:
        return Guess(fitting(start, encodings, len(start) < _START)), start
    first = next((at for at, byte in enumerate(part[:_START]) if byte > 127), 0) if part is not start else 0
    return guess_of(part[first:] if part is not start else start, whole, known), start


def said_together(guesses: Iterable[Guess]) -> dict[str, float]:
    """The joint evidence of some files for each encoding, as logarithms: for each the sum over files, limited to a small amount.

    A file that is certain outweighs what others say; one that is not goes with them.
    """
    found: dict[str, float] = {}
    for guess in guesses:
        for encoding, score in guess.likely:
            found[encoding] = found.get(encoding, 0.0) + score + _CLOSEST
    most = max(found.values(), default=0.0)
    return {encoding: max(score - most, -_TOGETHER) for encoding, score in found.items()}


def _wide(start: bytes) -> str | None:
    """UTF-16 without a byte order mark, where nearly every second byte is zero."""
    head = start[:4096]
    half = len(head) // 2
    if half < 8:
        return None
    even, odd = head[0 : half * 2 : 2].count(0), head[1 : half * 2 : 2].count(0)
    if odd > 0.6 * half and even < 0.1 * half:
        return "utf-16-le"
    return "utf-16-be" if even > 0.6 * half and odd < 0.1 * half else None


def shown(encoding: str) -> str:
    """The name of an encoding as it is said: without what tells that a mark stands in front."""
    return encoding.removesuffix("-sig")


_MEANT = {
    "iso8859-1": "cp1252", "ascii": "cp1252", "iso8859-9": "cp1254", "iso8859-11": "cp874", "tis-620": "cp874", "gb2312": "gb18030",
    "gbk": "gb18030", "shift_jis": "cp932", "euc_kr": "cp949", "big5": "big5hkscs", "cp950": "big5hkscs", "iso8859-8": "cp1255",
}  # fmt: skip
_OTHER_NAMES = {"x-sjis": "cp932", "windows-31j": "cp932", "ks_c_5601-1987": "cp949", "windows-949": "cp949", "x-gbk": "gb18030",
                "x-euc-jp": "euc_jp", "iso-8859-8-i": "cp1255", "x-user-defined": "", "x-mac-cyrillic": "mac_cyrillic",
                "macintosh": "mac_roman", "unicode": "utf-16"}  # fmt: skip


def meant(label: str) -> str:
    """The encoding that a page or a message means by a label: often a wider one than it names (WHATWG Encoding standard).

    "" where there is none by that label.

    >>> meant("ISO-8859-1"), meant("gb2312"), meant("utf8"), meant("none")
    ('cp1252', 'gb18030', 'utf-8', '')
    """
    name = label.strip().strip("\"'").lower()
    try:
        known = codecs.lookup(_OTHER_NAMES.get(name, name)).name
        return _MEANT.get(known, known_encoding(known))
    except (LookupError, ValueError, SourceError):
        return ""


def claimed(data: bytes, label: str) -> str:
    """The encoding that a server, a page or a message names for bytes, as in `meant`. "" if there is none or the bytes contradict it."""
    encoding = meant(label)
    return encoding if encoding and is_fitting(data, encoding) else ""


def is_fitting(data: bytes, encoding: str) -> bool:
    """True if bytes can be read in an encoding but for a few that are damaged: one character in a thousand, or one."""
    wrong = data.decode(encoding, "replace").count("\ufffd")
    return wrong <= 1 + sum(byte > 127 for byte in data[:_LOOKED_AT]) // 1000


def known_encoding(name: str) -> str:
    """The name itself, if there is such an encoding of text. SourceError where there is none."""
    try:
        known = codecs.lookup(name)
        if known.name in _NO_TEXT or not isinstance(known.decode(b"A", "replace")[0], str):
            raise LookupError(name)
    except (LookupError, ValueError, TypeError, AttributeError, AssertionError) as error:
        raise SourceError(
            f'there is no text encoding "{name}"',
            remedy="Use for example utf-8, utf-16, cp1252 or iso-8859-15, or leave it empty.",
        ) from error
    return name


def fitting(data: bytes, encodings: str, whole: bool = True) -> str:
    """The first encoding, of those that a source names separated by commas, that can read the bytes; the last if none can.

    data: the bytes, or the first of them; whole: False where more follow. SourceError for an encoding that there is not.
    """
    names = [known_encoding(name.strip()) for name in encodings.split(",")]
    for name in names[:-1]:
        try:
            codecs.getincrementaldecoder(name)().decode(data, whole)
        except UnicodeError:
            continue
        return name
    return names[-1]


def decoded(data: bytes, encodings: str = "", known: Mapping[str, float] | None = None) -> tuple[str, Guess]:
    """The text of `data` and how it was read. Never fails: what cannot be read is U+FFFD.

    encodings: those that are named for it, as in `fitting`; "" to guess, with what is known as in `guess_of`.
    """
    guess = Guess(fitting(data, encodings)) if encodings else guess_of(data, known=known)
    return data.decode(guess.encoding, "replace"), guess


def is_binary(start: bytes) -> bool:
    """True if bytes are no text in any encoding: many control characters, and not UTF-16 or UTF-32."""
    head = start[:65_536]
    if not head or any(head.startswith(mark) for mark, _ in _MARKS) or _wide(head):
        return False
    return len(head) - len(head.translate(None, _CONTROL)) > 0.1 * len(head)


def clean_text(text: str) -> str:
    """NFC, line ends as one line feed, NUL as U+FFFD (it would be taken for the end of a text)."""
    if "\r" in text:
        text = text.replace("\r\n", "\n").replace("\r", "\n")
    if "\0" in text:
        text = text.replace("\0", "\ufffd")
    return text if text.isascii() else unicodedata.normalize("NFC", text)
