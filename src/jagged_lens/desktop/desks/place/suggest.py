# SPDX-License-Identifier: GPL-3.0-or-later
"""Labels suggested: learned from the documents that have a value, tested on a held-out part, taken by hand."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.desks.place.evidence_card import EvidenceCard
from jagged_lens.desktop.desks.place.figures import Figures
from jagged_lens.desktop.desks.place.taking import Taking
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Choice
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.scrolled import scrolled
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.plots.label_choice import NameChoice
from jagged_lens.desktop.saving import Piece, one_kind
from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.cells import PairOfBars
from jagged_lens.desktop.tables.row_names import by_key
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.export import document_keys, write_figures, write_suggestions
from jagged_lens.group import document_frequencies
from jagged_lens.lens import CORPUS, SPACE, SUGGESTIONS, TERMS, THEMES
from jagged_lens.lens import Part as LensPart
from jagged_lens.place import Part, Suggestions, terms_for

_NONE = "choose a label"
_PARTS = {Part.HELD_OUT: "held out", Part.TRAINING: "learned"}
_EMPTY = (
    "Choose a label. Jagged Lens learns its values from the documents that have one and tests them on a held-out "
    "part: how often it is right, where it was wrong and why. Documents without a value get suggestions with "
    "probabilities."
)


class SuggestFace(Face):
    """term_wanted(row, column): how the weight of a term in a document of the lens comes about."""

    name = "Suggest a label"
    needs = (CORPUS, TERMS, SPACE, THEMES)
    also = (SUGGESTIONS,)
    term_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self._found: Suggestions | None = None
        self._wrong: NDArray[np.int64] = np.zeros(0, np.int64)
        self._spoken: tuple[NDArray[np.int64], NDArray[np.float64]] | None = None
        row = QHBoxLayout()
        row.addWidget(muted("Label"))
        self.label = Choice()
        self.label.setAccessibleName("Label to learn")
        self.label.activated.connect(self._choose_label)
        row.addWidget(self.label)
        self.state = PartState(self.bench, SUGGESTIONS, "the suggestions")
        row.addWidget(self.state)
        self.told = muted("", 1.0)
        self.told.setWordWrap(True)
        self.told.setAlignment(Qt.AlignmentFlag.AlignTop)
        set_tip(
            self.told,
            "Multinomial logistic regression on the documents scaled to length 1 (terms, or themes if the lens uses them). "
            "The penalty is chosen by five-fold cross-validation on the learning part, never on the held-out part.",
        )
        self.leaf_row = LeafRow(["Quality", "Mistakes", "Terms", "Suggestions"], small=True)
        self.figures = Figures()
        self.figures.cell_chosen.connect(self._pick_cell)
        self.taking = Taking(self.bench)
        self.taking.read_wanted.connect(self.read)
        self.suggested_evidence = EvidenceCard(self.bench, self.asker)
        self.taking.chosen.connect(self._show_suggested)
        leaves = (
            self.figures,
            self._wrong_leaf(),
            self._terms_leaf(),
            _beside(self.taking, self.suggested_evidence),
        )
        for leaf in leaves:
            self.leaf_row.leaves.addWidget(leaf)
        for card in (self.evidence, self.suggested_evidence):
            card.term_wanted.connect(self.term_wanted)
        row.addWidget(self.leaf_row, 1)
        row.addStretch(0)
        self.body.addLayout(row)
        self.body.addWidget(self.leaf_row.leaves, 1)
        self.body.addWidget(self.told)
        self.body.addStretch(0)
        self.bench.state_changed.subscribe(self._state_changed)

    def _wrong_leaf(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        self.wrong_said = muted()
        self.wrong_said.setWordWrap(True)
        column.addWidget(self.wrong_said)
        self.wrong = TableView("Mistakes")
        self.wrong.setProperty(PICKS, True)
        self.wrong.row_changed.connect(self._show_wrong_one)
        self.wrong.read_wanted.connect(lambda _: self.read())
        column.addWidget(self.wrong, 1)
        self.evidence = EvidenceCard(self.bench, self.asker)
        return _beside(page, self.evidence)

    def _terms_leaf(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(muted("Terms for"))
        self.value = NameChoice("Value to show terms for")
        self.value.activated.connect(lambda _: self._show_terms())
        row.addWidget(self.value)
        row.addStretch(1)
        column.addLayout(row)
        self.terms = TableView("Terms for a value")
        self.terms.setItemDelegateForColumn(2, PairOfBars(self.terms))
        column.addWidget(self.terms, 1)
        return page

    # What is shown.

    def refresh(self) -> None:
        self._found = None
        self._offer_labels()
        self._show()

    def _state_changed(self) -> None:
        if self.is_made:
            self._offer_labels()
            self.taking.show_state()
            self._show()

    def _offer_labels(self) -> None:
        names = [label.name for label in self.bench.documents.labels()]
        chosen = self.bench.recipe.suggest.label
        names += [chosen] if chosen and chosen not in names else []
        self.label.blockSignals(True)
        self.label.clear()
        self.label.addItems([_NONE, *names])
        self.label.setCurrentIndex(names.index(chosen) + 1 if chosen else 0)
        self.label.blockSignals(False)

    def draw_part(self, part: LensPart[Any]) -> None:
        if self.is_made:
            self.state.show_state()
            self._show()

    def _show(self) -> None:
        bench = self.bench
        label = bench.recipe.suggest.label
        error = bench.errors.get(SUGGESTIONS.name)
        ready = bool(label) and bench.results.has(SUGGESTIONS, *self.needs)
        self.leaf_row.setVisible(ready)
        self.leaf_row.leaves.setVisible(ready)
        self.state.setVisible(bool(label) and not self.state.isHidden())
        if not label or error is not None or not ready:
            self._found = None
            self.told.setText(
                _EMPTY if not label else str(error) if error is not None else f"Learning to suggest {label}…"
            )
            return
        found = bench.results[SUGGESTIONS]
        if found is not self._found:
            self._found = found
            self._show_found(found)

    def _show_found(self, found: Suggestions) -> None:
        held = found.figures(Part.HELD_OUT)
        count = [int(found.counted(part).sum()) for part in (Part.TRAINING, Part.HELD_OUT)]
        count.append(int((found.part == Part.NEW).sum()))
        copies = int((found.given >= 0).sum()) - count[0] - count[1]
        beside = (
            f"always suggesting “{found.values[found.commonest]}” would be right for {held.trivial:.0%}"
            if held.trivial == held.trivial
            else ""
        )
        tested = (
            f"Of {count[1]:,} held-out documents, {held.accuracy:.1%} are right; {beside}."
            if count[1]
            else "Nothing was held out."
        )
        once = f" Copies count once: {copies:,} others are left out." if copies else ""
        way = "larger" if found.penalty > 1 else "smaller"
        end = f" The search ended at λ = {found.penalty:g}; a {way} value might be better." if found.at_end else ""
        new = f" {amount(count[2], 'document')} without a value." if count[2] else " All documents have a value."
        self.told.setText(
            f"Learned from {amount(count[0], 'document')} with {len(found)} values. {tested}{once}{end}{new}"
        )
        self.figures.show_figures(found)
        self._show_wrong(found)
        self._spoken = None
        self.value.offer_names(found.values)
        self._show_terms()
        self.taking.show_suggestions(found)
        self.evidence.say_nothing()
        self.suggested_evidence.say_nothing()

    def summary(self) -> str:
        if self._found is None:
            return ""
        return f"{self._found.figures(Part.HELD_OUT).accuracy:.1%} right"

    def filter(self, words: str) -> None:
        self.figures.filter(words)
        self.taking.filter(words)
        for table in (self.wrong, self.terms):
            table.listed.filter(words)

    def _show_wrong(self, found: Suggestions) -> None:
        counted = found.counted(Part.TRAINING) | found.counted(Part.HELD_OUT)
        wrong = np.flatnonzero((found.given >= 0) & (found.given != found.suggested))
        # Those of the held-out part first, the surest mistakes before the others.
        wrong = self._wrong = wrong[np.lexsort((-found.probability[wrong], found.part[wrong] != Part.HELD_OUT))]
        copies = int((~counted[wrong]).sum())
        held = int(found.counted(Part.HELD_OUT)[wrong].sum())
        of_copies = f", {amount(copies, 'copy', 'copies')} of others" if copies else ""
        self.wrong_said.setText(
            f"{held:,} held out, {len(wrong) - held - copies:,} learned from{of_copies}. J and K step through them."
            if len(wrong)
            else "There are no mistakes."
        )
        corpus, rows = self.bench.results[CORPUS], self.bench.results[SPACE].terms.rows
        titles, part = corpus.titles.take(rows[wrong]), np.where(counted[wrong], found.part[wrong], len(Part))
        columns = [
            Column("Document", lambda at: titles[at], searched=True, texts=titles),
            Column("True value", lambda at: found.values[found.given[wrong[at]]], found.given[wrong], searched=True),
            Column(
                "Suggested", lambda at: found.values[found.suggested[wrong[at]]], found.suggested[wrong], searched=True
            ),
            Column(
                "Sure",
                lambda at: f"{found.probability[wrong[at]]:.2f}",
                found.probability[wrong],
                right=True,
                tip="Probability of the suggestion",
            ),
            Column("Part", lambda at: _PARTS[Part(found.part[wrong[at]])] if counted[wrong[at]] else "copy", part),
        ]
        self.wrong.show_rows(columns, len(wrong), 0, by_key(corpus.keys, rows[wrong]))

    def step(self, by: int) -> None:
        """Next or previous mistake, or suggestion."""
        if self.leaf_row.front == 1:
            self.wrong.step(by)
        elif self.leaf_row.front == 3:
            self.taking.table.step(by)

    def _show_wrong_one(self, at: int) -> None:
        found = self._found
        if found is None or at >= len(self._wrong):
            return
        place = int(self._wrong[at])
        self._read_place(place)
        self.evidence.show_document(place, int(found.suggested[place]), int(found.given[place]))

    def _show_suggested(self, place: int) -> None:
        found = self._found
        if found is not None:
            self._read_place(place)
            self.suggested_evidence.show_document(place, int(found.suggested[place]), int(found.second[place]))

    def _read_place(self, place: int) -> None:
        self.bench.pick.set([int(self.bench.results[SPACE].terms.rows[place])])
        self.reader.wanted.emit(False)

    def _show_terms(self) -> None:
        found, bench = self._found, self.bench
        if found is None or not bench.results.has(*self.needs):
            return
        if self._spoken is None:
            themes = bench.results[THEMES]
            self.asker.ask(
                "terms of values", lambda: terms_for(found, themes), lambda got: self._take_terms(found, got)
            )
            return
        value = max(self.value.currentIndex(), 0)
        columns, beyond = self._spoken[0][value], self._spoken[1][value]
        some = np.flatnonzero(beyond > 0)
        columns, beyond = columns[some], beyond[some]
        counts, shown = bench.results[TERMS].counts, bench.results[TERMS].shown
        own = found.given == value
        others = (found.given >= 0) & ~own
        shares = [document_frequencies(counts, side)[columns] / max(int(side.sum()), 1) for side in (own, others)]
        self.terms.show_rows(
            [
                Column("Term", lambda at: shown[int(columns[at])], searched=True, cut=Cut.NEVER),
                Column(
                    "Speaks",
                    lambda at: f"{beyond[at]:.2f}",
                    beyond,
                    right=True,
                    tip="Coefficient of the term for the value, above the mean of all values",
                ),
                Column(
                    "In it · elsewhere",
                    lambda at: f"{shares[0][at]:.0%} · {shares[1][at]:.0%}",
                    shares[0],
                    mark=lambda at: (float(shares[0][at]), float(shares[1][at])),
                    wide=22,
                    tip="Share of the documents of this value, and of the others, that contain it",
                ),
            ],
            len(columns),
            0,
        )

    def _take_terms(self, found: Suggestions, got: tuple[NDArray[np.int64], NDArray[np.float64]]) -> None:
        if found is self._found:
            self._spoken = got
            self._show_terms()

    # What is done.

    def _choose_label(self, at: int) -> None:
        self.bench.set("suggest", "label", self.label.itemText(at) if at else "")

    def _pick_cell(self, part: int, given: int, suggested: int) -> None:
        found = self._found
        if found is None:
            return
        inside = found.counted(Part(part)) & (found.given == given)
        if suggested >= 0:
            inside &= found.suggested == suggested
        self.bench.pick.set(self.bench.results[SPACE].terms.rows[inside].tolist())
        self.reader.wanted.emit(False)

    def own_pieces(self) -> list[Piece]:
        if self._found is None:
            return []
        kinds = one_kind("Three CSV tables in a folder", "", self.save_tables)
        return [Piece("All suggestions and their quality", "suggestions", kinds)]

    def save_tables(self, folder: Path) -> None:
        """Write suggestions.csv, confusion.csv and scores.csv."""
        found, results = self._found, self.bench.results
        if found is not None:
            write_suggestions(folder / "suggestions.csv", found, document_keys(results[CORPUS], results[TERMS]))
            write_figures(folder, found)

    def take_focus(self) -> None:
        if self.is_made:
            self.label.setFocus(Qt.FocusReason.OtherFocusReason)


def _beside(first: QWidget, card: QWidget) -> QSplitter:
    across = QSplitter(Qt.Orientation.Horizontal)
    across.setChildrenCollapsible(False)
    across.addWidget(first)
    area = scrolled(card)
    area.setMinimumWidth(int(card.fontMetrics().averageCharWidth() * 28))
    across.addWidget(area)
    across.setSizes([440, 226])
    across.setStretchFactor(0, 1)
    return across
