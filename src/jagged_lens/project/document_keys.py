# SPDX-License-Identifier: GPL-3.0-or-later
"""Data attached to documents: outside, a document is its key; inside, its corpus row."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather import Label
from jagged_lens.lens import CORPUS, GROUPING, LENS_ROWS, QUALITY, Results
from jagged_lens.project.current import Current
from jagged_lens.project.group_names import GroupNames, names_of


class DocumentKeys:
    """Labels, keys, origins and groups of the documents that are there."""

    def __init__(self, results: Callable[[], Results], current: Current) -> None:
        self._results = results
        self._current = current
        self._named: tuple[tuple[object, object, object], GroupNames] = ((None, None, None), GroupNames({}, ()))

    def labels(self) -> tuple[Label, ...]:
        """The labels that came with the documents, then those of the user's own."""
        corpus = self._results().get(CORPUS)
        if corpus is None:
            return ()
        return self._current.labels_of(corpus)

    def keys_of(self, rows: Iterable[int]) -> list[str]:
        """The keys of corpus rows."""
        corpus = self._results().get(CORPUS)
        return list(corpus.keys.take(np.fromiter(rows, np.int64))) if corpus is not None else []

    def rows_of(self, keys: Iterable[str]) -> list[int]:
        """The corpus rows of those keys that are there."""
        wanted = frozenset(keys)
        corpus = self._results().get(CORPUS)
        return [row for row, key in enumerate(corpus.keys) if key in wanted] if corpus is not None else []

    def origin(self, row: int) -> Path | str | None:
        """The file that a document came from, where it is still there, or the web address."""
        corpus, state = self._results().get(CORPUS), self._current.state
        if corpus is None or not len(corpus.source) or len(corpus.counts) != len(state.sources):
            return None  # other sources have been named since it was read
        source = state.sources[int(corpus.source[row])]
        if source.links:
            return next((page.landed for page in corpus.pages if page.address == corpus.origins[row]), None)
        base = state.folder / Path(source.file or source.database).expanduser()
        while not base.exists() and base != base.parent:  # a pattern: the folder before it
            base = base.parent
        inside = base if base.is_dir() else base.parent
        return next((path for path in (inside / corpus.origins[row], base) if path.is_file()), None)

    def lens_rows(self) -> NDArray[np.int32]:
        """The corpus rows of the documents in the lens, in order: int32; empty before there are any."""
        rows = self._results().get(LENS_ROWS)
        return rows if rows is not None else np.zeros(0, np.int32)

    def group_of(self, row: int) -> int:
        """The group of a corpus row; -1 where it has none."""
        grouping, place = self._results().get(GROUPING), self.place_of(row)
        if grouping is None or len(grouping.group) != len(self.lens_rows()) or place < 0:
            return -1
        return int(grouping.group[place])

    def is_weak(self, row: int) -> bool:
        """True if a corpus row is a weak member of its group: nearer to the members of another."""
        quality, place = self._results().get(QUALITY), self.place_of(row)
        if quality is None or len(quality.silhouette) != len(self.lens_rows()) or place < 0:
            return False
        return bool(quality.silhouette[place] < 0)

    def group_names(self) -> GroupNames:
        """The names and notes of the groups that are there, and those that fit none."""
        grouping, corpus, given = self._results().get(GROUPING), self._results().get(CORPUS), self._current.state.groups
        rows = self.lens_rows()
        if grouping is None or corpus is None or len(grouping.group) != len(rows):
            return GroupNames({}, given)
        of = (grouping, corpus, given)
        if any(one is not other for one, other in zip(of, self._named[0], strict=True)):
            self._named = (of, names_of(given, grouping, corpus.keys, rows.tolist()))
        return self._named[1]

    def place_of(self, row: int) -> int:
        """The row in the lens of a corpus row; -1 where it is not in it."""
        rows = self.lens_rows()
        place = int(np.searchsorted(rows, row)) if row >= 0 else len(rows)
        return place if place < len(rows) and rows[place] == row else -1
