# SPDX-License-Identifier: GPL-3.0-or-later
"""The order of the leaves of a tree: of the two sides of a join, the one nearer to what stands before comes first."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.progress import Progress, unheard

_DIRECTIONS = 64
_SEED = 1


def leaf_order(joins: NDArray[np.float64], x: csr_array, progress: Progress = unheard) -> NDArray[np.int32]:
    """The leaves, int32 (n), so that no joins cross.

    joins: float64, (n - 1) × 4, as of a `Tree`. x: float64 CSR, n × m, rows of length 1. At the root the larger side comes first.
    Nearness is the cosine of the means of two branches; of rows with more columns than 64 directions their shadows on so many
    seeded random ones are compared (Johnson & Lindenstrauss 1984), since the means of all branches would fill memory.
    """
    n = x.shape[0]
    if n < 2:
        return np.arange(n, dtype=np.int32)
    if x.shape[1] > _DIRECTIONS:
        signs = np.random.default_rng(_SEED).choice(np.array([-1.0, 1.0]), (x.shape[1], _DIRECTIONS))
        shadow = np.asarray(x @ signs)
    else:
        shadow = x.toarray()
    sums = np.empty((2 * n - 1, shadow.shape[1]))
    sums[:n] = shadow
    sides = joins[:, :2].astype(np.int64)
    for number, (left, right) in enumerate(sides.tolist()):
        sums[n + number] = sums[left] + sums[right]
    lengths = np.linalg.norm(sums, axis=1)
    sums /= np.where(lengths > 0, lengths, 1)[:, None]
    sizes = joins[:, 3]
    order: list[int] = []
    # What is still to be laid out, the next last, each with the branch that stands before it.
    waiting: list[tuple[int, int]] = [(2 * n - 2, -1)]
    while waiting:
        node, before = waiting.pop()
        if node < n:
            order.append(node)
            continue
        left, right = sides[node - n].tolist()
        if before < 0:
            size = [1.0 if side < n else sizes[side - n] for side in (left, right)]
            turned = size[1] > size[0]
        else:
            turned = bool(sums[right] @ sums[before] > sums[left] @ sums[before])
        one, other = (right, left) if turned else (left, right)
        waiting.append((other, one))
        waiting.append((one, before))
    progress(1.0)
    return np.array(order, np.int32)
