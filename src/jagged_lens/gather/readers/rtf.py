"""Rich Text Format."""

from __future__ import annotations

from collections.abc import Iterator

from striprtf.striprtf import rtf_to_text

from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable


def read_rtf(data: bytes, options: Options) -> Iterator[Found]:
    """The text of an .rtf file. Unreadable where it is none."""
    if not data.lstrip()[:5] == b"{\\rtf":
        raise Unreadable("it is no RTF")
    try:
        # RTF itself is 7-bit; what is not says in which code page it is, and cp1252 is what that is where it does not.
        yield Piece(
            rtf_to_text(data.decode("latin-1"), encoding=options.encoding or "cp1252", errors="replace").strip()
        )
    except Unreadable:
        raise
    except Exception as error:
        raise Unreadable("it is damaged") from error
