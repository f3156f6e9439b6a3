"""The Compare desk: how alike pairs are, those at or above the limit, and why each number is what it is."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.desks.compare.kinds import KindButton, KindCell
from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look.cards import card, heading, muted, muted_line
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.words import KINDS, KINDS_LONG, amount
from jagged_lens.desktop.plots.bars import PartsBar
from jagged_lens.desktop.plots.histogram import LimitHistogram
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import ShareCell
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.explain import Contributions, contributions
from jagged_lens.lens import CORPUS, DISTRIBUTION, PAIRS, SPACE, THEMES, TOKENS, Part

_NAMED = 7


class CompareDesk(Desk):
    step = "compare"
    picture = "Pairs"
    needs = (CORPUS, TOKENS, SPACE, THEMES, PAIRS)
    also = (DISTRIBUTION,)

    def build(self) -> None:
        self._shown = (-1, -1)
        self.field = self.filter_field("Filter pairs ( / )", self._filter)
        self.tools.addWidget(self.field)
        self._build_picture()
        self.table = TableView("Pairs")
        self.table.setItemDelegateForColumn(3, ShareCell(self.table))
        self.table.setItemDelegateForColumn(4, KindCell(self.table))
        self.table.row_changed.connect(self._show_pair)
        self.table.read_wanted.connect(lambda _: self.read())
        self.body.addWidget(self.table, 1)
        self.none = muted("", 1.0)
        self.none.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.none.setWordWrap(True)
        self.none.hide()
        self.body.addWidget(self.none, 1)
        self._build_why()
        self.keys = [
            ("J, K", "next and previous pair"),
            ("Space", "read the pair"),
            ("← →", "on the distribution: move the limit"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def _build_picture(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(14)
        left = QVBoxLayout()
        left.setSpacing(0)
        head = QHBoxLayout()
        head.addWidget(heading("How alike are pairs?"))
        self.scale = muted_line("log scale")
        self.scale.setAlignment(Qt.AlignmentFlag.AlignRight)
        head.addWidget(self.scale, 1)
        self.state = PartState(self.bench, DISTRIBUTION, "the distribution")
        head.addWidget(self.state)
        left.addLayout(head)
        self.histogram = LimitHistogram()
        self.histogram.limit_set.connect(lambda limit: self.bench.set("compare", "pairs-from", limit))
        left.addWidget(self.histogram)
        row.addLayout(left, 1)
        frame, column = card()
        column.setSpacing(1)
        self.of_these = muted()
        column.addWidget(self.of_these)
        self.kinds = [KindButton(kind, text) for kind, text in enumerate(KINDS_LONG)]
        for button in self.kinds:
            button.toggled.connect(self._filter)
            column.addWidget(button)
        row.addWidget(frame, 0, Qt.AlignmentFlag.AlignTop)
        self.body.addLayout(row)

    def _build_why(self) -> None:
        self.why, column = card()
        head = QHBoxLayout()
        self.why_head = heading("", 1.08)
        head.addWidget(self.why_head)
        self.why_figures = muted_line()
        head.addWidget(self.why_figures, 1)
        column.addLayout(head)
        self.bar = PartsBar()
        column.addWidget(self.bar)
        self.most = _Line("Most, term by term")
        self.only = [_Line("Only in the first"), _Line("Only in the second")]
        for line in (self.most, *self.only):
            column.addWidget(line)
        self.sum = muted("", 0.88)
        font = self.sum.font()
        font.setItalic(True)
        self.sum.setFont(font)
        self.sum.setWordWrap(True)
        column.addWidget(self.sum)
        self.body.addWidget(self.why)

    def step_pair(self, by: int) -> None:
        """Next or previous pair."""
        self.table.step(by)

    def refresh(self) -> None:
        results = self.bench.results
        corpus, pairs, terms = results[CORPUS], results[PAIRS], results[SPACE].terms
        n = pairs.documents
        limit = self.bench.recipe.compare.pairs_from
        families = f", in {amount(pairs.families, 'family', 'families')}" if pairs.families else ""
        self.figures.setText(f"{n * (n - 1) // 2:,} pairs · {len(pairs):,} at {limit:.2f} or above{families}")
        counts = np.bincount(pairs.kind, minlength=len(KINDS))
        self.of_these.setText(f"Of these {amount(len(pairs), 'pair')}")
        for button, count in zip(self.kinds, counts, strict=True):
            button.show_count(int(count))
        rows = terms.rows

        def title(side: np.ndarray) -> Column:
            name = "First document" if side is pairs.first else "Second document"
            return Column(
                name,
                lambda row: corpus.titles[int(rows[side[row]])],
                searched=True,
                texts=lambda: corpus.titles.take(rows[side]),
            )

        columns = [
            Column("#", lambda row: f"{row + 1:,}", np.arange(len(pairs)), right=True, tip="Rank by similarity"),
            title(pairs.first),
            title(pairs.second),
            Column(
                "Alike",
                lambda row: f"{pairs.similarity[row]:.3f}",
                pairs.similarity,
                right=True,
                share=lambda row: float(pairs.similarity[row]),
            ),
            Column("Kind", lambda row: KINDS[int(pairs.kind[row])], pairs.kind, mark=lambda row: int(pairs.kind[row])),
            Column(
                "Family",
                lambda row: str(pairs.family[row] + 1) if pairs.family[row] >= 0 else "",
                pairs.family,
                right=True,
                tip="Documents connected by same, edited or holds",
            ),
        ]
        before = self._shown
        self._shown = (-1, -1)
        self.table.show_rows(columns, len(pairs), [5, 26, 26, 12, 12, 8], 1)
        across = self.table.horizontalHeader()
        assert across is not None
        across.setSectionResizeMode(2, across.ResizeMode.Stretch)
        self._filter()
        self.table.setVisible(len(pairs) > 0)
        self.why.setVisible(len(pairs) > 0)
        self.none.setVisible(len(pairs) == 0)
        if not len(pairs):
            self.none.setText(f"No pair is {limit:.2f} alike or more. Move the limit to the left to list more pairs.")
            return
        again = np.flatnonzero((pairs.first == before[0]) & (pairs.second == before[1]))
        if len(again):  # the pair that was being read, wherever it stands now
            self.table.go_to(int(again[0]))
        elif not self.bench.pick.rows or before != (-1, -1):
            self.table.step(0)
        else:
            self.why.hide()

    def draw_part(self, part: Part[Any]) -> None:
        """The distribution, or what there is of it so far."""
        bench = self.bench
        self.state.show_state()
        so_far = bench.growing.get(DISTRIBUTION)
        distribution = so_far or bench.results.get(DISTRIBUTION)
        if distribution is not None:
            self.histogram.show_counts(distribution.counts, bench.recipe.compare.pairs_from)
            estimated = " · so far" if so_far else "" if distribution.exact else " · estimated from a sample"
            self.scale.setText(f"log scale{estimated}")

    def _filter(self, _: object = None) -> None:
        pairs = self.bench.results.get(PAIRS)
        if pairs is not None and self.bench.ready(*self.needs):
            wanted = np.array([button.isChecked() for button in self.kinds])
            row = self.table.current_row()
            self.table.listed.filter(self.field.text(), None if wanted.all() else wanted[pairs.kind])
            if row >= 0:
                self.table.go_to(row)

    def _show_pair(self, row: int) -> None:
        pairs, space = self.bench.results[PAIRS], self.bench.results[SPACE]
        themes = self.bench.results[THEMES]
        if not self.bench.ready(*self.needs) or row >= len(pairs):
            return
        first, second = int(pairs.first[row]), int(pairs.second[row])
        if (first, second) == self._shown:
            return
        self._shown = (first, second)
        measure = self.bench.recipe.compare.measure
        heading_ = f"Pair {row + 1:,} of {len(pairs):,}"

        def show(parts: Contributions) -> None:
            self._show_why(parts)
            self.reader.show_pair(first, second, heading_, parts)
            self.reader.wanted.emit(False)

        self.asker.ask("parts of a pair", lambda: contributions(space, measure, first, second, themes), show)

    def _show_why(self, parts: Contributions) -> None:
        self.why.show()
        shown = self.bench.results[SPACE].terms.shown
        self.why_head.setText(f"Why {parts.similarity:.3f}?")
        named = [
            (shown[int(column)], float(part))
            for column, part in zip(parts.columns[:200], parts.values[:200], strict=True)
        ]
        share = float(parts.values[:6].sum() / parts.total) if parts.total else 0.0
        if parts.measure == "euclidean":
            self.why_figures.setText(
                f"the squared distance {parts.total:.4f} is made of {amount(len(parts.columns), 'term')}; similarity is 1 ÷ (1 + √{parts.total:.4f})"
            )
            said = "Sum of (weight in the first − weight in the second)² over the terms of either."
        else:
            few = f"; the first six make up {share:.0%} of it" if len(named) > 6 else ""
            counted = amount(len(parts.columns), "shared term")
            if parts.themes:
                counted = amount(len(parts.columns), "term of the first", "terms of the first")
            self.why_figures.setText(f"{counted}{few}")
            said = (
                "Sum of weight(first) × weight(second) over shared terms, both documents brought to length 1."
                if parts.measure == "cosine"
                else "Sum of √(share in the first × share in the second) over shared terms."
            )
        if parts.themes:
            said = (
                f"Sum over the terms of the first: its weight × what {parts.themes} themes make of the term in the second, both brought "
                "to length 1 there."
                if parts.measure == "cosine"
                else f"Sum over all terms: the difference of weights × what {parts.themes} themes make of that difference."
            )
        self.bar.show_parts(named)
        self.most.show_words([f"{name} {part:.3f}" for name, part in named[:_NAMED]], len(parts.columns))
        for line, columns in zip(self.only, (parts.only_first, parts.only_second), strict=True):
            line.show_words([shown[int(column)] for column in columns[:_NAMED]], len(columns))
        self.sum.setText(f"{said} The parts add up to {parts.total:.4f}.")


class _Line(QWidget):
    """Only in the first: … – the heaviest terms that one of the two has alone."""

    def __init__(self, text: str) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        label = muted(f"{text}:")
        label.setFixedWidth(label.fontMetrics().horizontalAdvance("Only in the second:") + 14)
        row.addWidget(label)
        self.words = ElidedLabel()
        row.addWidget(self.words, 1)

    def show_words(self, words: list[str], count: int) -> None:
        more = f"  and {count - len(words)} more" if count > len(words) else ""
        self.words.setText((" · ".join(words) + more) if words else "nothing")
