# SPDX-License-Identifier: GPL-3.0-or-later
"""Telling spans of bytes apart, a whole collection at once and exactly.

A span of up to 16 bytes is two 64-bit numbers, read straight from memory; longer ones are rare in any language and are told
apart one by one. Pairs of numbers are then told apart by an open table: each writes its place at the cell that a
multiplicative hash gives it, and all that find their own numbers at the place that stayed there are done; what is left goes
into another round with another multiplier (Knuth, "The Art of Computer Programming", vol. 3, 6.4, for the hash).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

PADDING = 16
"""So many bytes must follow the last span."""

_ODD = 0x9E3779B97F4A7C15
_ROUNDS = 12
_MASKS = np.array([(1 << (8 * count)) - 1 for count in range(9)], np.uint64)


def packed(
    data: bytes, starts: NDArray[np.int64], ends: NDArray[np.int64]
) -> tuple[NDArray[np.uint64], NDArray[np.uint64], list[bytes]]:
    """Each span of `data` as two numbers, low and high, and the spans of more than 16 bytes, each once.

    Such a span is low 0 and high 1 + its place among them; others have no low of 0, for no span holds a NUL. starts, ends: int64,
    s of each, in bytes; low and high: uint64, s of each.
    """
    lengths = ends - starts
    words = np.ndarray((len(data) - 7,), "<u8", data, strides=(1,))
    low = words[starts] & _MASKS[np.minimum(lengths, 8)]
    high = np.zeros(len(starts), np.uint64)
    long = np.flatnonzero(lengths > 8)
    if len(long):
        high[long] = words[starts[long] + 8] & _MASKS[np.minimum(lengths[long] - 8, 8)]
    known: dict[bytes, int] = {}
    longer = long[lengths[long] > 16]
    if len(longer):
        spans = zip(starts[longer].tolist(), ends[longer].tolist(), strict=True)
        low[longer] = 0
        high[longer] = [1 + known.setdefault(data[start:end], len(known)) for start, end in spans]
    return low, high, list(known)


def numbered(low: NDArray[np.uint64], high: NDArray[np.uint64]) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """The number of each pair among the different ones, counted by where each stands first; and where that is.

    low, high: uint64, s of each. Gives int32 (s) and int64 (one for each different pair).
    """
    count = len(low)
    bits = max(8, int(count).bit_length() + 1)
    table = np.zeros(1 << bits, np.int32)
    like = np.arange(count, dtype=np.int32)  # the first place that holds the same pair
    multiplier = _ODD
    open_, low_, high_ = like, low, high
    for _ in range(_ROUNDS):
        if not len(open_):
            break
        mixed = (low_ ^ (high_ * np.uint64(multiplier ^ 0xD6E8FEB86659FD93))) * np.uint64(multiplier)
        cell = (mixed >> np.uint64(64 - bits)).view(np.int64)
        table[cell[::-1]] = open_[::-1]  # the last one written stays, which is the first place
        first = table[cell]
        same = (low[first] == low_) & (high[first] == high_)
        if len(open_) == count:
            like = np.where(same, first, like)
        else:
            like[open_[same]] = first[same]
        other = ~same
        open_, low_, high_ = open_[other], low_[other], high_[other]
        multiplier = multiplier * _ODD % 2**64
    if len(open_):  # only pairs made to meet get here
        known: dict[tuple[int, int], int] = {}
        pairs = zip(low_.tolist(), high_.tolist(), open_.tolist(), strict=True)
        like[open_] = [known.setdefault((one, other), place) for one, other, place in pairs]
    begins = like == np.arange(count, dtype=np.int32)
    return (np.cumsum(begins, dtype=np.int32) - 1)[like], np.flatnonzero(begins)
