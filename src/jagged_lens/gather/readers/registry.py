# SPDX-License-Identifier: GPL-3.0-or-later
"""The reader of each file: by its content if that is unmistakable, else by its ending."""

from __future__ import annotations

import importlib
import io
import os
import zipfile
from collections.abc import Callable, Iterator

from jagged_lens.gather.encoding import is_binary
from jagged_lens.gather.readers.piece import Found, Options, Reader, Unreadable
from jagged_lens.gather.readers.text import read_text


def _loaded(module: str, function: str) -> Callable[[bytes, Options], Iterator[Found]]:
    """A reader whose library is only loaded when a file needs it."""

    def read(data: bytes, options: Options) -> Iterator[Found]:
        found = getattr(importlib.import_module(f"jagged_lens.gather.readers.{module}"), function)
        yield from found(data, options)

    return read


def _read_zip(data: bytes, options: Options) -> Iterator[Found]:
    from jagged_lens.gather.readers.archive import read_archive

    return read_archive(data, options, read_bytes, lambda name: _ending(name) in ENDINGS or not _ending(name))


TEXT = Reader("text", (".txt", ".text", ".log"), read_text, apart=False)
ZIP = Reader("zip archive", (".zip",), _read_zip)
PDF = Reader("PDF", (".pdf",), _loaded("pdf", "read_pdf"))
DOCX = Reader("Word", (".docx",), _loaded("office", "read_docx"))
ODT = Reader("OpenDocument text", (".odt",), _loaded("office", "read_odt"))
RTF = Reader("RTF", (".rtf",), _loaded("rtf", "read_rtf"))
MARKDOWN = Reader("Markdown", (".md", ".markdown"), _loaded("markdown", "read_markdown"))
HTML = Reader("HTML", (".html", ".htm", ".xhtml"), _loaded("html", "read_html"))
MAILBOX = Reader("mailbox", (".mbox",), _loaded("mail", "read_mailbox"))
READERS: tuple[Reader, ...] = (
    TEXT,
    MARKDOWN,
    HTML,
    Reader("e-mail", (".eml",), _loaded("mail", "read_mail")),
    MAILBOX,
    PDF,
    DOCX,
    ODT,
    RTF,
    ZIP,
)
ENDINGS: dict[str, Reader] = {ending: reader for reader in READERS for ending in reader.endings}
_OTHERS = {
    b"\x89PNG": "a picture",
    b"\xff\xd8\xff": "a picture",
    b"GIF8": "a picture",
    b"SQLite format 3": "it is a database; add it as a database",
    b"PAR1": "a Parquet table; give it the ending .parquet",
    b"\x7fELF": "a program",
    b"\x1f\x8b": "a gzip archive; unpack it first",
    b"7z\xbc\xaf": "a 7z archive; unpack it first",
    b"Rar!": "a RAR archive; unpack it first",
}


def reader_for(name: str, start: bytes) -> Reader | None:
    """The reader of a file by its first bytes and its name; None where no reader takes it.

    Unreadable where the bytes are plainly of a kind that none reads, whatever the name says.
    """
    head = start[:2048].lstrip()
    if head.startswith(b"%PDF-"):
        return PDF
    if head.startswith(b"{\\rtf"):
        return RTF
    for magic, kind in _OTHERS.items():
        if start.startswith(magic):
            raise Unreadable(f"it is {kind}")
    by_name = ENDINGS.get(_ending(name))
    if start.startswith(b"PK\x03\x04"):
        if start[30:38] == b"mimetype" and start[38:].startswith(b"application/vnd.oasis.opendocument.text"):
            return ODT
        return by_name if by_name in (DOCX, ODT, ZIP) else ZIP
    if by_name is None and not _ending(name) and not is_binary(start):
        by_name = TEXT
    if by_name is TEXT and head[:200].lower().startswith((b"<!doctype html", b"<html")):
        return HTML
    return by_name


def read_bytes(name: str, data: bytes, options: Options) -> Iterator[Found]:
    """All that is found in a file of that name. Unreadable where it gives nothing."""
    if not data.strip() and ENDINGS.get(_ending(name)) not in (TEXT, MARKDOWN, HTML):
        raise Unreadable("it is empty")
    reader = reader_for(name, data[:65_536])
    if reader is None:
        ending = _ending(name)
        raise Unreadable(f'files ending in "{ending}" are not read' if ending else "it does not contain text")
    if reader in (ZIP, DOCX) and data.startswith(b"PK\x03\x04"):
        is_word = _holds(data, "[Content_Types].xml", "word/document.xml")
        reader = DOCX if is_word or (reader is DOCX and not _holds(data)) else ZIP
    ending = _ending(name)
    if ending not in reader.endings and ending in ENDINGS:
        yield f"is actually {reader.name}, and was read as such."
    yield from reader.read(data, options)


def _holds(data: bytes, *entries: str) -> bool:
    """True if an archive can be opened and has these entries at its top."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return set(entries) <= set(archive.namelist())
    except (zipfile.BadZipFile, OSError, ValueError, EOFError, NotImplementedError):
        return False


def _ending(name: str) -> str:
    return os.path.splitext(name)[1].lower()
