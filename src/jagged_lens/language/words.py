# SPDX-License-Identifier: GPL-3.0-or-later
"""Words of languages by list: the commonest ones, function words in earnest, and words that turn the meaning round."""

from __future__ import annotations

import re
from functools import cache
from importlib import resources

EARNEST = ("de", "en", "es", "fr", "it", "nl", "pt", "ru")
"""Languages of which our own list of function words is whole. Of others the wide list (stopwordsiso) is taken, where there is one."""


@cache
def by_language(name: str) -> dict[str, tuple[str, ...]]:
    """The words of each language in a list that has a line for each."""
    text = resources.files("jagged_lens.language").joinpath(f"lists/{name}.txt").read_text("utf-8")
    lines = (line.partition(":") for line in text.splitlines() if line and not line.startswith("#"))
    return {code.strip('"'): tuple(words.split()) for code, _, words in lines}


@cache
def commonest() -> dict[str, frozenset[str]]:
    """The commonest function words of each language that is known by them: enough to tell it from another."""
    return {code: frozenset(words) for code, words in by_language("commonest").items()}


@cache
def negations(code: str) -> frozenset[str]:
    """The words of a language that turn a meaning round, such as not and never."""
    return frozenset(by_language("negations").get(code, ()))


@cache
def wide_languages() -> frozenset[str]:
    """The languages of which there is a wide list."""
    import stopwordsiso

    return frozenset(stopwordsiso.langs())


@cache
def wide_list(code: str) -> frozenset[str]:
    """The wide list of a language, empty where there is none."""
    import stopwordsiso

    return frozenset(stopwordsiso.stopwords(code)) if code in wide_languages() else frozenset()


_WRITTEN_WITH = {"ar": "وف", "he": "ו"}
"""Languages that write words for *and* together with the word behind them."""
_VOWEL_SIGNS = re.compile("[\u064b-\u065f\u0670]")
_WIDE_AS = {"sr": ("hr",), "hbs": ("hr",), "nb": ("no",), "nn": ("no",)}


@cache
def function_words(code: str) -> frozenset[str]:
    """The function words of a language: our own list, and the wide one with it where ours is thin.

    >>> "kann" in function_words("de"), "Garten" in function_words("de")
    (True, False)
    """
    if code in EARNEST:
        text = resources.files("jagged_lens.language").joinpath(f"lists/{code}.txt").read_text("utf-8")
        return frozenset(word for line in text.splitlines() if not line.startswith("#") for word in line.split())
    wide = frozenset[str]().union(*(wide_list(one) for one in _WIDE_AS.get(code, (code,))))
    words = wide | commonest().get(code, frozenset()) | negations(code)
    if code in _WRITTEN_WITH:
        bare = words | {_VOWEL_SIGNS.sub("", word) for word in words}
        words = bare | {and_ + word for and_ in _WRITTEN_WITH[code] for word in bare if len(word) > 1}
    return words
