"""Find in all texts: words and phrases, in any case; all of them must be there."""

from __future__ import annotations

import re
from dataclasses import dataclass

from jagged_lens.gather.corpus import Corpus
from jagged_lens.progress import Progress, unheard

_PARTS = re.compile(r'"([^"]+)"|(\S+)')


@dataclass(frozen=True)
class Query:
    """What is looked for: one pattern for each word or phrase."""

    patterns: tuple[re.Pattern[str], ...]

    def spans(self, text: str) -> list[tuple[int, int]]:
        """Where the parts of the query stand in a text, in order."""
        return sorted(match.span() for pattern in self.patterns for match in pattern.finditer(text))

    def holds(self, text: str) -> bool:
        return all(pattern.search(text) for pattern in self.patterns)


def query_of(words: str) -> Query:
    """Words are whole words; with * at the end all that begin so; "in quotes" a phrase, over any white space.

    >>> query_of('slug* "first sowing"').spans("The slugs took the first  sowing.")
    [(4, 9), (19, 32)]
    """
    patterns = []
    for phrase, word in _PARTS.findall(words):
        part = phrase or word
        open_end = part.endswith("*")
        pieces = [re.escape(piece) for piece in part.rstrip("*").split()]
        if pieces:
            body = r"\s+".join(pieces)
            before = r"(?<!\w)" if part[0].isalnum() else ""
            after = r"\w*" if open_end else (r"(?!\w)" if part[-1].isalnum() else "")
            patterns.append(re.compile(before + body + after, re.IGNORECASE))
    return Query(tuple(patterns))


def find(corpus: Corpus, words: str, progress: Progress = unheard) -> list[int]:
    """The corpus rows whose text holds every part of the query; none for an empty query."""
    query = query_of(words)
    if not query.patterns:
        return []
    found = []
    for row, text in enumerate(corpus.texts):
        if row % 2000 == 0:
            progress(row / len(corpus))
        if query.holds(text):
            found.append(row)
    return found
