# SPDX-License-Identifier: GPL-3.0-or-later
"""One text cut into many documents."""

from __future__ import annotations

from collections.abc import Iterator

from jagged_lens.gather.readers import Piece
from jagged_lens.gather.source import Source

_TITLE = 60


def pieces_of(piece: Piece, source: Source) -> Iterator[Piece]:
    """The piece itself, or what it is cut into, each named by its number and titled by its first line.

    What stands between two cuts and holds nothing is no document.
    """
    cutter = source.cutter()
    if cutter is None:
        yield piece
        return
    number, start = 0, 0
    text = piece.text.replace("\r\n", "\n").replace("\r", "\n")
    spans = [*(match.span() for match in cutter.finditer(text)), (len(text), len(text))]
    for end, after in spans:
        part = text[start:end].strip("\n")
        start = after
        if part.strip():
            number += 1
            first = part.strip().partition("\n")[0]
            title = first if len(first) <= _TITLE else first[:_TITLE].rsplit(" ", 1)[0] + "…"
            yield Piece(part, title, str(number), piece.date)
