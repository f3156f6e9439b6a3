# SPDX-License-Identifier: GPL-3.0-or-later
"""The reader: one document, a list of those picked, or a pair. It is always there."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QModelIndex, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QListView,
    QScrollArea,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action, Switch, Way
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.reading.document_view import DocumentView
from jagged_lens.desktop.reading.marked_text import Mark, Spans
from jagged_lens.desktop.reading.picked_list import CardPainter, PickedList
from jagged_lens.desktop.reading.shading import pair_marks, weight_marks
from jagged_lens.desktop.reading.term_sheet import TermSheet
from jagged_lens.explain import (
    Contributions,
    DocumentTerms,
    Marks,
    cleaned_spans,
    contributions,
    document_terms,
    term_marks,
    unshared_words,
)
from jagged_lens.gather import Corpus, query_of
from jagged_lens.group import key_terms
from jagged_lens.lens import CORPUS, GROUPING, OVERVIEW, SPACE, TERMS, TOKENS, Part
from jagged_lens.project import Shown, Snapshot, Verbs

_MOST_CHIPS = 6
_SHORT = 50_000  # characters that are looked through at once


_SHOWN = (CORPUS, TOKENS, SPACE, TERMS, GROUPING, OVERVIEW)


class Reader(QWidget):
    """The picked documents, for reading.

    wanted: it is to be brought up; True: even where the side that it stands on is folded. pin_wanted: what is read is to be kept.
    """

    wanted = pyqtSignal(bool)
    pin_wanted = pyqtSignal()

    def __init__(self, bench: Verbs, asker: Asker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bench = bench = Shown(bench)
        self._asker = asker
        self._pair: tuple[Snapshot, int, int, str] | None = None
        self._query = query_of("")
        self._hits: tuple[object, list[Mark]] = (None, [])  # of the long text that was read last
        self._hung = (bench.state.labels, bench.state.aside)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 12, 12)
        column.setSpacing(8)
        self.heading = ElidedLabel()
        self.heading.setFont(theme.ui_font(1.12, bold=True))
        head = QHBoxLayout()
        head.setSpacing(4)
        head.addWidget(self.heading, 1)
        self.terms_button = Switch("Terms")
        set_tip(
            self.terms_button,
            "Mark the terms of the lens in the text, darker for higher weights, and list them with their counts (Ctrl+T)",
        )
        self.terms_button.toggled.connect(self.show_again)
        self.cleaned_button = Switch("Cleaned")
        set_tip(self.cleaned_button, "Strike through what Clean removes; dot the tokens that are kept (Ctrl+Shift+T)")
        self.cleaned_button.toggled.connect(self.show_again)
        self.pin = Action("Pin")
        set_tip(self.pin, "Keep the text with its marks as a finding for the report (P, with the keyboard here)")
        self.pin.clicked.connect(self.pin_wanted)
        self.back_button, self.forward_button = Way("‹"), Way("›")
        for way, name, tip, does in (
            (self.back_button, "Back", "Previous pick (Alt+Left)", bench.pick.back),
            (self.forward_button, "Forward", "Next pick (Alt+Right)", bench.pick.forward),
        ):
            way.setAccessibleName(name)
            set_tip(way, tip)
            way.clicked.connect(lambda _, does=does: does())
        for button in (self.pin, self.terms_button, self.cleaned_button, self.back_button, self.forward_button):
            head.addWidget(button)
        column.addLayout(head)
        self.pages = QStackedWidget()
        column.addWidget(self.pages, 1)
        self._make_empty()
        self._make_list()
        self._make_pair()
        bench.pick.changed.subscribe(self.show_pick)
        bench.part_changed.subscribe(self._part_changed)
        bench.state_changed.subscribe(self._state_changed)
        theme.changed.connect(self.show_again)
        self.show_pick()

    def _make_empty(self) -> None:
        self.empty = PlainLabel(
            "Click a point, a row or a card to read a document here.\n\nSeveral picked documents are listed with the terms "
            "typical of them."
        )
        self.empty.setWordWrap(True)
        self.empty.setAlignment(Qt.AlignmentFlag.AlignTop)
        theme.tone(self.empty, "muted")
        self.pages.addWidget(self.empty)

    def _make_list(self) -> None:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.apart = PlainLabel()
        self.apart.setWordWrap(True)
        self.apart.setTextFormat(Qt.TextFormat.PlainText)
        self.apart.setAccessibleName("Terms typical of the picked documents")
        column.addWidget(self.apart)
        self.splitter = QSplitter(Qt.Orientation.Vertical)
        self.model = PickedList(self._bench)
        self.list = QListView()
        self.list.setModel(self.model)
        self.list.setItemDelegate(CardPainter(self.list))
        self.list.setUniformItemSizes(True)
        self.list.setMouseTracking(True)
        self.list.setAccessibleName("Picked documents")
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        selection = self.list.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(self._read_current)
        self.splitter.addWidget(self.list)
        self.one = DocumentView(self._bench)
        self.splitter.addWidget(self.one)
        self.term_sheet = TermSheet()
        self.term_sheet.hide()
        self.term_sheet.place_wanted.connect(self.show_place)
        self.splitter.addWidget(self.term_sheet)
        self.splitter.setSizes([330, 300, 260])
        self.splitter.setChildrenCollapsible(False)
        column.addWidget(self.splitter, 1)
        self.pages.addWidget(page)

    def _make_pair(self) -> None:
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 6, 0)
        column.setSpacing(12)
        self.first, self.second = DocumentView(self._bench, True, "1"), DocumentView(self._bench, True, "2")
        rule = QFrame()
        rule.setFrameShape(QFrame.Shape.HLine)
        theme.tone(rule, "hairline")
        key = QHBoxLayout()
        self.key = PlainLabel(
            "Shaded: shared terms, darker for larger contributions.\nUnderlined: words only in this document."
        )
        self.key.setFont(theme.ui_font(0.88))
        self.key.setWordWrap(True)
        theme.tone(self.key, "muted")
        key.addWidget(self.key)
        column.addWidget(self.first)
        column.addWidget(rule)
        column.addWidget(self.second)
        column.addLayout(key)
        column.addStretch(1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(inner)
        area.setAccessibleName("The pair side by side")
        self.pages.addWidget(area)

    def show_pair(
        self, results: Snapshot, first: int, second: int, heading: str, parts: Contributions | None = None
    ) -> None:
        """Show two documents (lens rows) of what a picture shows; with the parts of their similarity, shared terms are shaded."""
        self._bench.show(results)
        rows = results[SPACE].terms.rows
        self._bench.pick.set((int(rows[first]), int(rows[second])))
        self._pair = (results, first, second, heading)
        self.heading.setText(heading)
        self.pages.setCurrentIndex(2)
        corpus = results[CORPUS]
        space, tokens, settings = results[SPACE], results[TOKENS], results.recipe.terms
        measure = results.recipe.compare.measure
        self.first.show_document(corpus, int(rows[first]))
        self.second.show_document(corpus, int(rows[second]))

        def found() -> list[tuple[NDArray[np.float64], list[tuple[int, int]]]]:
            known = parts or contributions(space, measure, first, second)
            return [
                (
                    pair_marks(known, term_marks(tokens, space.terms, settings, own), side),
                    unshared_words(tokens, int(rows[own]), int(rows[other])),
                )
                for side, (own, other) in enumerate(((first, second), (second, first)))
            ]

        def show(marked: list[tuple[NDArray[np.float64], list[tuple[int, int]]]]) -> None:
            self.first.show_document(corpus, int(rows[first]), *marked[0])
            self.second.show_document(corpus, int(rows[second]), *marked[1])

        self._asker.ask("marks of a pair", found, show)

    def shown_views(self) -> list[DocumentView]:
        """The documents that are read now: none, one or two."""
        shown: list[tuple[DocumentView, ...]] = [(), (self.one,), (self.first, self.second)]
        return [view for view in shown[self.pages.currentIndex()] if view.text.toPlainText()]

    def show_pick(self) -> None:
        """Show what is picked: nothing, one document, or a list."""
        self._asker.forget("marks of a pair")
        self._asker.forget("marks of a document")
        self._pair = None
        self._take()
        pick = self._bench.pick
        if not pick.rows or CORPUS not in self._bench.results:
            self.heading.setText("Reader")
            self.pages.setCurrentIndex(0)
            return
        self.pages.setCurrentIndex(1)
        self.model.show(pick.rows)
        several = len(pick.rows) > 1
        self.list.setVisible(several)
        self.apart.setVisible(several)
        self.heading.setText(f"{len(pick.rows):,} documents" if several else "One document")
        current = pick.rows.index(pick.reading) if pick.reading in pick.rows else 0
        self.list.setCurrentIndex(self.model.index(current))
        self._read(pick.rows[current])
        if several:
            self._tell_apart(pick.rows)

    def _read_current(self, index: QModelIndex) -> None:
        if 0 <= index.row() < len(self.model.rows):
            self._read(self.model.rows[index.row()])

    def _read(self, row: int) -> None:
        results = self._bench.results
        corpus, space = results[CORPUS], results.get(SPACE)
        hits = self._hits_in(corpus, row)
        cleaned: tuple[Spans, Spans] = ((), ())
        if self.cleaned_button.isChecked() and self._bench.results.has(TOKENS):
            kept, taken = cleaned_spans(results[TOKENS], row)
            cleaned = (kept, taken)
        self.one.show_document(corpus, row, hits, (), cleaned)
        wanted = self.terms_button.isChecked() and self._bench.results.has(TOKENS, SPACE)
        self.term_sheet.setVisible(wanted)
        place = np.flatnonzero(self._bench.documents.lens_rows() == row)
        if not wanted or space is None:
            return
        if not len(place):
            self.term_sheet.show_terms(None, (), None)
            return
        tokens, settings, at = results[TOKENS], results.recipe.terms, int(place[0])

        def found() -> tuple[DocumentTerms, list[str], Marks, NDArray[np.float64]]:
            terms, marks = document_terms(space, at), term_marks(tokens, space.terms, settings, at)
            return terms, list(space.terms.shown.take(terms.columns)), marks, weight_marks(space, at, marks)

        def show(answer: tuple[DocumentTerms, list[str], Marks, NDArray[np.float64]]) -> None:
            marks = np.concatenate((answer[3], np.array(hits, np.float64).reshape(-1, 3)))
            self.one.show_document(corpus, row, marks, (), cleaned)
            self.term_sheet.show_terms(*answer[:3])

        self._asker.ask("marks of a document", found, show)

    def _hits_in(self, corpus: Corpus, row: int) -> list[Mark]:
        """The matches in a text. In a long text a thread finds them, and they appear when ready."""
        query, text = self._query, corpus.texts[row]
        if not query.patterns:
            return []

        def found() -> list[Mark]:
            return [(start, end, 1.0) for start, end in query.spans(text)]

        if len(text) <= _SHORT:
            return found()
        of, known = self._hits
        if of == (corpus, row, query):
            return known

        def show(hits: list[Mark]) -> None:
            self._hits = ((corpus, row, query), hits)
            if self._query is query:
                self.show_again()

        self._asker.ask("hits in a document", found, show)
        return []

    def mark_hits(self, words: str) -> None:
        """Mark what is looked for in the texts that are shown; "" marks nothing."""
        self._query = query_of(words)
        self.show_again()

    def show_place(self, start: int, end: int) -> None:
        """Bring a place of the text that is read into sight, and select it."""
        self.one.text.show_place(start, end)

    def show_again(self) -> None:
        """Show the same once more: marks, labels or the look changed."""
        if self._pair is not None:
            self.show_pair(*self._pair)
        elif self.model.rows and CORPUS in self._bench.results and self.pages.currentIndex() == 1:
            row = self.list.currentIndex().row()
            self._read(self.model.rows[row if 0 <= row < len(self.model.rows) else 0])

    def _tell_apart(self, rows: tuple[int, ...]) -> None:
        self.apart.setText("")
        terms = self._bench.results.get(TERMS)
        if terms is None:
            return

        def found() -> list[str]:
            inside = np.isin(terms.rows, np.array(rows))
            columns, _ = key_terms(terms.counts, inside, _MOST_CHIPS)
            return [terms.shown[int(column)] for column in columns]

        def show(words: list[str]) -> None:
            self.apart.setText(
                "Typical terms:  " + "  ·  ".join(words) if words else "No term separates them from the rest."
            )

        self._asker.ask("typical terms of the pick", found, show)

    def _state_changed(self) -> None:
        """Labels and what is set aside stand in the line below a title."""
        hung = (self._bench.state.labels, self._bench.state.aside)
        if hung != self._hung:
            self._hung = hung
            self.show_again()

    def _take(self) -> None:
        """Go over to the newest results, where there are documents among them."""
        if self._bench.ready(CORPUS):
            self._bench.take()

    def _part_changed(self, part: Part[Any]) -> None:
        if part not in _SHOWN or not self._bench.ready(part) or self._bench.is_newest(part):
            return
        if part is CORPUS:
            self.show_pick()
        elif self._pair is None:
            self._take()
            self.list.viewport().update()  # type: ignore[union-attr]
            if (part is TOKENS and self.cleaned_button.isChecked()) or (
                part is SPACE and self.terms_button.isChecked()
            ):
                self.show_again()
