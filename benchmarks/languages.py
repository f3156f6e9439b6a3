# SPDX-License-Identifier: GPL-3.0-or-later
"""What it costs to tell the language of documents, and to read each in its own: 50,000 made-up texts in four languages.

Words are function words of the language and made-up words of syllables; sentences end, some behind abbreviations.
"""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np

from benchmarks.fresh import side_by_side
from jagged_lens.clean import CleanSettings, clean, split
from jagged_lens.gather import Corpus
from jagged_lens.language import CODES, function_words, languages_of
from jagged_lens.language.words import commonest
from jagged_lens.strings import Strings

_LANGUAGES = ("en", "de", "fr", "ru")
_SYLLABLES = {
    "en": ["mo", "ra", "sle", "fen", "tar", "ket", "lo", "ing", "ed", "bre", "wick"],
    "de": ["mo", "ra", "schle", "fen", "tar", "ket", "lu", "ung", "en", "brei", "wick"],
    "fr": ["mo", "ra", "lé", "fen", "tar", "quet", "lou", "ment", "ait", "bré", "vil"],
    "ru": ["мо", "ра", "сле", "фен", "тар", "кет", "лу", "ный", "ить", "бре", "вик"],
}
_DOCUMENTS = 50_000
_WORDS = 80
_ROUNDS = 5


def _texts(count: int, seed: int = 1) -> list[str]:
    pick = np.random.default_rng(seed)
    vocabulary = {}
    for code in _LANGUAGES:
        made = ["".join(pick.choice(_SYLLABLES[code], pick.integers(2, 5))) for _ in range(12_000)]
        # The commonest third of all words are the commonest function words, as in any text.
        vocabulary[code] = (sorted(commonest()[code]), sorted(function_words(code)), made)
    texts = []
    for number in range(count):
        common, function, made = vocabulary[_LANGUAGES[number % len(_LANGUAGES)]]
        which = pick.random(_WORDS)
        words = [
            common[int(one * len(common))]
            if kind < 0.3
            else function[int(one * len(function))]
            if kind < 0.4
            else made[int(one**3 * len(made))]
            for kind, one in zip(which.tolist(), pick.random(_WORDS).tolist(), strict=True)
        ]
        texts.append(". ".join(" ".join(words[at : at + 10]).capitalize() for at in range(0, _WORDS, 10)) + ".")
    return texts


def languages() -> None:
    """Print the cost of telling languages, and of reading each document in its own, against Clean in one named language."""
    texts = Strings.of(_texts(_DOCUMENTS))
    numbers = Strings.of(map(str, range(_DOCUMENTS)))
    corpus = Corpus(numbers, texts, numbers, numbers)
    found = split(texts)
    start = time.perf_counter()
    told, _ = languages_of(found.forms, found.form, found.row_starts)
    first = time.perf_counter() - start
    right = np.mean([CODES[int(code)] == _LANGUAGES[row % 4] for row, code in enumerate(told)])
    detection, one, each = side_by_side(
        _ROUNDS,
        lambda: languages_of(found.forms, found.form, found.row_starts),
        lambda: clean(corpus, CleanSettings(language="en"), Path("/")),
        lambda: clean(corpus, CleanSettings(language="each"), Path("/")),
    )
    plain = one - detection
    print(
        f"{_DOCUMENTS:,} documents, {len(found.form):,} tokens, {len(found.forms):,} forms; told rightly: {right:.2%}"
    )
    print(
        f"telling {detection:.2f} s (first time {first:.2f} s); Clean without it {plain:.2f} s, in one language {one:.2f} s"
    )
    print(
        f"each in its own {each:.2f} s: {(each - plain) / plain:.1%} of Clean more, telling alone {detection / plain:.1%}"
    )
