# SPDX-License-Identifier: GPL-3.0-or-later
"""Groups against a label: the cross table, how far both agree, and the documents that do not fit, one after the other."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.compare import one_against_all
from jagged_lens.desktop.desks.by_group import group_title
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.group.cross_cells import CrossTableView
from jagged_lens.desktop.desks.group.why import NEEDS, WhyHere
from jagged_lens.desktop.desks.group.words import number
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Choice, Way
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.scrolled import scrolled
from jagged_lens.desktop.look.words import WEAK, amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.saving import Piece, one_kind
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.row_names import by_key
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.export import write_cross
from jagged_lens.group import CrossTable, letter
from jagged_lens.lens import CORPUS, CROSS, GROUPING, QUALITY, SPACE, THEMES
from jagged_lens.weigh import in_themes

_COUNTS, _OF_GROUP, _OF_VALUE = "counts", "share of the group", "share of the value"
_MOST_VALUES = 80  # that have a column
_NONE = "no label"


class AgainstLabelFace(Face):
    """term_wanted(row, column): how the weight of a term in a document of the lens comes about."""

    name = "Against a label"
    reads_itself = True
    needs = (*NEEDS, CROSS)
    term_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self._cross: CrossTable | None = None
        row = QHBoxLayout()
        row.addWidget(muted("Against"))
        self.label = Choice()
        self.label.setAccessibleName("Label to compare the groups with")
        self.label.activated.connect(self._choose_label)
        row.addWidget(self.label)
        row.addWidget(muted("Cells show"))
        self.kind = Choice()
        self.kind.addItems((_COUNTS, _OF_GROUP, _OF_VALUE))
        self.kind.setAccessibleName("What the cells show")
        self.kind.activated.connect(lambda: self._show_table())
        row.addWidget(self.kind)
        row.addStretch(1)
        self.body.addLayout(row)
        self.figures = muted("", 1.0)
        self.figures.setWordWrap(True)
        set_tip(
            self.figures,
            "Purity: share of documents that have the most common value of their group; it grows with the number of "
            "groups. Adjusted Rand index: agreement on which pairs are together, corrected for chance. 0: chance; 1: "
            "identical. Cells: the darker, the more documents above chance. Ochre: clearly fewer than by chance.",
        )
        self.body.addWidget(self.figures)
        down = QSplitter(Qt.Orientation.Vertical)
        down.setChildrenCollapsible(False)
        self.table = CrossTableView()
        self.table.setProperty(PICKS, True)
        self.table.picked.connect(self._pick_cell)
        down.addWidget(self.table)
        lower = QWidget()
        column = QVBoxLayout(lower)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(5)
        self.said_misfits = muted()
        column.addWidget(self.said_misfits)
        across = QSplitter(Qt.Orientation.Horizontal)
        across.setChildrenCollapsible(False)
        self.misfits = TableView("Misfits")
        self.misfits.setProperty(PICKS, True)
        self.misfits.row_changed.connect(self._read)
        self.misfits.read_wanted.connect(lambda _: self.read())
        across.addWidget(self.misfits)
        reasons = QWidget()
        side = QVBoxLayout(reasons)
        side.setContentsMargins(0, 0, 0, 0)
        side.setSpacing(5)
        self.why = WhyHere(self.bench, self.asker)
        self.why.term_wanted.connect(self.term_wanted)
        side.addWidget(scrolled(self.why), 1)
        line = QHBoxLayout()
        self.near_words = muted()
        self.near_words.setWordWrap(True)
        line.addWidget(self.near_words, 1)
        self.near = Way("Read it")
        self.near.clicked.connect(self._read_near)
        self.near.hide()
        line.addWidget(self.near)
        side.addLayout(line)
        across.addWidget(reasons)
        across.setSizes([400, 270])
        across.setStretchFactor(0, 3)
        across.setStretchFactor(1, 2)
        column.addWidget(across, 1)
        down.addWidget(lower)
        down.setSizes([300, 290])
        self.down = down
        self.body.addWidget(down, 1)
        self._near_row = -1
        self._rows = np.zeros(0, np.int64)
        self.bench.state_changed.subscribe(self.look_again)

    def take_focus(self) -> None:
        """Give the keyboard to the cross table."""
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def filter(self, words: str) -> None:
        self.misfits.listed.filter(words)

    def step(self, by: int) -> None:
        """Next or previous misfit."""
        self.misfits.step(by)

    def summary(self) -> str:
        cross = self._cross
        if cross is None or not cross.values:
            return ""
        return f"purity {number(cross.purity)} · adjusted Rand index {number(cross.adjusted_rand)}"

    def refresh(self) -> None:
        names = [label.name for label in self.bench.documents.labels()]
        chosen = self.bench.recipe.group.against
        if [self.label.itemText(at) for at in range(self.label.count())] != [_NONE, *names]:
            self.label.clear()
            self.label.addItems([_NONE, *names])
        self.label.setCurrentText(chosen or _NONE)
        cross = self.bench.results[CROSS]
        self._cross = cross
        known = bool(cross.values)
        self.down.setVisible(known)
        self.figures.setText(self._figures_said(cross, names, chosen))
        if known:
            self._show_table()
            self._show_misfits(cross)
        self.say()

    def _figures_said(self, cross: CrossTable, names: list[str], chosen: str) -> str:
        if not names:
            return "These documents have no labels. A label comes from a column of a table or from a folder, or you give one to a pick."
        if not chosen:
            return "Choose a label to compare the groups with its values."
        if not cross.values:
            return f"No document of the lens has a value of {chosen}."
        n, without = int(cross.counts.sum()), int(cross.without.sum())
        fits = n - len(cross.misfits)
        lacking = (
            f" {amount(without, 'document')} in groups {'has' if without == 1 else 'have'} no value." if without else ""
        )
        many = (
            f" The {_MOST_VALUES} most frequent of {len(cross.values):,} values have columns."
            if len(cross.values) > _MOST_VALUES
            else ""
        )
        return (
            f"Purity {number(cross.purity, 3)}: {fits:,} of {n:,} documents have the most common value of their group. "
            f"Adjusted Rand index {number(cross.adjusted_rand, 3)}: 0 by chance, 1 if groups and values are the "
            f"same.{lacking}{many}"
        )

    def _show_table(self) -> None:
        cross, bench = self._cross, self.bench
        assert cross is not None
        self.table.cell.cross, self.table.cell.beyond = cross, cross.beyond_chance
        totals = cross.counts.sum(axis=1) + cross.without
        titles = [group_title(bench, group) for group in range(len(totals))]
        kind = self.kind.currentText()
        of_group = cross.counts / np.maximum(cross.counts.sum(axis=1, keepdims=True), 1)
        of_value = cross.counts / np.maximum(cross.counts.sum(axis=0, keepdims=True), 1)

        def text(value: int) -> Callable[[int], str]:
            if kind == _COUNTS:
                return lambda row: f"{cross.counts[row, value]:,}" if cross.counts[row, value] else "·"
            shares = of_group if kind == _OF_GROUP else of_value
            return lambda row: f"{shares[row, value]:.0%}" if shares[row, value] else "·"

        columns = [
            Column("Group", lambda row: titles[row], np.arange(len(totals)), mark=lambda row: row, wide=22),
            Column("All", lambda row: f"{totals[row]:,}", -totals, right=True, mark=lambda row: row),
        ]
        columns += [
            Column(
                name,
                text(value),
                -cross.counts[:, value],
                right=True,
                mark=lambda row: row,
                tip=f"{name}: {count:,} documents",
                hint=lambda row, value=value: _shade_said(cross, row, value),  # type: ignore[misc]
            )
            for value, (name, count) in enumerate(
                zip(cross.values[:_MOST_VALUES], cross.counts.sum(axis=0).tolist(), strict=False)
            )
        ]
        self.table.show_rows(columns, len(totals), 0)

    def _pick_cell(self, group: int, value: int) -> None:
        """The documents of a cell, or of a whole group, become the pick."""
        cross = self._cross
        if cross is None or not self.bench.results.has(*self.needs):
            return
        inside = cross.group == group
        if value >= 0:
            inside &= cross.own == value
        self.bench.pick.set(self.bench.results[SPACE].terms.rows[inside].tolist())

    # Misfits.

    def _show_misfits(self, cross: CrossTable) -> None:
        results = self.bench.results
        rows = cross.misfits
        quality, grouping, corpus = results[QUALITY], results[GROUPING], results[CORPUS]
        # Those that tell most first: nearest to the middle of their group, though they have another value.
        self._rows = rows = rows[np.argsort(-grouping.closeness[rows], kind="stable")]
        titles = corpus.titles.take(results[SPACE].terms.rows[rows])
        commonest = cross.commonest
        following = quality.next[rows]
        self.said_misfits.setText(
            f"{amount(len(rows), 'misfit')}: their value is not the most common one of their group. J and K step through them."
            if len(rows)
            else "Every document has the most common value of its group."
        )

        def value(code: int) -> str:
            return cross.values[code] if code >= 0 else ""

        def nearest(row: int) -> str:
            mark = WEAK if quality.weak[rows[row]] else ""
            return (
                f"{letter(int(following[row]))} {value(int(commonest[following[row]]))}{mark}"
                if following[row] >= 0
                else ""
            )

        columns = [
            Column(
                "Misfit",
                lambda row: titles[row],
                searched=True,
                texts=titles,
                below=lambda row: (
                    f"{value(int(cross.own[rows[row]]))} among {value(int(commonest[cross.group[rows[row]]]))}"
                ),
                names=("Misfit", "What does not fit"),
            ),
            Column("Its value", lambda row: value(int(cross.own[rows[row]])), cross.own[rows], searched=True),
            Column(
                "Group",
                lambda row: f"{letter(int(cross.group[rows[row]]))} {value(int(commonest[cross.group[rows[row]]]))}",
                cross.group[rows],
                tip="Its group, and the most common value there",
            ),
            Column(
                "Next", nearest, following, tip=f"The next best group, and its most common value. {WEAK}: weak member"
            ),
        ]
        names = by_key(corpus.keys, results[SPACE].terms.rows[rows])
        self.misfits.show_rows(columns, len(rows), 0, names)
        if self.misfits.current_row() < 0:
            self.why.show_document(-1)
            self.near_words.setText("")
            self.near.hide()

    def _read(self, row: int) -> None:
        """Read a misfit, and say why it is where it is, and where its own value would be."""
        if not self.bench.results.has(*self.needs) or row >= len(self._rows):
            return
        results, cross = self.bench.results, self._cross
        assert cross is not None
        place = int(self._rows[row])
        own = int(results[SPACE].terms.rows[place])
        self.bench.pick.set([own])
        self.reader.wanted.emit(False)
        self.why.show_document(own)
        space, themes = results[SPACE], results[THEMES]
        same = np.flatnonzero((cross.own == cross.own[place]) & (np.arange(len(cross.own)) != place))
        value = cross.values[int(cross.own[place])]

        def nearest() -> tuple[int, float]:
            alike = one_against_all(in_themes(space, themes), "cosine", place)[same]
            if not len(same) or np.isnan(alike).all():
                return -1, 0.0
            at = int(np.nanargmax(alike))
            return int(same[at]), float(alike[at])

        def show(found: tuple[int, float]) -> None:
            at, alike = found
            self._near_row = int(space.terms.rows[at]) if at >= 0 else -1
            self.near.setVisible(at >= 0)
            if at < 0:
                self.near_words.setText(f"No other document is {value}.")
                return
            group = int(cross.group[at])
            where = f"in {letter(group)}" if group >= 0 else "in no group"
            self.near_words.setText(
                f"Nearest of {value}: {results[CORPUS].titles[self._near_row]}, {where}, cosine {alike:.2f}"
            )

        self.asker.ask("nearest of its value", nearest, show)

    def _read_near(self) -> None:
        if self._near_row >= 0:
            self.bench.pick.set([*self.bench.pick.rows, self._near_row], self._near_row)
            self.read()

    def _choose_label(self) -> None:
        name = self.label.currentText()
        self.bench.set("group", "against", "" if self.label.currentIndex() == 0 else name)

    def own_pieces(self) -> list[Piece]:
        if self._cross is None:
            return []
        return [
            Piece("The cross table with its counts", "cross", one_kind("CSV table (.csv)", ".csv", self.save_table))
        ]

    def save_table(self, path: Path) -> None:
        """Write cross.csv."""
        if self._cross is not None:
            write_cross(path, self._cross)


def _shade_said(cross: CrossTable, row: int, value: int) -> str:
    """The quantity that shades a cell."""
    count, whole, expected = (
        int(cross.counts[row, value]),
        int(cross.counts[row].sum()),
        float(cross.expected[row, value]),
    )
    return f"{count:,} of {whole:,} in the group, {expected:,.1f} expected by chance"
