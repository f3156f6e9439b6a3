# SPDX-License-Identifier: GPL-3.0-or-later
"""The text that two documents share word for word, in the order of both: aligned runs.

Runs of four words that stand once in each text are anchors; the longest chain of anchors that keeps the order of both texts is kept
(longest increasing subsequence: Fredman, "On computing the length of longest increasing subsequences", 1975) and grown to both sides
as far as the words are equal. What is left between two runs is aligned in the same way by shorter runs.
"""

from __future__ import annotations

import bisect
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import split

_ANCHORS = (4, 2, 1)  # words of a run
_APART = 12  # words: as much may differ within a band


@dataclass(frozen=True, eq=False)
class Aligned:
    """k runs of words that are equal in both texts, in order.

    first, second: int64, k × 2, from where to where each stands, in words. first_words, second_words: int64, w × 2, the span of each
    word in code points. bands: int64, b × 2, of runs: those from the one number to before the other lie close together in both.
    """

    first: NDArray[np.int64]
    second: NDArray[np.int64]
    first_words: NDArray[np.int64]
    second_words: NDArray[np.int64]
    bands: NDArray[np.int64]

    def alone(self, side: int) -> NDArray[np.int64]:
        """The words of one text (0 or 1) that are in no run: spans in code points (int64, u × 2)."""
        runs, words = (self.first, self.first_words) if side == 0 else (self.second, self.second_words)
        inside = np.zeros(len(words) + 1, np.int64)
        np.add.at(inside, runs[:, 0], 1)
        np.add.at(inside, runs[:, 1], -1)
        alone: NDArray[np.int64] = words[np.cumsum(inside)[:-1] == 0]
        return alone

    def places(self) -> NDArray[np.int64]:
        """The position of each band in both texts: code points, from and to in the first, from and to in the second (int64, b × 4)."""
        if not len(self.bands):
            return np.zeros((0, 4), np.int64)
        begin, end = self.bands[:, 0], self.bands[:, 1] - 1
        return np.stack(
            (
                self.first_words[self.first[begin, 0], 0],
                self.first_words[self.first[end, 1] - 1, 1],
                self.second_words[self.second[begin, 0], 0],
                self.second_words[self.second[end, 1] - 1, 1],
            ),
            axis=1,
        )


def aligned(first: str, second: str) -> Aligned:
    """The aligned runs of two texts. Words are compared as kinds of pairs are told: in lower case, nothing taken out."""
    found = split([first, second])
    number: dict[str, int] = {}
    lower = np.array([number.setdefault(form.lower(), len(number)) for form in found.forms], np.int64)
    word = lower[found.form] if len(found.form) else np.zeros(0, np.int64)
    spans = np.stack((found.start, found.start + found.length), axis=1).astype(np.int64)
    cut = int(found.row_starts[1])
    a, b = word[:cut], word[cut:]
    runs: list[tuple[int, int, int]] = []  # from in the first, from in the second, words
    waiting = [(0, len(a), 0, len(b), 0)]
    while waiting:
        low, high, start, end, level = waiting.pop()
        if low >= high or start >= end or level == len(_ANCHORS):
            continue
        chain = _chain(a[low:high], b[start:end], _ANCHORS[level])
        at, to = low, start
        for one, other in chain:
            one, other = one + low, other + start
            if one < at or other < to:
                continue
            begin, beside = one, other
            while begin > at and beside > to and a[begin - 1] == b[beside - 1]:
                begin, beside = begin - 1, beside - 1
            stop, last = one, other
            while stop < high and last < end and a[stop] == b[last]:
                stop, last = stop + 1, last + 1
            runs.append((begin, beside, stop - begin))
            waiting.append((at, begin, to, beside, level))
            at, to = stop, last
        waiting.append((at, high, to, end, level if chain else level + 1))
    table = np.array(sorted(runs), np.int64).reshape(-1, 3)
    ends = table[:, [0, 1]] + table[:, [2]]
    runs_a, runs_b = _touching(np.stack((table[:, 0], ends[:, 0]), axis=1), np.stack((table[:, 1], ends[:, 1]), axis=1))
    return Aligned(runs_a, runs_b, spans[:cut], spans[cut:], _bands(runs_a, runs_b))


def _chain(a: NDArray[np.int64], b: NDArray[np.int64], run: int) -> list[tuple[int, int]]:
    """The longest chain, rising in both, of runs of so many words that stand once in each."""
    if len(a) < run or len(b) < run:
        return []
    keys = np.concatenate((a[: len(a) - run + 1], b[: len(b) - run + 1]))
    cut = len(a) - run + 1
    for step in range(1, run):
        _, keys = np.unique(keys, return_inverse=True)
        following = np.concatenate((a[step : step + cut], b[step : step + len(b) - run + 1]))
        keys = keys.ravel() * (following.max() + 1) + following
    _, keys = np.unique(keys, return_inverse=True)
    keys = keys.ravel()
    many = int(keys.max()) + 1
    once = (np.bincount(keys[:cut], minlength=many) == 1) & (np.bincount(keys[cut:], minlength=many) == 1)
    place = np.zeros(many, np.int64)
    place[keys[cut:]] = np.arange(len(keys) - cut)
    own = np.flatnonzero(once[keys[:cut]])
    theirs = place[keys[own]].tolist()
    # Patience sorting: of each length of chain the place where its last link stands lowest, and the link before each.
    ends: list[int] = []
    links: list[int] = []
    before = [-1] * len(theirs)
    for at, value in enumerate(theirs):
        pile = bisect.bisect_left(ends, value)
        before[at] = links[pile - 1] if pile else -1
        if pile == len(ends):
            ends.append(value)
            links.append(at)
        else:
            ends[pile], links[pile] = value, at
    chain: list[tuple[int, int]] = []
    at = links[-1] if links else -1
    while at >= 0:
        chain.append((int(own[at]), theirs[at]))
        at = before[at]
    return chain[::-1]


def _touching(own: NDArray[np.int64], other: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Runs that follow each other in both texts without a word between are one."""
    if len(own) < 2:
        return own, other
    apart = np.concatenate(([True], (own[1:, 0] != own[:-1, 1]) | (other[1:, 0] != other[:-1, 1])))
    first = np.flatnonzero(apart)
    last = np.append(first[1:], len(own)) - 1
    return (
        np.stack((own[first, 0], own[last, 1]), axis=1),
        np.stack((other[first, 0], other[last, 1]), axis=1),
    )


def _bands(own: NDArray[np.int64], other: NDArray[np.int64]) -> NDArray[np.int64]:
    """Stretches of runs between which only a few words differ, each of at least four equal words."""
    if not len(own):
        return np.zeros((0, 2), np.int64)
    gap = np.maximum(own[1:, 0] - own[:-1, 1], other[1:, 0] - other[:-1, 1])
    starts = np.concatenate(([0], np.flatnonzero(gap > _APART) + 1))
    ends = np.append(starts[1:], len(own))
    words = np.concatenate((np.zeros(1, np.int64), np.cumsum(own[:, 1] - own[:, 0])))
    enough = words[ends] - words[starts] >= _ANCHORS[0]
    return np.stack((starts[enough], ends[enough]), axis=1)
