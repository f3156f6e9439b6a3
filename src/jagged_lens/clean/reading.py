# SPDX-License-Identifier: GPL-3.0-or-later
"""The reading of words by their language: apostrophes, case, accents, word form, and the words on lists."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.characters import without_accents
from jagged_lens.clean.settings import CleanSettings
from jagged_lens.clean.stop_words import DETECTED, language_of_list, plain, read_list
from jagged_lens.clean.word_forms import NOUNS_WITH_CAPITALS, form_for, lemmas, stems
from jagged_lens.language import core_of, function_words, negations


def folding(settings: CleanSettings) -> Callable[[str], str]:
    """The function that brings a word to the case and accents of the tokens."""

    def fold(word: str) -> str:
        word = word.lower() if settings.case == "lower" else word
        return without_accents(word) if settings.accents == "strip" else word

    return fold


def all_folded(words: list[str], settings: CleanSettings) -> list[str]:
    """The words in the case and accents of the tokens. All are lowered at once: a NUL parts words as the end of a text does."""
    if settings.case == "lower":
        together = "\0".join(words).lower().split("\0")
        words = together if len(together) == len(words) else [word.lower() for word in words]
    return [without_accents(word) for word in words] if settings.accents == "strip" else words


@dataclass(frozen=True)
class Read:
    """For each word: spelled (after case and accents), core (that, without what stands at an apostrophe) and formed (the form of the
    core)."""

    spelled: list[str]
    core: list[str]
    formed: list[str]


def read_words(written: list[str], code: str, settings: CleanSettings, times: NDArray[np.int64] | None = None) -> Read:
    """The reading of words of one language.

    written: as they stand in the texts, with plain apostrophes. code: of the language, "" where it is not known. times: int64, how
    often each occurs; a German word with a capital that is more often written without is no noun.
    """
    spelled = all_folded(written, settings)
    core, bare = list(spelled), written
    if code and any("'" in word for word in spelled):
        listed = function_words(code).__contains__
        bare = list(written)
        for at, word in enumerate(spelled):
            if "'" in word:
                bare[at] = core_of(written[at], code, listed)
                core[at] = folding(settings)(bare[at])
    form = form_for(settings.word_form, code)
    if form == "written":
        return Read(spelled, core, core)
    if form == "stem":
        return Read(spelled, core, stems(core, code))
    asked = _as_asked(bare, core, code, times)
    found = lemmas(asked, code)  # in the case in which a dictionary lists them, which parts essen from Essen
    return Read(spelled, core, [without_accents(word) for word in found] if settings.accents == "strip" else found)


def _as_asked(bare: list[str], core: list[str], code: str, times: NDArray[np.int64] | None) -> list[str]:
    """The words as a dictionary is asked for them: as written where a capital tells a noun, else in small letters."""
    if code not in NOUNS_WITH_CAPITALS:
        return core if all(word.islower() for word in core) else [word.lower() for word in core]
    often: dict[str, int] = {}
    if times is not None:
        often = {word: int(count) for word, count in zip(bare, times, strict=True) if word.islower()}
    counts = times.tolist() if times is not None else [1] * len(bare)
    return [
        word if word[:1].isupper() and often.get(word.lower(), 0) < count and not word.isupper() else word.lower()
        for word, count in zip(bare, counts, strict=True)
    ]


@dataclass(frozen=True)
class Listed:
    """Stop words: spellings that are taken, whatever they are in; and negations, which are a choice of their own."""

    words: frozenset[str]
    negations: frozenset[str]


def listed_words(settings: CleanSettings, code: str, folder: Path) -> Listed:
    """The stop words and negations for words of one language, in the case and accents of the tokens.

    Negations are no stop words, unless a list of the user's own has them. SourceError where a list cannot be read.
    """
    fold = folding(settings)
    turning = {code} if code else set()
    ours: set[str] = set()
    own: set[str] = set()
    for name in settings.stop_words:
        language = code if name == DETECTED else language_of_list(name)
        if language:
            turning.add(language)
            ours |= plain(function_words(language) if name == DETECTED else read_list(name, folder))
        elif name != DETECTED:
            own |= plain(read_list(name, folder))
    against = frozenset[str]().union(*map(negations, turning))
    known = function_words(code).__contains__ if code else bool
    kept = {
        word
        for word in ours
        if word not in against and (("'" not in word) or core_of(word, code, known) not in against)
    }
    return Listed(frozenset(map(fold, kept | own)), frozenset(map(fold, against)))


def in_list(words: frozenset[str], spelled: str, core: str, formed: str) -> bool:
    """True if a word is listed: its spelling, what it is without its elision, or its form."""
    return spelled in words or core in words or formed in words


def word_names(entry: Sequence[str], settings: CleanSettings, codes: Sequence[str]) -> list[tuple[str, ...]]:
    """The words of an entry as words of a term: by each language, each reading once."""
    ways = [tuple(read_words(list(entry), code, settings).formed) for code in codes or ("",)]
    return list(dict.fromkeys(ways))
