# SPDX-License-Identifier: GPL-3.0-or-later
"""The likely unit of a text: lines, paragraphs, or pieces with a line of marks between them."""

from __future__ import annotations

import re
from collections import Counter

_MARKS = re.compile(r"[^\w\s]{3,}")
_ENOUGH = 4
_Offer = tuple[str, dict[str, str]]


def cuts_offered(text: str) -> list[_Offer]:
    """Ways to cut a text, each in words and as settings of a source; the likeliest first.

    >>> [words for words, _ in cuts_offered("One note here.\\n***\\nTwo notes.\\n***\\nThree.\\n***\\nFour.")]
    ['split at ***: 4 documents']
    """
    lines = [line.strip() for line in text.splitlines()]
    filled = [line for line in lines if line]
    marks = Counter(line for line in filled if _MARKS.fullmatch(line))
    found: list[_Offer] = []
    for mark, count in marks.most_common(1):
        if count + 1 >= _ENOUGH:
            found.append((f"split at {mark}: {count + 1:,} documents", {"cut": "at", "cut-at": mark}))
    paragraphs = [part for part in re.split(r"\n[^\S\n]*\n\s*", text.strip()) if part.strip()]
    if not found and len(paragraphs) >= _ENOUGH:
        found.append((f"one document for each of {len(paragraphs):,} paragraphs", {"cut": "blank-line", "cut-at": ""}))
    wordy = sum(len(line.split()) >= 3 for line in filled)
    if not found and len(filled) >= 2 * _ENOUGH and wordy > 0.8 * len(filled):
        found.append((f"one document for each of {len(filled):,} lines", {"cut": "line", "cut-at": ""}))
    return found
