# SPDX-License-Identifier: GPL-3.0-or-later
"""Lines and sentences that recur in many documents, such as a footer: boilerplate, overall or within one source or label."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from jagged_lens.language import sentence_spans
from jagged_lens.progress import Progress, unheard

_LEAST = 3  # documents; below this nothing recurs


def recurring_stretches(
    texts: Sequence[str], within: NDArray[np.int32] | None, least: float, rule: str, progress: Progress = unheard
) -> tuple[dict[int, list[tuple[int, int]]], list[tuple[str, int]]]:
    """The positions of recurring lines or sentences: spans by row; and these themselves with the number of their documents, most first.

    A line is compared without the white space around and inside it, in any case; a line without a letter or number is none.
    within: int32, the value of a label (or the source) of each row; a line then recurs within a value. least: in so many
    documents (of the value); below 1 a share of them, but three at the least. rule: recurring-lines or recurring-sentences.
    """
    pieces = _PIECES[rule]
    codes = within if within is not None else np.zeros(len(texts), np.int32)
    size = np.bincount(codes) if len(codes) else np.zeros(1, np.int64)
    counts: Counter[tuple[int, str]] = Counter()
    for row, text in enumerate(texts):
        if row % 2000 == 0:
            progress(0.5 * row / len(texts))
        value = int(codes[row])
        counts.update({(value, line) for line, _, _ in pieces(text)})
    wanted = {
        key
        for key, count in counts.items()
        if count >= max(_LEAST, least * size[key[0]] if least < 1 else least) and any(map(str.isalnum, key[1]))
    }
    spans: dict[int, list[tuple[int, int]]] = {}
    totals: Counter[str] = Counter()
    for key in wanted:
        totals[key[1]] += counts[key]
    if wanted:
        for row, text in enumerate(texts):
            if row % 2000 == 0:
                progress(0.5 + 0.5 * row / len(texts))
            value = int(codes[row])
            found = [(start, end) for line, start, end in pieces(text) if (value, line) in wanted]
            if found:
                spans[row] = found
    return spans, sorted(totals.items(), key=lambda item: (-item[1], item[0]))


def where_they_stand(texts: Sequence[str], wanted: frozenset[str], rule: str) -> dict[int, list[tuple[int, int]]]:
    """The positions of some lines or sentences, as they are compared: spans by row."""
    pieces = _PIECES[rule]
    spans = {}
    for row, text in enumerate(texts) if wanted else ():
        found = [(start, end) for line, start, end in pieces(text) if line in wanted]
        if found:
            spans[row] = found
    return spans


def _lines(text: str) -> list[tuple[str, int, int]]:
    """The lines of a text as they are compared, and where each stands."""
    found = []
    start = 0
    for line in text.split("\n"):
        plain = " ".join(line.split()).casefold()
        if plain:
            found.append((plain, start, start + len(line)))
        start += len(line) + 1
    return found


def _sentences(text: str) -> list[tuple[str, int, int]]:
    """The sentences of a text as they are compared, and where each stands."""
    return [(" ".join(text[start:end].split()).casefold(), start, end) for start, end in sentence_spans(text)]


_PIECES = {"recurring-lines": _lines, "recurring-sentences": _sentences}
