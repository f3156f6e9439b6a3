# SPDX-License-Identifier: GPL-3.0-or-later
"""Texts that are no documents of a lens, taken through it: their tokens, counts and weights by the vocabulary that is there."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array, vstack

from jagged_lens.clean import CleanSettings, Known, Tokens, clean
from jagged_lens.gather import Corpus
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.terms import TermSettings, count_character_runs, count_ngrams
from jagged_lens.weigh import Themes, VectorSpace, WeighSettings, local_weights, to_length

NOTHING = Known(frozenset(), "")


@dataclass(frozen=True, eq=False)
class Through:
    """d texts in a lens of m terms.

    tokens: of the texts. counts: int32 CSR, d × m; weights: float32 CSR, d × m. words: int64, d, how many of its words Clean keeps; unknown:
    int64, d, how many of those are in no term of the lens. strange: bool, of each word of the tokens whether it is in no term.
    vectors: float32, d × k, of the texts, where the lens works on vectors that were given; 0 for one that has none.
    """

    tokens: Tokens
    counts: csr_array
    weights: csr_array
    words: NDArray[np.int64]
    unknown: NDArray[np.int64]
    strange: NDArray[np.bool_]
    vectors: NDArray[np.float32] = field(default_factory=lambda: np.zeros((0, 0), np.float32))

    @property
    def unknown_share(self) -> NDArray[np.float64]:
        """The share of the kept words of each text that are in no term of the lens (float64, d); 0 where it has none."""
        return self.unknown / np.maximum(self.words, 1)


def through(
    corpus: Corpus,
    space: VectorSpace,
    cleaning: CleanSettings,
    limits: TermSettings,
    weighing: WeighSettings,
    folder: Path,
    known: Known = NOTHING,
    progress: Progress = unheard,
) -> Through:
    """The texts of a corpus as rows of the space: cleaned and counted by the settings of the lens, weighed by the global weights of its
    terms.

    Terms that the lens does not have are left out. known: the lines that recur in the lens, which are taken out as they are there, if its
    settings say so, and its language; whether lines recur among the new texts is not asked. folder: what the paths of word lists are relative to.
    """
    tokens = clean(corpus, cleaning, folder, portion(progress, 0, 0.6), known)
    rows = np.arange(len(corpus), dtype=np.int32)
    if cleaning.tokens == "characters":
        found = count_character_runs(tokens, rows, limits.words, portion(progress, 0.6, 0.8))
    else:
        found = count_ngrams(tokens, rows, limits.words, limits.bridge, portion(progress, 0.6, 0.8))
    m = space.terms.counts.shape[1]
    column_of = space.terms.columns_of(np.arange(m))
    columns = np.array([column_of.get(name, -1) for name in found.terms], np.int64)
    met = np.flatnonzero(columns >= 0)
    there = found.counts(met)
    counts = csr_array((there.data, columns[met][there.indices], there.indptr), shape=(len(corpus), m))
    counts.sum_duplicates()
    counts = csr_array((counts.data, counts.indices.astype(np.int32), counts.indptr), shape=counts.shape)
    data = to_length(
        counts, local_weights(counts, weighing.local) * space.global_weights[counts.indices], weighing.length
    )
    weights = csr_array((data.astype(np.float32), counts.indices.copy(), counts.indptr.copy()), shape=counts.shape)
    weights.eliminate_zeros()
    progress(0.9)
    strange = _strange(tokens, column_of, cleaning.tokens == "characters", bool(len(met)))
    document = np.repeat(rows, np.diff(tokens.row_starts))[tokens.kept]
    word = tokens.word[tokens.form[tokens.kept]]
    unknown = np.bincount(document[strange[word]], minlength=len(corpus))
    return Through(tokens, counts, weights, tokens.kept_by_row(), unknown, strange)


def _strange(tokens: Tokens, column_of: dict[str, int], characters: bool, any_known: bool) -> NDArray[np.bool_]:
    """For each word, True if no term of the lens contains it. Runs of characters are of no single word: then all are known, or none."""
    if characters:
        return np.full(len(tokens.words), not any_known)
    known = {word for name in column_of for word in name.split()}
    return np.array([word not in known for word in tokens.words], np.bool_)


def with_rows(space: VectorSpace, found: Through) -> VectorSpace:
    """The documents of the lens and the d texts behind them, as one space; the texts have no corpus row (-1)."""
    d = found.weights.shape[0]
    terms = dataclasses.replace(
        space.terms,
        counts=csr_array(vstack([space.terms.counts, found.counts], "csr")),
        rows=np.concatenate((space.terms.rows, np.full(d, -1, np.int32))),
    )
    return VectorSpace(
        csr_array(vstack([space.weights, found.weights], "csr")),
        space.global_weights,
        np.concatenate((space.empty, np.diff(found.weights.indptr) == 0)),
        terms,
    )


def with_rows_in_themes(themes: Themes, found: Through) -> Themes:
    """The themes with the d texts behind the documents."""
    if not len(themes):
        return themes
    if themes.given:
        return dataclasses.replace(themes, documents=np.concatenate((themes.documents, found.vectors)))
    new = np.asarray(found.weights @ themes.terms, np.float32)
    return dataclasses.replace(themes, documents=np.concatenate((themes.documents, new)))
