"""Texts to tokens, the whole collection at once.

Texts are laid end to end as an array of code points; one table look-up tells what each character is, and differences
of that give the boundaries. Tokens are told apart by a polynomial hash modulo 2⁶⁴, which one cumulative sum gives for
every span, and each is verified against one representative; a Python string is made once for each distinct form.
Rabin & Karp, "Efficient randomized pattern-matching algorithms", 1987, for the hash of a span from running sums.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import characters
from jagged_lens.clean.take_out import taken_out
from jagged_lens.progress import Progress, unheard

_CHUNK = 2_000_000  # characters; keeps the arrays of a chunk to tens of megabytes
_BASE = 0x9E3779B97F4A7C15 | 1
_INVERSE = pow(_BASE, -1, 2**64)
_LENGTH_MIX = np.uint64(0xD6E8FEB86659FD93)
_PLAIN_JOINERS = str.maketrans({"’": "'", "\u2010": "-", "\u2011": "-"})


@dataclass(frozen=True, eq=False)
class Split:
    """All t tokens of n texts. row_starts: int64, n + 1; the others: t each.

    form: int32, index into forms; start, length: int32, the span in code points within its text; taken: uint8, the
    Reason for which the stretch it stands in is taken out (0: none); sentence_end: bool, a sentence ends between this
    token and the next one of the text.
    """

    row_starts: NDArray[np.int64]
    form: NDArray[np.int32]
    start: NDArray[np.int32]
    length: NDArray[np.int32]
    taken: NDArray[np.uint8]
    sentence_end: NDArray[np.bool_]
    forms: list[str]


def split(
    texts: Sequence[str],
    *,
    letters_only: bool = False,
    join_hyphens: bool = False,
    take_out: Collection[str] = (),
    progress: Progress = unheard,
) -> Split:
    """Split texts into tokens: runs of word characters (or of letters and marks alone).

    An apostrophe between two word characters stays, as ' (not with letters_only); a hyphen too if join_hyphens.
    """
    known: dict[str, int] = {}
    parts = []
    done = 0
    for chunk in _chunks(texts):
        progress(done / max(1, len(texts)))
        parts.append(_split_chunk(chunk, known, letters_only, join_hyphens, take_out))
        done += len(chunk)
    if not parts:
        parts = [_split_chunk([], known, letters_only, join_hyphens, take_out)]
    counts, form, start, length, taken, sentence_end = (np.concatenate(arrays) for arrays in zip(*parts, strict=True))
    row_starts = np.zeros(len(counts) + 1, np.int64)
    np.cumsum(counts, out=row_starts[1:])
    return Split(row_starts, form, start, length, taken, sentence_end, list(known))


def _chunks(texts: Sequence[str]) -> Iterator[list[str]]:
    chunk: list[str] = []
    size = 0
    for text in texts:
        if size + len(text) > _CHUNK and chunk:
            yield chunk
            chunk, size = [], 0
        chunk.append(text)
        size += len(text) + 1
    if chunk:
        yield chunk


def _split_chunk(
    texts: list[str], known: dict[str, int], letters_only: bool, join_hyphens: bool, take_out: Collection[str]
) -> tuple[
    NDArray[np.int64], NDArray[np.int32], NDArray[np.int32], NDArray[np.int32], NDArray[np.uint8], NDArray[np.bool_]
]:
    joined = "\0".join(texts) + "\0"
    codes = np.frombuffer(joined.encode("utf-32-le"), np.uint32)
    text_starts = np.zeros(len(texts) + 1, np.int64)
    np.cumsum([len(text) + 1 for text in texts], out=text_starts[1:])
    kinds = characters.kinds_of(codes)
    taken = taken_out(joined, take_out)

    word = (kinds & (characters.LETTER if letters_only else characters.LETTER | characters.NUMBER)) != 0
    if not letters_only:
        joiner = characters.APOSTROPHE | (characters.HYPHEN if join_hyphens else 0)
        inside = np.flatnonzero((kinds[1:-1] & joiner != 0) & word[:-2] & word[2:]) + 1
        if taken is not None:
            inside = inside[(taken[inside - 1] == taken[inside]) & (taken[inside] == taken[inside + 1])]
        word[inside] = True
        codes = codes.copy()
        codes[inside] = np.where(kinds[inside] == characters.APOSTROPHE, ord("'"), ord("-"))

    before = np.concatenate(([False], word[:-1]))
    begins = word & ~before
    if taken is not None:
        begins[1:] |= word[1:] & before[1:] & (taken[1:] != taken[:-1])
    starts = np.flatnonzero(begins)
    # A run ends where the next character is no word character, or where another run begins at once.
    ends_mask = word.copy()
    ends_mask[:-1] &= ~word[1:] | begins[1:]
    ends = np.flatnonzero(ends_mask) + 1

    token_starts = np.searchsorted(starts, text_starts)
    counts = np.diff(token_starts)
    last_of_text = token_starts[1:][counts > 0] - 1
    return (
        counts,
        _forms(joined, codes, starts, ends, known),
        (starts - np.repeat(text_starts[:-1], counts)).astype(np.int32),
        (ends - starts).astype(np.int32),
        np.zeros(len(starts), np.uint8) if taken is None else taken[starts],
        _sentence_ends(codes, kinds, taken, starts, ends, last_of_text),
    )


def _sentence_ends(
    codes: NDArray[np.uint32],
    kinds: NDArray[np.uint8],
    taken: NDArray[np.uint8] | None,
    starts: NDArray[np.int64],
    ends: NDArray[np.int64],
    last_of_text: NDArray[np.int64],
) -> NDArray[np.bool_]:
    """Whether . ! ? or … before white space or the end of the text, or a blank line, follows each token."""
    space = (kinds & characters.SPACE) != 0
    mark = (kinds & characters.SENTENCE_MARK) != 0
    feed = codes == ord("\n")
    if taken is not None:
        out = taken > 0
        space |= out
        mark &= ~out
        feed &= ~out
    closing = np.flatnonzero(mark)
    closing = closing[space[closing + 1] | (codes[closing + 1] == 0)]  # a NUL closes every text, so +1 is there
    feeds = np.flatnonzero(feed)
    solid = np.cumsum(~space, dtype=np.int32)
    blank = feeds[1:][solid[feeds[1:]] == solid[feeds[:-1]]]
    breaks = np.sort(np.concatenate((closing, blank)))
    flags = np.zeros(len(starts), np.bool_)
    if len(starts):
        flags[:-1] = np.searchsorted(breaks, ends[:-1]) < np.searchsorted(breaks, starts[1:])
        flags[last_of_text] = True
    return flags


def _forms(
    joined: str, codes: NDArray[np.uint32], starts: NDArray[np.int64], ends: NDArray[np.int64], known: dict[str, int]
) -> NDArray[np.int32]:
    """The number of each token's form in `known`, which grows by the forms that are new."""
    if not len(starts):
        return np.zeros(0, np.int32)
    powers, inverses = _powers(len(codes))
    sums = np.zeros(len(codes) + 1, np.uint64)
    np.cumsum(codes * powers[: len(codes)], out=sums[1:])
    lengths = ends - starts
    keys = (sums[ends] - sums[starts]) * inverses[starts] ^ lengths.astype(np.uint64) * _LENGTH_MIX
    _, first, inverse = np.unique(keys, return_index=True, return_inverse=True)
    if _all_alike(codes, starts, lengths, first[inverse]):
        spans = zip(starts[first].tolist(), ends[first].tolist(), strict=True)
        written = [joined[start:end] for start, end in spans]
        if any(chr(joiner) in joined for joiner in _PLAIN_JOINERS):
            written = [form.translate(_PLAIN_JOINERS) for form in written]
        numbers = [known.setdefault(form, len(known)) for form in written]
        return np.array(numbers, np.int32)[inverse]
    # Two forms share a hash: told apart one by one. Only text made for it gets here.
    every = zip(starts.tolist(), ends.tolist(), strict=True)
    return np.array([known.setdefault(joined[s:e].translate(_PLAIN_JOINERS), len(known)) for s, e in every], np.int32)


def _all_alike(
    codes: NDArray[np.uint32], starts: NDArray[np.int64], lengths: NDArray[np.int64], of: NDArray[np.int64]
) -> bool:
    """Whether each token has the very characters of token `of` it."""
    if not np.array_equal(lengths, lengths[of]):
        return False
    offsets = np.cumsum(lengths) - lengths
    places = np.arange(offsets[-1] + lengths[-1]) + np.repeat(starts - offsets, lengths)
    return bool((codes[places] == codes[places + np.repeat(starts[of] - starts, lengths)]).all())


_power_tables: tuple[NDArray[np.uint64], NDArray[np.uint64]] = (np.ones(1, np.uint64), np.ones(1, np.uint64))


def _powers(length: int) -> tuple[NDArray[np.uint64], NDArray[np.uint64]]:
    global _power_tables
    if len(_power_tables[0]) < length:
        tables = []
        for base in (_BASE, _INVERSE):
            table = np.full(max(length, 1), base, np.uint64)
            table[0] = 1
            tables.append(np.multiply.accumulate(table))
        _power_tables = (tables[0], tables[1])
    return _power_tables
