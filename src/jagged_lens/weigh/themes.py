# SPDX-License-Identifier: GPL-3.0-or-later
"""Themes: the truncated singular value decomposition of the weights, X ≈ U S Vᵀ, not centred.

Deerwester et al., "Indexing by latent semantic analysis", 1990; Manning, Raghavan & Schütze, "Introduction to Information Retrieval",
2008, ch. 18. The vectors come from a block Krylov space.
"""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.parallel import steady_blas
from jagged_lens.progress import Progress, unheard
from jagged_lens.weigh.singular import product, singular_vectors
from jagged_lens.weigh.weigh import VectorSpace, row_sums

_NOTHING = 1e-5  # of its length: a document of which no more lies in the themes lies in none


@dataclass(frozen=True, eq=False)
class Themes:
    """k themes of m terms, for n documents.

    terms: float32, m × k, V: columns of length 1, the entry of largest absolute value positive. values: float64, k, the singular values,
    falling. documents: float32, n × k, X V. energy: the sum of all squared weights. by: "svd", or "learned" where the columns are those
    of learned vectors, which are neither of length 1 nor at right angles; values are then the lengths of the columns of `documents`;
    "file" or "service" for vectors that were given, where terms is m × 0;
    or "adding" for themes that add up: see `adding_themes`. amounts: float32, n × k, W of themes that add up; left: the share of the energy
    that they leave; rounds: of their search.
    """

    terms: NDArray[np.float32]
    values: NDArray[np.float64]
    documents: NDArray[np.float32]
    energy: float
    by: str = "svd"
    amounts: NDArray[np.float32] = field(default_factory=lambda: np.zeros((0, 0), np.float32))
    left: float = 0.0
    rounds: int = 0

    @classmethod
    def none(cls, space: VectorSpace) -> Themes:
        """No themes: the later steps work on the terms."""
        n, m = space.weights.shape
        energy = float((space.weights.data.astype(np.float64) ** 2).sum())
        return cls(np.zeros((m, 0), np.float32), np.zeros(0), np.zeros((n, 0), np.float32), energy)

    def __len__(self) -> int:
        return len(self.values)

    @property
    def adding(self) -> bool:
        """True for themes that add up, which have one end and are ordered by size."""
        return self.by == "adding"

    @property
    def shown(self) -> NDArray[np.float32]:
        """How much each document has of each theme, as it is shown (float32, n × k): W of themes that add up, else X V."""
        return self.amounts if self.adding else self.documents

    @property
    def document_shares(self) -> NDArray[np.float64]:
        """The share of each theme in each document, of themes that add up (float64, n × k): rows of W with the sum 1, or 0."""
        amounts = self.amounts.astype(np.float64)
        whole = amounts.sum(axis=1, keepdims=True)
        return np.asarray(amounts / np.where(whole > 0, whole, 1))

    @property
    def learned(self) -> bool:
        """True if the columns are those of learned vectors."""
        return self.by == "learned"

    @property
    def given(self) -> bool:
        """True if the columns are those of vectors from outside, to which no term leads."""
        return self.by in ("file", "service")

    @property
    def of_vectors(self) -> bool:
        """True if the columns are dimensions of vectors, which have neither names nor ends."""
        return self.learned or self.given

    @property
    def named(self) -> bool:
        """True if there are themes, which have terms and names."""
        return len(self) > 0 and not self.of_vectors

    @property
    def shares(self) -> NDArray[np.float64]:
        """The share of the energy that each theme holds (float64, k)."""
        return self.values**2 / self.energy if self.energy > 0 else np.zeros(len(self.values))

    @property
    def elbow(self) -> int:
        """The theme, counted from 1, farthest below the line from the first to the last, with (j, s_j²) scaled to the unit square. 0 if
        there are fewer than three or none is below."""
        squares = self.values**2
        if self.by != "svd" or len(squares) < 3 or squares[0] <= squares[-1]:
            return 0
        height = (squares - squares[-1]) / (squares[0] - squares[-1])
        below = 1 - np.linspace(0, 1, len(squares)) - height
        return int(below.argmax()) + 1 if below.max() > 0 else 0


def themes(space: VectorSpace, most: int, progress: Progress = unheard) -> Themes:
    """The first `most` themes of the weights; fewer where the weights have no more."""
    x = space.weights
    n, m = x.shape
    energy = float((x.data.astype(np.float64) ** 2).sum())
    most = min(most, n, m)
    if most == 0 or energy == 0:
        return Themes.none(space)
    wide = csr_array((x.data.astype(np.float64), x.indices, x.indptr), shape=x.shape)
    with steady_blas():
        vectors, squares = singular_vectors(wide, most, progress)
        documents = product(wide, vectors)
    return Themes(vectors.astype(np.float32), np.sqrt(squares), documents.astype(np.float32), energy)


def in_themes(space: VectorSpace, found: Themes) -> VectorSpace:
    """The space in which later steps work: the rows of X V, one column a theme; the space itself where there are no themes.

    The rows stay a CSR, all of whose cells are filled, so that every later step takes them as it takes terms.
    """
    if not len(found):
        return space
    x = space.weights
    inside = np.linalg.norm(found.documents.astype(np.float64), axis=1)
    if found.given:
        empty = inside == 0
    else:
        lengths = np.sqrt(row_sums(x, x.data.astype(np.float64) ** 2))
        empty = space.empty | (inside <= _NOTHING * lengths)
    rows = csr_array(np.where(empty[:, None], np.float32(0), found.documents))
    return dataclasses.replace(space, weights=rows, empty=empty)
