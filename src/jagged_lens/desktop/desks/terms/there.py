# SPDX-License-Identifier: GPL-3.0-or-later
"""The number of times each term occurs in some of the documents, and how telling it is for them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.terms import NgramCounts, Vocabulary, log_likelihood


@dataclass(frozen=True, eq=False)
class There:
    """The occurrences of each term of the vocabulary in some of the documents, the number of these documents, and G².

    words: which documents; size: how many, of n.
    """

    words: str
    size: int
    n: int
    times: NDArray[np.int64]
    documents: NDArray[np.int64]
    ratio: NDArray[np.float32]

    @classmethod
    def counted(cls, ngrams: NgramCounts, inside: NDArray[np.bool_], words: str) -> There:
        """inside: of each document of the lens whether it is among them."""
        times, documents = ngrams.within(inside)
        size, n = float(inside.sum()), float(len(inside))
        every = ngrams.documents.astype(np.float64)
        ratio = log_likelihood(documents.astype(np.float64), every, size, n).astype(np.float32)
        return cls(words, int(size), int(n), times, documents, ratio)

    def columns(self, vocabulary: Vocabulary) -> list[Column]:
        """The columns that show it."""
        inside = f"within {self.words}"
        elsewhere = (vocabulary.documents - self.documents) / max(self.n - self.size, 1)
        here = self.documents / max(self.size, 1)
        return [
            Column(
                "Here",
                lambda row: f"{here[row]:.1%}",
                here,
                right=True,
                tip=f"Share of the documents {inside} that contain the term",
            ),
            Column(
                "Elsewhere",
                lambda row: f"{elsewhere[row]:.1%}",
                elsewhere,
                right=True,
                tip="Share of all other documents of the lens that contain the term",
            ),
            Column(
                "Difference",
                lambda row: f"{100 * (here[row] - elsewhere[row]):+.1f}",
                here - elsewhere,
                right=True,
                tip="Share here minus share elsewhere, in percentage points",
            ),
            Column(
                "Times there",
                lambda row: f"{self.times[row]:,} of {vocabulary.times[row]:,}",
                self.times,
                right=True,
                tip=f"Occurrences {inside}, of all",
            ),
            Column(
                "Docs there",
                lambda row: f"{self.documents[row]:,} of {vocabulary.documents[row]:,}",
                self.documents,
                right=True,
                tip=f"Documents {inside} ({self.size:,}) that contain the term, of all that do",
            ),
            Column(
                "G²",
                lambda row: f"{self.ratio[row]:,.1f}",
                self.ratio,
                right=True,
                tip=f"Log-likelihood ratio: how clearly the term separates the documents {inside} from the others; 0 if it does not",
            ),
        ]
