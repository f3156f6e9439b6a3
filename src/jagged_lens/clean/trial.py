# SPDX-License-Identifier: GPL-3.0-or-later
"""A rule tried out on some documents before it is taken over: what it would take, and how often."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.clean import Known, clean_here
from jagged_lens.clean.settings import CleanSettings
from jagged_lens.clean.tokens import Tokens
from jagged_lens.gather import Corpus
from jagged_lens.killable import call_killable
from jagged_lens.progress import Progress, unheard

_SAMPLE = 300
SECONDS = 6.0


@dataclass(frozen=True, eq=False)
class Trial:
    """row: of the corpus, the document shown. tokens: of that document alone, under the rules as tried. changed: in how many of the
    sampled documents anything is different from the rules as they are. sampled: how many those are."""

    row: int
    tokens: Tokens
    changed: int
    sampled: int


def try_rules(
    corpus: Corpus,
    before: CleanSettings,
    after: CleanSettings,
    row: int,
    folder: Path,
    language: str = "",
    progress: Progress = unheard,
) -> Trial:
    """Clean a document, and a sample of others, under both settings. The sample is the same each time. language: the code of that of
    most documents, of which the sample may tell another.

    Where the document itself does not change, the first of the sample that does is shown in its place. TookTooLong where an
    expression takes longer than some seconds.
    """
    rows = np.unique(np.linspace(0, len(corpus) - 1, min(_SAMPLE, len(corpus))).round().astype(np.int64))
    rows = np.concatenate(([row], rows[rows != row])).astype(np.int64)
    sample = corpus.take(rows)
    arguments = (sample, rows, before, after, folder, language)
    if not (before.has_expressions or after.has_expressions):
        return _tried(*arguments)
    what = "the expression, on some hundred documents,"
    return call_killable(_tried, *arguments, progress=progress, seconds=SECONDS, what=what)


def _tried(
    sample: Corpus,
    rows: NDArray[np.int64],
    before: CleanSettings,
    after: CleanSettings,
    folder: Path,
    language: str,
    progress: Progress = unheard,
) -> Trial:
    known = Known(None, language)
    old, new = clean_here(sample, before, folder, known), clean_here(sample, after, folder, known)
    different = [at for at in range(len(rows)) if _kept(old, at) != _kept(new, at)]
    shown = 0 if not different or different[0] == 0 else different[0]
    return Trial(
        int(rows[shown]),
        clean_here(sample.take(np.array([shown])), after, folder, Known(frozenset(), language)),
        len(different),
        len(rows),
    )


def _kept(tokens: Tokens, row: int) -> list[str]:
    own = slice(int(tokens.row_starts[row]), int(tokens.row_starts[row + 1]))
    return [tokens.words[int(tokens.word[form])] for form in tokens.form[own][tokens.kept[own]]]
