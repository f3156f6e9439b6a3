# SPDX-License-Identifier: GPL-3.0-or-later
"""The full stops that do not end a sentence: after abbreviations, initials and the numbers of days."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

from jagged_lens.language.words import by_language, commonest, function_words

_ORDINALS = frozenset(
    ("cs", "da", "de", "et", "fi", "hbs", "hr", "hu", "is", "lb", "lv", "nb", "nn", "no", "pl", "sk", "sl", "sr", "tr")
)


@dataclass(frozen=True)
class SentenceRules:
    """For a language: abbreviations, without their full stop, in small letters; ordinals: whether a number with a full stop is one (3.
    Mai); begins: function words, of which one with a capital begins a sentence even there."""

    abbreviations: frozenset[str]
    ordinals: bool
    begins: Callable[[str], bool]

    def holds_on(self, word: str) -> bool:
        """True if a sentence may go on behind this word and a full stop: an abbreviation, a single letter, the number of a day."""
        low = word.lower().rstrip(".")
        if len(low) == 1:
            return low.isalpha() or (self.ordinals and low.isdigit())
        if low in self.abbreviations or (len(low) > 2 and "." in low and not low[0].isdigit()):
            return True
        return self.ordinals and low.isdigit() and len(low) < 3

    def starts(self, word: str) -> bool:
        """True if a word begins a sentence wherever it stands behind a full stop: a function word with a capital letter."""
        return len(word) > 1 and word[0].isupper() and self.begins(word.lower())


@cache
def rules_of(code: str) -> SentenceRules:
    """The rules of a language; where it is not known ("") those that hold in most."""
    listed = by_language("abbreviations")
    words = function_words(code) if code in commonest() else frozenset[str]()
    return SentenceRules(
        frozenset(listed["any"]) | frozenset(listed.get(code, ())), code in _ORDINALS, words.__contains__
    )


_END = re.compile(r"[.!?…]+[\"'”’»)\]]*(?:\s+|$)|[。！？｡؟։।॥]+[\"'”’»」』）)\]]*\s*|\n[^\S\n]*\n\s*")
_LAST = re.compile(r"[^\s\"'“”‘’«»()\[\]]+$")
_FIRST = re.compile(r"[\w]+")


def sentence_spans(text: str, code: str = "") -> list[tuple[int, int]]:
    """The positions of the sentences of a text, without white space around them, where there is anything.

    A sentence ends at . ! ? or … before white space, at 。 and its like, and at a blank line; not at a full stop behind an
    abbreviation, an initial or the number of a day by the rules of the language (`code`, "" where it is not known), nor before a
    small letter, if the text has capitals at all.

    >>> [text[a:b] for text in ["Dr. Moor came. He sowed 3.5 rows, e.g. peas. All grew"] for a, b in sentence_spans(text, "en")]
    ['Dr. Moor came.', 'He sowed 3.5 rows, e.g. peas.', 'All grew']
    """
    rules = rules_of(code)
    cased = text != text.lower()
    found = []
    start = 0
    for match in [*_END.finditer(text), None]:
        if match and match[0].startswith(".") and match[0].strip("\"'”’»)] \t") == "." and match.end() < len(text):
            before, after = (
                _LAST.search(text, max(start, match.start() - 40), match.start()),
                _FIRST.match(text, match.end()),
            )
            if before and after and goes_on(rules, before[0], after[0], cased):
                continue
        end = match.end() if match else len(text)
        inner = text[start:end]
        if inner.strip():
            found.append((start + len(inner) - len(inner.lstrip()), start + len(inner.rstrip())))
        start = end
    return found


def goes_on(rules: SentenceRules, before: str, after: str, cased: bool) -> bool:
    """True if a sentence goes on between two words with a full stop between them. cased: whether the text has capitals."""
    return (cased and after[0].islower()) or (rules.holds_on(before) and not rules.starts(after))
