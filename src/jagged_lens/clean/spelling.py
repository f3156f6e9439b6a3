# SPDX-License-Identifier: GPL-3.0-or-later
"""One spelling of a word: plain apostrophes and hyphens, ligatures unfolded, nothing that cannot be seen."""

from __future__ import annotations

import re
import unicodedata

from jagged_lens.language import needs_joiners

_JOINERS = str.maketrans({"’": "'", "\u2010": "-", "\u2011": "-"})
_DROPPED = dict.fromkeys(map(ord, "\u00ad\u200b\u2060\ufeff"))
_SHAPING = "\u200c\u200d"
_SPECIAL = re.compile(
    "[’\u2010\u2011\u00ad\u200b-\u200d\u2060\ufeff\ufb00-\ufb06\ufb13-\ufb17\ufb50-\ufdff\ufe70-\ufefc]"
)
_LIGATURE = re.compile("[\ufb00-\ufb06\ufb13-\ufb17\ufb50-\ufdff\ufe70-\ufefc]")


def as_spelled(forms: list[str]) -> list[str]:
    """The spelling of each form; the same list where nothing changes.

    >>> as_spelled(["don’t", "con\u00adtent", "ﬁeld", "U.S", "crop"])
    ["don't", 'content', 'field', 'U.S.', 'crop']
    """
    together = "".join(forms)
    if "." not in together and not _SPECIAL.search(together):
        return forms
    spelled = [spelling_of(form) if not form.isalnum() or not form.isascii() else form for form in forms]
    return spelled if spelled != forms else forms


def spelling_of(form: str) -> str:
    """The spelling of one form."""
    if _SPECIAL.search(form):
        form = form.translate(_JOINERS).translate(_DROPPED)
        if any(sign in form for sign in _SHAPING):
            form = "".join(
                c
                for at, c in enumerate(form)
                if c not in _SHAPING or (at and needs_joiners(form[at - 1].replace(c, " ")))
            )
        form = _LIGATURE.sub(lambda match: unicodedata.normalize("NFKC", match[0]), form)
    return form + "." if "." in form and _is_initialism(form) else form


def _is_initialism(form: str) -> bool:
    """True if a form is single letters with points between them, and none behind the last."""
    parts = form.split(".")
    return all(len(part) == 1 and unicodedata.category(part)[0] in "LM" for part in parts)
