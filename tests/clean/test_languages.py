# SPDX-License-Identifier: GPL-3.0-or-later
"""Seven languages against an independent tokeniser and counter: regular expressions, Counter and the stemmer alone."""

from __future__ import annotations

import itertools
import re
import unicodedata
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import Stemmer

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, clean, look_over
from jagged_lens.language import CODES
from jagged_lens.terms import count_ngrams

TEXTS = {
    "en": "The slugs took the first sowing, and we sowed again in May. They didn't come back: the frost was late!\n\nNo rain fell.",
    "de": "Die Schnecken haben die erste Saat gefressen, und wir säten im Mai noch einmal. Der Frost kam spät – größer war die Not nie.",
    "fr": "Les limaces ont mangé le premier semis, et nous avons semé à nouveau en mai. L'été était très sec; rien n'est resté pour l'hiver.",
    "es": "Las babosas se comieron la primera siembra y sembramos de nuevo en mayo. ¿No llovió? La helada llegó muy tarde este año.",
    "ru": "Слизни съели первый посев, и мы посеяли снова в мае. Мороз пришёл поздно, но не все растения были потеряны.",
    "el": "Οι γυμνοσάλιαγκες έφαγαν την πρώτη σπορά και σπείραμε ξανά τον Μάιο. Ο παγετός ήταν αργά για την εποχή.",
    "tr": "Sümüklü böcekler ilk ekimi yedi ve biz mayısta yine ektik. Don çok geç geldi ama her bitki için bir şey kaldı.",
}


def plain_words(text: str) -> list[list[str]]:
    """The words of each sentence: runs of letters, marks and numbers, with apostrophes inside, in lower case."""
    sentences = re.split(r"[.!?…](?=\s|$)|\n[^\S\n]*\n", unicodedata.normalize("NFC", text))
    found = []
    for sentence in sentences:
        marked = "".join(c if unicodedata.category(c)[0] in "LMN" or c in "'’" else " " for c in sentence)
        words = [word.strip("'’").replace("’", "'").replace("didn't", "not") for word in marked.split()]
        found.append([word.lower() for word in words if word])
    return found


@pytest.mark.parametrize("language", TEXTS)
def test_stems_and_their_pairs_are_counted_as_by_plain_means(language: str) -> None:
    texts = [TEXTS[language], TEXTS[language] + " " + TEXTS[language], ""]
    settings = CleanSettings(language=language, stop_words=(), shortest=1, numbers="keep")  # type: ignore[arg-type]
    tokens = clean(corpus_of(*texts), settings, Path("/"))
    ngrams = count_ngrams(tokens, np.arange(3, dtype=np.int32), (1, 2), False)
    stem = Stemmer.Stemmer(language).stemWord
    for row, text in enumerate(texts):
        expected: Counter[str] = Counter()
        for sentence in plain_words(text):
            stems = [stem(word) for word in sentence]
            expected.update(stems)
            expected.update(f"{a} {b}" for a, b in itertools.pairwise(stems))
        counts: Any = ngrams.counts(np.arange(len(ngrams.terms)))[[row]].toarray()[0]
        assert {ngrams.terms[at]: int(counts[at]) for at in np.flatnonzero(counts)} == dict(expected)


def test_each_language_is_told_by_its_function_words() -> None:
    corpus = corpus_of(*TEXTS.values(), "日本の庭にはナメクジがいます。", "42")
    tokens = clean(corpus, CleanSettings(), Path("/"))
    found = look_over(corpus, tokens, np.arange(len(corpus), dtype=np.int32))
    assert [CODES[code] for code in found.language[:7]] == list(TEXTS)
    assert found.language_name(7) in ("Japanese", "Chinese")
    assert found.language_name(8) == ""
