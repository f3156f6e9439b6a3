# SPDX-License-Identifier: GPL-3.0-or-later
"""The vocabulary: every term with its counts and whether it is kept, by the limits or by hand."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.terms.there import There
from jagged_lens.desktop.desks.terms.within import Inside, Within
from jagged_lens.desktop.look.controls import Switch
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import LENS_ROWS, NGRAMS, TERMS
from jagged_lens.terms import TermCounts, WhyNot

_WHY = {
    WhyNot.KEPT: "kept",
    WhyNot.RARE: "too rare",
    WhyNot.COMMON: "too common",
    WhyNot.LIMIT: "beyond the limit",
    WhyNot.DROPPED: "dropped",
    WhyNot.UNLISTED: "not on the list",
}
_INK = {
    WhyNot.KEPT: "verdigris",
    WhyNot.RARE: "muted",
    WhyNot.COMMON: "madder",
    WhyNot.LIMIT: "muted",
    WhyNot.DROPPED: "madder",
    WhyNot.UNLISTED: "muted",
}
_MOST_PICKED = 20_000


def shown_term(terms: TermCounts, row: int) -> str:
    """A term of the vocabulary as it is written most often, where it is kept; else as it is counted."""
    column = int(np.searchsorted(terms.kept, row))
    if terms.column is None and column < len(terms.kept) and int(terms.kept[column]) == row:
        return terms.shown[column]
    return terms.vocabulary.terms[row]


class VocabularyFace(Face):
    """term_shown: a row of the vocabulary, the term under the cursor. documents_wanted: those that hold the term of a row.
    unfilter: the term that is to be shown is filtered away."""

    name = "Vocabulary"
    needs = (LENS_ROWS, NGRAMS, TERMS)
    term_shown = pyqtSignal(int)
    documents_wanted = pyqtSignal(int)
    unfilter = pyqtSignal()

    def build(self) -> None:
        self.only_kept = Switch("Kept only")
        set_tip(self.only_kept, "List only kept terms")
        self.only_kept.toggled.connect(self._filter)
        self.within = Within(self.bench)
        self.within.chosen.connect(self._look_within)
        self.table = TableView("Vocabulary")
        self.table.row_changed.connect(self.term_shown)
        self.table.read_wanted.connect(self.documents_wanted)
        self.table.selectionModel().selectionChanged.connect(self._choose_terms)  # type: ignore[union-attr]
        self.body.addWidget(self.table)
        self._words = ""
        self._why: NDArray[np.uint8] | None = None
        self._there: There | None = None
        self.bench.pick.changed.subscribe(self._pick_changed)
        self.bench.pick.terms_changed.subscribe(self._show_picked_terms)

    def _is_seen(self) -> bool:
        """It is drawn behind another face, too: what is chosen there is chosen here."""
        leaves = self.parentWidget()
        return leaves is not None and leaves.isVisible()

    @property
    def there(self) -> There | None:
        """The counts within the documents that are chosen; None where all are."""
        return self._there

    def filter(self, text: str) -> None:
        self._words = text
        self._filter()

    def _filter(self, _: object = None) -> None:
        terms = self.bench.results.get(TERMS)
        shown = terms.vocabulary.why_not == WhyNot.KEPT if terms is not None and self.only_kept.isChecked() else None
        if self._there is not None:
            there = self._there.documents > 0
            shown = there if shown is None else shown & there
        self.table.listed.filter(self._words, shown)

    def go_to(self, row: int) -> None:
        """Go to a term of the vocabulary, and show it; the pick of terms stays."""
        self.table.show_chosen([row])
        if not self.table.shows(row):
            self.unfilter.emit()
            self.only_kept.setChecked(False)
            if self._there is not None and not self._there.documents[row]:
                self.within.choose(Inside())
            self.table.show_chosen([row])
        self.term_shown.emit(row)

    def show_why(self, why: NDArray[np.uint8]) -> None:
        """Show why each term is not kept, or would not be, while a limit is dragged."""
        self._why = why
        viewport = self.table.viewport()
        assert viewport is not None
        viewport.update()

    # The pick of terms.

    def _choose_terms(self) -> None:
        """Several rows that are chosen are the pick of terms; a single one is only looked at."""
        count = self.table.chosen_count()
        if count > _MOST_PICKED:
            self.said.emit(f"{count:,} rows chosen. At most {_MOST_PICKED:,} terms can be picked")
        rows = self.table.chosen_rows() if 1 < count <= _MOST_PICKED else []
        terms = self.bench.results[TERMS].vocabulary.terms
        self.bench.pick.set_terms(terms.take(np.array(rows, np.int64)) if rows else ())

    def showEvent(self, event: QShowEvent | None) -> None:
        """Choose here what was picked elsewhere in the meantime."""
        super().showEvent(event)
        self._show_picked_terms()

    def _show_picked_terms(self) -> None:
        terms = self.bench.results.get(TERMS)
        if terms is None or not self._is_seen():
            return
        picked = terms.vocabulary.terms.rows_of(set(self.bench.pick.terms))
        if picked and sorted(picked.values()) != sorted(self.table.chosen_rows()):
            self.table.show_chosen(list(picked.values()))
        elif not picked and 1 < self.table.chosen_count() <= _MOST_PICKED:
            self.table.show_chosen([self.table.current_row()])

    # Terms within some of the documents.

    def _look_within(self) -> None:
        """Count the terms within the documents that are chosen, and list them with these counts beside them."""
        if not self.bench.results.has(*self.needs) or not self._drawn:
            return
        ngrams, choice = self.bench.results[NGRAMS], self.within.choice
        inside = self.within.rows(ngrams.rows, self.bench.documents.labels()) if choice else None
        if inside is None:
            self._show_within(None)
            return

        def show(there: There) -> None:
            if self.bench.results.get(NGRAMS) is ngrams and choice == self.within.choice:
                self._show_within(there)

        self.asker.ask("terms within", lambda: There.counted(ngrams, inside, choice.words()), show)

    def _show_within(self, there: There | None) -> None:
        before, self._there = self._there, there
        if before is not None or there is not None:
            self._list_terms()
            self._filter()

    def _pick_changed(self) -> None:
        if self.within.choice.picked and self._is_seen():
            self._look_within()

    # Always keep and always drop.

    def _listed(self, to: str) -> None:
        """Put the chosen terms on one of the two lists, or on neither."""
        terms = self.bench.results.get(TERMS)
        chosen = [terms.vocabulary.terms[row] for row in self.table.chosen_rows()] if terms is not None else []
        if not chosen:
            return
        t = self.bench.recipe.terms
        keep = [term for term in t.always_keep if term not in chosen] + (chosen if to == "keep" else [])
        drop = [term for term in t.always_drop if term not in chosen] + (chosen if to == "drop" else [])
        changed = self.bench.recipe.with_settings("terms", {"always-keep": keep, "always-drop": drop})
        text = chosen[0] if len(chosen) == 1 else amount(len(chosen), "term")
        self.bench.change(self.bench.state.with_recipe(changed), f"{to or 'by the limits'}: {text}")

    def always_keep(self) -> None:
        """Always keep the chosen terms."""
        self._listed("keep")

    def always_drop(self) -> None:
        """Always drop the chosen terms."""
        self._listed("drop")

    def drop_with_all(self) -> None:
        """Always drop the chosen terms, and every kept term that holds one of them."""
        terms = self.bench.results.get(TERMS)
        rows = self.table.chosen_rows()
        if terms is None or not rows:
            return
        chosen = {terms.vocabulary.terms[row] for row in rows}
        parts = [f" {term} " for term in chosen]
        holding = [
            term for term in terms.vocabulary.terms.take(terms.kept) if any(part in f" {term} " for part in parts)
        ]
        t = self.bench.recipe.terms
        every = dict.fromkeys([*t.always_drop, *chosen, *holding])
        keep = [term for term in t.always_keep if term not in every]
        changed = self.bench.recipe.with_settings("terms", {"always-keep": keep, "always-drop": list(every)})
        self.bench.change(self.bench.state.with_recipe(changed), f"drop {amount(len(chosen | set(holding)), 'term')}")

    def by_limits(self) -> None:
        """Let the limits decide on the chosen terms again."""
        self._listed("")

    # Drawing.

    def refresh(self) -> None:
        self._why = self.bench.results[TERMS].vocabulary.why_not
        self._there = None
        self._list_terms()
        self._look_within()

    def _list_terms(self) -> None:
        terms = self.bench.results[TERMS]
        vocabulary = terms.vocabulary
        n = max(len(terms.rows), 1)

        def why(row: int) -> WhyNot:
            assert self._why is not None
            return WhyNot(int(self._why[row]))

        counted = [
            Column("Times", lambda row: f"{vocabulary.times[row]:,}", vocabulary.times, right=True),
            Column("Documents", lambda row: f"{vocabulary.documents[row]:,}", vocabulary.documents, right=True),
            Column("Share", lambda row: f"{vocabulary.documents[row] / n:.1%}", vocabulary.documents, right=True),
        ]
        columns = [
            Column(
                "Term",
                lambda row: shown_term(terms, row),
                searched=True,
                tip="Its most frequent spelling",
                cut=Cut.NEVER,
                texts=terms.all_shown,
                ink=lambda row: None if why(row) == WhyNot.KEPT else "muted",
            ),
            Column(
                "Counted as",
                lambda row: vocabulary.terms[row],
                searched=True,
                cut=Cut.NEVER,
                tip="The counted form: word forms from Clean, joined by a space",
                texts=self.bench.results[NGRAMS].terms,  # the same ones whatever the limits
            ),
            Column("Words", lambda row: str(vocabulary.lengths[row]), vocabulary.lengths, right=True),
            *(self._there.columns(vocabulary) if self._there is not None else counted),
            Column("Kept", lambda row: _WHY[why(row)], vocabulary.why_not, ink=lambda row: _INK[why(row)]),
        ]
        if terms.column is not None:
            hashed, names = terms.column, terms.shown
            columns.append(
                Column(
                    "Column",
                    lambda row: f"{hashed[row] + 1}: {names[int(hashed[row])]}" if hashed[row] >= 0 else "",
                    hashed,
                    tip="Its hashed column, and the terms that share it",
                )
            )
        self.table.show_rows(columns, len(vocabulary), 0)
        if self.only_kept.isChecked() or self._there is not None:
            self._filter()
        if self.table.current_row() < 0 and len(vocabulary):
            self.table.go_to(int(terms.kept[0]) if len(terms.kept) else 0)
        elif 0 <= self.table.current_row() < len(vocabulary):
            self.term_shown.emit(self.table.current_row())
