"""Texts to tokens, the whole collection at once.

Texts are laid end to end as an array of code points; one table look-up tells what each character is, and differences
of that give the boundaries. Tokens are told apart by a polynomial hash modulo 2⁶⁴, which one cumulative sum gives for
every span, and each is verified against one representative; a Python string is made once for each distinct form.
Rabin & Karp, "Efficient randomized pattern-matching algorithms", 1987, for the hash of a span from running sums.
"""

from __future__ import annotations

import itertools
import re
from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import characters
from jagged_lens.clean.take_out import Reason, taken_out
from jagged_lens.parallel import over_blocks
from jagged_lens.progress import Progress, unheard
from jagged_lens.strings import Strings

_CHUNK = 4_000_000  # characters; keeps the arrays of a chunk to tens of megabytes
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
    pattern: re.Pattern[str] | None = None,
    stretches: Mapping[int, Sequence[tuple[int, int, Reason]]] = {},
    hits: Counter[Reason] | None = None,
    progress: Progress = unheard,
) -> Split:
    """Split texts into tokens: runs of word characters (or of letters and marks alone), or the matches of a pattern.

    An apostrophe between two word characters stays, as ' (not with letters_only); a hyphen too if join_hyphens. stretches:
    of some rows, what is taken out besides (start, end, reason). hits: is told how many stretches each rule took.
    """
    how = _How(letters_only, join_hyphens, take_out, pattern)
    blocks = _blocks(texts)

    def work(block: tuple[int, int]) -> _Part:
        own = {row - block[0]: stretches[row] for row in range(*block) if row in stretches} if stretches else {}
        return _split_chunk(list(texts[block[0] : block[1]]), how, own)

    known: dict[str, int] = {}
    parts = []
    for found in over_blocks(work, blocks, progress):
        numbers = np.array([known.setdefault(form, len(known)) for form in found.forms], np.int32)
        parts.append((found.counts, numbers[found.form], found.start, found.length, found.taken, found.sentence_end))
        if hits is not None:
            hits.update(found.hits)
    counts, form, start, length, taken, sentence_end = (np.concatenate(arrays) for arrays in zip(*parts, strict=True))
    row_starts = np.zeros(len(counts) + 1, np.int64)
    np.cumsum(counts, out=row_starts[1:])
    return Split(row_starts, form, start, length, taken, sentence_end, list(known))


def _blocks(texts: Sequence[str]) -> list[tuple[int, int]]:
    """Rows from and to, so that each block has about so many characters; one empty block where there is no text."""
    sizes = np.diff(texts.starts) if isinstance(texts, Strings) else np.array([len(text) for text in texts], np.int64)
    ends = np.cumsum(sizes + 1)
    blocks = []
    start = 0
    while start < len(sizes):
        before = int(ends[start - 1]) if start else 0
        end = max(int(np.searchsorted(ends, before + _CHUNK, "right")), start + 1)
        blocks.append((start, end))
        start = end
    return blocks or [(0, 0)]


@dataclass(frozen=True, eq=False)
class _Part:
    """The tokens of a block of texts, like Split; counts: of each text; forms: in this block; hits: of its rules."""

    counts: NDArray[np.int64]
    form: NDArray[np.int64]
    start: NDArray[np.int32]
    length: NDArray[np.int32]
    taken: NDArray[np.uint8]
    sentence_end: NDArray[np.bool_]
    forms: list[str]
    hits: Counter[Reason]


@dataclass(frozen=True)
class _How:
    letters_only: bool
    join_hyphens: bool
    take_out: Collection[str]
    pattern: re.Pattern[str] | None


def _split_chunk(texts: list[str], how: _How, own: Mapping[int, Sequence[tuple[int, int, Reason]]]) -> _Part:
    hits: Counter[Reason] = Counter()
    joined = "\0".join(texts) + "\0"
    codes = np.frombuffer(joined.encode("utf-32-le"), np.uint32)
    text_starts = np.zeros(len(texts) + 1, np.int64)
    np.cumsum([len(text) + 1 for text in texts], out=text_starts[1:])
    kinds = characters.kinds_of(codes)
    stretches = [
        (int(text_starts[row]) + start, int(text_starts[row]) + end, reason)
        for row, found in own.items()
        for start, end, reason in found
    ]
    taken = taken_out(joined, how.take_out, stretches, hits)
    if "symbols" in how.take_out:
        taken = _without_symbols(kinds, taken, hits)
    if how.pattern is not None:
        starts, ends = _matches(how.pattern, texts, text_starts, taken)
    else:
        codes, starts, ends = _runs(codes, kinds, taken, how)
    token_starts = np.searchsorted(starts, text_starts)
    counts = np.diff(token_starts)
    last_of_text = token_starts[1:][counts > 0] - 1
    form, forms = _forms(joined, codes, starts, ends, how.pattern is None)
    return _Part(
        counts,
        form,
        (starts - np.repeat(text_starts[:-1], counts)).astype(np.int32),
        (ends - starts).astype(np.int32),
        np.zeros(len(starts), np.uint8) if taken is None else taken[starts],
        _sentence_ends(codes, kinds, taken, starts, ends, last_of_text),
        forms,
        hits,
    )


def _without_symbols(
    kinds: NDArray[np.uint8], taken: NDArray[np.uint8] | None, hits: Counter[Reason]
) -> NDArray[np.uint8] | None:
    """Symbols (category S) are taken out too, where nothing else took them; each run of them is one hit."""
    symbols = (kinds & characters.SYMBOL) != 0
    if taken is not None:
        symbols &= taken == 0
    if not symbols.any():
        return taken
    hits[Reason.SYMBOL] += int((symbols[1:] & ~symbols[:-1]).sum() + symbols[0])
    taken = np.zeros(len(kinds), np.uint8) if taken is None else taken
    taken[symbols] = Reason.SYMBOL
    return taken


def _matches(
    pattern: re.Pattern[str], texts: list[str], text_starts: NDArray[np.int64], taken: NDArray[np.uint8] | None
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Where the pattern fits, text by text: what is taken out and what is not are matched apart, so that nothing crosses."""
    starts: list[int] = []
    ends: list[int] = []
    for row, text in enumerate(texts):
        base = int(text_starts[row])
        cuts = [0, len(text)]
        if taken is not None:
            cuts[1:1] = (np.flatnonzero(np.diff(taken[base : base + len(text)])) + 1).tolist()
        for begin, end in itertools.pairwise(cuts):
            for match in pattern.finditer(text, begin, end):
                if match.end() > match.start():
                    starts.append(base + match.start())
                    ends.append(base + match.end())
    return np.array(starts, np.int64), np.array(ends, np.int64)


def _runs(
    codes: NDArray[np.uint32], kinds: NDArray[np.uint8], taken: NDArray[np.uint8] | None, how: _How
) -> tuple[NDArray[np.uint32], NDArray[np.int64], NDArray[np.int64]]:
    """Where runs of word characters stand; and the code points, with one kind of apostrophe and hyphen inside them."""
    word = (kinds & (characters.LETTER if how.letters_only else characters.LETTER | characters.NUMBER)) != 0
    if not how.letters_only:
        joiner = characters.APOSTROPHE | (characters.HYPHEN if how.join_hyphens else 0)
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
    return codes, starts, ends


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
    joined: str, codes: NDArray[np.uint32], starts: NDArray[np.int64], ends: NDArray[np.int64], plain: bool
) -> tuple[NDArray[np.int64], list[str]]:
    """The number of each token's form, and the forms. plain: with one kind of apostrophe and hyphen, as in `codes`."""
    if not len(starts):
        return np.zeros(0, np.int64), []
    powers, inverses = _powers(len(codes))
    sums = np.zeros(len(codes) + 1, np.uint64)
    np.cumsum(codes * powers[: len(codes)], out=sums[1:])
    lengths = ends - starts
    keys = (sums[ends] - sums[starts]) * inverses[starts] ^ lengths.astype(np.uint64) * _LENGTH_MIX
    _, first, inverse = np.unique(keys, return_index=True, return_inverse=True)
    marks = _PLAIN_JOINERS if plain and any(chr(joiner) in joined for joiner in _PLAIN_JOINERS) else {}
    if _all_alike(codes, starts, lengths, first[inverse]):
        spans = zip(starts[first].tolist(), ends[first].tolist(), strict=True)
        written = [joined[start:end] for start, end in spans]
        return inverse, [form.translate(marks) for form in written] if marks else written
    # Two forms share a hash: told apart one by one. Only text made for it gets here.
    known: dict[str, int] = {}
    every = zip(starts.tolist(), ends.tolist(), strict=True)
    numbers = [known.setdefault(joined[start:end].translate(marks), len(known)) for start, end in every]
    return np.array(numbers, np.int64), list(known)


def _all_alike(
    codes: NDArray[np.uint32], starts: NDArray[np.int64], lengths: NDArray[np.int64], of: NDArray[np.int64]
) -> bool:
    """Whether each token has the very characters of token `of` it."""
    if not np.array_equal(lengths, lengths[of]):
        return False
    offsets = np.cumsum(lengths) - lengths
    total = int(offsets[-1] + lengths[-1])
    # A block is far smaller than 2 ** 31 characters, or is one text; half the memory, half the time.
    kind = np.int32 if len(codes) < 2**31 else np.int64
    places = np.arange(total, dtype=kind) + np.repeat((starts - offsets).astype(kind), lengths)
    return bool((codes[places] == codes[places + np.repeat((starts[of] - starts).astype(kind), lengths)]).all())


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
