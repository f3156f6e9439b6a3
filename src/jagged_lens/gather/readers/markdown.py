"""Markdown (CommonMark): its text without the marks."""

from __future__ import annotations

from collections.abc import Iterator

from markdown_it import MarkdownIt

from jagged_lens.gather.readers.html import page_text
from jagged_lens.gather.readers.piece import Found, Options, Piece
from jagged_lens.gather.readers.text import text_of


def read_markdown(data: bytes, options: Options) -> Iterator[Found]:
    text, encoding = text_of(data, options)
    if encoding != "utf-8" and not options.encoding:
        yield f"was read as {encoding}."
    # The tables that many write are read as tables; raw HTML goes through, and is stripped with the rest.
    title, body = page_text(MarkdownIt("commonmark").enable("table").render(text))
    yield Piece(body, title)
