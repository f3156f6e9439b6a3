# SPDX-License-Identifier: GPL-3.0-or-later
"""Pairs: the distribution of similarities with its limit, the pairs that are listed, what was decided of them, and why each is so alike."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from jagged_lens.compare import Pairs
from jagged_lens.desktop.desks.compare.decided import OPEN, SHORT, Decided
from jagged_lens.desktop.desks.compare.kinds import KindButton, KindCell
from jagged_lens.desktop.desks.compare.why import WhyCard
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look.cards import card, heading, muted, muted_line
from jagged_lens.desktop.look.controls import Action, Choice
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import KINDS, KINDS_LONG, amount
from jagged_lens.desktop.plots.histogram import LimitHistogram
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.plots.label_choice import LabelChoice
from jagged_lens.desktop.reading.reading_table import quoted, sentences_across
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import ShareCell
from jagged_lens.desktop.tables.row_names import by_pair
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.explain import Contributions, contributions
from jagged_lens.lens import CORPUS, DISTRIBUTION, PAIRS, SPACE, THEMES, TOKENS, Part

_SCOPES = (("all pairs", ""), ("only across its values", "pairs-across"), ("only within a value", "pairs-within"))
_SHOWN = ("all", "to decide", "decided", "later", "of the pick")


class PairsFace(Face):
    """opened(pair): a pair is to be read in full width. decided: decisions changed. term_wanted(row, column): the work of a weight."""

    name = "Pairs"
    reads_itself = True
    needs = (CORPUS, TOKENS, SPACE, THEMES, PAIRS)
    also = (DISTRIBUTION,)
    opened = pyqtSignal(int)
    term_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self._shown = (-1, -1)
        self._words = ""
        self.decided = Decided(self.bench)
        self._build_picture()
        self._build_choices()
        self.table = TableView("Pairs")
        self.table.setProperty(PICKS, True)
        self.table.setItemDelegateForColumn(2, ShareCell(self.table))
        self.table.setItemDelegateForColumn(3, KindCell(self.table))
        self.table.row_changed.connect(self._show_pair)
        self.table.read_wanted.connect(lambda _: self.read())
        self.table.opens = True
        self.table.open_wanted.connect(self.opened)
        self.body.addWidget(self.table, 1)
        self.none = muted("", 1.0)
        self.none.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.none.setWordWrap(True)
        self.none.hide()
        self.body.addWidget(self.none, 1)
        self.why = WhyCard()
        self.why.term_wanted.connect(lambda column: self.term_wanted.emit(self._shown[0], column))
        self.body.addWidget(self.why)
        self.bench.state_changed.subscribe(self.decisions_changed)

    def _build_picture(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(14)
        left = QVBoxLayout()
        left.setSpacing(0)
        head = QHBoxLayout()
        head.addWidget(heading("Similarity of pairs"))
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
            button.toggled.connect(self.filter_rows)
            column.addWidget(button)
        row.addWidget(frame, 0, Qt.AlignmentFlag.AlignTop)
        self.body.addLayout(row)

    def _build_choices(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(6)
        self.label = LabelChoice("Label beside the titles")
        set_tip(
            self.label,
            "Show this label of both documents in the table. Pairs can be limited to across or within its values.",
        )
        self.label.activated.connect(self._label_chosen)
        self.scope = Choice()
        self.scope.addItems([words for words, _ in _SCOPES])
        self.scope.setAccessibleName("Pairs across or within the label")
        set_tip(self.scope, "Limit the pairs to across or within the values of the label (a setting of the lens)")
        self.scope.activated.connect(self._scope_chosen)
        self.shown = Choice()
        self.shown.addItems(list(_SHOWN))
        self.shown.setAccessibleName("Which pairs are shown")
        self.shown.activated.connect(self.filter_rows)
        row.addWidget(self.label)
        row.addWidget(self.scope)
        row.addWidget(muted("Show"))
        row.addWidget(self.shown)
        self.progress = muted_line()
        row.addWidget(self.progress, 1)
        self.apply = Action("Apply")
        set_tip(self.apply, "Set aside the documents that the decisions remove; undo brings them back")
        self.apply.clicked.connect(self.decided_apply)
        row.addWidget(self.apply)
        self.body.addLayout(row)

    def decided_apply(self) -> None:
        """Set aside what goes."""
        self.decided.apply()

    def step(self, by: int) -> None:
        """Next or previous pair."""
        self.table.step(by)

    def take_focus(self) -> None:
        """Give the keyboard to the table."""
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def summary(self) -> str:
        pairs = self.bench.results[PAIRS]
        words = []
        if pairs.listed_from > self.bench.recipe.compare.pairs_from:
            words.append(f"too many are this similar; listed from {pairs.listed_from:.3g} on")
        if pairs.spared:
            words.append(
                f"{amount(pairs.spared, 'document')} with the same wording as others are listed only through the first of them"
            )
        if pairs.left_out:
            words.append(f"{pairs.left_out:,} more near-duplicates are listed only in their families")
        return " · ".join(words)

    def refresh(self) -> None:
        pairs = self.bench.results[PAIRS]
        limit = self.bench.recipe.compare.pairs_from
        counts = np.bincount(pairs.kind, minlength=len(KINDS))
        self.of_these.setText(f"Of {amount(len(pairs), 'pair')}")
        for button, count in zip(self.kinds, counts, strict=True):
            button.show_count(int(count))
        self._offer_labels()
        was_shown = self._shown != (-1, -1)
        self._shown = (-1, -1)
        keys, rows = self.bench.results[CORPUS].keys, self.bench.results[SPACE].terms.rows
        names = by_pair(keys, rows[pairs.first], rows[pairs.second])
        at_rank = self.table.current_row()
        self.table.show_rows(self._columns(pairs), len(pairs), 1, names)
        self.filter_rows()
        self.decisions_changed()
        self.table.setVisible(len(pairs) > 0)
        self.why.setVisible(len(pairs) > 0)
        self.none.setVisible(len(pairs) == 0)
        self.say()
        if not len(pairs):
            scope = " Or remove the limit by a label." if self._scope() else ""
            self.none.setText(
                f"No pair has a similarity of {limit:.2f} or more, and none is a copy. Move the limit to the left to list more "
                f"pairs.{scope}"
            )
            return
        if self.table.current_row() < 0 and (was_shown or not self.bench.pick.rows):
            # The pair that was in front is gone: the one that took its rank comes up.
            self.table.go_to(min(max(at_rank, 0), len(pairs) - 1))
            if self.table.current_row() < 0:
                self.table.step(0)
        if self.table.current_row() >= 0:  # where it stands on the same row as before, nobody has been told
            self._show_pair(self.table.current_row())
        else:
            self.why.hide()

    def _columns(self, pairs: Pairs) -> list[Column]:
        results = self.bench.results
        corpus, rows = results[CORPUS], results[SPACE].terms.rows
        label = self.label.label

        def both() -> list[str]:
            first, second = (corpus.titles.take(rows[side]) for side in (pairs.first, pairs.second))
            return [f"{one} {other}" for one, other in zip(first, second, strict=True)]

        def values(row: int) -> str:
            if label is None:
                return ""
            one, other = (label.value(int(rows[side[row]])) or "none" for side in (pairs.first, pairs.second))
            return one if one == other else f"{one} / {other}"

        def decided(row: int) -> str:
            codes = self.decided.codes()
            return SHORT[int(codes[row])] if row < len(codes) else ""

        return [
            Column("#", lambda row: f"{row + 1:,}", np.arange(len(pairs)), right=True, tip="Rank by similarity"),
            Column(
                "Pair",
                lambda row: corpus.titles[int(rows[pairs.first[row]])],
                searched=True,
                texts=both,
                below=lambda row: corpus.titles[int(rows[pairs.second[row]])],
                names=("First document", "Second document"),
            ),
            Column(
                "Alike",
                lambda row: f"{pairs.similarity[row]:.3f}",
                pairs.similarity,
                right=True,
                share=lambda row: float(pairs.similarity[row]),
            ),
            Column(
                "Kind",
                lambda row: KINDS[int(pairs.kind[row])],
                pairs.kind,
                mark=lambda row: int(pairs.kind[row]),
                wide=13,
            ),
            Column(
                "Family",
                lambda row: str(pairs.family[row] + 1) if pairs.family[row] >= 0 else "",
                pairs.family,
                right=True,
                tip="Documents connected by same, edited or contains",
            ),
            Column(
                label.name if label is not None else "Label",
                values,
                searched=True,
                tip="The value of both documents, or of the first and the second",
            ),
            Column(
                "Decided",
                decided,
                self.decided.codes(),
                tip="Decision on the pair: keys 1 to 4",
                used=bool(self.decided.codes().any()),
            ),
        ]

    def _offer_labels(self) -> None:
        self.label.offer(self.bench.documents.labels())
        compare = self.bench.recipe.compare
        scoped = compare.pairs_across or compare.pairs_within
        if scoped:
            self.label.setCurrentText(scoped)
        self.scope.setCurrentIndex(1 if compare.pairs_across else 2 if compare.pairs_within else 0)
        for widget in (self.label, self.scope):
            widget.setVisible(self.label.count() > 0)

    def _scope(self) -> str:
        return _SCOPES[self.scope.currentIndex()][1]

    def _label_chosen(self) -> None:
        if self._scope():
            self._scope_chosen()
        else:
            self.look_again()

    def _scope_chosen(self) -> None:
        chosen, label = self._scope(), self.label.currentText()
        values = {"pairs-across": "", "pairs-within": ""} | ({chosen: label} if chosen else {})
        state = self.bench.state
        recipe = state.recipe.with_settings("compare", dict(values))
        self.bench.change(state.with_recipe(recipe), "compare: which pairs")

    def draw_part(self, part: Part[Any]) -> None:
        """The distribution, or what there is of it so far."""
        bench = self.bench
        self.state.show_state()
        so_far = bench.results.growing.get(DISTRIBUTION)
        distribution = so_far or bench.results.get(DISTRIBUTION)
        if distribution is not None:
            error = None if distribution.exact else distribution.error
            self.histogram.show_counts(distribution.counts, bench.recipe.compare.pairs_from, error)
            estimated = (
                " · so far"
                if so_far
                else ""
                if distribution.exact
                else " · estimated from a sample; whiskers: ± 2 standard errors"
            )
            self.scale.setText(f"log scale{estimated}")

    def filter(self, words: str) -> None:
        self._words = words
        self.filter_rows()

    def filter_rows(self, _: object = None) -> None:
        """Show only pairs of the kinds, words and decisions that are wanted."""
        pairs = self.bench.results.get(PAIRS)
        if pairs is None or not self.bench.results.has(*self.needs):
            return
        only = np.array([button.isChecked() for button in self.kinds])[pairs.kind]
        only &= self._wanted(pairs)
        row = self.table.current_row()
        self.table.listed.filter(self._words, None if only.all() else only)
        if row >= 0:
            self.table.go_to(row)
        self._say_progress()

    def _wanted(self, pairs: Pairs) -> np.ndarray:
        codes, which = self.decided.codes(), _SHOWN[self.shown.currentIndex()]
        if which == "to decide":
            return codes == OPEN
        if which == "decided":
            return (codes > OPEN) & (codes != 4)
        if which == "later":
            return codes == 4
        if which == "of the pick":
            rows = self.bench.results[SPACE].terms.rows
            picked = np.isin(rows, np.array(self.bench.pick.rows, np.int64))
            return picked[pairs.first] | picked[pairs.second]
        return np.ones(len(pairs), np.bool_)

    def show_pairs_of_pick(self) -> None:
        """List only the pairs of what is picked."""
        self.shown.setCurrentIndex(_SHOWN.index("of the pick"))
        self.filter_rows()

    def choose(self, choice: int) -> None:
        """Decide on the pair of the current row, 1 to 4, and go on to the next."""
        row = self.table.current_row()
        if row >= 0 and self.bench.results.has(*self.needs):
            pairs = self.bench.results[PAIRS]
            self.decided.choose(int(pairs.first[row]), int(pairs.second[row]), choice)
            self.table.step(1)

    def decisions_changed(self) -> None:
        """The marks in the table, and how many there are."""
        if not self.bench.results.has(*self.needs) or not self.table.listed.columns:
            return
        self.table.renew(self._columns(self.bench.results[PAIRS]))
        self._say_progress()

    def _say_progress(self) -> None:
        codes = self.decided.codes()
        listed = codes[self.table.listed.order] if len(self.table.listed.order) <= len(codes) else codes
        done = int(((listed != OPEN) & (listed != 4)).sum())
        waiting = self.decided.waiting
        self.progress.setText(
            f"{done:,} of {len(listed):,} decided" + (f" · {waiting:,} to set aside on Apply" if waiting else "")
            if done or waiting or (codes == 4).any()
            else "Return opens a pair in full width · keys 1 to 4 decide"
        )
        self.apply.setVisible(waiting > 0)
        self.apply.setText(f"Apply: set {waiting:,} aside")

    def _show_pair(self, row: int) -> None:
        pairs, space = self.bench.results[PAIRS], self.bench.results[SPACE]
        themes = self.bench.results[THEMES]
        if not self.bench.results.has(*self.needs) or row >= len(pairs):
            return
        first, second = int(pairs.first[row]), int(pairs.second[row])
        if (first, second) == self._shown:
            return
        self._shown = (first, second)
        measure = self.bench.results.recipe.compare.measure
        heading_ = f"Pair {row + 1:,} of {len(pairs):,}"

        corpus, rows = self.bench.results[CORPUS], space.terms.rows
        texts = (corpus.texts[int(rows[first])], corpus.texts[int(rows[second])])
        nearest = sentences_across(self.bench.results, texts, self.bench.state.folder, 1)

        def found() -> tuple[Contributions, list[tuple[str, str, float]]]:
            parts = contributions(space, measure, first, second, themes)
            return parts, quoted(texts, nearest()) if themes.of_vectors else []

        def show(told: tuple[Contributions, list[tuple[str, str, float]]]) -> None:
            if self.bench.results.get(SPACE) is not space or (first, second) != self._shown:
                return  # it was asked of another lens, or another pair is in front by now
            parts, sentences = told
            self.why.show_parts(parts, space.terms.shown, sentences)
            self.reader.show_pair(self.bench.results, first, second, heading_, parts)
            self.reader.wanted.emit(False)

        self.asker.ask("parts of a pair", found, show)
