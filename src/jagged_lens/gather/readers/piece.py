# SPDX-License-Identifier: GPL-3.0-or-later
"""The input and output of readers."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field

from jagged_lens.gather.corpus import Doubt, Unread


class Unreadable(Exception):  # noqa: N818 - it is a reason, not a fault of ours
    """A file gives no text; the message is the reason, in words that go on from its name."""


@dataclass(frozen=True)
class Options:
    """encoding: overrules what is detected. replies: "drop" leaves out what an e-mail quotes. likely: what other files of the source
    say for encodings, as logarithms. said: the encoding that came with a page, from its server."""

    encoding: str = ""
    replies: str = "keep"
    likely: Mapping[str, float] = field(default_factory=dict)
    said: str = ""


@dataclass(frozen=True)
class Piece:
    """One document found in a file. name: inside its file, where that holds several. date: as it is written there."""

    text: str
    title: str = ""
    name: str = ""
    date: str = ""


Found = Piece | Unread | Doubt | str
"""A document, something that gave none, an encoding in doubt, or a notice."""


@dataclass(frozen=True)
class Reader:
    """name: for the user. endings: of the files it takes. apart: whether it runs in a process of its own, because the
    library behind it can be made to hang or to eat memory."""

    name: str
    endings: tuple[str, ...]
    read: Callable[[bytes, Options], Iterator[Found]]
    apart: bool = True
