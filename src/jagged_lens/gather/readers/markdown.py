# SPDX-License-Identifier: GPL-3.0-or-later
"""Markdown (CommonMark): its text without the marks."""

from __future__ import annotations

from collections.abc import Iterator

from markdown_it import MarkdownIt

from jagged_lens.gather.readers.html import page_text
from jagged_lens.gather.readers.piece import Found, Options, Piece
from jagged_lens.gather.readers.text import text_of

_DEEPEST = 160  # blocks inside each other; a list and its entry are two


def read_markdown(data: bytes, options: Options) -> Iterator[Found]:
    """The text of a Markdown file without its marks, and its title."""
    text, words = text_of(data, options)
    yield from words
    # The tables that many write are read as tables; raw HTML goes through, and is stripped with the rest.
    parser = MarkdownIt("commonmark", {"maxNesting": _DEEPEST}).enable("table")
    try:
        tokens = parser.parse(text)
        # What is nested deeper than that the parser leaves out, with all that follows it.
        deep = max((token.level for token in tokens), default=0) >= _DEEPEST - 2
        page = "" if deep else parser.renderer.render(tokens, parser.options, {})
    except RecursionError:
        deep, page = True, ""
    if deep:
        yield "is nested too deeply for Markdown and was read as plain text."
        yield Piece(text)
        return
    title, body = page_text(page)
    yield Piece(body, title)
