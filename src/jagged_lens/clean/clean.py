# SPDX-License-Identifier: GPL-3.0-or-later
"""The step Clean: a corpus to tokens, each kept or taken for one reason."""

from __future__ import annotations

import dataclasses
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.forms_read import forms_read, held_ends
from jagged_lens.clean.own_rules import own_rules
from jagged_lens.clean.recurring import recurring_stretches, where_they_stand
from jagged_lens.clean.replace import Replaced, Replacement, replaced, replacement_of
from jagged_lens.clean.rules_applied import apply_rules
from jagged_lens.clean.settings import CleanSettings
from jagged_lens.clean.split import Split, split
from jagged_lens.clean.take_out import Reason
from jagged_lens.clean.tokens import Tokens, account
from jagged_lens.errors import RecipeError
from jagged_lens.expressions import expression
from jagged_lens.gather import Corpus
from jagged_lens.killable import call_killable
from jagged_lens.language import CODES, UNKNOWN, languages_of
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.strings import Strings

_MOST_LINES = 200
_SIGNS = {"hashtags": "#", "handles": "@"}


@dataclass(frozen=True)
class Known:
    """The readings that a lens shares with new documents: recurring lines and sentences, and the code of the main language. lines: None
    if they are to be found in the others themselves."""

    lines: frozenset[str] | None
    language: str

    @classmethod
    def of(cls, tokens: Tokens) -> Known:
        """Figures of the tokens of a lens."""
        return cls(frozenset(line for line, _ in tokens.recurring), tokens.language)


def clean(
    corpus: Corpus,
    settings: CleanSettings,
    folder: Path,
    progress: Progress = unheard,
    known: Known | None = None,
) -> Tokens:
    """The tokens of all documents, as `clean_here` says. Expressions of the user's own search in a process that is ended as soon
    as `progress` raises Stopped."""
    if settings.has_expressions:
        what = "an expression of Clean"
        return call_killable(clean_here, corpus, settings, folder, known, progress=progress, what=what)
    return clean_here(corpus, settings, folder, known, progress)


def clean_here(
    corpus: Corpus,
    settings: CleanSettings,
    folder: Path,
    known: Known | None = None,
    progress: Progress = unheard,
) -> Tokens:
    """Tokenise all documents and say of each token whether it is kept.

    folder: what the paths of lists are relative to. known: lines that recur and the language, where they were found in other
    documents; None: in these. The order is that of docs/formulas.md: replace, take out, tokens, language, sentence ends, case, accents,
    elisions, word form, joined phrases, numbers, length, never used, stop words, negations, synonyms. SourceError where a list
    cannot be read or a line of it is no rule.
    """
    own = own_rules(settings.own_rules, settings.word_lists, folder)
    rules = [replacement_of(rule) for rule in settings.replace]
    changed = replaced(corpus.texts, [rule for rule in rules if rule.words], portion(progress, 0, 0.1))
    lines = known.lines if known else None
    stretches, recurring = _stretches(corpus, changed.texts, settings, rules, lines, portion(progress, 0.1, 0.2))
    hits: Counter[Reason] = Counter()
    found = split(
        changed.texts,
        letters_only=settings.tokens == "letters",
        join_hyphens=settings.hyphens == "join",
        join_first_letters=settings.hyphens == "join-after-a-letter",
        signs="".join(_SIGNS[one] for one in settings.keep_signs),
        take_out=settings.take_out,
        pattern=expression(settings.pattern) if settings.tokens == "pattern" else None,
        stretches=stretches,
        hits=hits,
        progress=portion(progress, 0.2, 0.7),
    )
    languages, whole = languages_of(found.forms, found.form, found.row_starts)
    progress(0.75)
    language: str = settings.language
    if language in ("detect", "each"):
        language = known.language if known else CODES[whole] if whole != UNKNOWN else ""
    found, codes = _by_language(found, languages, language, settings.language == "each")
    sentence_end = found.sentence_end & ~held_ends(found, codes)
    read = forms_read(found, codes, settings, own, folder)
    progress(0.85)
    result = apply_rules(found, read, own, settings)
    start, length = found.start, result.length
    if changed.back:
        start, length = _where_it_was(changed, found.row_starts, found.start, length)
    return Tokens(
        found.row_starts,
        result.form,
        start,
        length,
        result.reason,
        sentence_end,
        Strings.of(result.written),
        result.folded,
        result.word,
        Strings.of(result.spellings),
        Strings.of(result.words),
        account(result.reason),
        (
            *((rule.name.lower().replace("_", "-"), count) for rule, count in sorted(hits.items())),
            *((f"replace {rule}", count) for rule, count in zip(_changing(settings), changed.hits, strict=True)),
            *((f"rule {rule}", count) for rule, count in result.hits.items()),
        ),
        tuple(recurring[:_MOST_LINES]),
        languages,
        language,
        settings.language == "each",
        settings.tokens == "characters",
    )


def _by_language(found: Split, languages: NDArray[np.int8], language: str, each: bool) -> tuple[Split, list[str]]:
    """The tokens with a form of its own for each language that a word is read in; and the language of each form."""
    if not each:
        return found, [language] * len(found.forms)
    main = CODES.index(language) if language else UNKNOWN
    present, place = np.unique(np.where(languages == UNKNOWN, main, languages), return_inverse=True)
    count = len(found.forms)
    key = found.form + count * np.repeat(place, np.diff(found.row_starts))
    seen = np.zeros(count * max(len(present), 1), np.bool_)
    seen[key] = True
    there = np.flatnonzero(seen)
    form = (np.cumsum(seen, dtype=np.int32) - 1)[key] if len(key) else found.form
    forms = [found.forms[at] for at in (there % max(count, 1)).tolist()]
    names = [CODES[at] if at != UNKNOWN else "" for at in present.tolist()]
    codes = [names[at] for at in (there // max(count, 1)).tolist()]
    return dataclasses.replace(found, form=form.astype(np.int32), forms=forms), codes


def _changing(settings: CleanSettings) -> list[str]:
    """The rules of replace that put something in place of what they find."""
    return [rule for rule in settings.replace if replacement_of(rule).words]


def _stretches(
    corpus: Corpus,
    texts: Sequence[str],
    settings: CleanSettings,
    rules: Sequence[Replacement],
    lines: frozenset[str] | None,
    progress: Progress,
) -> tuple[dict[int, list[tuple[int, int, Reason]]], list[tuple[str, int]]]:
    """The spans that recurring lines and the user's own patterns remove from each document, and the recurring lines."""
    found: dict[int, list[tuple[int, int, Reason]]] = {}
    recurring: list[tuple[str, int]] = []
    within = _within(corpus, settings.recurring_within) if lines is None else None
    for rule, reason in (
        ("recurring-lines", Reason.RECURRING_LINE),
        ("recurring-sentences", Reason.RECURRING_SENTENCE),
    ):
        if rule not in settings.take_out:
            continue
        if lines is None:
            spans, some = recurring_stretches(texts, within, settings.recurring_from, rule, progress)
            recurring = list(dict.fromkeys(recurring + some))
        else:
            spans = where_they_stand(texts, lines, rule)
        for row, stretches in spans.items():
            found.setdefault(row, []).extend((start, end, reason) for start, end in stretches)
    patterns = [rule.pattern for rule in rules if not rule.words]
    for row, text in enumerate(texts) if patterns else ():
        for pattern in patterns:
            for match in pattern.finditer(text):
                found.setdefault(row, []).append((match.start(), match.end(), Reason.PATTERN))
    return found, recurring


def _within(corpus: Corpus, name: str) -> NDArray[np.int32] | None:
    if not name:
        return None
    if name == "source":
        return corpus.source if len(corpus.source) else None
    for label in corpus.labels:
        if label.name == name:
            return label.codes
    names = ", ".join(label.name for label in corpus.labels) or "none"
    raise RecipeError(f'there is no label "{name}"', "[clean] recurring-within", f'"source", or a label: {names}.')


def _where_it_was(
    changed: Replaced, row_starts: NDArray[np.int64], start: NDArray[np.int32], length: NDArray[np.int32]
) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """The spans of tokens in the texts as they were gathered, where something was replaced."""
    start, length = start.copy(), length.copy()
    for row in changed.back:
        own = slice(int(row_starts[row]), int(row_starts[row + 1]))
        begins = start[own].astype(np.int64)
        old, ends = changed.spans(row, begins, begins + length[own])
        start[own], length[own] = old, ends - old
    return start, length
