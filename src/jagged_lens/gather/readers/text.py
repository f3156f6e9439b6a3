"""Plain text."""

from __future__ import annotations

from collections.abc import Iterator

from jagged_lens.gather.encoding import decoded, is_binary
from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable


def text_of(data: bytes, options: Options) -> tuple[str, str]:
    """The text of bytes and its encoding. Unreadable where they are no text."""
    if not options.encoding and is_binary(data):
        raise Unreadable("it does not hold text")
    return decoded(data, options.encoding)


def read_text(data: bytes, options: Options) -> Iterator[Found]:
    """The text of a plain text file; its encoding is detected unless it is given."""
    text, encoding = text_of(data, options)
    if encoding != "utf-8" and not options.encoding:
        yield f"was read as {encoding}."
    yield Piece(text)
