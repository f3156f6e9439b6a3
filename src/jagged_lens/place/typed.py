"""A text that is no document of the lens, taken through it: its tokens, counts and weights by the vocabulary that is there."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from scipy.sparse import csr_array, vstack

from jagged_lens.clean import CleanSettings, clean
from jagged_lens.gather import Corpus
from jagged_lens.progress import Progress, unheard
from jagged_lens.strings import Strings
from jagged_lens.terms import TermSettings, count_character_runs, count_ngrams
from jagged_lens.weigh import Themes, VectorSpace, WeighSettings, local_weights, to_length


@dataclass(frozen=True, eq=False)
class Typed:
    """A text in the lens.

    space: the documents of the lens, and the text as one more row behind them. themes: with one more row as well. words: how many of
    its words Clean keeps; unknown: those of them that are in no term of the lens.
    """

    space: VectorSpace
    themes: Themes
    words: int
    unknown: tuple[str, ...]

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
    progress: Progress = unheard,
) -> Typed:
    """The text as a row of the space: cleaned and counted by the settings of the lens, weighed by the global weights of its terms.

    Terms that the lens does not have are left out. What depends on the whole collection, such as lines that recur in it, is not
    looked for. folder: what the paths of word lists are relative to.
    """
    one = Strings.of([text])
    corpus = Corpus(Strings.of(["typed"]), one, Strings.of([""]), Strings.of([""]))
    tokens = clean(corpus, cleaning, folder, progress)
    row = np.zeros(1, np.int32)
    if cleaning.tokens == "characters":
        found = count_character_runs(tokens, row, limits.words)
    else:
        found = count_ngrams(tokens, row, limits.words, limits.bridge)
    terms = space.terms
    m = terms.counts.shape[1]
    place = _columns(space)
    columns, times = [], []
    for name, often in zip(found.terms, found.times.tolist(), strict=True):
        column = place.get(name)
        if column is not None:
            columns.append(column)
            times.append(often)
    counted = np.bincount(np.array(columns, np.int64), np.array(times, np.float64), minlength=m).astype(np.int32)
    own = np.flatnonzero(counted).astype(np.int32)
    counts = csr_array((counted[own], own, np.array([0, len(own)], np.int32)), shape=(1, m))
    data = to_length(counts, local_weights(counts, weighing.local) * space.global_weights[own], weighing.length)
    weights = csr_array((data.astype(np.float32), own.copy(), counts.indptr.copy()), shape=(1, m))
    weights.eliminate_zeros()
    kept = tokens.word[tokens.form[tokens.kept]]
    words = [tokens.words[int(word)] for word in kept]
    known = {word for name in place for word in name.split()} if words else set()
    if cleaning.tokens == "characters":
        known = set(words) if len(own) else set()
    lens = dataclasses.replace(
        terms, counts=csr_array(vstack([terms.counts, counts], "csr")), rows=np.append(terms.rows, np.int32(-1))
    )
    larger = VectorSpace(
        csr_array(vstack([space.weights, weights], "csr")),
        space.global_weights,
        np.append(space.empty, weights.nnz == 0),
        lens,
    )
    documents = themes.documents
    if len(themes):
        documents = np.concatenate((documents, np.asarray(weights @ themes.terms, np.float32)))
    return Typed(
        larger,
        dataclasses.replace(themes, documents=documents),
        len(words),
        tuple(word for word in words if word not in known),
    )


def _columns(space: VectorSpace) -> dict[str, int]:
    """The column of each term of the lens by its name."""
    return space.terms.columns_of(np.arange(space.terms.counts.shape[1]))
