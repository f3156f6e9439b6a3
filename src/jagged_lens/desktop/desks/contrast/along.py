# SPDX-License-Identifier: GPL-3.0-or-later
"""Along a number or a date: the terms that go with it, and groups and terms over its periods."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout

from jagged_lens.contrast import PARTS, Along, Columns, Periods, Scale, along, periods, scale_of, scales_of
from jagged_lens.desktop.desks.by_group import group_title
from jagged_lens.desktop.desks.contrast.words import going_with
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Choice
from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.scrolled import scrolled
from jagged_lens.desktop.look.theme import colour
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.label_choice import NameChoice
from jagged_lens.desktop.plots.period_bars import Line, PeriodBars
from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.cells import PartBars
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.group import letter
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, LENS_ROWS, SPACE, TERMS

_MOST_TERMS = 2_000
_FIRST = 12
_MOST_LINES = 60
_GROUPS, _STRONGEST, _CHOSEN = "groups", "the most strongly associated terms", "the terms chosen in the list"
_SHARES = "share in each fifth"


class AlongFace(Face):
    name = "Along a number or date"
    needs = (CORPUS, LENS_ROWS, TERMS, SPACE, GROUPING, KEY_TERMS)

    def build(self) -> None:
        self._found: Along | None = None
        self._scale: Scale | None = None
        self._order: NDArray[np.int64] = np.zeros(0, np.int64)
        self._periods = Periods(np.zeros(0, np.int64), (), np.zeros(0, np.int64))
        row = QHBoxLayout()
        row.addWidget(muted("Along"))
        self.along = NameChoice("Number or date that orders the documents")
        self.along.activated.connect(lambda _: self._compute())
        row.addWidget(self.along)
        row.addStretch(1)
        self.body.addLayout(row)
        self.figures = muted("", 1.0)
        self.figures.setWordWrap(True)
        self.body.addWidget(self.figures)
        self.leaf_row = LeafRow(["Terms", "Over periods"], small=True)
        self.shown = Choice()
        self.shown.setAccessibleName("What the periods show")
        self.shown.addItems((_GROUPS, _STRONGEST, _CHOSEN))
        self.shown.activated.connect(lambda _: self._show_periods())
        self.leaf_row.add(self.shown)
        self.shown.hide()
        self.table = TableView("Associated terms")
        self.table.setItemDelegateForColumn(4, PartBars(self.table))
        self.table.read_wanted.connect(self._pick_term)
        self.bars = PeriodBars()
        self.bars.chosen.connect(self._pick_bar)
        self.leaf_row.leaves.addWidget(self.table)
        self.leaf_row.leaves.addWidget(scrolled(self.bars))
        self.leaf_row.shown.connect(self._leaf_shown)
        self.body.addWidget(self.leaf_row)
        self.body.addWidget(self.leaf_row.leaves, 1)

    def _leaf_shown(self, place: int) -> None:
        self.shown.setVisible(place == 1)
        if place == 1:
            self._show_periods()

    def refresh(self) -> None:
        columns = self._columns()
        self.asker.ask("scales", lambda: scales_of(columns), self._offer)

    def _offer(self, names: list[str]) -> None:
        self.along.offer_names(names)
        self._compute()

    def _columns(self) -> Columns:
        """The data about the documents of the lens, with the user's own labels."""
        documents = self.bench.documents
        return Columns.of(self.bench.results[CORPUS], documents.labels(), documents.lens_rows())

    def _compute(self) -> None:
        if not self.bench.results.has(*self.needs):
            return
        name, columns, counts = self.along.currentText(), self._columns(), self.bench.results[TERMS].counts

        def work() -> tuple[Scale, Along, Periods] | None:
            scale = scale_of(columns, name) if name else None
            return (scale, along(counts, scale.values), periods(scale)) if scale is not None else None

        self.asker.ask("along", work, self._take)

    def _take(self, got: tuple[Scale, Along, Periods] | None) -> None:
        self._scale = got[0] if got is not None else None
        self._found = None
        self.leaf_row.leaves.setVisible(got is not None)
        if got is None:
            self.figures.setText(
                "There is no date and no number. When adding a source, give a column the role of a date or of numbers. A label "
                "whose values are numbers, such as “year 3”, works too."
            )
        else:
            self._show(*got)

    def _show(self, scale: Scale, found: Along, over: Periods) -> None:
        if scale is not self._scale or not self.bench.results.has(*self.needs):
            return
        self._found, self._periods = found, over
        date = scale.kind == "date"
        clear = int((found.chance <= 0.05).sum())
        n = int(found.sizes.sum())
        low, high = np.nanmin(found.edges), np.nanmax(found.edges)
        self.figures.setText(
            f"{amount(n, 'document')} with a {scale.name}, from {_value_words(float(low), date)} to "
            f"{_value_words(float(high), date)}. {clear:,} of {len(found.chance):,} terms are associated with it at a false "
            "discovery rate of 5%."
        )
        set_tip(
            self.figures,
            "Chance that a document with the term has a larger value than one without it (probability of superiority; ties "
            "count half). .5: no association. Rank-sum test with ties, corrected for the number of terms (Benjamini & "
            "Hochberg).",
        )
        order = self._order = np.lexsort((-np.abs(found.superiority - 0.5), found.chance))[:_MOST_TERMS]
        shown = self.bench.results[TERMS].shown
        fifths = [
            f"{_value_words(float(one[0]), date)}–{_value_words(float(one[1]), date)}" if one[0] == one[0] else "none"
            for one in found.edges
        ]
        columns = [
            Column("Term", lambda at: shown[int(order[at])], searched=True, cut=Cut.NEVER),
            Column(
                "Goes",
                lambda at: going_with(float(found.superiority[order[at]]), float(found.chance[order[at]]), date),
                found.superiority[order],
            ),
            Column(
                "P(larger)",
                lambda at: f"{found.superiority[order[at]]:.2f}",
                found.superiority[order],
                right=True,
                tip="Chance that a document with the term has a larger value than one without it. .5: no difference",
            ),
            Column(
                "Chance",
                lambda at: _chance(float(found.chance[order[at]])),
                found.chance[order],
                right=True,
                tip="Expected share of false findings among all terms at least as clear (corrected for the number of terms)",
            ),
            Column(
                "In five parts",
                lambda at: " ".join(f"{share:.0%}" for share in found.shares[order[at]]),
                found.shares[order, PARTS - 1] - found.shares[order, 0],
                mark=lambda at: tuple(found.shares[order[at]].tolist()),
                wide=18,
                tip=f"The {_SHARES} of the documents: {' · '.join(fifths)}",
            ),
            Column("Documents", lambda at: f"{found.documents[order[at]]:,}", found.documents[order], right=True),
        ]
        self.table.show_rows(columns, len(order), 0)
        self._show_periods()

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    # Over periods.

    def _show_periods(self) -> None:
        found, over = self._found, self._periods
        if found is None or not self.bench.results.has(*self.needs):
            return
        self._members: list[NDArray[np.bool_]] = []
        lines = []
        if self.shown.currentText() == _GROUPS:
            grouping = self.bench.results[GROUPING]
            for group in range(len(grouping)):
                name = f"{letter(group)}  {group_title(self.bench, group)}"
                self._members.append(np.asarray(grouping.group == group))
                lines.append(Line(name, group_colour(group), over.counted(self._members[-1])))
        else:
            chosen = (
                self._order[self.table.chosen_rows()] if self.shown.currentText() == _CHOSEN else self._order[:_FIRST]
            )
            terms = self.bench.results[TERMS]
            holding = terms.counts[:, chosen[:_MOST_LINES]].toarray() > 0
            for holds, column in zip(holding.T, chosen[:_MOST_LINES].tolist(), strict=True):
                self._members.append(holds)
                lines.append(Line(terms.shown[column], colour("verdigris"), over.counted(holds)))
        self.bars.show_lines(lines, over.names, over.sizes)

    def _pick_bar(self, line: int, period: int, add: bool) -> None:
        if not self.bench.results.has(*self.needs):
            return
        inside = self._periods.of >= 0 if period < 0 else self._periods.of == period
        if line >= 0:
            inside = inside & self._members[line]
        rows = self.bench.results[SPACE].terms.rows[inside].tolist()
        self.bench.pick.set({*self.bench.pick.rows, *rows} if add else rows)
        self.reader.wanted.emit(False)

    def _pick_term(self, at: int) -> None:
        """The documents that hold a term become the pick."""
        places = self.bench.results[TERMS].holders(int(self._order[at]))
        self.bench.pick.set(self.bench.results[SPACE].terms.rows[places].tolist())
        self.read()

    def take_focus(self) -> None:
        if self.is_made:
            self.table.setFocus(Qt.FocusReason.OtherFocusReason)


def _value_words(value: float, date: bool) -> str:
    if value != value:
        return "—"
    return str(np.datetime64(int(value), "D")) if date else f"{value:,.6g}"


def _chance(value: float) -> str:
    """A probability with the precision that it has.

    >>> _chance(0.2), _chance(0.0004), _chance(1e-12)
    ('0.20', '0.0004', '< 0.0001')
    """
    if value < 1e-4:
        return "< 0.0001"
    return f"{value:.2f}" if value >= 0.01 else f"{value:.4f}"
