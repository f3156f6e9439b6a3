# SPDX-License-Identifier: GPL-3.0-or-later
"""PDF (ISO 32000): the text of its pages in reading order."""

from __future__ import annotations

import io
import logging
import math
from collections.abc import Iterator
from typing import Any

from pypdf import PasswordType, PdfReader
from pypdf.errors import PyPdfError

from jagged_lens.gather.readers.page_lines import Line, in_order, paragraphs, without_running
from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable

logging.getLogger("pypdf").setLevel(logging.CRITICAL)  # what it mends in silence is not for our users to read


def read_pdf(data: bytes, options: Options) -> Iterator[Found]:
    """The text of a PDF file, page by page. Unreadable where it is none or is locked."""
    try:
        reader = PdfReader(io.BytesIO(data), strict=False)
        if reader.is_encrypted and reader.decrypt("") == PasswordType.NOT_DECRYPTED:
            raise Unreadable("it is protected by a password")
        pages: list[list[Line]] = []
        wrong, pictures = 0, False
        for page in reader.pages:
            try:
                pages.append(in_order(lines_of(page), float(page.mediabox.width)))
                pictures = pictures or "/XObject" in (page.get("/Resources") or {})
            except RecursionError:
                raise
            except Exception:  # one page in a broken file; the others may be fine
                wrong += 1
        title = str((reader.metadata.title if reader.metadata else "") or "")
        title = "" if title.strip().lower() == "untitled" else title
    except (PyPdfError, RecursionError, ValueError, TypeError, KeyError, AttributeError, IndexError, OSError) as error:
        raise Unreadable("it is damaged") from error
    pages, running = without_running(pages)
    text = paragraphs(pages)
    if not text.strip():
        if wrong:
            raise Unreadable("none of its pages could be read")
        if pictures:
            raise Unreadable("it contains only page images; run text recognition on it first")
    if running:
        yield f"has {running} running headers and footers, which were left out."
    if wrong:
        yield f"{wrong} of {wrong + len(pages)} pages could not be read."
    yield Piece(text, title)


def lines_of(page: Any) -> list[Line]:
    """The lines of a page in the order of its content, each where it stands on the page."""
    lines: list[Line] = []
    parts: list[str] = []
    x = y = size = 0.0

    def end() -> None:
        if (text := "".join(parts)).strip():
            lines.append(Line(x, y, size, text.strip()))
        parts.clear()

    def take(text: str, cm: list[float], tm: list[float], _: Any, font_size: float) -> None:
        nonlocal x, y, size
        at_x, at_y, height = _placed(cm, tm, font_size)
        for number, part in enumerate(text.split("\n")):
            if number:
                end()
            if not part:
                continue
            if part.strip() and "".join(parts).strip() and abs(at_y - y) > 0.6 * max(height, size, 1.0):
                end()
            if part.strip() and not "".join(parts).strip():
                x, y, size = at_x, at_y, height
            parts.append(part)

    page.extract_text(visitor_text=take)
    end()
    return lines


def _placed(cm: list[float], tm: list[float], size: float) -> tuple[float, float, float]:
    """The place and size of text on the page: the text matrix, then that of the page (ISO 32000, 8.3.4)."""
    x = tm[4] * cm[0] + tm[5] * cm[2] + cm[4]
    y = tm[4] * cm[1] + tm[5] * cm[3] + cm[5]
    up_x = tm[2] * cm[0] + tm[3] * cm[2]
    up_y = tm[2] * cm[1] + tm[3] * cm[3]
    return x, y, abs(size) * math.hypot(up_x, up_y)
