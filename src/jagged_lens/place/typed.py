# SPDX-License-Identifier: GPL-3.0-or-later
"""A text that is no document of the lens, taken through it."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import CleanSettings, Known
from jagged_lens.gather import Corpus
from jagged_lens.place.through import NOTHING, through, with_rows, with_rows_in_themes
from jagged_lens.progress import Progress, unheard
from jagged_lens.strings import Strings
from jagged_lens.terms import TermSettings
from jagged_lens.weigh import Themes, VectorSpace, WeighSettings


@dataclass(frozen=True, eq=False)
class Typed:
    """A text in the lens.

    space: the documents of the lens, and the text as one more row behind them. themes: with one more row as well. words: how many of
    its words Clean keeps; unknown: those of them that are in no term of the lens, as they are
    written. by_terms: true where the lens works on vectors that were given, and the text has none.
    """

    space: VectorSpace
    themes: Themes
    words: int
    unknown: tuple[str, ...]
    by_terms: bool = False

    @property
    def row(self) -> int:
        """The row of the text."""
        return self.space.weights.shape[0] - 1

    @property
    def unknown_share(self) -> float:
        """The share of its kept words that are in no term of the lens; 0 where it has none."""
        return len(self.unknown) / self.words if self.words else 0.0


def taken_through(
    text: str,
    space: VectorSpace,
    themes: Themes,
    cleaning: CleanSettings,
    limits: TermSettings,
    weighing: WeighSettings,
    folder: Path,
    known: Known = NOTHING,
    progress: Progress = unheard,
    vector: NDArray[np.float32] | None = None,
) -> Typed:
    """The text as a row of the space, as `through` says. folder: what the paths of word lists are relative to. vector: float32, k, of the
    text, where the lens works on vectors that were given; without it the text is compared by its terms.
    """
    corpus = Corpus(Strings.of(["typed"]), Strings.of([text]), Strings.of([""]), Strings.of([""]))
    found = through(corpus, space, cleaning, limits, weighing, folder, known, progress)
    by_terms = themes.given and vector is None
    if by_terms:
        themes = Themes.none(space)
    elif themes.given and vector is not None:
        found = dataclasses.replace(found, vectors=vector[None, :])
    tokens = found.tokens
    forms = tokens.form[tokens.kept]
    words = tokens.word[forms]
    return Typed(
        with_rows(space, found),
        with_rows_in_themes(themes, found),
        int(found.words[0]),
        tuple(tokens.written[int(form)] for form in forms[found.strange[words]]),
        by_terms,
    )
