# SPDX-License-Identifier: GPL-3.0-or-later
"""Word forms: stems (Snowball) and lemmas, asked once for each distinct word."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cache
from typing import Any

import Stemmer

from jagged_lens.language.words import EARNEST, commonest, function_words

STEMS = (
    "ar", "ca", "da", "de", "el", "en", "es", "et", "eu", "fi", "fr", "ga", "hi", "hu", "hy", "id", "it", "lt", "ne", "nl",
    "no", "pt", "ro", "ru", "sr", "sv", "ta", "tr", "yi",
)  # fmt: skip
"""Languages whose stems are formed."""

LEMMAS = (
    "ar", "ast", "bg", "ca", "cs", "cy", "da", "de", "el", "en", "es", "et", "fa", "fi", "fr", "ga", "gl", "hbs", "he", "hi",
    "hu", "hy", "id", "is", "it", "ka", "la", "lb", "lt", "lv", "mk", "ms", "nl", "nb", "nn", "no", "pl", "pt", "ro", "ru",
    "sk", "sl", "sq", "sr", "sv", "sw", "tl", "tr", "uk",
)  # fmt: skip
"""Languages whose lemmas are known."""

_SHORT = 2
_VOWEL = re.compile("[aeiouy]")
_LEMMAS_AS = {"no": "nb", "sr": "hbs", "hr": "hbs"}
NOUNS_WITH_CAPITALS = ("de", "lb")
"""Languages whose nouns are told by their capital."""


@cache
def _stemmer(language: str) -> Any:
    return Stemmer.Stemmer(language, 0)  # no cache: each word is asked for once


def stems(words: Sequence[str], language: str) -> list[str]:
    """The stem of each word (Snowball; for English, Porter's second algorithm).

    >>> stems(["seeds", "seeded", "sow"], "en")
    ['seed', 'seed', 'sow']
    """
    return list(_stemmer(language).stemWords(list(words)))


def lemmas(words: Sequence[str], language: str) -> list[str]:
    """The lemma of each word: the form that a dictionary lists it under; the word itself where none is known.

    Words come as they are written: of German a capital tells the noun. Abbreviations stay what they are: words of one or two letters that
    are no function words, those without a vowel, and those that the dictionary writes with a full stop.

    >>> lemmas(["Gärten", "gingen"], "de"), lemmas(["cf", "js", "mrs", "us", "men"], "en")
    (['Garten', 'gehen'], ['cf', 'js', 'mrs', 'we', 'man'])
    """
    import simplemma

    known = _LEMMAS_AS.get(language, language)
    listed = function_words(language) if language in commonest() else frozenset[str]()

    def lemma(word: str) -> str:
        low = word.lower()
        short = len(word) <= _SHORT and low not in listed
        if short or (language in EARNEST and low.isascii() and low.isalpha() and not _VOWEL.search(low)):
            return word
        found = str(simplemma.lemmatize(word, known))
        return word if "." in found and "." not in word else found

    return [lemma(word) for word in words]


def is_known_word(word: str, language: str) -> bool:
    """True if a dictionary of the language has the word.

    >>> is_known_word("plants", "en"), is_known_word("plnats", "en")
    (True, False)
    """
    import simplemma

    known = _LEMMAS_AS.get(language, language)
    return known in LEMMAS and bool(simplemma.is_known(word, known))


def form_for(word_form: str, language: str) -> str:
    """The word form used for a language if `word_form` is requested: stems if there are no lemmas, and vice versa; written if there are
    neither.

    >>> form_for("stem", "pl"), form_for("lemma", "eu"), form_for("stem", "")
    ('lemma', 'stem', 'written')
    """
    for form in (word_form, "stem", "lemma") if word_form != "written" else ():
        if (form == "stem" and language in STEMS) or (
            form == "lemma" and (language in LEMMAS or language in _LEMMAS_AS)
        ):
            return form
    return "written"
