# SPDX-License-Identifier: GPL-3.0-or-later
"""Vectors under their keys, and the documents that they belong to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.strings import Strings

_ROWS_AT_ONCE = 8_000


@dataclass(frozen=True, eq=False)
class KeyedVectors:
    """k vectors of d dimensions. keys: of the documents, one a vector. vectors: real numbers, k × d, which may be mapped from a file.
    key_name: the name of the column with the keys, "" where it has none."""

    keys: Strings
    vectors: NDArray[np.floating]
    key_name: str = ""

    @property
    def dimensions(self) -> int:
        """Dimensions of each vector."""
        return int(self.vectors.shape[1])


@dataclass(frozen=True, eq=False)
class GivenVectors:
    """Vectors of n documents that come from outside.

    vectors: float32, n × d, 0 for a document without one. there: bool, n, true for those with one. Keys of the vectors that cannot be used:
    unmatched: no document has them; twice: a vector came before under the same key; not_finite: not all numbers are finite, or all
    are 0. averaged: bool, n, documents whose text was cut, and whose vector is the mean of its parts.
    """

    vectors: NDArray[np.float32]
    there: NDArray[np.bool_]
    unmatched: Strings
    twice: Strings
    not_finite: Strings
    averaged: NDArray[np.bool_]

    @classmethod
    def none(cls, n: int = 0) -> GivenVectors:
        """No vectors of n documents."""
        nothing = Strings.of([])
        there, averaged = np.zeros(n, np.bool_), np.zeros(n, np.bool_)
        return cls(np.zeros((n, 0), np.float32), there, nothing, nothing, nothing, averaged)

    @property
    def lacking(self) -> int:
        """The number of documents without a vector."""
        return int((~self.there).sum())


def joined(found: KeyedVectors, documents: Sequence[str], others: Sequence[str] = ()) -> GivenVectors:
    """The vector of each document by its key. Of two vectors under one key the first counts.

    others: keys of documents that are known, and for which no vector is asked.
    """
    place: dict[str, int] = {}
    twice = [key for at, key in enumerate(found.keys) if place.setdefault(key, at) != at]
    asked = np.array([place.get(key, -1) for key in documents], np.int64)
    known = {*documents, *others}
    unmatched = [key for key in place if key not in known]
    vectors = np.zeros((len(asked), found.dimensions), np.float32)
    rows = np.flatnonzero(asked >= 0)
    rows = rows[np.argsort(asked[rows], kind="stable")]  # in the order of the file, which is read once
    with np.errstate(over="ignore"):
        for at in range(0, len(rows), _ROWS_AT_ONCE):
            some = rows[at : at + _ROWS_AT_ONCE]
            vectors[some] = found.vectors[asked[some]]
    usable = np.isfinite(vectors).all(axis=1) & vectors.any(axis=1)
    vectors[~usable] = 0
    wrong = [documents[row] for row in np.flatnonzero(~usable & (asked >= 0)).tolist()]
    return GivenVectors(
        vectors,
        np.asarray(usable),
        Strings.of(unmatched),
        Strings.of(dict.fromkeys(twice)),
        Strings.of(wrong),
        np.zeros(len(asked), np.bool_),
    )
