# SPDX-License-Identifier: GPL-3.0-or-later
"""Search-and-replace patterns of the user's own, with the way back to the text as it was gathered."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.expressions import expression
from jagged_lens.progress import Progress, unheard


@dataclass(frozen=True)
class Replacement:
    """pattern is replaced by words; "" takes it out, and counts what it took."""

    pattern: re.Pattern[str]
    words: str


def replacement_of(rule: str) -> Replacement:
    r"""A rule as it is written: /regular expression/ = words, or text = words. ValueError says what is wrong.

    >>> replacement_of(r"/plot \d+/ = plot").words, replacement_of("cv. = ").pattern.pattern
    ('plot', 'cv\\.')
    """
    if rule.startswith("/"):
        end = rule.rfind("/ =") if "/ =" in rule else rule.rfind("/=")
        if end < 1:
            raise ValueError(f'"{rule}" lacks the closing / of its expression; write /expression/ = words')
        pattern, words = rule[1:end], rule[end + 1 :].partition("=")[2]
        try:
            compiled = expression(pattern)
        except ValueError as error:
            raise ValueError(f'"{pattern}" cannot be used: {error}') from None
        if compiled.match(""):
            raise ValueError(f'"{pattern}" matches the empty string')
        return Replacement(compiled, words.strip())
    text, mark, words = rule.partition("=")
    if not mark or not text.strip():
        raise ValueError(f'"{rule}" is not a rule; write text = words, or /expression/ = words')
    return Replacement(re.compile(re.escape(text.strip())), words.strip())


@dataclass(frozen=True, eq=False)
class Replaced:
    """texts: after replacing. back: for each changed row, the starts of stretches in the new text (b int64), and their shifts back to the old
    text. Within a replacement the old stretch is kept whole. hits, documents: for each rule, the number of
    replacements and of their documents."""

    texts: Sequence[str]
    back: dict[int, tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]]
    hits: tuple[int, ...]
    documents: tuple[int, ...]

    def spans(
        self, row: int, starts: NDArray[np.int64], ends: NDArray[np.int64]
    ) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """The positions of spans of the new text of a row in the old one.

        starts, ends: int64, s of each, in code points; gives two like them.
        """
        if row not in self.back:
            return starts, ends
        at, begins, finishes = self.back[row]
        first = np.searchsorted(at, starts, "right") - 1
        last = np.searchsorted(at, ends - 1, "right") - 1
        inside = finishes[first] >= 0
        old_starts = np.where(inside, begins[first], begins[first] + starts - at[first])
        old_ends = np.where(finishes[last] >= 0, finishes[last], begins[last] + ends - at[last])
        return old_starts, old_ends


def replaced(texts: Sequence[str], rules: Sequence[Replacement], progress: Progress = unheard) -> Replaced:
    """Replace in all texts, one rule after the other, each on what the one before it left."""
    if not rules:
        return Replaced(texts, {}, (), ())
    new: list[str] = []
    back = {}
    hits, documents = [0] * len(rules), [0] * len(rules)
    for row, text in enumerate(texts):
        if row % 2000 == 0:
            progress(row / len(texts))
        # Pieces of the text: old start, and old end where the piece was put in place of something (-1 where it was not).
        pieces: list[tuple[str, int, int]] | None = None
        for number, rule in enumerate(rules):
            found = list(rule.pattern.finditer(text))
            if not found:
                continue
            hits[number] += len(found)
            documents[number] += 1
            pieces = _cut(pieces or [(text, 0, -1)], [match.span() for match in found], rule.words)
            text = "".join(piece for piece, _, _ in pieces)
        if pieces is not None:
            lengths = np.array([len(piece) for piece, _, _ in pieces])
            filled = lengths > 0
            at = (np.cumsum(lengths) - lengths)[filled]
            begins = np.array([start for _, start, _ in pieces])[filled]
            finishes = np.array([end for _, _, end in pieces])[filled]
            back[row] = (at, begins, finishes)
        new.append(text)
    return Replaced(new, back, tuple(hits), tuple(documents))


def _cut(pieces: list[tuple[str, int, int]], spans: list[tuple[int, int]], words: str) -> list[tuple[str, int, int]]:
    """The pieces with the spans (of their joined text) replaced by words."""
    result: list[tuple[str, int, int]] = []
    at = 0
    waiting = iter([*spans, (1 << 62, 1 << 62)])
    start, end = next(waiting)
    opened: int | None = None  # where, in the old text, the stretch begins that is being replaced
    for piece, old, old_end in pieces:
        place = 0
        while place < len(piece) or not piece:
            if not piece:
                result.append((piece, old, old_end))
                break
            here = at + place
            if opened is None and here >= start:
                opened = old if old_end >= 0 else old + place
            if opened is None:
                stop = min(len(piece), start - at)
                result.append((piece[place:stop], old if old_end >= 0 else old + place, old_end))
                place = stop
                continue
            stop = min(len(piece), end - at)
            place = stop
            if at + stop == end:
                finish = old_end if old_end >= 0 else old + stop
                result.append((words, opened, finish))
                opened = None
                start, end = next(waiting)
        at += len(piece)
    return result
