# SPDX-License-Identifier: GPL-3.0-or-later
"""The space of the later steps: terms, themes, or vectors; and the vectors that come from outside."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QScrollArea, QStackedWidget, QWidget

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.weigh.vector_file import VectorFileCard
from jagged_lens.desktop.desks.weigh.vector_service import VectorServiceCard
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import heading, muted, muted_line
from jagged_lens.desktop.look.controls import Choice, Way
from jagged_lens.desktop.look.number_boxes import WholeBox
from jagged_lens.desktop.look.words import amount, space_words
from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.errors import RecipeError
from jagged_lens.lens import CORPUS, GIVEN, LENS_ROWS, TERMS, THEMES, TOKENS, WORDS, Part, shown_settings_of
from jagged_lens.vectors import GivenVectors

_TOLD = {
    "terms": "Documents are similar if they share terms. Each part of a similarity can be shown.",
    "themes": "Terms that occur together are combined into themes by singular value decomposition. Documents can be similar although they "
    "share few terms. A theme has two ends, which makes some hard to name.",
    "adding": "Each document is a sum of non-negative amounts of themes. These themes have one end and are easier to name.",
    "learned": "Each word gets a vector from the words around it, and each document the weighted mean of its words. Words that are used alike "
    "count as similar. The vectors are learned from these documents alone, so small collections give rough ones.",
    "file": "Each document gets the vector that a file has under its key. A similarity of such vectors cannot be split into terms.",
    "service": "A service makes a vector of each text. A text leaves this machine only when you press Send. A similarity of such vectors "
    "cannot be split into terms.",
}
_NUMBERS = {"themes": ("themes", "Number"), "adding": ("themes", "Number"), "learned": ("dimensions", "Dimensions")}


class SpaceFace(Face):
    name = "Space"
    needs = (CORPUS, TOKENS, LENS_ROWS)
    also = (GIVEN, WORDS, THEMES)

    def build(self) -> None:
        self._wanted = ""  # chosen here, while the file or the service is not known yet
        self._wrong = ""
        self._found: GivenVectors | None = None
        self._unused: list[tuple[int, str, str]] = []
        head = QHBoxLayout()
        head.addWidget(heading("The later steps work on"))
        self.choice = Choice()
        self.choice.setAccessibleName("The later steps work on")
        for value, words in shown_settings_of("weigh")["space"].said.items():
            self.choice.addItem(words, value)
        self.choice.activated.connect(lambda _: self._choose(str(self.choice.currentData())))
        head.addWidget(self.choice)
        self.number_said = muted()
        head.addWidget(self.number_said)
        self.number = WholeBox()
        self.number.setRange(2, 2000)
        self.number.setKeyboardTracking(False)
        self.number.valueChanged.connect(self._set_number)
        head.addWidget(self.number)
        self.about = muted_line()
        head.addWidget(self.about, 1)
        self.body.addLayout(head)
        self.told = muted("", 0.95)
        self.told.setWordWrap(True)
        self.body.addWidget(self.told)
        self.file = VectorFileCard(self.bench, self.asker)
        self.service = VectorServiceCard(self.bench, self.asker)
        for card in (self.file, self.service):
            card.used.connect(self._used)
            self.body.addWidget(card)
        self.table_head = heading("Not used")
        self.body.addWidget(self.table_head)
        self.table = TableView("Documents without a vector, and vectors without a document")
        for wanted in (self.table.read_wanted, self.table.open_wanted):
            wanted.connect(self._read_row)
        self.below = QStackedWidget()
        self.below.addWidget(self.table)
        self.below.addWidget(self._told_of_all())
        self.below.addWidget(QWidget())
        self.body.addWidget(self.below, 1)
        self.bench.sending.changed.subscribe(self._sending_changed)
        self.bench.state_changed.subscribe(self._settings_changed)

    def _told_of_all(self) -> QWidget:
        """All spaces with a sentence each, to choose by."""
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(0, 10, 0, 0)
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(9)
        grid.setColumnStretch(1, 1)
        for row, (value, words) in enumerate(shown_settings_of("weigh")["space"].said.items()):
            way = Way(words[:1].upper() + words[1:])
            way.clicked.connect(lambda _, value=value: self._choose(value))
            grid.addWidget(way, row, 0, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
            told = muted(_TOLD[value], 0.95)
            told.setWordWrap(True)
            grid.addWidget(told, row, 1)
        grid.setRowStretch(len(_TOLD), 1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidget(page)
        area.setAccessibleName("All spaces")
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        return area

    # What is chosen.

    def want(self, space: str) -> None:
        """Show what a space needs, which is not known yet: a file or a service."""
        self._wanted = space
        self._show_choice()
        card = self.file if space == "file" else self.service
        card.begin()

    @property
    def _space(self) -> str:
        return self._wanted or self.bench.recipe.weigh.space

    def _choose(self, space: str) -> None:
        if space in ("file", "service") and self.bench.recipe.weigh.space != space:
            self.want(space)
            return
        self._wanted = ""
        self._set("space", space)
        self._show_choice()

    def _set(self, key: str, value: object) -> None:
        try:
            self.bench.set("weigh", key, value)
            self._wrong = ""
        except RecipeError as error:
            self._wrong = error.sentence

    def _used(self) -> None:
        self._wanted = ""
        self._show_choice()

    def _set_number(self, number: int) -> None:
        key, _ = _NUMBERS.get(self._space, ("", ""))
        if key and not self._wanted:
            self._set(key, number)

    def _settings_changed(self) -> None:
        if self.is_made:
            if self._wanted == self.bench.recipe.weigh.space:
                self._wanted = ""
            self.service.settings_changed()
            self._show_choice()

    def _show_choice(self) -> None:
        space, weigh = self._space, self.bench.recipe.weigh
        self.choice.setCurrentIndex(self.choice.findData(space))
        self.told.setText(self._wrong or _TOLD[space])
        self.told.setVisible(bool(self._wrong) or space in ("file", "service"))
        theme.tone(self.told, "madder" if self._wrong else "muted")
        self._wrong = ""
        key, words = _NUMBERS.get(space, ("", ""))
        self.number_said.setText(words)
        self.number.setAccessibleName(words or "Number")
        self.number_said.setVisible(bool(key))
        self.number.setVisible(bool(key))
        if key:
            self.number.blockSignals(True)
            self.number.setRange(2, 1000 if key == "dimensions" else 2000)
            self.number.setValue(max(getattr(weigh, key), 2))
            self.number.blockSignals(False)
        self.file.setVisible(space == "file")
        self.service.setVisible(space == "service")
        self._show_found()
        self.say()

    # What came of it.

    def refresh(self) -> None:
        self._found = None
        self.file.show_documents(self.bench.results)
        self.service.show_documents(self.bench.results)
        self._show_choice()

    def draw_part(self, part: Part[Any]) -> None:
        if part is GIVEN and self.bench.ready(GIVEN):
            self.service.ask()
        self._show_found()
        self.say()

    def _sending_changed(self) -> None:
        if self.is_made:
            self.service.show_sending()

    def _show_found(self) -> None:
        """The figures of the space, and the list of documents and vectors that have no partner."""
        bench, space = self.bench, self.bench.recipe.weigh.space
        results = bench.results
        ready = bench.ready(THEMES, WORDS, GIVEN) and results.has(THEMES, WORDS, GIVEN) and not self._wanted
        words = results[WORDS] if ready and space == "learned" else None
        self.about.setText(self._figures(ready))
        found = results[GIVEN] if ready and space in ("file", "service") else None
        self.table_head.setVisible(found is not None or words is not None)
        self.below.setCurrentIndex(0 if found is not None else 2 if self._space in ("file", "service") else 1)
        if found is None:
            self._found = None
            if words is not None:
                self.table_head.setText(
                    f"{words.seldom:,} words occur too seldom to have a vector, and count for nothing"
                    if words.seldom
                    else "All words have a vector"
                )
            return
        if found is not self._found:
            self._found = found
            self._list(found)

    def _figures(self, ready: bool) -> str:
        results, space = self.bench.results, self.bench.recipe.weigh.space
        if self._wanted:
            return ""
        if space == "terms":
            return amount(len(results[TERMS].kept), "term") if results.has(TERMS) else ""
        if not ready:
            error = next((self.bench.errors[part.name] for part in self.also if part.name in self.bench.errors), None)
            return error.what if error is not None else ""
        if space == "learned":
            return f"vectors of {amount(len(results[WORDS].number), 'word')}"
        if space in ("file", "service"):
            there = int(results[GIVEN].there.sum())
            return f"{there:,} of {len(results[GIVEN].there):,} documents have a vector of {len(results[THEMES])} dimensions"
        return f"{results[THEMES].shares.sum():.0%} of all squared weights" if space == "themes" else ""

    def _list(self, found: GivenVectors) -> None:
        corpus, rows = self.bench.results[CORPUS], self.bench.results[LENS_ROWS]
        unused = [
            (int(rows[at]), corpus.keys[int(rows[at])], "no vector") for at in np.flatnonzero(~found.there).tolist()
        ]
        wrong = set(found.not_finite)
        unused = [(row, key, "not finite, or all 0" if key in wrong else words) for row, key, words in unused]
        unused += [(-1, key, "no such document") for key in found.unmatched]
        unused += [(-1, key, "key occurs twice; the first counts") for key in found.twice]
        unused += [
            (int(rows[at]), corpus.keys[int(rows[at])], "cut, parts averaged")
            for at in np.flatnonzero(found.averaged).tolist()
        ]
        self._unused = unused
        titles = corpus.titles
        nobody = f"; {amount(len(found.unmatched), 'vector')} without a document" if len(found.unmatched) else ""
        cut = f"; {amount(int(found.averaged.sum()), 'text')} cut at sentences" if found.averaged.any() else ""
        self.table_head.setText(
            f"{amount(found.lacking, 'document')} without a vector, and so without a place{nobody}{cut}"
        )
        self.table.show_rows(
            [
                Column("Key", lambda at: unused[at][1], searched=True, cut=Cut.MIDDLE),
                Column("Title", lambda at: titles[unused[at][0]] if unused[at][0] >= 0 else "", searched=True),
                Column("Reason", lambda at: unused[at][2], searched=True),
            ],
            len(unused),
            1,
        )

    def _read_row(self, at: int) -> None:
        if 0 <= at < len(self._unused) and self._unused[at][0] >= 0:
            self.read_document(self._unused[at][0])

    def filter(self, words: str) -> None:
        self.table.listed.filter(words)

    def summary(self) -> str:
        return f"the later steps work on {space_words(self.bench.recipe)}"

    def take_focus(self) -> None:
        if self.is_made:
            self.choice.setFocus()
