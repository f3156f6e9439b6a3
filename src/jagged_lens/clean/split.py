# SPDX-License-Identifier: GPL-3.0-or-later
"""Texts to tokens, the whole collection at once.

Texts are laid end to end as the bytes of their UTF-8; one translation tells what each character is, and differences of that
give the boundaries. Tokens are told apart as numbers read straight from memory; a Python string is made once for each
distinct form. Blocks are small, so that their arrays stay in the processor's own memory.
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
from jagged_lens.clean.alike import PADDING, numbered, packed
from jagged_lens.clean.runs import initialisms, word_characters
from jagged_lens.clean.spelling import as_spelled
from jagged_lens.clean.take_out import Reason, any_hint, taken_out
from jagged_lens.parallel import over_blocks
from jagged_lens.progress import Progress, unheard
from jagged_lens.strings import Strings

_CHUNK = 1_000_000  # bytes


@dataclass(frozen=True, eq=False)
class Split:
    """All t tokens of n texts. row_starts: int64, n + 1; the others: t each.

    form: int32, index into forms; start, length: int32, the span in code points within its text; taken: uint8, the
    Reason for which the stretch it stands in is taken out (0: none); sentence_end: bool, a sentence may end between this
    token and the next one of the text; full_stop: bool, nothing but a full stop says so.
    """

    row_starts: NDArray[np.int64]
    form: NDArray[np.int32]
    start: NDArray[np.int32]
    length: NDArray[np.int32]
    taken: NDArray[np.uint8]
    sentence_end: NDArray[np.bool_]
    full_stop: NDArray[np.bool_]
    forms: list[str]


def split(
    texts: Sequence[str],
    *,
    letters_only: bool = False,
    join_hyphens: bool = False,
    join_first_letters: bool = False,
    signs: str = "",
    take_out: Collection[str] = (),
    pattern: re.Pattern[str] | None = None,
    stretches: Mapping[int, Sequence[tuple[int, int, Reason]]] = {},
    hits: Counter[Reason] | None = None,
    progress: Progress = unheard,
) -> Split:
    """Split texts into tokens: runs of word characters (or of letters and marks alone), or the matches of a pattern.

    An apostrophe between two word characters stays, as ' (not with letters_only); a hyphen too if join_hyphens, or behind a single
    letter if join_first_letters (e-mail). A point or comma between two digits stays (3.5), and so do the points of initialisms
    (U.S.). signs: which of # and @ stay in front of a word. What cannot be seen, such as a soft hyphen, parts no word. stretches:
    of some rows, what is taken out besides (start, end, reason). hits: is told how many stretches each rule took.
    """
    how = _How(letters_only, join_hyphens, join_first_letters, signs, take_out, pattern)
    packed_texts = texts if isinstance(texts, Strings) else Strings.of(texts)

    def work(block: tuple[int, int]) -> _Block:
        own = {row - block[0]: stretches[row] for row in range(*block) if row in stretches} if stretches else {}
        return _split_chunk(packed_texts, block, how, own)

    parts = list(over_blocks(work, _blocks(packed_texts), progress))
    if hits is not None:
        for part in parts:
            hits.update(part.hits)
    of_part, forms = _together(parts)
    counts = np.concatenate([part.counts for part in parts])
    row_starts = np.zeros(len(counts) + 1, np.int64)
    np.cumsum(counts, out=row_starts[1:])
    return Split(
        row_starts,
        np.concatenate([numbers[part.form] for numbers, part in zip(of_part, parts, strict=True)]),
        np.concatenate([part.start for part in parts]),
        np.concatenate([part.length for part in parts]),
        np.concatenate([part.taken for part in parts]),
        np.concatenate([part.sentence_end for part in parts]),
        np.concatenate([part.full_stop for part in parts]),
        forms,
    )


def _blocks(texts: Strings) -> list[tuple[int, int]]:
    """Rows from and to, so that each block has about so many bytes; one empty block where there is no text."""
    ends = texts.starts[1:] - texts.starts[0] + np.arange(1, len(texts) + 1)
    blocks = []
    start = 0
    while start < len(ends):
        before = int(ends[start - 1]) if start else 0
        end = max(int(np.searchsorted(ends, before + _CHUNK, "right")), start + 1)
        blocks.append((start, end))
        start = end
    return blocks or [(0, 0)]


@dataclass(frozen=True, eq=False)
class _Block:
    """The tokens of a block of texts, like Split; counts: of each text. Of each form of the block: low, high (what tells it apart, see
    alike.packed. Of longer ones high is counted through all `longer`), text. hits: of its rules."""

    counts: NDArray[np.int64]
    form: NDArray[np.int32]
    start: NDArray[np.int32]
    length: NDArray[np.int32]
    taken: NDArray[np.uint8]
    sentence_end: NDArray[np.bool_]
    full_stop: NDArray[np.bool_]
    low: NDArray[np.uint64]
    high: NDArray[np.uint64]
    longer: list[bytes]
    hits: Counter[Reason]


def _together(parts: Sequence[_Block]) -> tuple[list[NDArray[np.int32]], list[str]]:
    """For each part the number, in all, of each of its forms; and all forms, by where they come first."""
    known: dict[bytes, int] = {}
    highs = []
    for part in parts:
        high = part.high
        if part.longer:
            of_longer = np.array([known.setdefault(form, len(known)) for form in part.longer], np.uint64)
            beyond = part.low == 0
            high = high.copy()
            high[beyond] = 1 + of_longer[high[beyond].astype(np.int64) - 1]
        highs.append(high)
    low, high = np.concatenate([part.low for part in parts]), np.concatenate(highs)
    number, first = numbered(low, high)
    forms = _spelled(low[first], high[first], list(known))
    spelled = as_spelled(forms)
    if spelled is not forms:
        # Apostrophes and hyphens of other kinds, and what cannot be seen: the same form by another spelling.
        marked: dict[str, int] = {}
        again = np.array([marked.setdefault(form, len(marked)) for form in spelled], np.int32)
        if len(marked) < len(forms):
            number = again[number]
        forms = list(marked)
    return np.split(number, np.cumsum([len(part.low) for part in parts])[:-1]), forms


def _spelled(low: NDArray[np.uint64], high: NDArray[np.uint64], longer: list[bytes]) -> list[str]:
    """The forms that two numbers each stand for."""
    beyond = np.flatnonzero(low == 0)
    letters = np.zeros((len(low), 17), np.uint8)
    letters[:, :16] = np.column_stack((low, high)).astype("<u8").view(np.uint8)
    letters[beyond] = 0
    ends = np.zeros(letters.shape, np.bool_)
    ends[:, 16] = True
    forms = letters[(letters > 0) | ends].tobytes().decode().split("\0")[:-1]
    for at in beyond.tolist():
        forms[at] = longer[int(high[at]) - 1].decode()
    return forms


@dataclass(frozen=True)
class _How:
    letters_only: bool
    join_hyphens: bool
    join_first_letters: bool
    signs: str
    take_out: Collection[str]
    pattern: re.Pattern[str] | None


class _Joined:
    """A block of texts laid end to end, a NUL behind each: its bytes (with some more behind them), where each text starts,
    and how many bytes before each are not the first of their character (None: every character is one byte)."""

    def __init__(self, texts: Strings, block: tuple[int, int]) -> None:
        bounds = texts.starts[block[0] : block[1] + 1]
        whole = (
            texts.data[bounds[0] : bounds[-1]].tobytes().replace(b"\0", b"\1")
        )  # a NUL of the text's own only separates
        edges = (bounds - bounds[0]).tolist()
        pieces = [whole[start:end] for start, end in itertools.pairwise(edges)]
        self.data = b"\0".join([*pieces, bytes(PADDING)])
        self.codes = np.frombuffer(self.data, np.uint8)
        self.text_starts = bounds - bounds[0] + np.arange(len(bounds))
        self.behind: NDArray[np.int32] | None = None
        if not whole.isascii():
            self.behind = np.cumsum((self.codes & 0xC0) == 0x80, dtype=np.int32)

    def points(self, places: NDArray[np.int64]) -> NDArray[np.int64]:
        """Places in code points of places in bytes that begin a character."""
        return places if self.behind is None else places - self.behind[places]

    def places(self, points: NDArray[np.int64]) -> NDArray[np.int64]:
        """Places in bytes of places in code points."""
        return points if self.behind is None else np.flatnonzero((self.codes & 0xC0) != 0x80)[points]

    def by_byte(self, of_points: NDArray[np.uint8]) -> NDArray[np.uint8]:
        """The properties of each code point, for each byte."""
        return of_points if self.behind is None else of_points[np.arange(len(self.behind)) - self.behind]


def _split_chunk(
    texts: Strings, block: tuple[int, int], how: _How, own: Mapping[int, Sequence[tuple[int, int, Reason]]]
) -> _Block:
    hits: Counter[Reason] = Counter()
    joined = _Joined(texts, block)
    kinds = characters.kinds_of(joined.data)
    taken = _taken(joined, how, own, hits)
    if "symbols" in how.take_out:
        taken = _without_symbols(joined, kinds, taken, hits)
    if how.pattern is not None:
        starts, ends = _matches(how.pattern, joined, taken)
    else:
        word = word_characters(
            joined.codes, kinds, taken, how.letters_only, how.join_hyphens, how.join_first_letters, how.signs
        )
        starts, ends = _runs(word, taken)
        if not how.letters_only:
            starts, ends = initialisms(joined.codes, kinds, taken, starts, ends)
    token_starts = np.searchsorted(starts, joined.text_starts)
    counts = np.diff(token_starts)
    last_of_text = token_starts[1:][counts > 0] - 1
    low, high, longer = packed(joined.data, starts, ends)
    form, first = numbered(low, high)
    begin = joined.points(starts)
    sentence_end, full_stop = _sentence_ends(joined, kinds, taken, starts, ends, last_of_text)
    return _Block(
        counts,
        form,
        (begin - np.repeat(joined.points(joined.text_starts[:-1]), counts)).astype(np.int32),
        (joined.points(ends) - begin).astype(np.int32),
        np.zeros(len(starts), np.uint8) if taken is None else taken[starts],
        sentence_end,
        full_stop,
        low[first],
        high[first],
        longer,
        hits,
    )


def _taken(
    joined: _Joined, how: _How, own: Mapping[int, Sequence[tuple[int, int, Reason]]], hits: Counter[Reason]
) -> NDArray[np.uint8] | None:
    """For each byte the Reason for which a rule, or a stretch of a text's own, takes it out; None where nothing does."""
    if not own and not any_hint(joined.data, how.take_out):
        return None
    begins = joined.points(joined.text_starts)
    stretches = [
        (int(begins[row]) + start, int(begins[row]) + end, reason)
        for row, found in own.items()
        for start, end, reason in found
    ]
    taken = taken_out(joined.data.decode(), how.take_out, stretches, hits)
    return None if taken is None else joined.by_byte(taken)


def _without_symbols(
    joined: _Joined, kinds: NDArray[np.uint8], taken: NDArray[np.uint8] | None, hits: Counter[Reason]
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
    pattern: re.Pattern[str], joined: _Joined, taken: NDArray[np.uint8] | None
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """The matches of the pattern, text by text: removed and kept stretches are matched separately, so that nothing crosses."""
    starts: list[int] = []
    ends: list[int] = []
    whole = joined.data.decode()
    begins = joined.points(joined.text_starts).tolist()
    changes = np.zeros(0, np.int64) if taken is None else joined.points(np.flatnonzero(np.diff(taken)) + 1)
    for begin, after in itertools.pairwise(begins):
        text = whole[begin : after - 1]
        first, last = np.searchsorted(changes, (begin + 1, after - 1)).tolist()
        cuts = [0, *(changes[first:last] - begin).tolist(), len(text)]
        for start, end in itertools.pairwise(cuts):
            for match in pattern.finditer(text, start, end):
                if match.end() > match.start():
                    starts.append(begin + match.start())
                    ends.append(begin + match.end())
    return joined.places(np.array(starts, np.int64)), joined.places(np.array(ends, np.int64))


def _runs(word: NDArray[np.bool_], taken: NDArray[np.uint8] | None) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """The positions of runs of word characters. No text begins or ends within one, for a NUL stands between them, and one behind the
    last."""
    if taken is None:
        edges = np.flatnonzero(word[1:] != word[:-1]) + 1
        if word[0]:
            edges = np.concatenate((np.zeros(1, np.int64), edges))
        return edges[::2], edges[1::2]
    begins = word.copy()
    begins[1:] &= ~word[:-1] | (taken[1:] != taken[:-1])
    # A run ends where the next character is no word character, or where another run begins at once.
    last = word.copy()
    last[:-1] &= ~word[1:] | begins[1:]
    return np.flatnonzero(begins), np.flatnonzero(last) + 1


_NEED_SPACE = np.isin(np.arange(256), [ord("."), ord("!"), ord("?"), "…".encode()[-1]])


_QUOTES = np.isin(np.arange(256), [ord(mark) for mark in "\"')]"])
_LONGER_QUOTES = [mark.encode() for mark in "”’»"]


def _closes_quotation(codes: NDArray[np.uint8], places: NDArray[np.int64]) -> NDArray[np.bool_]:
    """True if a character that closes a quotation or a bracket begins at each place."""
    found = _QUOTES[codes[places]]
    for mark in _LONGER_QUOTES:
        found = found | np.all([codes[places + step] == byte for step, byte in enumerate(mark)], axis=0)
    return found


def _sentence_ends(
    joined: _Joined,
    kinds: NDArray[np.uint8],
    taken: NDArray[np.uint8] | None,
    starts: NDArray[np.int64],
    ends: NDArray[np.int64],
    last_of_text: NDArray[np.int64],
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """For each token, True if a sentence ends behind it: at . ! ? or … before white space or the end of the text, at 。 or its like, or at
    a blank line. And whether it is nothing but a full stop."""
    flags, stops = np.zeros(len(starts), np.bool_), np.zeros(len(starts), np.bool_)
    if not len(starts):
        return flags, stops
    codes = joined.codes
    closing = np.flatnonzero(kinds & characters.SENTENCE_MARK)
    feeds = np.flatnonzero(codes == ord("\n")) if b"\n" in joined.data else np.zeros(0, np.int64)
    space = (kinds & characters.SPACE) != 0
    if taken is not None:
        space |= taken > 0
        closing, feeds = closing[taken[closing] == 0], feeds[taken[feeds] == 0]
    # A NUL closes every text, so that there is a place behind each mark. What closes a quotation may stand between.
    behind = closing + 1
    quote = _closes_quotation(codes, behind)
    behind = np.where(quote, behind + characters.sizes_at(codes, behind), behind)
    closing = closing[space[behind] | (codes[behind] == 0) | ~_NEED_SPACE[codes[closing]]]
    if len(feeds):
        solid = np.cumsum(~space, dtype=np.int32)
        feeds = feeds[1:][solid[feeds[1:]] == solid[feeds[:-1]]]
    point = codes[closing] == ord(".")
    for breaks, into in ((closing[point], stops), (closing[~point], flags), (feeds, flags)):
        before = np.searchsorted(starts, breaks) - 1
        before, breaks = before[before >= 0], breaks[before >= 0]
        # The point of an initialism belongs to it, and may close a sentence as well.
        into[before[(ends[before] <= breaks) | (ends[before] == breaks + 1)]] = True
    flags[last_of_text] = True
    return flags | stops, stops & ~flags
