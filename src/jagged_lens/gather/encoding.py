"""Bytes to text: UTF-8 where it is UTF-8, what a byte order mark says, or else the likeliest encoding."""

from __future__ import annotations

import codecs
import unicodedata

from charset_normalizer import from_bytes

from jagged_lens.errors import SourceError

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


def encoding_of(start: bytes, whole: bool = True) -> str:
    """The name of the encoding that bytes are likely to be in.

    start: the bytes, or the first of them. whole: False where more follow, so that the last character may be cut.
    """
    for mark, encoding in _MARKS:
        if start.startswith(mark):
            return encoding
    try:
        codecs.getincrementaldecoder("utf-8")().decode(start, whole)
    except UnicodeDecodeError:
        pass
    else:
        if b"\0" not in start[:4096] or _wide(start) is None:
            return "utf-8"
    if wide := _wide(start):
        return wide
    found = list(from_bytes(start[:_LOOKED_AT]))
    # The most coherent reading; among equals the encoding that Western European files mostly have.
    best = max(found, key=lambda match: (match.coherence, match.encoding == "cp1252"), default=None)
    return best.encoding if best else "cp1252"


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


def known_encoding(name: str) -> str:
    """The name itself, if there is such an encoding of text. SourceError where there is none."""
    try:
        known = codecs.lookup(name)
        if known.name in _NO_TEXT or not isinstance(known.decode(b"A", "replace")[0], str):
            raise LookupError(name)
    except (LookupError, ValueError, TypeError, AttributeError, AssertionError) as error:
        raise SourceError(
            f'there is no encoding "{name}" of text',
            remedy="Such as utf-8, utf-16, cp1252 or iso-8859-15; or leave it empty.",
        ) from error
    return name


def decoded(data: bytes, encoding: str = "") -> tuple[str, str]:
    """The text of `data` and the name of the encoding it was read as. Never fails: what cannot be read is U+FFFD."""
    found = known_encoding(encoding) if encoding else encoding_of(data)
    return data.decode(found, "replace"), found.removesuffix("-sig")


def is_binary(start: bytes) -> bool:
    """Whether bytes are no text in any encoding: many control characters, and not UTF-16 or UTF-32."""
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
