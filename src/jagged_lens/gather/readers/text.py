# SPDX-License-Identifier: GPL-3.0-or-later
"""Plain text."""

from __future__ import annotations

from collections.abc import Iterator

from jagged_lens.gather.corpus import Doubt
from jagged_lens.gather.encoding import decoded, is_binary, shown
from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable


def text_of(data: bytes, options: Options, said: str = "") -> tuple[str, list[Found]]:
    """The text of bytes, and what there is to say of their encoding. Unreadable where they are no text.

    said: the encoding that the file itself or its server names, which holds unless the options name another.
    """
    if not options.encoding and is_binary(data):
        raise Unreadable("it does not contain text")
    text, guess = decoded(data, options.encoding or said, options.likely)
    if guess.readings:
        return text, [Doubt("", guess.readings)]
    if guess.encoding not in ("utf-8", "utf-8-sig") and not options.encoding and not said:
        return text, [f"was read as {shown(guess.encoding)}."]
    return text, []


def read_text(data: bytes, options: Options) -> Iterator[Found]:
    """The text of a plain text file; its encoding is detected unless it is given."""
    text, words = text_of(data, options, options.said)
    yield from words
    yield Piece(text)
