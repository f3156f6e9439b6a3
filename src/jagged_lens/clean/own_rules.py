# SPDX-License-Identifier: GPL-3.0-or-later
"""Rules of the user's own for words: synonyms, joined phrases, what is never used, what keeps the form it is written in.

A list is plain text (UTF-8), one rule a line, # begins a comment:

    slugs, leaf eaters = slug      counted as one term; the words on the left become the one on the right
    join: late frost               the words, one after the other, become one: late_frost
    never: plot number             this word, or these words one after the other, are never used
    as written: leaves             this word keeps its form: neither stem nor lemma is taken of it
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather import decoded
from jagged_lens.line_lists import entry_in, is_inside, shown_list
from jagged_lens.named_file import path_of, small_file

_WORDS = re.compile(r"[^\W_]+(?:['’\-‐‑][^\W_]+)*")
_MARKS = str.maketrans({"’": "'", "‐": "-", "‑": "-"})


@dataclass
class OwnRules:
    """Each entry is a tuple of words as they are written. same: left side to right side. join, never: words one after the
    other. written: single words. entries: each with the rule that it stands in and the kind of that."""

    same: dict[tuple[str, ...], tuple[str, ...]] = field(default_factory=dict)
    join: list[tuple[str, ...]] = field(default_factory=list)
    never: list[tuple[str, ...]] = field(default_factory=list)
    written: list[str] = field(default_factory=list)
    entries: list[tuple[str, str, tuple[str, ...]]] = field(default_factory=list)

    def __bool__(self) -> bool:
        return bool(self.same or self.join or self.never or self.written)


def own_rules(lines: Iterable[str], files: Iterable[str], folder: Path) -> OwnRules:
    """The rules of the files, then those of the lines. SourceError names the list and the line that is wrong."""
    found = OwnRules()
    for name in files:
        try:
            text = name if is_inside(name) else decoded(small_file(path_of(name, folder)))[0]
        except OSError as error:
            raise SourceError(
                f"the word list cannot be read ({error.strerror})",
                name,
                "Put it where the recipe expects it, or remove it from Word lists in the settings of Clean.",
            ) from error
        for number, line in enumerate(text.splitlines(), 1):
            _add(found, line, f"{shown_list(name)}, line {number}")
    for number, line in enumerate(lines, 1):
        _add(found, line, f"own rules, rule {number}")
    return found


def _add(found: OwnRules, line: str, where: str) -> None:
    rule = entry_in(line)
    if not rule:
        return
    head, colon, rest = rule.partition(":")
    kind = " ".join(head.lower().split())
    if colon and kind in ("join", "never", "as written"):
        words = _words(rest, where)
        if kind == "join":
            if len(words) < 2:
                raise SourceError(f'"{rest.strip()}" is a single word', where, "Join two or more: join: late frost")
            found.join.append(words)
        elif kind == "never":
            found.never.append(words)
        else:
            found.written += words
        found.entries += [(rule, kind, (word,)) for word in words] if kind == "as written" else [(rule, kind, words)]
        return
    left, mark, right = rule.partition("=")
    if not mark:
        raise SourceError(
            f'"{rule[:60]}" is not a rule', where, "Write a, b = c; or join: a b; or never: a b; or as written: a"
        )
    target = _words(right, where)
    for entry in left.split(","):
        words = _words(entry, where)
        if found.same.get(words, target) != target:
            raise SourceError(
                f'"{" ".join(words)}" cannot become both "{" ".join(found.same[words])}" and "{" ".join(target)}"',
                where,
            )
        if words != target:
            found.same[words] = target
            found.entries.append((rule, "same", words))


def _words(text: str, where: str) -> tuple[str, ...]:
    words = tuple(word.translate(_MARKS) for word in _WORDS.findall(text))
    if not words:
        raise SourceError("a word is missing", where, "For example slugs = slug")
    return words
