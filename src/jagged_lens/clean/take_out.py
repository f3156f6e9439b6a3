"""Stretches of text that are taken out before words are told apart: markup and addresses.

What is taken out counts as one space. Patterns are bounded, so that hostile text cannot make them slow.
"""

from __future__ import annotations

import re
from collections.abc import Collection
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray


class Reason(IntEnum):
    """Why a token was taken; KEPT if it was not."""

    KEPT = 0
    MARKUP = 1
    WEB_ADDRESS = 2
    MAIL_ADDRESS = 3
    NUMBER = 4
    SHORT = 5
    LONG = 6
    STOP_WORD = 7


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


def taken_out(text: str, rules: Collection[str]) -> NDArray[np.uint8] | None:
    """For each character of `text` the Reason for which it is taken out; None where nothing is.

    Texts may be joined by NUL, which no stretch crosses. Where stretches overlap, the earlier rule has them.
    """
    reasons = None
    for name, reason, pattern, hints in _RULES:
        if name not in rules or not any(hint in text for hint in hints):
            continue
        for match in pattern.finditer(text):
            if reasons is None:
                reasons = np.zeros(len(text), np.uint8)
            stretch = reasons[match.start() : match.end()]
            stretch[stretch == 0] = reason
    return reasons
