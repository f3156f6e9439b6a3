# SPDX-License-Identifier: GPL-3.0-or-later
"""A chip for each kind of document that needs attention; it picks them and offers remedies."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Sequence
from functools import partial

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QMenu

from jagged_lens.clean import Flag, Overview
from jagged_lens.compare import LONELY, loners
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Button, Chip
from jagged_lens.desktop.look.flow import FlowingRow
from jagged_lens.desktop.look.plain import add_heading, plain_entry, set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.gather import Corpus, Doubt
from jagged_lens.lens import NEIGHBOURS, SHINGLES, SPACE
from jagged_lens.project import Shown, read_as_runs

_FLAGS = (
    (Flag.EMPTY, "empty", "Documents without any words"),
    (Flag.SAME, "word for word the same", "Documents with the same words in the same order as another"),
    (Flag.LANGUAGE, "in another language", "Documents that seem to be in a different language from most"),
    (
        Flag.SPACELESS,
        "without spaces between words",
        "Documents in a script without spaces between words, read as if it had them",
    ),
    (Flag.LONG, "unusually long", "Far longer than most: beyond three interquartile ranges on a log scale"),
    (Flag.SHORT, "unusually short", "Far shorter than most: beyond three interquartile ranges on a log scale"),
    (Flag.REPLACED, "with unreadable characters", "Documents in which some characters could not be read (U+FFFD)"),
)
FLAG_WORDS = {Flag.EMPTY: "empty", Flag.SAME: "same", Flag.LANGUAGE: "", Flag.SPACELESS: "no spaces", Flag.LONG: "long",
              Flag.SHORT: "short", Flag.REPLACED: "unreadable characters"}  # fmt: skip


_MOST_DOUBTS = 12


class Attention(FlowingRow):
    """The chips, in a row that wraps. Emits which rows are to be picked."""

    wanted = pyqtSignal(list)
    unread_wanted = pyqtSignal()
    notices_wanted = pyqtSignal()

    def __init__(self, bench: Shown) -> None:
        super().__init__()
        self._bench = bench
        self.chips: dict[str, Button] = {}

    def show_found(self, corpus: Corpus, overview: Overview) -> None:
        """Show what was found in these documents."""
        self.clear()
        self.chips = {}
        head = muted("Needs attention")
        self.row.addWidget(head)
        menus = {Flag.SAME: self._copies, Flag.LANGUAGE: self._languages, Flag.SPACELESS: self._spaceless}
        for flag, words, tip in _FLAGS:
            rows = overview.rows(flag)
            if not len(rows):
                continue
            against = f" than {overview.main_name}" if flag == Flag.LANGUAGE and overview.main_name else ""
            chip = self._chip(
                f"{len(rows):,} {words}",
                f"{tip}. Click to {'choose' if flag in menus else 'pick them'}.",
                partial(self.wanted.emit, rows.tolist()),
            )
            chip.setText(chip.text() + against)
            chip.setProperty(PICKS, True)
            if flag in menus:
                menu = QMenu(chip)
                menus[flag](menu, overview)
                chip.setMenu(menu)
        self._loners()
        if corpus.unread:
            self._chip(
                f"{len(corpus.unread):,} not read",
                "Files and pages without a document, and why",
                self.unread_wanted.emit,
            )
        if corpus.doubts:
            chip = self._chip(
                f"{amount(len(corpus.doubts), 'encoding')} uncertain",
                "Files that fit several encodings, with a line as each reads it. Click to choose.",
                lambda: None,
            )
            menu = QMenu(chip)
            self._doubts(menu, corpus.doubts)
            chip.setMenu(menu)
        if corpus.notices:
            self._chip(amount(len(corpus.notices), "note"), "Notices from reading", self.notices_wanted.emit)
        if not self.chips:
            head.setText("Nothing needs attention.")
        self.lay()

    def _loners(self) -> None:
        """Documents that are near to none, once that is known."""
        results = self._bench.results
        if not results.has(NEIGHBOURS, SPACE):
            return
        alone = loners(results[NEIGHBOURS], results[SPACE].empty, LONELY)
        if len(alone):
            rows = results[SPACE].terms.rows[alone]
            chip = self._chip(
                amount(len(alone), "loner"),
                f"Documents whose similarity to their nearest neighbour is below {LONELY:g}. Click to pick them.",
                partial(self.wanted.emit, rows.tolist()),
            )
            chip.setProperty(PICKS, True)

    def _chip(self, words: str, tip: str, does: Callable[[], object]) -> Button:
        button = Chip(words)
        set_tip(button, tip)
        button.clicked.connect(lambda: does())
        self.row.addWidget(button)
        self.chips[words] = button
        return button

    def _pick(self, menu: QMenu, words: str, rows: np.ndarray) -> None:
        menu.addAction(f"{words}  ({len(rows):,})", partial(self.wanted.emit, rows.tolist()))

    def _copies(self, menu: QMenu, overview: Overview) -> None:
        """Among identical documents the originals are kept apart: setting all of them aside would lose the text."""
        rows = overview.rows(Flag.SAME)
        results = self._bench.results
        wording = results[SHINGLES].wording[rows] if SHINGLES in results else np.arange(len(rows))
        _, first = np.unique(wording, return_index=True)
        self._pick(menu, "All but the first of each", np.delete(rows, first))
        self._pick(menu, "All of them, including the first of each", rows)

    def _languages(self, menu: QMenu, overview: Overview) -> None:
        """Each language that there is, and every document read in its own."""
        self._pick(menu, "All of them", overview.rows(Flag.LANGUAGE))
        for name, rows in overview.other_languages():
            self._pick(menu, name, rows)
        menu.addSeparator()
        each = self._bench.recipe.clean.language == "each"
        words = "Read all in the main language" if each else "Read each document in its own language"
        menu.addAction(words, partial(self._bench.set, "clean", "language", "detect" if each else "each"))

    def _doubts(self, menu: QMenu, doubts: Sequence[Doubt]) -> None:
        """Under the name of each file the encodings in which it makes sense, the one that was taken ticked."""
        for doubt in doubts[:_MOST_DOUBTS]:
            add_heading(menu, doubt.name)
            for number, (encoding, line) in enumerate(doubt.readings):
                action = menu.addAction(
                    plain_entry(f"{encoding}:  {line}"), partial(self._read_as, doubt.source, encoding)
                )
                assert action is not None
                action.setCheckable(True)
                action.setChecked(number == 0)
        if len(doubts) > _MOST_DOUBTS:
            menu.addSeparator()
            menu.addAction(f"… and {amount(len(doubts) - _MOST_DOUBTS, 'more file')}").setEnabled(False)  # type: ignore[union-attr]

    def _read_as(self, number: int, encoding: str) -> None:
        """Read what is no UTF-8 in a source in an encoding."""
        sources = self._bench.state.sources
        if number < len(sources):
            self._bench.change_source(number, dataclasses.replace(sources[number], encoding=f"utf-8, {encoding}"))

    def _spaceless(self, menu: QMenu, overview: Overview) -> None:
        """The remedy: runs of characters in place of words."""
        self._pick(menu, "Pick them", overview.rows(Flag.SPACELESS))
        menu.addAction("Read texts as runs of characters", partial(read_as_runs, self._bench))
