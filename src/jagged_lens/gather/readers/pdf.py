"""PDF (ISO 32000): the text of its pages in reading order."""

from __future__ import annotations

import io
import itertools
import logging
import re
from collections.abc import Iterator
from typing import Any

from pypdf import PasswordType, PdfReader
from pypdf.errors import PyPdfError

from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable

_SPLIT_WORD = re.compile(r"(\w)-\n(?=[a-zà-öø-ÿ])")
_JUMPS = 3  # so often may the text go back up a page: the columns of any page that is in order

logging.getLogger("pypdf").setLevel(logging.CRITICAL)  # what it mends in silence is not for our users to read


def read_pdf(data: bytes, options: Options) -> Iterator[Found]:
    """The text of a PDF file, page by page. Unreadable where it is none or is locked."""
    try:
        reader = PdfReader(io.BytesIO(data), strict=False)
        if reader.is_encrypted and reader.decrypt("") == PasswordType.NOT_DECRYPTED:
            raise Unreadable("it is protected by a password")
        pages, wrong, pictures = [], 0, False
        for page in reader.pages:
            try:
                pages.append(page_in_order(page))
                pictures = pictures or "/XObject" in (page.get("/Resources") or {})
            except RecursionError:
                raise
            except Exception:  # one page in a broken file; the others may be fine
                wrong += 1
        title = str((reader.metadata.title if reader.metadata else "") or "")
        title = "" if title.strip().lower() == "untitled" else title
    except (PyPdfError, RecursionError, ValueError, TypeError, KeyError, AttributeError, IndexError, OSError) as error:
        raise Unreadable("it is damaged") from error
    text = _SPLIT_WORD.sub(r"\1", "\n\n".join(page.strip() for page in pages if page.strip()))
    if not text.strip():
        if wrong:
            raise Unreadable("none of its pages can be read")
        if pictures:
            raise Unreadable("it holds only pictures of pages; their text must be recognised first")
    if wrong:
        yield f"{wrong} of {wrong + len(pages)} pages could not be read."
    yield Piece(text, title)


def page_in_order(page: Any) -> str:
    """The text of a page, in the order of its content; where that jumps about, from top to bottom, column by column."""
    bits: list[tuple[float, float, str]] = []

    def take(text: str, _: Any, matrix: list[float], *__: Any) -> None:
        if text.strip():
            bits.append((matrix[4], matrix[5], text))

    plain: str = page.extract_text(visitor_text=take)
    jumps = sum(after[1] > before[1] + 2 for before, after in itertools.pairwise(bits))
    if jumps <= _JUMPS or len(bits) < 6:
        return plain
    return sorted_bits(bits, float(page.mediabox.width))


def sorted_bits(bits: list[tuple[float, float, str]], width: float) -> str:
    """Bits of text (x, y upwards, text) from top to bottom; in two columns where the middle of the page begins many."""
    right = [bit for bit in bits if bit[0] >= width * 0.45]
    two = len(right) > 0.3 * len(bits) and not any(0.3 * width < bit[0] < 0.45 * width for bit in bits)
    columns = [[bit for bit in bits if bit[0] < width * 0.45], right] if two else [bits]
    lines: list[str] = []
    for column in columns:
        rows: dict[int, list[tuple[float, str]]] = {}
        for x, y, text in column:
            rows.setdefault(round(-y / 3), []).append((x, text.strip()))
        lines += [" ".join(text for _, text in sorted(rows[key])) for key in sorted(rows)]
    return "\n".join(lines)
