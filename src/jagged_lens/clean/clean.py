"""The step Clean: a corpus to tokens, each kept or taken for one reason."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.characters import is_number, without_accents
from jagged_lens.clean.own_rules import OwnRules, own_rules
from jagged_lens.clean.phrases import join_phrases, take_phrases
from jagged_lens.clean.recurring import recurring_lines, where_lines_stand
from jagged_lens.clean.replace import Replaced, Replacement, replaced, replacement_of
from jagged_lens.clean.settings import CleanSettings
from jagged_lens.clean.split import split
from jagged_lens.clean.stop_words import stop_words
from jagged_lens.clean.take_out import Reason
from jagged_lens.clean.word_forms import forms
from jagged_lens.errors import RecipeError
from jagged_lens.expressions import expression
from jagged_lens.gather import Corpus
from jagged_lens.killable import call_killable
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.strings import Strings

_MOST_LINES = 200


@dataclass(frozen=True)
class Loss:
    """One line of the account: the rule, how many tokens it took, how many were left after it."""

    rule: Reason
    taken: int
    left: int


@dataclass(frozen=True, eq=False)
class Tokens:
    """All t tokens of n documents, kept or not.

    row_starts: int64, n + 1. Of each token: form (int32, into the tables of forms), start and length (int32, its span
    in code points in the document's text), reason (uint8, a Reason), sentence_end (bool, one lies between it and the
    next). Of each form: written (as in the text), folded (int32 into `spellings`: after case and accents), word
    (int32 into `words`: after stems; -1 where the form is taken). words: what terms are made of. account: how many tokens each
    rule took. hits: of each rule that works on stretches of text, how many of them it took or replaced. recurring: lines that
    recur, and in how many documents.
    """

    row_starts: NDArray[np.int64]
    form: NDArray[np.int32]
    start: NDArray[np.int32]
    length: NDArray[np.int32]
    reason: NDArray[np.uint8]
    sentence_end: NDArray[np.bool_]
    written: Strings
    folded: NDArray[np.int32]
    word: NDArray[np.int32]
    spellings: Strings
    words: Strings
    account: tuple[Loss, ...]
    hits: tuple[tuple[str, int], ...] = ()
    recurring: tuple[tuple[str, int], ...] = ()

    @property
    def kept(self) -> NDArray[np.bool_]:
        """Of each token whether it is kept: bool."""
        return np.asarray(self.reason == Reason.KEPT)

    def kept_by_row(self) -> NDArray[np.int64]:
        """How many tokens each document keeps: int64."""
        return np.diff(np.concatenate(([0], np.cumsum(self.kept)))[self.row_starts])


def account(reasons: NDArray[np.uint8]) -> tuple[Loss, ...]:
    """The account of losses: all tokens, then each rule that took some, in the order of the work. The last `left` is kept.

    reasons: uint8, the Reason of each token.
    """
    by_reason = np.bincount(reasons, minlength=len(Reason))
    left = len(reasons)
    lines = [Loss(Reason.KEPT, 0, left)]
    for rule in Reason:
        if rule != Reason.KEPT and by_reason[rule]:
            left -= int(by_reason[rule])
            lines.append(Loss(rule, int(by_reason[rule]), left))
    return tuple(lines)


def folding(settings: CleanSettings) -> Callable[[str], str]:
    """The function that brings a word to the case and accents of the tokens."""

    def fold(word: str) -> str:
        word = word.lower() if settings.case == "lower" else word
        return without_accents(word) if settings.accents == "strip" else word

    return fold


def clean(
    corpus: Corpus,
    settings: CleanSettings,
    folder: Path,
    progress: Progress = unheard,
    lines: frozenset[str] | None = None,
) -> Tokens:
    """The tokens of all documents, as `clean_here` says. Expressions of the user's own search in a process that is ended as soon
    as `progress` raises Stopped."""
    if settings.has_expressions:
        what = "an expression of Clean"
        return call_killable(clean_here, corpus, settings, folder, lines, progress=progress, what=what)
    return clean_here(corpus, settings, folder, lines, progress)


def clean_here(
    corpus: Corpus,
    settings: CleanSettings,
    folder: Path,
    lines: frozenset[str] | None = None,
    progress: Progress = unheard,
) -> Tokens:
    """Tokenise all documents and say of each token whether it is kept.

    folder: what the paths of lists are relative to. lines: those that recur, where that was found in other documents;
    None: in these. The order is that of docs/formulas.md: replace, take out, tokens, case,
    accents, numbers, length, joined phrases, never used, stop words, word form, synonyms. SourceError where a list cannot be
    read or a line of it is no rule.
    """
    fold = folding(settings)
    stopped = stop_words(settings.stop_words, folder, fold)
    own = own_rules(settings.own_rules, settings.word_lists, folder)
    rules = [replacement_of(rule) for rule in settings.replace]
    changed = replaced(corpus.texts, [rule for rule in rules if rule.words], portion(progress, 0, 0.1))
    stretches, recurring = _stretches(corpus, changed.texts, settings, rules, lines, portion(progress, 0.1, 0.2))
    hits: Counter[Reason] = Counter()
    found = split(
        changed.texts,
        letters_only=settings.tokens == "letters",
        join_hyphens=settings.hyphens == "join",
        take_out=settings.take_out,
        pattern=expression(settings.pattern) if settings.tokens == "pattern" else None,
        stretches=stretches,
        hits=hits,
        progress=portion(progress, 0.2, 0.8),
    )
    progress(0.8)
    written = list(found.forms)
    spelling_of: dict[str, int] = {}
    folded = np.array([spelling_of.setdefault(form, len(spelling_of)) for form in _folded(written, settings)], np.int32)
    shape = _shapes(list(spelling_of), settings)
    form, length = found.form, found.length
    reason = np.where(found.taken > 0, found.taken, _by_form(shape, folded)[form]).astype(np.uint8)
    same = {tuple(map(fold, left)): "_".join(map(fold, right)) for left, right in own.same.items()}
    if own:
        phrases = [tuple(map(fold, words)) for words in own.join] + [left for left in same if len(left) > 1]
        joined = join_phrases(found, folded, spelling_of, reason, phrases)
        form, length, reason = joined.form, joined.length, joined.reason
        for phrase in joined.phrases:
            written.append(" ".join(phrase))
            folded = np.append(folded, np.int32(spelling_of.setdefault("_".join(phrase), len(spelling_of))))
        never = [tuple(map(fold, words)) for words in own.never]
        reason = take_phrases(found, form, folded, spelling_of, reason, [words for words in never if len(words) > 1])
        unused = {"_".join(words) for words in never}
    else:
        unused = set()
    spellings = list(spelling_of)
    reasons = np.zeros(len(spellings), np.uint8)
    for listed, why in ((stopped, Reason.STOP_WORD), (unused, Reason.NEVER)):
        reasons[[spelling_of[word] for word in listed if word in spelling_of]] = why
    reason = np.where(reason > 0, reason, _by_form(reasons, folded)[form]).astype(np.uint8)
    # A spelling keeps a word where any token of it may be kept.
    gone = np.zeros(len(spellings), np.bool_)
    gone[: len(shape)] = shape > 0
    gone |= reasons > 0
    kept = [number for number in range(len(spellings)) if not gone[number]]
    word_of_spelling, words = _words(spellings, kept, own, same, fold, settings)
    start = found.start
    if changed.back:
        start, length = _where_it_was(changed, found.row_starts, found.start, length)
    return Tokens(
        found.row_starts,
        form,
        start,
        length,
        reason,
        found.sentence_end,
        Strings.of(written),
        folded,
        word_of_spelling[folded] if len(folded) else np.zeros(0, np.int32),
        Strings.of(spellings),
        Strings.of(words),
        account(reason),
        (
            *((rule.name.lower().replace("_", "-"), count) for rule, count in sorted(hits.items())),
            *((f"replace {rule}", count) for rule, count in zip(_changing(settings), changed.hits, strict=True)),
        ),
        tuple(recurring[:_MOST_LINES]),
    )


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
    """What is taken out of each document by recurring lines and by patterns of the user's own; and the recurring lines."""
    found: dict[int, list[tuple[int, int, Reason]]] = {}
    recurring: list[tuple[str, int]] = []
    if "recurring-lines" in settings.take_out:
        if lines is None:
            within = _within(corpus, settings.recurring_within)
            spans, recurring = recurring_lines(texts, within, settings.recurring_from, progress)
        else:
            spans = where_lines_stand(texts, lines)
        for row, stretches in spans.items():
            found[row] = [(start, end, Reason.RECURRING_LINE) for start, end in stretches]
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


def _by_form(of_spelling: NDArray[np.uint8], folded: NDArray[np.int32]) -> NDArray[np.uint8]:
    return of_spelling[folded] if len(folded) else np.zeros(0, np.uint8)


def _words(
    spellings: list[str],
    kept: list[int],
    own: OwnRules,
    same: dict[tuple[str, ...], str],
    fold: Callable[[str], str],
    settings: CleanSettings,
) -> tuple[NDArray[np.int32], list[str]]:
    """The number of the word that each spelling becomes (-1: none), and the words."""
    written = {fold(word) for word in own.written}

    def formed(texts: list[str]) -> list[str]:
        made = forms(texts, settings.word_form, settings.language)
        return [text if text in written or "_" in text else form for text, form in zip(texts, made, strict=True)]

    targets = list(same.values())
    target_of = dict(zip(map("_".join, same), formed(targets), strict=True))
    # A rule for slugs holds for every word that has its form, such as slug's.
    lefts = [left[0] for left in same if len(left) == 1]
    by_form = dict(zip(formed(lefts), formed([same[(left,)] for left in lefts]), strict=True))
    number_of: dict[str, int] = {}
    word_of_spelling = np.full(len(spellings), -1, np.int32)
    texts = [spellings[number] for number in kept]
    if not own:
        made = forms(texts, settings.word_form, settings.language)
        word_of_spelling[kept] = [number_of.setdefault(form, len(number_of)) for form in made]
        return word_of_spelling, list(number_of)
    for number, text, form in zip(kept, texts, formed(texts), strict=True):
        word = target_of.get(text) or by_form.get(form, form)
        word_of_spelling[number] = number_of.setdefault(word, len(number_of))
    return word_of_spelling, list(number_of)


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


def _folded(words: list[str], settings: CleanSettings) -> list[str]:
    """The words in the case and accents of the tokens. All are lowered at once: a NUL parts words as the end of a text does."""
    if settings.case == "lower":
        together = "\0".join(words).lower().split("\0")
        words = together if len(together) == len(words) else [word.lower() for word in words]
    return [without_accents(word) for word in words] if settings.accents == "strip" else words


def _shapes(spellings: list[str], settings: CleanSettings) -> NDArray[np.uint8]:
    """Of each spelling the Reason for which it is taken for what it looks like."""
    lengths = np.fromiter(map(len, spellings), np.int64, len(spellings))
    shapes = np.zeros(len(spellings), np.uint8)
    shapes[lengths > settings.longest] = Reason.LONG
    shapes[lengths < settings.shortest] = Reason.SHORT
    if settings.numbers == "drop":
        shapes[[not word[:1].isalpha() and is_number(word) for word in spellings]] = Reason.NUMBER
    return shapes
