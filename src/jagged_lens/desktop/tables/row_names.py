# SPDX-License-Identifier: GPL-3.0-or-later
"""The names of the rows of a table, so that the row in front stays in front when other arrays are shown."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from functools import cache

import numpy as np
from numpy.typing import NDArray


class RowNames:
    """name: of a row of the arrays. Rows are looked up by their names only where something was chosen before."""

    def __init__(self, name: Callable[[int], Hashable], size: int) -> None:
        self.name = name
        self._size = size
        self._places = cache(self._listed)

    def row(self, name: Hashable) -> int:
        """The row of that name, -1 where there is none."""
        return self._places().get(name, -1)

    def _listed(self) -> dict[Hashable, int]:
        return {self.name(row): row for row in range(self._size)}


def by_key(keys: Sequence[str], rows: NDArray[np.integer]) -> RowNames:
    """Rows known by the keys of their documents. keys: of all documents of the corpus; rows: the corpus row of each row."""
    return RowNames(lambda row: keys[int(rows[row])], len(rows))


def by_pair(keys: Sequence[str], first: NDArray[np.integer], second: NDArray[np.integer]) -> RowNames:
    """Rows known by the keys of two documents. first, second: their corpus rows."""
    return RowNames(lambda row: (keys[int(first[row])], keys[int(second[row])]), len(first))
