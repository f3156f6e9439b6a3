# SPDX-License-Identifier: GPL-3.0-or-later
"""Find in all texts: words and phrases, in any case; all of them must be there."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather.corpus import Corpus
from jagged_lens.progress import Progress, unheard
from jagged_lens.strings import Strings, fold

_AT_ONCE = 2000
_PIECE = 30_000  # characters of a text that are looked through at a time
_REACH = 10_000  # so far may a phrase that begins there go on

_PARTS = re.compile(r'"([^"]+)"|(\S+)')


@dataclass(frozen=True)
class Query:
    """The query: one pattern for each word or phrase, and the longest stretch of each that must occur, folded."""

    patterns: tuple[re.Pattern[str], ...]
    stretches: tuple[str, ...]

    def spans(self, text: str) -> list[tuple[int, int]]:
        """The positions of the parts of the query in a text, in order."""
        return sorted(span for pattern in self.patterns for span in _spans(pattern, text))

    def holds(self, text: str) -> bool:
        """True if a text holds every word and phrase of the query."""
        return all(pattern.search(text) for pattern in self.patterns)

    def likely(self, texts: Strings) -> NDArray[np.int64]:
        """The texts that hold all stretches: what is found is among them. All texts are searched at once, without patterns.

        Gives their rows: int64, rising.
        """
        lines = texts.folded_lines()
        return np.flatnonzero(np.all([lines.lines_with(stretch) for stretch in self.stretches], axis=0))


def _spans(pattern: re.Pattern[str], text: str) -> Iterator[tuple[int, int]]:
    """The position of a pattern in a text. It is looked for in pieces, so that other threads have their turn."""
    at = 0
    while at < len(text):
        end = at + _PIECE
        reach = min(end + _REACH, len(text))
        found = pattern.search(text, at, reach)
        while found is not None and found.start() < end:
            whole = found if found.end() < reach or reach == len(text) else pattern.match(text, found.start())
            if whole is not None:  # else it only seemed so, since the piece ends in the middle of a word
                yield whole.span()
            at = whole.end() if whole is not None else found.start() + 1
            found = pattern.search(text, at, reach) if at < reach else None
        at = max(at, end)


def query_of(words: str) -> Query:
    """Words are whole words; with * at the end all that begin so; "in quotes" a phrase, over any white space.

    >>> query_of('slug* "first sowing"').spans("The slugs took the first  sowing.")
    [(4, 9), (19, 32)]
    """
    patterns, stretches = [], []
    for phrase, word in _PARTS.findall(words):
        part = phrase or word
        open_end = part.endswith("*")
        pieces = part.rstrip("*").split()
        if pieces:
            body = r"\s+".join(map(re.escape, pieces))
            before = r"(?<!\w)" if part[0].isalnum() else ""
            after = r"\w*" if open_end else (r"(?!\w)" if part[-1].isalnum() else "")
            patterns.append(re.compile(before + body + after, re.IGNORECASE))
            stretches.append(fold(max(pieces, key=len)))
    return Query(tuple(patterns), tuple(stretches))


def find(corpus: Corpus, words: str, progress: Progress = unheard) -> list[int]:
    """The corpus rows whose text holds every part of the query; none for an empty query."""
    query = query_of(words)
    if not query.patterns:
        return []
    found = []
    for first in range(0, len(corpus), _AT_ONCE):
        progress(first / len(corpus))
        texts = corpus.texts.between(first, min(first + _AT_ONCE, len(corpus)))
        found += [first + row for row in query.likely(texts).tolist() if query.holds(texts[row])]
    return found
