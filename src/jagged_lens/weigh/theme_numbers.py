# SPDX-License-Identifier: GPL-3.0-or-later
"""The number of themes that add up: what different numbers leave, and how stable the themes are over halves of the documents."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment

from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.weigh.adding import adding_themes
from jagged_lens.weigh.themes import Themes
from jagged_lens.weigh.weigh import VectorSpace, row_sums

NUMBERS = (2, 5, 10, 15, 20, 30, 40)
"""Numbers of themes that are tried."""
_SEED = 1


@dataclass(frozen=True, eq=False)
class ThemeNumbers:
    """Different numbers of themes that add up.

    numbers: int64, q, rising. left: float64, q, the share of the squared weights that each leaves. stable: float64, q, the mean cosine of the
    themes of one half of the documents with those of the other, matched one to one. own: float64, k, of each theme of the lens the mean
    cosine with its match in both halves.
    """

    numbers: NDArray[np.int64]
    left: NDArray[np.float64]
    stable: NDArray[np.float64]
    own: NDArray[np.float64]

    @classmethod
    def none(cls) -> ThemeNumbers:
        """No numbers."""
        return cls(np.zeros(0, np.int64), np.zeros(0), np.zeros(0), np.zeros(0))


def theme_numbers(
    space: VectorSpace, own: Themes, numbers: Sequence[int] = NUMBERS, progress: Progress = unheard
) -> ThemeNumbers:
    """The share that different numbers of themes leave, and their stability over two seeded halves of the documents. own: the themes of the lens.

    Numbers of more than half the documents are left out.
    """
    n = space.weights.shape[0]
    drawn = np.random.default_rng(_SEED).permutation(n)
    halves = [_of_rows(space, np.sort(drawn[side::2])) for side in (0, 1)]
    tried = [number for number in sorted({*numbers, len(own)}) if 0 < number <= n // 2]
    left, stable, matched = [], [], np.zeros(len(own))
    done, whole = 0.0, float(sum(tried)) or 1.0
    for number in tried:
        shares = [done + number * part / 3 for part in range(4)]
        steps = [portion(progress, shares[at] / whole, shares[at + 1] / whole) for at in range(3)]
        of_all = own if number == len(own) else adding_themes(space, number, steps[0])
        one, other = (adding_themes(half, number, step) for half, step in zip(halves, steps[1:], strict=True))
        left.append(of_all.left)
        stable.append(float(matches(one, other).mean()) if len(one) and len(other) else 0.0)
        if number == len(own):
            matched = (matches(own, one) + matches(own, other)) / 2
        done += number
        progress(done / whole)
    return ThemeNumbers(np.array(tried, np.int64), np.array(left), np.array(stable), matched)


def matches(one: Themes, other: Themes) -> NDArray[np.float64]:
    """The cosine of each theme with its match among others, matched one to one so that their sum is largest: float64, k; 0 without match."""
    cosine = one.terms.astype(np.float64).T @ other.terms.astype(np.float64)
    found = np.zeros(len(one))
    rows, columns = linear_sum_assignment(-cosine)
    found[rows] = cosine[rows, columns]
    return found


def left_by_document(space: VectorSpace, found: Themes) -> NDArray[np.float64]:
    """The share of each document's squared weights that themes that add up leave (float64, n): ‖x − w H‖² ÷ ‖x‖²; 0 for an empty one."""
    x = space.weights
    squares = row_sums(x, x.data.astype(np.float64) ** 2)
    w, h = found.amounts.astype(np.float64), found.terms.astype(np.float64)
    across = found.documents.astype(np.float64)
    rest = squares - 2 * (w * across).sum(axis=1) + ((w @ (h.T @ h)) * w).sum(axis=1)
    return np.where(squares > 0, np.clip(rest / np.where(squares > 0, squares, 1), 0, None), 0)


def _of_rows(space: VectorSpace, rows: NDArray[np.int64]) -> VectorSpace:
    """The weights of some documents alone."""
    return dataclasses.replace(space, weights=space.weights[rows])
