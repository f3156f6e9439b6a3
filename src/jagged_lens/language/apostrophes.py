# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts on either side of an apostrophe: an article or a particle in front of a word, or an ending behind it."""

from __future__ import annotations

from collections.abc import Callable

_BEFORE = {
    "fr": "l d j m t s n c qu jusqu lorsqu puisqu quoiqu quelqu presqu",
    "it": "l un d c m t v n s all dall dell nell sull coll quell quest bell sant dov com anch tutt senz altr nient",
    "ca": "l d n s m t",
    "ga": "d b m",
    "oc": "l d",
}
_AFTER = {"en": "s re ve ll d m", "nl": "s", "af": "s", "tr": ""}
_IN_FRONT = {code: frozenset(words.split()) for code, words in _BEFORE.items()}
_BEHIND = {code: frozenset(words.split()) for code, words in _AFTER.items()}


def stands_alone(word: str, code: str) -> bool:
    """True if a function word of a language stands by itself, not only in front of an apostrophe as c in c'est."""
    return len(word) > 1 or word not in _IN_FRONT.get(code, ())


_NOT = "n't"
_SHORTENED = {"ca": "can", "wo": "will", "sha": "shall", "ai": "is"}


def core_of(word: str, code: str, is_listed: Callable[[str], bool]) -> str:
    """The counted form of a word with an apostrophe, by the rules of its language; the word itself if there is no rule.

    is_listed: whether a word is a function word. In French, Italian and Catalan an article or particle in front goes: l'eau is eau,
    n'est is est. In English a shortened verb behind goes (it's is it) and n't behind a function word is not: isn't is not.
    In Turkish what stands behind the apostrophe of a name is its ending.

    >>> core_of("l'eau", "fr", lambda word: False), core_of("isn't", "en", {"is"}.__contains__), core_of("o'clock", "en", bool)
    ('eau', 'not', "o'clock")
    """
    head, mark, tail = word.partition("'")
    if not mark or not head or not tail:
        return word
    low = head.lower()
    if low in _IN_FRONT.get(code, ()):
        return core_of(tail, code, is_listed)
    if code == "tr":
        return head
    if code == "en" and word.lower().endswith(_NOT):
        verb = word[: -len(_NOT)].lower()
        return "not" if is_listed(_SHORTENED.get(verb, verb)) or is_listed(verb + "n") else word
    if tail.lower() in _BEHIND.get(code, ()):
        return head
    return word
