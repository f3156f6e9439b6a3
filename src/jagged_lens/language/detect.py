# SPDX-License-Identifier: GPL-3.0-or-later
"""The likely language of a document: by the function words of the language, and by its script.

Each language is known by some thirty of its commonest words, or all its function words where our list of them is whole. A word
that several languages have speaks for each of them by so much less. What is said of a document is said only where one language
stands out.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Sequence
from functools import cache

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.language.apostrophes import stands_alone
from jagged_lens.language.names import CODES
from jagged_lens.language.scripts import is_spaceless_script, script_languages, scripts_of, telling_character
from jagged_lens.language.words import EARNEST, commonest, function_words

UNKNOWN = -1
_LEAST_WORDS = 8
_LEAST_SHARE = 0.12  # of the words of a text that are function words of its language; below it nothing is said
_SURER = 1.25  # so many times the weight of the next language
_BY_SCRIPT = 0.5  # of a function word's weight: what a word says by its script alone
_KANA = 0.1
_READ = 4000  # characters of a text by itself
_WORDS = re.compile(r"[^\W\d_]+(?:['’][^\W\d_]+)*")


@cache
def _weights() -> dict[str, tuple[tuple[int, float], ...]]:
    """The evidence of each listed word: the places of languages in CODES, and its weight for each."""
    of: dict[str, list[int]] = {}
    for code, words in commonest().items():
        for word in words | function_words(code) if code in EARNEST else words:
            if stands_alone(word, code):
                of.setdefault(word, []).append(CODES.index(code))
    return {word: tuple((place, 1 / len(places)) for place in places) for word, places in of.items()}


def votes_of(words: Iterable[str]) -> dict[str, float]:
    """By code, what words in small letters say for each language: 1 for a word that it alone lists, 0 for one that all do, summed."""
    votes: dict[str, float] = {}
    for word in words:
        listed = _weights().get(word, ())
        for place, _ in listed:
            votes[CODES[place]] = votes.get(CODES[place], 0.0) + 1 - math.log(len(listed)) / math.log(len(CODES))
    return votes


def languages_of(
    forms: Sequence[str], form: NDArray[np.int32], row_starts: NDArray[np.int64]
) -> tuple[NDArray[np.int8], int]:
    """The likely language of each document, and that of the whole collection; indexes into CODES, UNKNOWN where none stands out.

    forms: the different words as they are written; form: int32, t, which of them each token is; row_starts: int64, n + 1. The weight
    of a language in a document is the sum over its words of 1 / (languages that list the word), and half of it for a word of
    a script that tells a language. Where words are not parted, two characters count as one; among them kana tell Japanese, and the
    characters that Chinese shares with it count for it. A language is said where its words are 12 % of all words, and weigh 1.25 times as much as
    those of the next. Gives int8 (n) and a number.
    """
    rows = len(row_starts) - 1
    if not rows or not len(form):
        return np.full(rows, UNKNOWN, np.int8), UNKNOWN
    says, of_form = _what_forms_say(forms)
    told = of_form[form]
    heard = np.flatnonzero(told >= 0)
    starts = np.searchsorted(heard, row_starts)
    size = np.array(
        [1.0 if one.isascii() or not is_spaceless_script(one) else len(one) / 2 for one in forms], np.float32
    )
    if (size == 1).all():  # as in nearly all collections, so that no token is looked up
        sizes, words = np.ones(len(heard), np.float32), np.diff(row_starts).astype(np.float64)
    else:
        sizes = size[form[heard]]
        words = np.diff(np.concatenate(([0.0], np.cumsum(size[form], dtype=np.float64)))[row_starts])
    counts = csr_array((sizes, told[heard], starts), shape=(rows, len(says)))
    votes = _with_kana(np.asarray(counts @ says))
    known = np.asarray(counts @ (says > 0).astype(np.float32))
    each = _voted(votes, known, words)
    whole = _voted(votes.sum(axis=0, keepdims=True), known.sum(axis=0, keepdims=True), np.array([words.sum()]))
    return each, most_common(each, int(whole[0]))


def _what_forms_say(forms: Sequence[str]) -> tuple[NDArray[np.float32], NDArray[np.int32]]:
    """Weights for languages, a row for each kind of word that says something; and the row of each form (-1: says nothing)."""
    weights = _weights()
    rows: list[tuple[tuple[int, float], ...]] = []
    row_of: dict[str, int] = {}
    of_form = np.full(len(forms), -1, np.int32)
    scripts = script_languages()
    strange = []
    for number, form in enumerate(forms):
        low = form.lower()
        if low in weights:
            if low not in row_of:
                row_of[low] = len(rows)
                rows.append(weights[low])
            of_form[number] = row_of[low]
        elif not form.isascii():
            strange.append(number)
    if strange:
        points = np.array([ord(telling_character(forms[number])) for number in strange], np.int64)
        script = scripts_of(points)
        first = len(rows)
        rows += [((CODES.index(language), _BY_SCRIPT),) for language in scripts]
        of_form[strange] = np.where(script >= 0, first + script, -1)
    says = np.zeros((len(rows), len(CODES)), np.float32)
    for place, row in enumerate(rows):
        for language, weight in row:
            says[place, language] = weight
    return says, of_form


def _with_kana(votes: NDArray[np.float32]) -> NDArray[np.float32]:
    """Votes in which Chinese characters count for Japanese wherever a tenth of what is told by such scripts are words with kana."""
    japanese, chinese = CODES.index("ja"), CODES.index("zh")
    both = votes[:, japanese] + votes[:, chinese]
    kana = (votes[:, japanese] > 0) & (votes[:, japanese] >= _KANA * both)
    votes[kana, japanese] = both[kana]
    votes[kana, chinese] = 0
    return votes


def _voted(votes: NDArray[np.float32], known: NDArray[np.float32], words: NDArray[np.float64]) -> NDArray[np.int8]:
    best = np.argmax(votes, axis=1)
    at = np.arange(len(votes))
    first = votes[at, best]
    rest = votes.copy()
    rest[at, best] = 0
    scripted = np.isin(best, [CODES.index(code) for code in set(script_languages())])
    sure = (known[at, best] >= _LEAST_SHARE * words) & (first > 0) & (first >= _SURER * rest.max(axis=1))
    sure &= (words >= _LEAST_WORDS) | scripted
    return np.where(sure, best, UNKNOWN).astype(np.int8)


def most_common(each: NDArray[np.int8], whole: int = UNKNOWN) -> int:
    """The language of most documents; where no document tells one, that of the whole collection.

    each: int8, an index into CODES of each document, or UNKNOWN.
    """
    known = each[each != UNKNOWN]
    return int(np.bincount(known).argmax()) if len(known) else whole


def language_of(text: str) -> str:
    """The code of the likely language of one text, "" where none stands out. Its first 4,000 characters are read.

    >>> language_of("Die Schnecken haben die Saat gefressen, und wir säten im Mai noch einmal.")
    'de'
    """
    words = _WORDS.findall(text[:_READ])
    numbers: dict[str, int] = {}
    form = np.array([numbers.setdefault(word, len(numbers)) for word in words], np.int32)
    each, _ = languages_of(list(numbers), form, np.array([0, len(form)], np.int64))
    return CODES[int(each[0])] if each[0] != UNKNOWN else ""
