# SPDX-License-Identifier: GPL-3.0-or-later
"""Word (.docx, ISO/IEC 29500) and OpenDocument text (.odt, ISO/IEC 26300)."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from typing import Any

from jagged_lens.gather.readers.opendocument import plain_paragraph
from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable
from jagged_lens.gather.readers.zip_limits import guarded


def read_docx(data: bytes, options: Options) -> Iterator[Found]:
    """The text and title of a .docx file. Unreadable where it is none."""
    import docx

    _check(data, "word/document.xml")
    try:
        document = docx.Document(io.BytesIO(data))
        lines = list(_blocks(document.element.body))
        title = document.core_properties.title or ""
    except Unreadable:
        raise
    except Exception as error:  # the library lets through whatever a broken part makes it stumble over
        raise Unreadable("it is damaged") from error
    yield Piece(_joined(lines), title)


def _joined(lines: list[str]) -> str:
    """Paragraphs with a blank line between them."""
    return "\n\n".join(line.strip() for line in lines if line.strip())


_W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
_FALLBACK = "{http://schemas.openxmlformats.org/markup-compatibility/2006}Fallback"
_WORDS = {f"{_W}tab": "\t", f"{_W}br": "\n", f"{_W}cr": "\n", f"{_W}noBreakHyphen": "-"}
_GONE = frozenset((f"{_W}del", f"{_W}moveFrom", f"{_W}instrText", f"{_W}pPr", f"{_W}rPr", _FALLBACK))


def _blocks(element: Any) -> Iterator[str]:
    """The paragraphs of a text, those in the cells of tables among them. What is tracked as put in counts, what is tracked as taken out
    does not. The content of fields that are filled in (content controls) counts."""
    for child in element:
        if child.tag == f"{_W}p":
            yield _words(child)
        elif child.tag == f"{_W}tr":
            for cell in _cells(child):
                yield from _blocks(cell)
        elif isinstance(child.tag, str) and child.tag not in _GONE:
            yield from _blocks(child)


def _cells(row: Any) -> Iterator[Any]:
    for child in row:
        if child.tag == f"{_W}tc":
            yield child
        elif child.tag in (f"{_W}sdt", f"{_W}sdtContent", f"{_W}ins"):
            yield from _cells(child)


def _words(element: Any) -> str:
    parts: list[str] = []
    for child in element:
        if child.tag == f"{_W}t":
            parts.append(child.text or "")
        elif child.tag in _WORDS:
            parts.append(_WORDS[child.tag])
        elif child.tag == f"{_W}p":  # of a text box inside this paragraph
            parts.append(f"\n\n{_words(child)}\n\n")
        elif isinstance(child.tag, str) and child.tag not in _GONE:
            parts.append(_words(child))
    return "".join(parts)


def read_odt(data: bytes, options: Options) -> Iterator[Found]:
    """The text and title of an .odt file. Unreadable where it is none."""
    from odf import opendocument, teletype
    from odf.dc import Title
    from odf.namespaces import TEXTNS

    _check(data, "content.xml")
    try:
        document = opendocument.load(io.BytesIO(data))
        lines: list[str] = []

        def walk(element: Any) -> None:
            for child in element.childNodes:
                name = getattr(child, "qname", None)
                if name in ((TEXTNS, "p"), (TEXTNS, "h")):
                    lines.append(plain_paragraph(child))
                elif hasattr(child, "childNodes"):
                    walk(child)

        walk(document.text)
        titles = document.meta.getElementsByType(Title)
        title = teletype.extractText(titles[0]) if titles else ""
    except Exception as error:
        raise Unreadable("it is damaged") from error
    yield Piece(_joined(lines), title)


def _check(data: bytes, needed: str) -> None:
    """Unreadable where a file is no archive of the expected kind, is locked, or would expand beyond its limits."""
    if data.startswith(b"\xd0\xcf\x11\xe0"):
        raise Unreadable("it is protected by a password or in an older format; save it again without one")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            guarded(archive)
            names = set(archive.namelist())
            if needed not in names:
                raise Unreadable("it is damaged, or not what its name says")
            if "META-INF/manifest.xml" in names and b"encryption-data" in archive.read("META-INF/manifest.xml"):
                raise Unreadable("it is protected by a password")
    except (zipfile.BadZipFile, EOFError, NotImplementedError, OSError) as error:
        raise Unreadable("it is damaged or cut off") from error
