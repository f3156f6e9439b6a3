# SPDX-License-Identifier: GPL-3.0-or-later
"""Terms as rows: the transposed space, in which terms are compared, grouped and mapped by the documents that hold them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.strings import Strings
from jagged_lens.terms import TermCounts, Vocabulary
from jagged_lens.weigh.themes import Themes
from jagged_lens.weigh.weigh import VectorSpace, row_sums


def term_rows(
    space: VectorSpace, columns: NDArray[np.int64], keys: Strings, themes: Themes | None = None
) -> VectorSpace:
    """The terms at some columns as rows of length 1, n documents wide: their weights in each document.

    themes: where these are learned vectors, the weights are the vectors of the terms (t × d) in place of their weights in documents; a term
    whose words have no vector is then empty. keys: of the n documents, which now stand where terms stood. A term that no row holds is
    empty. columns: int64, t of them; the space is t × n, float32 CSR.
    """
    learned = themes is not None and themes.learned
    weights = csr_array(
        themes.terms[columns] if themes is not None and learned else space.weights[:, columns].T.tocsr()
    )
    lengths = np.sqrt(row_sums(weights, weights.data.astype(np.float64) ** 2))
    scale = np.where(lengths > 0, lengths, 1.0)
    data = (weights.data / np.repeat(scale, np.diff(weights.indptr))).astype(np.float32)
    counts = csr_array(space.terms.counts[:, columns].T.tocsr())
    n = len(keys)
    documents = Vocabulary(
        keys,
        np.ones(n, np.uint8),
        np.bincount(counts.indices, counts.data, minlength=n).astype(np.int32),
        np.bincount(counts.indices, minlength=n).astype(np.int32),
        np.zeros(n, np.uint8),
    )
    return VectorSpace(
        csr_array((data, weights.indices, weights.indptr), shape=weights.shape),
        np.ones(n),
        lengths == 0,
        TermCounts(counts, documents, np.arange(n), keys, keys, columns.astype(np.int32)),
    )
