# SPDX-License-Identifier: GPL-3.0-or-later
"""Units of analysis: the whole document, or each paragraph, sentence or line of it."""

from __future__ import annotations

import dataclasses
import re

import numpy as np

from jagged_lens.gather.corpus import Corpus, Number
from jagged_lens.language import language_of, sentence_spans
from jagged_lens.strings import Strings, StringsBuilder

# A unit runs from its first to its last character that is not white space.
_BETWEEN = {
    "paragraph": re.compile(r"\n[^\S\n]*\n\s*"),
    "line": re.compile(r"\n\s*"),
}


def units_of(corpus: Corpus, unit: str) -> Corpus:
    """The corpus with each paragraph, sentence or line as a document of its own.

    Each keeps the labels, date and origin of the whole, has its key with #1, #2 … behind it, and knows what stands before
    it in the whole. Sentences end by the rules of the likely language of each document. A document without any text stays as
    one empty unit, so that it is not lost from sight.
    """
    if unit == "document":
        return corpus
    keys, texts, titles, parents, gaps = (StringsBuilder() for _ in range(5))
    rows: list[int] = []
    for row, (key, text, title) in enumerate(zip(corpus.keys, corpus.texts, corpus.titles, strict=True)):
        found = _spans(text, unit) or [(0, len(text))]
        last = 0
        for number, (start, end) in enumerate(found, 1):
            keys.append(f"{key}#{number}")
            texts.append(text[start:end])
            titles.append(f"{title} · {number}")
            parents.append(key)
            rows.append(row)
            gaps.append(text[last:start])
            last = end
    of = np.array(rows, np.int64)
    return dataclasses.replace(
        corpus,
        keys=keys.strings(),
        texts=texts.strings(),
        titles=titles.strings(),
        origins=corpus.origins.take(of),
        labels=tuple(label.take(of) for label in corpus.labels),
        numbers=tuple(Number(number.name, number.values[of]) for number in corpus.numbers),
        dates=corpus.dates[of] if len(corpus.dates) else corpus.dates,
        source=corpus.source[of] if len(corpus.source) else corpus.source,
        parents=parents.strings(),
        gaps=gaps.strings(),
    )


def wholes_of(corpus: Corpus) -> Corpus:
    """The whole documents of a corpus of units, as they were before `units_of`, without white space behind the last unit."""
    if corpus.parents is None or corpus.gaps is None:
        return corpus
    first: list[int] = []
    texts: list[list[str]] = []
    before = None
    for row, (parent, gap, text) in enumerate(zip(corpus.parents, corpus.gaps, corpus.texts, strict=True)):
        if parent != before:  # the units of a document stand one after the other
            first.append(row)
            texts.append([])
            before = parent
        texts[-1] += (gap, text)
    of = np.array(first, np.int64)
    return dataclasses.replace(
        corpus.take(of),
        keys=corpus.parents.take(of),
        texts=Strings.of("".join(parts) for parts in texts),
        titles=Strings.of(title.removesuffix(" · 1") for title in corpus.titles.take(of)),
        notices=corpus.notices,
        unread=corpus.unread,
        doubts=corpus.doubts,
        counts=corpus.counts,
        stamps=corpus.stamps,
    )


def _spans(text: str, unit: str) -> list[tuple[int, int]]:
    if unit == "sentence":
        return sentence_spans(text, language_of(text))
    return spans_between(text, _BETWEEN[unit])


def spans_between(text: str, between: re.Pattern[str]) -> list[tuple[int, int]]:
    """The text between the matches of a pattern, stripped, empty pieces left out.

    >>> spans_between("One.\\nTwo!\\n  Three", _BETWEEN["line"])
    [(0, 4), (5, 9), (12, 17)]
    """
    found = []
    start = 0
    for match in [*between.finditer(text), None]:
        end = match.start() if match else len(text)
        inner = text[start:end]
        if inner.strip():
            found.append((start + len(inner) - len(inner.lstrip()), start + len(inner.rstrip())))
        start = match.end() if match else end
    return found
