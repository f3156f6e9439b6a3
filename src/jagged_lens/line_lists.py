# SPDX-License-Identifier: GPL-3.0-or-later

r"""Lists as plain text, an entry a line: from # on a comment, \# where the sign itself is meant."""

from __future__ import annotations

import re
from collections.abc import Iterable

_COMMENT = re.compile(r"(?<!\\)#.*", re.DOTALL)


def is_inside(name: str) -> bool:
    r"""True if what a setting says is a list itself, not the name of its file: it has more than one line, or ends its only one.

    >>> is_inside("words.txt"), is_inside("slug\nfrost"), is_inside("slug\n")
    (False, True, True)
    """
    return "\n" in name


def shown_list(name: str) -> str:
    r"""The name of a list for a sentence; a list inside a recipe has none, and says how many entries it has.

    >>> shown_list("words.txt"), shown_list("slug\nfrost\n")
    ('words.txt', 'inside the recipe (2)')
    """
    return f"inside the recipe ({len(entries_in(name))})" if is_inside(name) else name


def entry_in(line: str) -> str:
    r"""The entry of a line, without its comment; "" where there is none.

    >>> entry_in("slug, snail   # of one kind"), entry_in(r"c\#"), entry_in("# ours")
    ('slug, snail', 'c#', '')
    """
    return _COMMENT.sub("", line).replace("\\#", "#").strip()


def entries_in(text: str) -> list[str]:
    r"""The entries of a text, in their order. A line that begins with / is an expression, in which # is no comment.

    >>> entries_in("slug # a pest\n\n/plot #\\d+/ = plot\r\nc\\#")
    ['slug', '/plot #\\d+/ = plot', 'c#']
    """
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    found = (line.replace("\\#", "#").strip() if line.startswith("/") else entry_in(line) for line in lines)
    return [entry for entry in found if entry]


def text_of(entries: Iterable[str]) -> str:
    r"""The text of a list, which `entries_in` reads back as it was.

    >>> text_of(["c#", "slug"])
    'c\\#\nslug\n'
    """
    return "".join("{}\n".format(entry.replace("#", "\\#")) for entry in entries)
