# SPDX-License-Identifier: GPL-3.0-or-later
"""Stretches of text that are taken out before words are told apart: markup and addresses.

What is taken out counts as one space. Patterns are bounded, so that hostile text cannot make them slow.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Sequence
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray


class Reason(IntEnum):
    """The reason for which a token was removed; KEPT if it was not."""

    KEPT = 0
    MARKUP = 1
    WEB_ADDRESS = 2
    MAIL_ADDRESS = 3
    SYMBOL = 4
    RECURRING_LINE = 5
    RECURRING_SENTENCE = 6
    PATTERN = 7
    JOINED = 8
    NUMBER = 9
    SHORT = 10
    LONG = 11
    NEVER = 12
    STOP_WORD = 13
    NEGATION = 14


_MARKUP = re.compile(
    r"<!--[^\0]{0,5000}?-->"
    r"|<(script|style)\b[^>\0]{0,1000}>[^\0]{0,20000}?</\1\s{0,10}>"
    r"|</?[A-Za-z][^<>\0]{0,1000}>"
    r"|<[!?][A-Za-z][^<>\0]{0,1000}>"
    r"|&(?:#[0-9]{1,7}|#[xX][0-9A-Fa-f]{1,6}|[A-Za-z][A-Za-z0-9]{1,31});",
    re.IGNORECASE,
)
_WEB = re.compile(r"(?<!\w)(?:(?:https?|ftp)://|www\.)[^\s<>\"\0]{0,4000}[^\s<>\"\0.,;:!?…)\]}'’”]", re.IGNORECASE)
_MAIL = re.compile(r"(?<![\w.+-])[\w.+-]{1,64}@[\w-]{1,63}(?:\.[\w-]{1,63}){1,8}")

_RULES = (
    ("markup", Reason.MARKUP, _MARKUP, ("<", "&")),
    ("web-addresses", Reason.WEB_ADDRESS, _WEB, ("://", "www.", "WWW.")),
    ("mail-addresses", Reason.MAIL_ADDRESS, _MAIL, ("@",)),
)


def any_hint(data: bytes, rules: Collection[str]) -> bool:
    """True if a text in UTF-8 may hold anything that some of the rules take out."""
    return any(name in rules and any(hint.encode() in data for hint in hints) for name, _, _, hints in _RULES)


def taken_out(
    text: str,
    rules: Collection[str],
    stretches: Sequence[tuple[int, int, Reason]] = (),
    hits: Counter[Reason] | None = None,
) -> NDArray[np.uint8] | None:
    """For each character of `text` the Reason for which it is taken out; None where nothing is.

    Texts may be joined by NUL, which no stretch crosses. Where stretches overlap, the earlier rule has them. stretches: more of
    them, that were found before (start, end, reason). hits: is told how many each rule took. Gives uint8, one for each character.
    """
    reasons = None
    hits = Counter() if hits is None else hits

    def take(start: int, end: int, reason: Reason) -> None:
        nonlocal reasons
        if reasons is None:
            reasons = np.zeros(len(text), np.uint8)
        stretch = reasons[start:end]
        stretch[stretch == 0] = reason
        hits[reason] += 1

    for name, reason, pattern, hints in _RULES:
        if name in rules and any(hint in text for hint in hints):
            for match in pattern.finditer(text):
                take(*match.span(), reason)
    for start, end, reason in stretches:
        take(start, end, reason)
    return reasons
