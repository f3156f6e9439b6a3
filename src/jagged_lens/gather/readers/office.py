"""Word (.docx, ISO/IEC 29500) and OpenDocument text (.odt, ISO/IEC 26300)."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from typing import Any

from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable
from jagged_lens.gather.readers.zip_limits import guarded


def read_docx(data: bytes, options: Options) -> Iterator[Found]:
    import docx
    from docx.table import Table

    _check(data, "word/document.xml")
    try:
        document = docx.Document(io.BytesIO(data))
        lines = []
        for block in document.iter_inner_content():
            if isinstance(block, Table):
                lines += ["\t".join(cell.text for cell in row.cells) for row in block.rows]
            else:
                lines.append(block.text)
        title = document.core_properties.title or ""
    except Unreadable:
        raise
    except Exception as error:  # the library lets through whatever a broken part makes it stumble over
        raise Unreadable("it is damaged") from error
    yield Piece("\n".join(lines).strip(), title)


def read_odt(data: bytes, options: Options) -> Iterator[Found]:
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
                    lines.append(teletype.extractText(child))
                elif hasattr(child, "childNodes"):
                    walk(child)

        walk(document.text)
        titles = document.meta.getElementsByType(Title)
        title = teletype.extractText(titles[0]) if titles else ""
    except Exception as error:
        raise Unreadable("it is damaged") from error
    yield Piece("\n".join(lines).strip(), title)


def _check(data: bytes, needed: str) -> None:
    """Unreadable where a file is no archive of the expected kind, is locked, or would expand beyond its limits."""
    if data.startswith(b"\xd0\xcf\x11\xe0"):
        raise Unreadable("it is protected by a password, or in an older format; save it anew without one")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            guarded(archive)
            names = set(archive.namelist())
            if needed not in names:
                raise Unreadable("it is not what its name says, or damaged")
            if "META-INF/manifest.xml" in names and b"encryption-data" in archive.read("META-INF/manifest.xml"):
                raise Unreadable("it is protected by a password")
    except (zipfile.BadZipFile, EOFError, NotImplementedError, OSError) as error:
        raise Unreadable("it is damaged or cut off") from error
