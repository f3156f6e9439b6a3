"""The step Clean: a corpus to tokens, each kept or taken for one reason."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.characters import is_number, without_accents
from jagged_lens.clean.settings import CleanSettings
from jagged_lens.clean.split import split
from jagged_lens.clean.stop_words import stop_words
from jagged_lens.clean.take_out import Reason
from jagged_lens.clean.word_forms import stems
from jagged_lens.gather import Corpus
from jagged_lens.progress import Progress, part, unheard
from jagged_lens.strings import Strings


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
    rule took.
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

    @property
    def kept(self) -> NDArray[np.bool_]:
        """Of each token whether it is kept."""
        return np.asarray(self.reason == Reason.KEPT)

    def kept_by_row(self) -> NDArray[np.int64]:
        """How many tokens each document keeps."""
        return np.diff(np.concatenate(([0], np.cumsum(self.kept)))[self.row_starts])


def account(reasons: NDArray[np.uint8]) -> tuple[Loss, ...]:
    """The account of losses: all tokens, then each rule that took some, in the order of the work. The last `left` is kept.

    reasons: the Reason of each token.
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


def clean(corpus: Corpus, settings: CleanSettings, folder: Path, progress: Progress = unheard) -> Tokens:
    """Tokenise all documents and say of each token whether it is kept.

    folder: what the path of a stop word list is relative to. The order is that of docs/formulas.md: take out, tokens,
    case, accents, numbers, length, stop words, word form. SourceError where a stop word list cannot be read.
    """
    fold = folding(settings)
    stopped = stop_words(settings.stop_words, folder, fold)
    found = split(
        corpus.texts,
        letters_only=settings.tokens == "letters",
        join_hyphens=settings.hyphens == "join",
        take_out=settings.take_out,
        progress=part(progress, 0, 0.8),
    )
    progress(0.8)
    spelling_of: dict[str, int] = {}
    folded = np.array([spelling_of.setdefault(fold(form), len(spelling_of)) for form in found.forms], np.int32)
    spellings = list(spelling_of)
    reasons = np.array([_reason(spelling, settings, stopped) for spelling in spellings], np.uint8)
    kept = [spelling for spelling, reason in zip(spellings, reasons.tolist(), strict=True) if not reason]
    forms = stems(kept, settings.language) if settings.word_form == "stem" else kept
    number_of: dict[str, int] = {}
    word_of_spelling = np.full(len(spellings), -1, np.int32)
    word_of_spelling[reasons == Reason.KEPT] = [number_of.setdefault(form, len(number_of)) for form in forms]
    by_form = reasons[folded] if len(folded) else np.zeros(0, np.uint8)
    reason = np.where(found.taken > 0, found.taken, by_form[found.form]).astype(np.uint8)
    return Tokens(
        found.row_starts,
        found.form,
        found.start,
        found.length,
        reason,
        found.sentence_end,
        Strings.of(found.forms),
        folded,
        word_of_spelling[folded] if len(folded) else np.zeros(0, np.int32),
        Strings.of(spellings),
        Strings.of(number_of),
        account(reason),
    )


def _reason(spelling: str, settings: CleanSettings, stopped: frozenset[str]) -> Reason:
    if settings.numbers == "drop" and is_number(spelling):
        return Reason.NUMBER
    if len(spelling) < settings.shortest:
        return Reason.SHORT
    if len(spelling) > settings.longest:
        return Reason.LONG
    return Reason.STOP_WORD if spelling in stopped else Reason.KEPT
