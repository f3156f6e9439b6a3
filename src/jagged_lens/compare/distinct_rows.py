# SPDX-License-Identifier: GPL-3.0-or-later
"""The rows with identical entries."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from hashlib import blake2b

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array


@dataclass(frozen=True, eq=False)
class Distinct:
    """d rows that differ, of n. first: int64, d, the lowest row of each. of: int64, n, which of them each row is."""

    first: NDArray[np.int64]
    of: NDArray[np.int64]


def distinct_rows(matrix: csr_array) -> Distinct:
    """The rows of a matrix that differ, numbered by the lowest row of each.

    matrix: CSR, n × m, of any kind of number.
    """
    starts, indices, data = matrix.indptr.tolist(), matrix.indices.data, matrix.data.data
    number: dict[bytes, int] = {}
    first: list[int] = []
    of = np.empty(len(starts) - 1, np.int64)
    for row, (start, end) in enumerate(itertools.pairwise(starts)):
        key = blake2b(indices[start:end], digest_size=16)
        key.update(data[start:end])
        of[row] = at = number.setdefault(key.digest(), len(first))
        if at == len(first):
            first.append(row)
    return Distinct(np.array(first, np.int64), of)
