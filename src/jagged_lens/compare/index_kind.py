# SPDX-License-Identifier: GPL-3.0-or-later
"""The kind of the indices of sparse matrices: 32 bits wherever they fit, since half the memory is half the traffic."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

_MOST = 2**31


def index_kind(starts: NDArray[np.integer]) -> type[np.int32] | type[np.int64]:
    """int32 or int64, for the indices and the starts of a CSR matrix, which must be of one kind. starts: int64 or int32, n + 1."""
    return np.int32 if starts[-1] < _MOST else np.int64
