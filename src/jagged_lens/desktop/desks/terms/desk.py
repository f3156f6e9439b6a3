# SPDX-License-Identifier: GPL-3.0-or-later
"""The Terms desk: which terms are kept, set by hand on their curve; the vocabulary and more; a term in its contexts."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QSplitter

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.term_asking import TermAsker
from jagged_lens.desktop.desks.terms.glance import Glance
from jagged_lens.desktop.desks.terms.limits_card import LimitsCard
from jagged_lens.desktop.desks.terms.lists import Lists
from jagged_lens.desktop.desks.terms.phrases import Phrases
from jagged_lens.desktop.desks.terms.term_card import TermCard, TermPicture
from jagged_lens.desktop.desks.terms.vocabulary import VocabularyFace, shown_term
from jagged_lens.desktop.look.controls import Action, Button
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.saving import Piece
from jagged_lens.lens import CORPUS, LENS_ROWS, NGRAMS, TERMS, TOKENS, WORDS
from jagged_lens.terms import TermIndex, collocates, contexts, written_forms
from jagged_lens.weigh import WordVectors

_ALIKE = 8


class TermsDesk(Desk):
    step = "terms"
    needs = (CORPUS, TOKENS, LENS_ROWS, NGRAMS, TERMS)
    faces = (VocabularyFace, Glance, Phrases)

    def build(self) -> None:
        vocabulary = self.vocabulary = self.face(VocabularyFace)
        self.table, self.within = vocabulary.table, vocabulary.within
        self.lists = Lists(self.bench)
        self.field = self.filter_field("Filter terms ( / )")
        for widget in (self.lists, self.field):
            self.tools.addWidget(widget)
        self.limits = LimitsCard(self.bench, self.asker)
        self.curve = self.limits.curve
        self.body.addWidget(self.limits)
        self.keep_button = self._flat(
            "Keep", "Always keep the chosen terms, whatever the limits", vocabulary.always_keep
        )
        self.drop_button = self._flat(
            "Drop", "Always drop the chosen terms, whatever the limits", vocabulary.always_drop
        )
        self.drop_all_button = self._flat(
            "… and terms with it",
            "Drop the chosen terms, and every term that contains one of them",
            vocabulary.drop_with_all,
        )
        self.free_button = self._flat(
            "By limits", "Let the limits decide on the chosen terms again", vocabulary.by_limits
        )
        self.leaf_row.add(self.within)
        self.leaf_row.add(vocabulary.only_kept)
        for button in (self.keep_button, self.drop_button, self.drop_all_button, self.free_button):
            self.leaf_row.add(button)
        self.body.addWidget(self.leaf_row)
        self.card = TermCard()
        split = QSplitter(Qt.Orientation.Vertical)
        split.addWidget(self.leaf_row.leaves)
        split.addWidget(self.card)
        split.setStretchFactor(0, 3)
        split.setStretchFactor(1, 2)
        split.setChildrenCollapsible(False)
        self.body.addWidget(split, 1)
        self._row = -1
        self._places = TermAsker(self.bench, self.asker)
        self.face(Phrases).places = self._places
        self._connect()
        self.keys = [
            ("Space", "pick the documents that contain the term"),
            ("Left, Right", "on the curve: move the lower limit; with Shift, the upper one"),
            ("Up, Down", "at a glance: move the line; terms above it are picked"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def own_pieces(self) -> list[Piece]:
        return self.lists.pieces() if self.bench.results.has(TERMS) else []

    def _connect(self) -> None:
        """Pass on what the parts of the desk say."""
        vocabulary = self.vocabulary
        vocabulary.term_shown.connect(self._show_term)
        vocabulary.documents_wanted.connect(self.pick_documents)
        vocabulary.unfilter.connect(self.field.clear)
        self.limits.why_moved.connect(vocabulary.show_why)
        self.limits.term_chosen.connect(self._show_in_vocabulary)
        self.face(Glance).term_chosen.connect(self.table_to)
        self.card.context_chosen.connect(self._read_context)
        self.card.documents_wanted.connect(self._pick)
        self.card.value_chosen.connect(self._pick_value)
        self.card.same_wanted.connect(self._count_as_same)

    def _flat(self, text: str, tip: str, does: Callable[[], object]) -> Button:
        button = Action(text)
        set_tip(button, tip)
        button.clicked.connect(lambda: does())
        return button

    def table_to(self, row: int) -> None:
        """Go to a term of the vocabulary, and show it; the pick of terms stays."""
        self.vocabulary.go_to(row)

    def _show_in_vocabulary(self, row: int) -> None:
        self.bring_up(VocabularyFace)
        self.table_to(row)

    # The term under the cursor.

    def pick_documents(self, row: int) -> None:
        """The documents of a term become the pick."""
        self.bench.pick.set(self._documents_of(row)[0].tolist())
        self.read()

    def _pick(self) -> None:
        if self._row >= 0:
            self.pick_documents(self._row)

    def _documents_of(self, row: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """The corpus rows that hold a term of the vocabulary, and how often."""
        ngrams = self.bench.results[NGRAMS]
        documents, counts = ngrams.holders(row)
        return ngrams.rows[documents].astype(np.int64), counts.astype(np.int64)

    def _show_term(self, row: int) -> None:
        """The term in its contexts, the collocates, how it is written, and its times by label."""
        self._row = row
        self.limits.mark(row)
        if not self.bench.results.has(*self.needs):  # the vocabulary was there first; the card is drawn with the desk
            return
        corpus, terms = self.bench.results[CORPUS], self.bench.results[TERMS]
        vocabulary = terms.vocabulary
        term = vocabulary.terms[row]
        labels = self.bench.documents.labels()
        self.card.show_term(shown_term(terms, row), int(vocabulary.times[row]), labels, *self._documents_of(row))
        if self.bench.results.recipe.clean.tokens == "characters":
            self.card.show_picture(TermPicture([], [], []))
            return
        words = self.bench.results.get(WORDS)
        self._places.ask(
            "a term",
            lambda index: TermPicture(
                contexts(corpus, index, term),
                collocates(index, term),
                written_forms(index, term),
                _alike(words, term, index),
            ),
            self.card.show_picture,
        )

    def _count_as_same(self, word: str) -> None:
        """Count a word that is used alike as the term in front."""
        term = shown_term(self.bench.results[TERMS], self._row)
        rules = self.bench.recipe.clean.own_rules
        self.bench.set("clean", "own-rules", [*rules, f"{word.lower()} = {term.lower()}"])

    def _read_context(self, row: int, start: int, end: int) -> None:
        """Read the document at the place of a context."""
        self.read_document(row)
        self.reader.show_place(start, end)

    def _pick_value(self, value: int, add: bool) -> None:
        """Pick the documents of one label value that hold the term."""
        label = self.card.by_label.label
        if label is not None and self._row >= 0:
            rows, _ = self._documents_of(self._row)
            chosen = rows[label.codes[rows] == value].tolist()
            self.bench.pick.set({*self.bench.pick.rows, *chosen} if add else chosen)
            self.read()

    def refresh(self) -> None:
        terms = self.bench.results[TERMS]
        vocabulary = terms.vocabulary
        low, high = self.bench.recipe.terms.words
        unit = "character" if self.bench.recipe.clean.tokens == "characters" else "word"
        lengths = f"{low}–{high}-{unit}" if low != high else f"{low}-{unit}"
        said = f"{len(terms.kept):,} of {len(vocabulary):,} kept"
        set_tip(self.figures, f"{len(vocabulary):,} different {lengths} terms, {len(terms.kept):,} of them kept")
        if terms.column is not None:
            inside = int((terms.column >= 0).sum())
            shared = inside - len(terms.kept)
            said = f"{inside:,} terms in {len(terms.kept):,} columns · {shared:,} collisions"
        self.figures.setText(said)
        self.limits.rank_terms()
        self.lists.show_state()
        self.vocabulary.prepare()


def _alike(words: WordVectors | None, term: str, index: TermIndex) -> list[tuple[str, float]]:
    """The words used most alike, in their most frequent spelling, and the cosine of their learned vectors; none without such."""
    found = words.used_alike(term, _ALIKE) if words is not None else []
    return [(written_forms(index, index.tokens.words[number])[0][0], cosine) for number, cosine in found]
