# SPDX-License-Identifier: GPL-3.0-or-later
"""New documents in the lens as it is: where each lies, of what it is a copy, and how much of it the lens does not know."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from jagged_lens.compare import Kind
from jagged_lens.desktop.desks.by_group import by_group, group_title
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import card, heading, muted, muted_line
from jagged_lens.desktop.look.controls import Action, Button, MainAction
from jagged_lens.desktop.look.flow import flowing
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import KINDS, KINDS_LONG, amount
from jagged_lens.desktop.plots.map_canvas import Category, MapCanvas
from jagged_lens.desktop.reading.document_view import meta
from jagged_lens.desktop.reading.marked_text import MarkedText
from jagged_lens.desktop.reading.reading_table import Text, Texts
from jagged_lens.desktop.saving import Piece, one_kind
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import ShareCell
from jagged_lens.desktop.tables.row_names import by_key
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.explain import contributions, term_marks
from jagged_lens.export import write_placed
from jagged_lens.group import letter
from jagged_lens.lens import (
    ARRIVALS,
    CORPUS,
    GROUPING,
    KEY_TERMS,
    LAYOUT,
    PLACED,
    SPACE,
    SUGGESTIONS,
    TERMS,
    THEMES,
    TOKENS,
    Part,
)
from jagged_lens.place import Placed, Suggestions, suggested_for, with_rows, with_rows_in_themes

_EMPTY = (
    "View new documents through this lens: their nearest old documents, copies of old ones, their groups, and "
    "their words that are not among the terms. The project does not change until you add them."
)


class NewDocumentsFace(Face):
    """add_wanted: a source of new documents is to be described. texts_wanted(texts, title, figures): to be read in full width."""

    name = "New documents"
    reads_itself = True
    needs = (CORPUS, TOKENS, TERMS, SPACE, THEMES, GROUPING, KEY_TERMS, LAYOUT)
    also = (PLACED, SUGGESTIONS)
    add_wanted = pyqtSignal()
    texts_wanted = pyqtSignal(object, str, str)

    def build(self) -> None:
        self._found: Placed | None = None
        self._learned: Suggestions | None = None  # what a label is suggested by
        # Of the lens that they were placed in: what is shown stays together, though another lens is being computed.
        self._rows: NDArray[np.int32] = np.zeros(0, np.int32)
        self._titles: Sequence[str] = ()
        self.add = Action("Add new documents…")
        set_tip(self.add, "Files, folders, tables, a database or web pages to view through this lens")
        self.add.clicked.connect(self.add_wanted)
        self.sources = muted_line()
        self.state = PartState(self.bench, PLACED, "the new documents")
        self.leave = self._flat("Discard", "Remove them from view; nothing has been added", self.bench.stop_placing)
        self.take = MainAction("Add to project")
        set_tip(self.take, "Add them to the project, for all lenses; undo brings them back here")
        self.take.clicked.connect(self.bench.take_placed_in)
        self.body.addWidget(flowing(self.add, self.take, self.leave, self.state, self.sources))
        self.figures = muted("", 1.0)
        self.figures.setWordWrap(True)
        self.figures.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.body.addWidget(self.figures)
        self.down = QSplitter(Qt.Orientation.Vertical)
        self.down.setChildrenCollapsible(False)
        self.table = TableView("New documents")
        self.table.setItemDelegateForColumn(1, ShareCell(self.table))
        self.table.opens = True
        self.table.row_changed.connect(self._show)
        self.table.open_wanted.connect(self._open)
        self.table.read_wanted.connect(lambda _: self.read())
        self.down.addWidget(self.table)
        across = QSplitter(Qt.Orientation.Horizontal)
        across.setChildrenCollapsible(False)
        self.map = MapCanvas()
        self.map.setAccessibleName("Map with the new documents as diamonds")
        self.map.picked.connect(self._pick_points)
        self.map.read_wanted.connect(self._read_point)
        across.addWidget(self.map)
        across.addWidget(self._text_card())
        across.setSizes([330, 330])
        self.down.addWidget(across)
        self.down.setSizes([270, 330])
        self.body.addWidget(self.down, 1)
        self.body.addStretch(0)
        self.bench.pick.changed.subscribe(self._show_pick)
        self.bench.state_changed.subscribe(self._show_sources)

    def _flat(self, text: str, tip: str, does: Any) -> Button:
        button = Action(text)
        set_tip(button, tip)
        button.clicked.connect(lambda: does())
        return button

    def _text_card(self) -> QWidget:
        frame, column = card()
        head = QHBoxLayout()
        self.title = heading("", 1.0)
        self.title.setWordWrap(True)
        head.addWidget(self.title, 1)
        self.both = self._flat(
            "Read both", "Read it beside its nearest old document, or the one it copies (Return)", self._open_current
        )
        head.addWidget(self.both)
        column.addLayout(head)
        self.under = muted()
        self.under.setWordWrap(True)
        column.addWidget(self.under)
        self.text = MarkedText(frame)
        self.text.setAccessibleName("Text of the new document")
        column.addWidget(self.text, 1)
        page = QWidget()
        whole = QVBoxLayout(page)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(frame)
        return page

    # What is shown.

    def refresh(self) -> None:
        self._show_sources()

    def _show_sources(self) -> None:
        if not self.is_made:
            return
        placing = self.bench.state.placing
        self.sources.setText(", ".join(source.name for source in placing))
        self.add.be_main(not placing)
        if not placing:
            self.figures.setText(_EMPTY)
            self._found = None
        elif self._found is None:
            self.figures.setText("Reading and placing the new documents.")
        self._show_what_there_is()

    def _show_what_there_is(self) -> None:
        """Show the table and what can be done with it only where new documents have been placed."""
        placing = bool(self.bench.state.placing)
        self.leave.setVisible(placing)
        for widget in (self.take, self.down):
            widget.setVisible(placing and self._found is not None)

    def draw_part(self, part: Part[Any]) -> None:
        if not self.is_made:
            return
        bench = self.bench
        placing = bool(bench.state.placing)
        self.state.show_state()
        self.state.setVisible(placing and not self.state.isHidden())
        error = next((bench.errors[one.name] for one in (ARRIVALS, PLACED) if one.name in bench.errors), None)
        if placing and error is not None:
            self.figures.setText(str(error))
            self._found = None
            self._show_what_there_is()
        if not placing or not bench.results.has(PLACED, *self.needs):
            return
        learned = bench.results[SUGGESTIONS] if bench.results.has(SUGGESTIONS) else None
        if self._found is not bench.results[PLACED] or self._learned is not learned:
            self._found, self._learned = bench.results[PLACED], learned
            self._rows, self._titles = bench.results[SPACE].terms.rows, bench.results[CORPUS].titles
            self._show_what_there_is()
            self._show_table(self._found)
            self._show_map(self._found)

    def summary(self) -> str:
        return amount(len(self._found), "new document") if self._found is not None else ""

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    def _old(self, place: int) -> int:
        """The corpus row of a document of the lens that these new ones were placed in."""
        return int(self._rows[place])

    def _partner(self, at: int) -> int:
        """The old document (its row in the lens) that a new one is a copy of, or is nearest to; -1: there is none."""
        found = self._found
        assert found is not None
        if found.copy_of[at] >= 0:
            return int(found.copy_of[at])
        return int(found.nearest.row[at, 0]) if found.nearest.row.shape[1] else -1

    def _show_table(self, found: Placed) -> None:
        results = self.bench.results
        kinds = found.copy_kind[found.copy_of >= 0]
        told = [f"{int((kinds == kind).sum())} {KINDS[kind]}" for kind in (Kind.SAME, Kind.EDITED, Kind.HOLDS)]
        words, unknown = int(found.through.words.sum()), int(found.through.unknown.sum())
        strange = int((found.group < 0).sum())
        none = f" {amount(strange, 'document')} without any words among the terms." if strange else ""
        if results[THEMES].given:
            lacking = amount(int((~found.through.vectors.any(axis=1)).sum()), "new document")
            source = self.bench.results.recipe.weigh.space
            none = f" {lacking} without a vector{': send them on Weigh, under Space' if source == 'service' else ' in the file'}."
        copies = f"{len(kinds)} copies of old ones ({', '.join(told)})" if len(kinds) else "no copies of old ones"
        self.figures.setText(
            f"{amount(len(found), 'new document')}: {copies}. {unknown / max(words, 1):.1%} of their words are not among "
            f"the terms.{none}"
        )
        n = len(found)
        titles = found.corpus.titles
        names = [titles[at] or " ".join(found.corpus.texts[at].split()[:8]) or "(no text)" for at in range(n)]
        old = self._titles
        near = found.nearest.row[:, 0] if found.nearest.row.shape[1] else np.full(n, -1)
        alike = found.nearest.similarity[:, 0] if found.nearest.row.shape[1] else np.zeros(n, np.float32)
        share = found.through.unknown_share
        order = np.where(found.copy_of >= 0, found.copy_kind, len(Kind))
        groups = [f"{letter(group)}  {group_title(self.bench, group)}" for group in range(len(results[GROUPING]))]
        columns = [
            Column(
                "New document, and its nearest",
                lambda at: names[at],
                searched=True,
                below=lambda at: old[self._old(int(near[at]))] if near[at] >= 0 else "no nearest",
                names=("New document", "Nearest"),
            ),
            Column("Similarity", lambda at: f"{alike[at]:.3f}", alike, right=True, share=lambda at: float(alike[at])),
            Column(
                "Copy",
                lambda at: self._copy_words(found, at),
                order,
                tip="Found by runs of four words, whatever the weights. Names the document if it is not the nearest one",
            ),
            Column("Group", lambda at: groups[found.group[at]] if found.group[at] >= 0 else "none", found.group),
            *self._suggested(found),
            Column(
                "Not among the terms",
                lambda at: f"{share[at]:.0%}",
                share,
                right=True,
                tip="Share of its words that no term of the lens contains",
            ),
        ]
        self.table.show_rows(columns, n, 0, by_key(found.corpus.keys, np.arange(n)))
        if self.table.current_row() >= 0:
            self._show(self.table.current_row())
            return
        self.title.setText("")
        self.under.setText("Choose a new document to read it here")
        self.text.show_text("")

    def _suggested(self, found: Placed) -> list[Column]:
        """The value that is suggested for each, where a label is learned on the face beside this one."""
        learned = self._learned
        if learned is None or not len(learned) or not self.bench.recipe.suggest.label:
            return []
        themes = self.bench.results[THEMES]
        first, sure = suggested_for(learned, found.through.vectors if themes.given else found.through.weights, themes)
        words = [
            f"{learned.values[value]}  {share:.0%}" if value >= 0 else "none"
            for value, share in zip(first.tolist(), sure.tolist(), strict=True)
        ]
        return [
            Column(
                f"{learned.label}?",
                lambda at: words[at],
                np.where(first >= 0, sure, -1.0),
                searched=True,
                tip=f"The most likely value of {learned.label} and its probability, learned from the documents of the lens",
            )
        ]

    def _copy_words(self, found: Placed, at: int) -> str:
        if found.copy_of[at] < 0:
            return ""
        words = KINDS[found.copy_kind[at]]
        if found.copy_of[at] == found.nearest.row[at, 0]:
            return words
        return f"{words} of {self._titles[self._old(int(found.copy_of[at]))]}"

    def _show_map(self, found: Placed) -> None:
        layout = self.bench.results[LAYOUT]
        group, categories = by_group(self.bench, len(layout.positions))
        new = Category("", "new documents", theme.colour("ink"), "diamond")
        self._n = len(layout.positions)
        self.map.show_names = False
        self.map.show_points(
            np.concatenate((layout.positions, found.positions)),
            np.concatenate((layout.trust, np.ones(len(found), np.float32))),
            np.concatenate((group, np.full(len(found), len(categories), np.int64))),
            [*categories, new],
        )

    def _show(self, at: int) -> None:
        found = self._found
        if found is None or at >= len(found):
            return
        corpus, text = found.corpus, found.corpus.texts[at]
        self.title.setText(corpus.titles[at] or corpus.keys[at])
        partner = self._partner(at)
        old = self._titles
        near = f"{KINDS_LONG[found.copy_kind[at]]}: {old[self._old(partner)]}" if found.copy_of[at] >= 0 else ""
        unknown = self._unknown(found, at)
        said = (
            f" Not among the terms (underlined): {int(found.through.unknown[at])} of {int(found.through.words[at])} words."
            if len(unknown)
            else ""
        )
        self.under.setText(f"{near or corpus.keys[at]}.{said}")
        self.both.setEnabled(partner >= 0)
        self.text.show_text(text, (), unknown)
        if partner >= 0:
            self.bench.pick.set([self._old(partner)])
            self.reader.wanted.emit(False)
        self._mark(at)

    @staticmethod
    def _unknown(found: Placed, at: int) -> NDArray[np.int64]:
        """The positions of the words that the lens does not know: int64, k × 2."""
        tokens = found.through.tokens
        span = np.arange(tokens.row_starts[at], tokens.row_starts[at + 1])
        span = span[tokens.kept[span]]
        strange = span[found.through.strange[tokens.word[tokens.form[span]]]]
        return np.stack((tokens.start[strange], tokens.start[strange] + tokens.length[strange]), axis=1).astype(
            np.int64
        )

    def _mark(self, at: int) -> None:
        """Mark a new document on the map, and its nearest."""
        found = self._found
        assert found is not None
        near = found.nearest.row[at][found.nearest.row[at] >= 0]
        placed = not np.isnan(found.positions[at, 0])
        self.map.show_links(
            np.column_stack((np.full(len(near), self._n + at), near)) if placed else np.zeros((0, 2), np.int64),
            found.nearest.similarity[at][: len(near)],
        )
        self.map.show_pick(np.array([self._n + at]), self._n + at)

    # What is done.

    def _open_current(self) -> None:
        if self.table.current_row() >= 0:
            self._open(self.table.current_row())

    def _open(self, at: int) -> None:
        """Read a new document beside the old one that it is a copy of, or is nearest to."""
        found, bench = self._found, self.bench
        if found is None or not bench.results.has(PLACED, *self.needs):
            return
        partner = self._partner(at)
        if partner < 0:
            return
        results = bench.results
        corpus, space, themes, tokens = results[CORPUS], results[SPACE], results[THEMES], results[TOKENS]
        row, settings, measure = self._old(partner), bench.results.recipe.terms, bench.results.recipe.compare.measure
        through = found.through
        terms = dataclasses.replace(space.terms, counts=through.counts, rows=np.arange(len(found), dtype=np.int32))
        new = Text(
            found.corpus.titles[at] or found.corpus.keys[at], f"{found.corpus.keys[at]} · new", found.corpus.texts[at]
        )
        texts = Texts(
            (new, Text(corpus.titles[row], meta(bench, row), corpus.texts[row], row)),
            space.terms.shown,
            lambda: contributions(
                with_rows(space, through), measure, len(space.empty) + at, partner, with_rows_in_themes(themes, through)
            ),
            (
                lambda: term_marks(through.tokens, terms, settings, at),
                lambda: term_marks(tokens, space.terms, settings, partner),
            ),
        )
        kind = KINDS_LONG[found.copy_kind[at]] if found.copy_of[at] >= 0 else "nearest old document"
        self.texts_wanted.emit(texts, "A new document and an old one", kind)

    def _pick_points(self, rows: NDArray[np.int64], add: bool) -> None:
        new, old = rows[rows >= self._n] - self._n, rows[rows < self._n]
        if len(new) == 1 and not len(old):
            self.table.go_to(int(new[0]))
            return
        chosen = self._rows[old].tolist()
        pick = self.bench.pick
        pick.set({*pick.rows, *chosen} if add else chosen, chosen[0] if len(chosen) == 1 else -1)

    def _read_point(self, row: int) -> None:
        if row < self._n:
            self.read_document(self._old(row))
        else:
            self._open(row - self._n)

    def _show_pick(self) -> None:
        if self.is_made and self.isVisible() and self._found is not None:
            places = np.flatnonzero(np.isin(self._rows, list(self.bench.pick.rows)))
            current = self.table.current_row()
            own = [self._n + current] if current >= 0 else []
            self.map.show_pick(np.array([*own, *places.tolist()], np.int64), own[0] if own else -1)

    def own_pieces(self) -> list[Piece]:
        if self._found is None:
            return []
        return [
            Piece("All results for the new documents", "placed", one_kind("CSV table (.csv)", ".csv", self.save_table))
        ]

    def save_table(self, path: Path) -> None:
        """Write placed.csv."""
        if self._found is not None and self.bench.results.has(PLACED, *self.needs):
            write_placed(path, self.bench.results)

    def take_focus(self) -> None:
        if self.is_made:
            (self.table if self.bench.state.placing else self.add).setFocus()
