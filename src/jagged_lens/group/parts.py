# SPDX-License-Identifier: GPL-3.0-or-later
"""Parts of the rows, drawn at random and grouped anew: what comes back in them holds."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from jagged_lens.group.draws import part_of
from jagged_lens.group.grouping import FilledRows
from jagged_lens.group.kmeans import SAMPLE, WHOLE_TO, best_of_starts, best_of_tables
from jagged_lens.group.rounds import FEW_ROWS, table_of
from jagged_lens.group.settings import GroupSettings
from jagged_lens.group.tree import cut_joins, joins_of
from jagged_lens.group.tree_of_groups import MOST_ROWS
from jagged_lens.parallel import over_blocks
from jagged_lens.progress import Progress, Told, portion, unheard

_PART_DRAWS, _SAMPLE_DRAW = 1_000_000, 3_000_000  # no start has these numbers
TRIES = 20
"""So many parts are grouped anew,"""
PART = 0.8
"""each of so large a share of the rows."""


def measured_on(rows: FilledRows, settings: GroupSettings) -> FilledRows:
    """The rows on which a grouping is tried: all of them, or, where they are very many, a sample of 20,000."""
    if len(rows) <= (MOST_ROWS if settings.by == "tree" else WHOLE_TO):
        return rows
    return rows.some(part_of(rows.ids, SAMPLE, settings.seed, _SAMPLE_DRAW))


def drawn(ids: NDArray[np.uint64], seed: int) -> list[NDArray[np.int64]]:
    """Seeded parts of four fifths of some rows, drawn by their ids without replacement: 20 of int64, rising."""
    size = len(ids)
    part = max(round(PART * size), min(size, 1))
    return [part_of(ids, part, seed, _PART_DRAWS, number) for number in range(TRIES)]


class Parts:
    """Parts of filled rows, ready to be put into any number of groups by k-means or a tree, as the settings say. What serves every number
    is made once. places: int64 each, which of the filled rows are in a part."""

    def __init__(self, rows: FilledRows, settings: GroupSettings, progress: Progress = unheard) -> None:
        self._rows = rows
        self._settings = settings
        self.places = drawn(rows.ids, settings.seed)
        self._joins: list[NDArray[np.float64]] = []
        self._tables: list[NDArray[np.float32]] = []
        self._table: NDArray[np.float32] | None = None  # of all rows
        if settings.by == "tree":
            done = Told(progress)
            for joins in over_blocks(lambda part: self._tree(part, done), self.places):
                self._joins.append(joins)
                done.at(len(self._joins) / TRIES)
        elif len(rows) <= FEW_ROWS:
            self._table = table = table_of(rows.x)
            self._tables = [np.ascontiguousarray(table[np.ix_(part, part)]) for part in self.places]

    def _tree(self, part: NDArray[np.int64], done: Told) -> NDArray[np.float64]:
        return joins_of(self._rows.some(part), self._settings.linkage, done.again)

    def whole(self, groups: int, progress: Progress = unheard) -> NDArray[np.int64]:
        """The group of each row, by k-means: int64, f."""
        settings = self._settings
        if self._table is not None and len(self._rows):
            k = min(groups, len(self._rows))
            return next(best_of_tables([self._table], [self._rows.ids], k, settings.starts, settings.seed, progress))
        return best_of_starts(self._rows.x, groups, settings.starts, settings.seed, self._rows.ids, progress)[0]

    def grouped(self, groups: int, progress: Progress = unheard) -> Iterator[NDArray[np.int64]]:
        """The group of each row of each part: int64, part by part."""
        settings = self._settings
        if settings.by == "tree":
            for joins in self._joins:
                yield cut_joins(joins, len(joins) + 1, groups)[0]
        elif self._tables:
            k = min(groups, len(self.places[0]))
            yield from best_of_tables(
                self._tables,
                [self._rows.ids[part] for part in self.places],
                k,
                settings.starts,
                settings.seed,
                progress,
            )
        else:
            for number, part in enumerate(self.places):
                within = portion(progress, number / TRIES, (number + 1) / TRIES)
                some = self._rows.some(part)
                yield best_of_starts(some.x, groups, settings.starts, settings.seed, some.ids, within)[0]
