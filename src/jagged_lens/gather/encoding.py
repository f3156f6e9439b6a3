"""Bytes to text: UTF-8 where it is UTF-8, what a byte order mark says, or else the likeliest encoding."""

from __future__ import annotations

import codecs
import unicodedata

from charset_normalizer import from_bytes

_MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF32_LE, "utf-32"),
    (codecs.BOM_UTF32_BE, "utf-32"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)


def decoded(data: bytes) -> tuple[str, str]:
    """The text of `data` and the name of the encoding it was read as. Never fails: what cannot be read is U+FFFD."""
    for mark, encoding in _MARKS:
        if data.startswith(mark):
            return data.decode(encoding, "replace"), encoding.removesuffix("-sig")
    try:
        return data.decode("utf-8"), "utf-8"
    except UnicodeDecodeError:
        found = list(from_bytes(data[:262_144]))
        # The most coherent reading; among equals the encoding that Western European files mostly have.
        best = max(found, key=lambda match: (match.coherence, match.encoding == "cp1252"), default=None)
        encoding = best.encoding if best else "cp1252"
        return data.decode(encoding, "replace"), encoding


def clean_text(text: str) -> str:
    """NFC, line ends as one line feed, NUL as U+FFFD (it would be taken for the end of a text)."""
    if "\r" in text:
        text = text.replace("\r\n", "\n").replace("\r", "\n")
    if "\0" in text:
        text = text.replace("\0", "\ufffd")
    return unicodedata.normalize("NFC", text)
