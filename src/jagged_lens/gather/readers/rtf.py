# SPDX-License-Identifier: GPL-3.0-or-later
"""Rich Text Format."""

from __future__ import annotations

import re
from collections.abc import Iterator

from striprtf.striprtf import rtf_to_text

from jagged_lens.gather.encoding import fitting
from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable

_PARAGRAPH = re.compile(r"\\(?:par|cell|nestcell)(?![a-z])")
_ROW = re.compile(r"\\row(?![a-z])")
_TITLE = re.compile(r"\{\s*\\title(?![a-z])")
_CODE_PAGE = re.compile(r"\\ansicpg\d+")
_ESCAPED = re.compile(r"\\'([0-9a-fA-F]{2})")
_MOST_TITLE = 2_000
_BLANKS = re.compile(r"\n[^\S\n]*\n\s*")


def read_rtf(data: bytes, options: Options) -> Iterator[Found]:
    """The text and the title of an .rtf file, a blank line between paragraphs and between cells. Unreadable where it is none."""
    if not data.lstrip()[:5] == b"{\\rtf":
        raise Unreadable("it is not an RTF file")
    try:
        # RTF itself is 7-bit; what is not says in which code page it is, and cp1252 is what that is where it does not.
        source = data.decode("latin-1")
        escaped = bytes.fromhex("".join(_ESCAPED.findall(source)))
        encoding = fitting(escaped, options.encoding) if options.encoding else "cp1252"
        marked = _ROW.sub("", _PARAGRAPH.sub(r"\\par\\par", source))
        text = rtf_to_text(marked, encoding=encoding, errors="replace").strip()
        yield Piece(_BLANKS.sub("\n\n", text), _title(source, encoding))
    except Unreadable:
        raise
    except Exception as error:
        raise Unreadable("it is damaged") from error


def _title(source: str, encoding: str) -> str:
    """The title in the head of a file; "" if there is none."""
    found = _TITLE.search(source)
    if not found:
        return ""
    depth, at = 1, found.end()
    while depth and at < min(len(source), found.end() + _MOST_TITLE):
        if source[at] == "\\":
            at += 1
        depth += {"{": 1, "}": -1}.get(source[at : at + 1], 0)
        at += 1
    page = _CODE_PAGE.search(source[:_MOST_TITLE])
    inside = source[found.end() : at].removesuffix("}")
    title = rtf_to_text(f"{{\\rtf1\\ansi{page[0] if page else ''} {inside}}}", encoding=encoding, errors="replace")
    return " ".join(title.split())
