# SPDX-License-Identifier: GPL-3.0-or-later
"""Pairs that only one of two lenses lists, each with its similarity in both."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from jagged_lens.compare import rows_of, similarities
from jagged_lens.contrast import TwoLenses
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.words import KINDS, amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.gather import Corpus
from jagged_lens.lens import PAIRS, SPACE, THEMES, Results
from jagged_lens.weigh import in_themes

_MOST = 20_000


@dataclass(frozen=True, eq=False)
class LonePairs:
    """p pairs. first, second: int64, corpus rows. here: bool, whether the lens in front lists it. own, other: float32, the similarity in the
    lens that lists it and in the other one. kind: uint8. left_out: how many more there are."""

    first: NDArray[np.int64]
    second: NDArray[np.int64]
    here: NDArray[np.bool_]
    own: NDArray[np.float32]
    other: NDArray[np.float32]
    kind: NDArray[np.uint8]
    left_out: int


def lone_pairs(found: TwoLenses, here: Results, there: Results, measures: tuple[str, str]) -> LonePairs:
    """The pairs that only one lens lists, those first whose similarities differ most; measures: of both lenses."""
    parts = []
    left_out = 0
    for alone, own, other, measure in (
        (found.only_first, here, there, measures[1]),
        (found.only_second, there, here, measures[0]),
    ):
        pairs = own[PAIRS]
        order = alone[np.argsort(-pairs.similarity[alone], kind="stable")]
        left_out += max(len(order) - _MOST, 0)
        order = order[:_MOST]
        rows, others = own[SPACE].terms.rows, other[SPACE].terms.rows
        first, second = rows[pairs.first[order]].astype(np.int64), rows[pairs.second[order]].astype(np.int64)
        space = in_themes(other[SPACE], other[THEMES])
        alike = similarities(rows_of(space, measure), np.searchsorted(others, first), np.searchsorted(others, second))
        parts.append(
            (first, second, np.full(len(order), own is here), pairs.similarity[order], alike, pairs.kind[order])
        )
    first, second, listed, own_alike, other_alike, kind = (np.concatenate(some) for some in zip(*parts, strict=True))
    by = np.argsort(-np.abs(own_alike - other_alike), kind="stable")
    return LonePairs(first[by], second[by], listed[by], own_alike[by], other_alike[by], kind[by], left_out)


class LonePairsTable(QWidget):
    """pair_wanted(first, second): two corpus rows are to be read; chosen(first, second): the cursor is on them."""

    pair_wanted = pyqtSignal(int, int)
    chosen = pyqtSignal(int, int)
    read_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._pairs: LonePairs | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.said = muted()
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        self.table = TableView("Pairs that only one lens lists")
        self.table.setProperty(PICKS, True)
        self.table.opens = True
        self.table.open_wanted.connect(self._open)
        self.table.row_changed.connect(self._choose)
        self.table.read_wanted.connect(lambda _: self.read_wanted.emit())
        column.addWidget(self.table, 1)

    def show_pairs(self, pairs: LonePairs, corpus: Corpus, names: tuple[str, str]) -> None:
        """Show them. names: of both lenses."""
        self._pairs = pairs
        here = int(pairs.here.sum())
        more = f" {pairs.left_out:,} less similar ones are left out." if pairs.left_out else ""
        self.said.setText(
            f"{amount(here, 'pair')} only in {names[0]}, {len(pairs.first) - here:,} only in {names[1]}.{more} Return opens both."
            if len(pairs.first)
            else "Both lenses list the same pairs."
        )
        first, second = corpus.titles.take(pairs.first), corpus.titles.take(pairs.second)
        columns = [
            Column(
                "Pair",
                lambda at: first[at],
                searched=True,
                below=lambda at: second[at],
                names=("First document", "Second document"),
            ),
            Column("Listed by", lambda at: names[0] if pairs.here[at] else names[1], pairs.here),
            Column(
                "There",
                lambda at: f"{pairs.own[at]:.3f}",
                pairs.own,
                right=True,
                tip="Similarity in the lens that lists it",
            ),
            Column("In the other", lambda at: f"{pairs.other[at]:.3f}", pairs.other, right=True),
            Column("Kind", lambda at: KINDS[pairs.kind[at]], pairs.kind),
        ]
        self.table.show_rows(columns, len(pairs.first), 0)

    def _open(self, at: int) -> None:
        if self._pairs is not None:
            self.pair_wanted.emit(int(self._pairs.first[at]), int(self._pairs.second[at]))

    def _choose(self, at: int) -> None:
        if self._pairs is not None:
            self.chosen.emit(int(self._pairs.first[at]), int(self._pairs.second[at]))
