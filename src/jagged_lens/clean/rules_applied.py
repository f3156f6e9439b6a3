# SPDX-License-Identifier: GPL-3.0-or-later
"""The rules for words, applied to the tokens: joined phrases, numbers and lengths, what is never used, lists, synonyms."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.characters import is_number
from jagged_lens.clean.forms_read import Forms
from jagged_lens.clean.own_rules import OwnRules
from jagged_lens.clean.phrases import join_phrases, take_phrases
from jagged_lens.clean.reading import folding, in_list, read_words
from jagged_lens.clean.settings import CleanSettings
from jagged_lens.clean.split import Split
from jagged_lens.clean.take_out import Reason

_Words = tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Applied:
    """As in `Tokens`, of each token form, length (int32) and reason (uint8), of each form written, folded and word (int32). hits: of each
    rule of the user's own how many tokens or phrases it found."""

    form: NDArray[np.int32]
    length: NDArray[np.int32]
    reason: NDArray[np.uint8]
    written: list[str]
    folded: NDArray[np.int32]
    word: NDArray[np.int32]
    spellings: list[str]
    words: list[str]
    hits: dict[str, int]


class _Entries:
    """The entries of own rules as the words that they find: each word by its spelling and, in each language, by its form."""

    def __init__(self, settings: CleanSettings, read: Forms, own: OwnRules) -> None:
        self._settings = settings
        self._codes = read.codes
        self._written = set(map(folding(settings), own.written))
        self._known: dict[str, list[str]] = {}

    def folded(self, words: _Words) -> _Words:
        """Words in the case and accents of the tokens."""
        return tuple(map(folding(self._settings), words))

    def names(self, word: str) -> list[str]:
        """The form of a word in each language, or its core if it is kept as written."""
        if word not in self._known:
            reads = [read_words([word], code, self._settings) for code in self._codes]
            self._known[word] = [one.core[0] if one.core[0] in self._written else one.formed[0] for one in reads]
        return self._known[word]

    def ways(self, words: _Words) -> list[_Words]:
        """The forms of an entry of several words, by each language."""
        return list(dict.fromkeys(tuple(way) for way in zip(*map(self.names, words), strict=True)))

    def single(self, words: Iterable[_Words]) -> dict[str, _Words]:
        """The entry of one word for each spelling or form. A spelling takes precedence over a form."""
        ones = [entry for entry in words if len(entry) == 1]
        by_form: dict[str, _Words] = {name: entry for entry in reversed(ones) for name in self.names(entry[0])}
        return by_form | {self.folded(entry)[0]: entry for entry in ones}


def apply_rules(found: Split, read: Forms, own: OwnRules, settings: CleanSettings) -> Applied:
    """Say of each token whether it is kept, and of each form which word it becomes.

    A rule finds a word by its spelling, by what it is without its elision, or by its form. Phrases are joined first, so that no length
    and no number takes one of their words.
    """
    entries = _Entries(settings, read, own)
    written = list(found.forms)
    spelling_of: dict[str, int] = {}
    folded = np.array([spelling_of.setdefault(core, len(spelling_of)) for core in read.core], np.int32)
    form, length = found.form, found.length
    reason = found.taken.copy()
    formed, listed = list(read.formed), read.listed
    spelled, core = list(read.spelled), list(read.core)
    shape = _shapes(core, settings)
    counts: Counter[tuple[str, _Words]] = Counter()
    if own:
        number_of: dict[str, int] = {}
        key = np.array([number_of.setdefault(name, len(number_of)) for name in formed], np.int32)
        joining = {words: entries.ways(words) for words in (*own.join, *(left for left in own.same if len(left) > 1))}
        joined = join_phrases(found, key, number_of, reason, joining)
        form, length, reason = joined.form, joined.length, joined.reason
        counts.update({("join", words): count for words, count in joined.counts.items()})
        names = ["_".join(entries.folded(words)) for words in joined.phrases]
        written += [" ".join(entries.folded(words)) for words in joined.phrases]
        new = [spelling_of.setdefault(name, len(spelling_of)) for name in names]
        folded = np.concatenate((folded, np.array(new, np.int32)))
        new = [number_of.setdefault(name, len(number_of)) for name in names]
        key = np.concatenate((key, np.array(new, np.int32)))
        for known in (spelled, core, formed):
            known += names
        more = np.zeros(len(joined.phrases), np.uint8)
        shape, listed = np.concatenate((shape, more)), np.concatenate((listed, more))
        never = {words: entries.ways(words) for words in own.never if len(words) > 1}
        reason, taken = take_phrases(found, form, key, number_of, reason, never)
        counts.update({("never", words): count for words, count in taken.items()})
    by_form = np.where(shape > 0, shape, _never(spelled, core, formed, own, entries))
    by_form = np.where(by_form > 0, by_form, listed).astype(np.uint8)
    reason = np.where(reason > 0, reason, by_form[form] if len(form) else 0).astype(np.uint8)
    word, counted = _words(spelled, formed, by_form, own, entries)
    if own:
        _count_single(counts, form, by_form, reason, spelled, core, formed, own, entries)
    return Applied(form, length, reason, written, folded, word, list(spelling_of), counted, _by_rule(own, counts))


def _never(
    spelled: list[str], core: list[str], formed: list[str], own: OwnRules, entries: _Entries
) -> NDArray[np.uint8]:
    reasons = np.zeros(len(spelled), np.uint8)
    if own.never:
        unused = frozenset(entries.single(own.never)) | {"_".join(entries.folded(words)) for words in own.never}
        listed = [in_list(unused, *one) for one in zip(spelled, core, formed, strict=True)]
        reasons[listed] = Reason.NEVER
    return reasons


def _words(
    spelled: list[str], formed: list[str], gone: NDArray[np.uint8], own: OwnRules, entries: _Entries
) -> tuple[NDArray[np.int32], list[str]]:
    """The number of the word that each form becomes (-1: none), and the words."""
    number_of: dict[str, int] = {}
    of_form = np.full(len(spelled), -1, np.int32)
    if own.same:
        single = entries.single(own.same)
        target = {left: _target(right, entries) for left, right in own.same.items()}
        several = {"_".join(entries.folded(left)): target[left] for left in target if len(left) > 1}
        formed = [
            several.get(spelling)
            or (target[single[spelling]] if spelling in single else target[single[form]] if form in single else form)
            for spelling, form in zip(spelled, formed, strict=True)
        ]
    kept = np.flatnonzero(gone == 0).tolist()
    of_form[kept] = [number_of.setdefault(formed[at], len(number_of)) for at in kept]
    return of_form, list(number_of)


def _target(right: _Words, entries: _Entries) -> str:
    """The target of a synonym: the form of a word, or words joined."""
    return "_".join(entries.folded(right)) if len(right) > 1 else entries.names(right[0])[0]


def _count_single(
    counts: Counter[tuple[str, _Words]],
    form: NDArray[np.int32],
    by_form: NDArray[np.uint8],
    reason: NDArray[np.uint8],
    spelled: list[str],
    core: list[str],
    formed: list[str],
    own: OwnRules,
    entries: _Entries,
) -> None:
    """Count the tokens that rules of one word found."""
    open_ = (reason == Reason.KEPT) | (reason == Reason.NEVER)
    times = np.bincount(form[open_], minlength=len(spelled)).tolist()
    for kind, listed in (("same", own.same), ("never", own.never), ("as written", [(word,) for word in own.written])):
        single = entries.single(list(listed))
        for at in range(len(spelled)) if single else ():
            entry = single.get(spelled[at]) or single.get(core[at]) or single.get(formed[at])
            if entry and times[at] and (by_form[at] == Reason.NEVER) == (kind == "never"):
                counts[kind, entry] += times[at]


def _by_rule(own: OwnRules, counts: Counter[tuple[str, _Words]]) -> dict[str, int]:
    hits: dict[str, int] = {}
    for text, kind, words in own.entries:
        found = counts["join" if kind == "same" and len(words) > 1 else kind, words]
        hits[text] = hits.get(text, 0) + found
    return hits


def _shapes(words: list[str], settings: CleanSettings) -> NDArray[np.uint8]:
    """For each word, the reason for which it is removed because of its form."""
    lengths = np.fromiter(map(len, words), np.int64, len(words))
    shapes = np.zeros(len(words), np.uint8)
    shapes[lengths > settings.longest] = Reason.LONG
    shapes[lengths < settings.shortest] = Reason.SHORT
    if settings.numbers == "drop":
        shapes[[not word[:1].isalpha() and is_number(word) for word in words]] = Reason.NUMBER
    return shapes
