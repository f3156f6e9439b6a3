# SPDX-License-Identifier: GPL-3.0-or-later
"""The curve of the terms by rank, on which the limits of documents are set by hand."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QVBoxLayout

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.terms.vocabulary import shown_term
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.rank_curve import RankCurve
from jagged_lens.lens import NGRAMS, TERMS
from jagged_lens.project import Shown
from jagged_lens.terms import NgramCounts, WhyNot, ZipfMandelbrot, fit_zipf_mandelbrot, in_order, why_not_kept


@dataclass(frozen=True, eq=False)
class Ranks:
    """Terms by documents falling: which term has each rank, which rank each term, the documents by rank, the line that fits."""

    terms: NDArray[np.int64]
    of: NDArray[np.int64]
    falling: NDArray[np.int32]
    line: ZipfMandelbrot | None

    @classmethod
    def ranked(cls, documents: NDArray[np.int32], n: int) -> Ranks:
        """documents: of each term, in how many of n it stands."""
        _, terms = in_order(n - documents.astype(np.int64), n)
        of = np.empty(len(terms), np.int64)
        of[terms] = np.arange(len(terms))
        falling = documents[terms]
        return cls(terms, of, falling, fit_zipf_mandelbrot(falling))


_NO_RANKS = Ranks.ranked(np.zeros(0, np.int32), 0)


class LimitsCard(QFrame):
    """A card with the curve.

    why_moved: while a limit is dragged, why each term would not be kept then (uint8, a WhyNot). term_chosen: the row of a term
    in the vocabulary.
    """

    why_moved = pyqtSignal(object)
    term_chosen = pyqtSignal(int)

    def __init__(self, bench: Shown, asker: Asker) -> None:
        super().__init__()
        self.setObjectName("card")
        self._bench = bench
        self._asker = asker
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 6, 8, 4)
        column.setSpacing(5)
        self.curve = RankCurve()
        self.curve.limits_moved.connect(self._moved)
        self.curve.limits_set.connect(self._limits)
        self.curve.hovered.connect(self._hovered)
        self.curve.chosen.connect(self._chosen_rank)
        column.addWidget(self.curve)
        self.ranks = _NO_RANKS
        self._ranked: NgramCounts | None = None  # those that the ranks are of
        self._row = -1

    def rank_terms(self) -> None:
        """Rank the terms by their documents; which of them are kept makes no difference to that."""
        ngrams = self._bench.results[NGRAMS]
        if self._ranked is ngrams:
            self._draw()
            return

        def show(ranks: Ranks) -> None:
            if self._bench.results.get(NGRAMS) is ngrams and self._bench.results.has(NGRAMS, TERMS):
                self._ranked, self.ranks = ngrams, ranks
                self._draw()
                self.mark(self._row)

        self._ranked, self.ranks = None, _NO_RANKS
        self._asker.ask("ranks of the terms", lambda: Ranks.ranked(ngrams.documents, len(ngrams.rows)), show)

    def mark(self, row: int) -> None:
        """Mark the place of a term of the vocabulary; -1 for none."""
        self._row = row
        self._mark(row)

    def _draw(self) -> None:
        terms, settings = self._bench.results[TERMS], self._bench.results.recipe.terms
        falling, line = self.ranks.falling, self.ranks.line
        limits = settings.least_of(len(terms.rows)), settings.most_share
        self.curve.show_terms(falling, len(terms.rows), *limits, len(terms.kept), line)
        self.curve.setStatusTip(
            f"Zipf–Mandelbrot: {line.scale:,.0f} / (rank + {line.shift:.1f}) ^ {line.exponent:.2f}" if line else ""
        )

    def _would_keep(self, least: float, share: float) -> NDArray[np.uint8]:
        """The reason why each term would be dropped under other limits of documents, with the other limits unchanged."""
        terms, settings = self._bench.results[TERMS], self._bench.results.recipe.terms
        vocabulary = terms.vocabulary
        named = vocabulary.named if vocabulary.named is not None else np.zeros(len(vocabulary), np.uint8)
        moved = dataclasses.replace(settings, least_documents=float(least), most_share=float(share))
        return why_not_kept(vocabulary.lengths, vocabulary.times, vocabulary.documents, named, len(terms.rows), moved)

    def _moved(self, least: float, share: float) -> None:
        """A limit is being dragged: count and grey at once; nothing is computed before it is let go."""
        why = self._would_keep(least, share)
        self.curve.show_kept(int((why == WhyNot.KEPT).sum()))
        self.why_moved.emit(why)

    def _limits(self, least: float, share: float) -> None:
        changed = self._bench.recipe.with_settings("terms", {"least-documents": least, "most-share": share})
        self._bench.change(self._bench.state.with_recipe(changed), "terms: limits")

    def _hovered(self, rank: int) -> None:
        self._mark(int(self.ranks.terms[rank]) if 0 <= rank < len(self.ranks.terms) else self._row)

    def _chosen_rank(self, rank: int) -> None:
        if 0 <= rank < len(self.ranks.terms):
            self.term_chosen.emit(int(self.ranks.terms[rank]))

    def _mark(self, row: int) -> None:
        if row < 0 or row >= len(self.ranks.of):
            self.curve.mark(-1)
            return
        terms = self._bench.results[TERMS]
        vocabulary = terms.vocabulary
        rank = int(self.ranks.of[row])
        documents, times = int(vocabulary.documents[row]), int(vocabulary.times[row])
        text = f"rank {rank + 1:,} · {amount(documents, 'doc')} · {amount(times, 'time')}"
        self.curve.mark(rank, shown_term(terms, row), text)
