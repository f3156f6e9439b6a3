# SPDX-License-Identifier: GPL-3.0-or-later
"""The reading table: two texts beside each other in full width, joined where they run alike, their differences marked."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QProgressBar, QVBoxLayout, QWidget

from jagged_lens.clean import Known
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import card, heading, muted, muted_line
from jagged_lens.desktop.look.controls import Action, Button, Way
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.bars import PartsBar
from jagged_lens.desktop.reading.bands import Bands
from jagged_lens.desktop.reading.document_view import meta
from jagged_lens.desktop.reading.marked_text import MarkedText, Spans
from jagged_lens.desktop.reading.member_strip import CELLS, MemberStrip
from jagged_lens.desktop.reading.shading import pair_marks, word_ties
from jagged_lens.explain import (
    Aligned,
    Contributions,
    Marks,
    SentencePair,
    aligned,
    contributions,
    nearest_sentences,
    term_marks,
    unshared_words,
)
from jagged_lens.lens import CORPUS, SPACE, THEMES, TOKENS
from jagged_lens.project import Shown, Snapshot

_STRANGE = 0.3  # share of words in runs below which texts are told apart by single words
_SAID = "Bands join matching passages. Shaded: shared terms, darker for larger contributions. Underlined: only here."
_TIED_BY = (" Lines join the word pairs that add most.", " Lines join the sentences that are nearest by their terms.")
_STRIPES = 120  # members whose differences are drawn


@dataclass(frozen=True, eq=False)
class Text:
    """One of two texts that are read: its title, what is said below that, and itself. row: of the corpus, -1 where it is no document of
    the lens."""

    title: str
    under: str
    text: str
    row: int = -1


@dataclass(frozen=True, eq=False)
class Texts:
    """Two texts, and what is asked of them in another thread: how a similarity of theirs comes about, where terms stand in either, which
    words only one has."""

    both: tuple[Text, Text]
    shown: Sequence[str]
    parts: Callable[[], Contributions]
    marks: tuple[Callable[[], Marks], Callable[[], Marks]]
    alone: Callable[[], tuple[Spans, Spans]] | None = None
    sentences: Callable[[], list[SentencePair]] | None = None


@dataclass(frozen=True)
class _Found:
    """The marks of a pair: shared terms and differences in each text, and the places of its bands."""

    parts: Contributions
    names: list[tuple[str, float]]
    marks: tuple[NDArray[np.float64], NDArray[np.float64]]
    differs: tuple[Spans, Spans]
    places: NDArray[np.int64]
    columns: tuple[NDArray[np.int64], NDArray[np.int64]]  # of each place of a term, which term
    spans: tuple[NDArray[np.int64], NDArray[np.int64]]
    ties: NDArray[np.float64]


def sentences_across(
    results: Snapshot, texts: tuple[str, str], folder: Path, most: int = 5
) -> Callable[[], list[SentencePair]]:
    """A question, for another thread: the sentences of two texts that are nearest across."""
    recipe, space, themes, known = results.recipe, results[SPACE], results[THEMES], Known.of(results[TOKENS])
    settings = (recipe.clean, recipe.terms, recipe.weigh)
    return lambda: nearest_sentences(texts, space, themes, settings, folder, known, most)


def quoted(texts: tuple[str, str], pairs: Sequence[SentencePair]) -> list[tuple[str, str, float]]:
    """Pairs of sentences in their words."""
    first, second = texts
    return [(first[slice(*one.first)], second[slice(*one.second)], one.similarity) for one in pairs]


def _ties(texts: Texts, parts: Contributions, marks: tuple[Marks, Marks]) -> NDArray[np.float64]:
    """The lines between both texts: of word pairs, or of the sentences nearest across (float64, k × 3: code points, strength)."""
    if parts.given and texts.sentences is not None:
        found = [(sum(one.first) / 2, sum(one.second) / 2, one.similarity) for one in texts.sentences()]
        return np.array(found, np.float64).reshape(-1, 3)
    return word_ties(parts, marks)


class ReadingTable(QFrame):
    """Shows a pair, or the members of a family against its standard.

    What is to be shown, and what keys decide, is told from outside. closed(): Esc, or its button. chosen(choice): a button of a decision,
    from 1 to 4. member_wanted(member): of a family. applied(): what was decided is to be done.
    """

    closed = pyqtSignal()
    chosen = pyqtSignal(int)
    member_wanted = pyqtSignal(int)
    applied = pyqtSignal()
    pin_wanted = pyqtSignal()

    def __init__(self, bench: Shown, asker: Asker, parent: QWidget, decides: bool = True) -> None:
        """decides: whether what is read is decided on; else it is only read."""
        super().__init__(parent)
        self.setObjectName("readingtable")
        self.setAutoFillBackground(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Reading table")
        self._bench = bench
        self._asker = asker
        self._pair = (-1, -1)
        self._texts: Texts | None = None
        self._found: _Found | None = None
        self._walk = (-1, 0)
        self._moving = False
        column = QVBoxLayout(self)
        column.setContentsMargins(22, 12, 14, 8)
        column.setSpacing(7)
        head = QHBoxLayout()
        self.heading = heading("", 1.35)
        head.addWidget(self.heading)
        self.figures = muted_line()
        head.addWidget(self.figures, 1)
        self.pin = Action("Pin")
        set_tip(self.pin, "Keep both texts with their marks as a finding for the report (P)")
        self.pin.clicked.connect(self.pin_wanted)
        head.addWidget(self.pin)
        self.back = Way("Back (Esc)")
        self.back.clicked.connect(self.closed)
        head.addWidget(self.back)
        column.addLayout(head)
        self.bar = PartsBar()
        set_tip(self.bar, "Click to step through the occurrences of a term in both texts")
        self.bar.chosen.connect(self._walk_term)
        column.addWidget(self.bar)
        self.strip = MemberStrip()
        self.strip.chosen.connect(self.member_wanted)
        self.strip.hide()
        column.addWidget(self.strip)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        self.texts = (MarkedText(self), MarkedText(self))
        self.bands = Bands(*self.texts)
        self.titles: list[ElidedLabel] = []
        self.metas: list[ElidedLabel] = []
        self.keep: list[Button] = []
        for side in (0, 1):
            middle.addWidget(self._side(side), 5)
            if side == 0:
                middle.addWidget(self.bands, 1)
        column.addLayout(middle, 1)
        column.addLayout(self._foot())
        for side, text in enumerate(self.texts):
            bar = text.verticalScrollBar()
            assert bar is not None
            bar.valueChanged.connect(lambda _, side=side: self._scrolled(side))
        theme.changed.connect(self._again)
        if not decides:
            for widget in (*self.keep, *self.buttons, self.done, self.progress, self.apply, self.decided):
                widget.hide()
        self.hide()

    def _side(self, side: int) -> QFrame:
        frame, column = card()
        head = QHBoxLayout()
        title = ElidedLabel()
        title.setFont(theme.ui_font(1.02, bold=True))
        head.addWidget(title, 1)
        button = Action(("1  keep this one", "2  keep this one")[side])
        button.setAccessibleName(("Keep the first", "Keep the second")[side])
        button.clicked.connect(lambda: self.chosen.emit(side + 1))
        head.addWidget(button)
        column.addLayout(head)
        under = muted_line()
        column.addWidget(under)
        text = self.texts[side]
        text.setMaximumWidth(16_777_215)  # the card is as wide as there is room
        column.addWidget(text, 1)
        self.titles.append(title)
        self.metas.append(under)
        self.keep.append(button)
        return frame

    def _foot(self) -> QVBoxLayout:
        foot = QVBoxLayout()
        foot.setSpacing(4)
        self.said = muted(_SAID)
        self.said.setWordWrap(True)
        foot.addWidget(self.said)
        row = QHBoxLayout()
        self.buttons: list[Button] = []
        for at, (words, name) in enumerate((("3  keep both", "Keep both"), ("4  later", "Later")), 3):
            button = Action(words)
            button.setAccessibleName(name)
            button.clicked.connect(lambda _, at=at: self.chosen.emit(at))
            self.buttons.append(button)
            row.addWidget(button)
        self.decided = muted()
        row.addWidget(self.decided)
        self.done = QProgressBar()
        self.done.setTextVisible(False)
        self.done.setFixedHeight(8)
        self.done.setAccessibleName("Decided")
        row.addWidget(self.done, 1)
        self.progress = muted_line()
        row.addWidget(self.progress, 2)
        self.apply = Action("Apply")
        self.apply.clicked.connect(self.applied)
        row.addWidget(self.apply)
        foot.addLayout(row)
        return foot

    # What is shown.

    def show_pair(self, first: int, second: int, title: str, figures: str) -> None:
        """Show two documents of the lens; what they have in common is marked as soon as it is known."""
        self.heading.setText(title)
        self.figures.setText(figures)
        results = self._bench.results
        if (first, second) == self._pair and self._found is not None:
            self._bench.pick.set([int(results[SPACE].terms.rows[place]) for place in (first, second)])
            return
        corpus, space, tokens, themes = results[CORPUS], results[SPACE], results[TOKENS], results[THEMES]
        rows = [int(space.terms.rows[place]) for place in (first, second)]
        settings, measure = results.recipe.terms, results.recipe.compare.measure
        one, other = (Text(corpus.titles[row], meta(self._bench, row), corpus.texts[row], row) for row in rows)
        self._show(
            (first, second),
            Texts(
                (one, other),
                space.terms.shown,
                lambda: contributions(space, measure, first, second, themes),
                (
                    lambda: term_marks(tokens, space.terms, settings, first),
                    lambda: term_marks(tokens, space.terms, settings, second),
                ),
                lambda: (unshared_words(tokens, *rows), unshared_words(tokens, *rows[::-1])),
                sentences_across(results, (one.text, other.text), self._bench.state.folder),
            ),
        )

    def show_texts(self, texts: Texts, title: str, figures: str) -> None:
        """Show two texts of which one at least is no document of the lens."""
        self.heading.setText(title)
        self.figures.setText(figures)
        self._show((-1, -1), texts)

    def _show(self, pair: tuple[int, int], texts: Texts) -> None:
        self._pair, self._found, self._walk = pair, None, (-1, 0)
        self._texts = texts
        for side, one in enumerate(texts.both):
            self.titles[side].setText(one.title)
            self.metas[side].setText(one.under)
            self.texts[side].setAccessibleName(f"Text of {one.title}")
            self.texts[side].show_text(one.text)
        self.bands.show_bands(np.zeros((0, 4), np.int64))

        def joined() -> Aligned:
            return aligned(texts.both[0].text, texts.both[1].text)

        def join(runs: Aligned) -> None:
            if self._texts is texts:
                self.bands.show_bands(runs.places())
                self._asker.ask("marks of the reading table", lambda: found(runs), show)
                rows = [one.row for one in texts.both if one.row >= 0]
                self._bench.pick.set(rows)  # what others ask of that comes behind

        def found(runs: Aligned) -> _Found:
            parts = texts.parts()
            marks = [mark() for mark in texts.marks]
            words = len(runs.first_words) + len(runs.second_words)
            strange = len(runs.alone(0)) + len(runs.alone(1)) > (1 - _STRANGE) * words
            differs: tuple[Spans, Spans] = (
                texts.alone() if strange and texts.alone is not None else (runs.alone(0), runs.alone(1))
            )
            return _Found(
                parts,
                parts.named(texts.shown),
                (pair_marks(parts, marks[0], 0), pair_marks(parts, marks[1], 1)),
                differs,
                runs.places(),
                (marks[0].column, marks[1].column),
                (np.stack((marks[0].start, marks[0].end), 1), np.stack((marks[1].start, marks[1].end), 1)),
                _ties(texts, parts, (marks[0], marks[1])),
            )

        def show(answer: _Found) -> None:
            if self._texts is texts:
                self._found = answer
                self._mark()

        self._asker.forget("marks of the reading table")
        self._asker.ask("bands of the reading table", joined, join)

    def _mark(self) -> None:
        found = self._found
        assert found is not None
        self.bar.show_parts(found.names)
        self._moving = True
        for side, text in enumerate(self.texts):
            text.show_text(text.toPlainText(), found.marks[side], found.differs[side])
        self._moving = False
        self.bands.show_bands(found.places, found.ties)
        self.said.setText(_SAID + (_TIED_BY[found.parts.given] if len(found.ties) else ""))

    def _again(self) -> None:
        if self._found is not None and self.isVisible():
            self._mark()

    def show_family(self, titles: list[str] | None) -> None:
        """The members of a family in the strip, the standard first; None: it is no family that is read."""
        self.strip.setVisible(titles is not None)
        if titles is not None:
            self.strip.show_members(titles)
        words = (
            ("1  keep the standard", "2  keep this one")
            if titles is not None
            else ("1  keep this one", "2  keep this one")
        )
        for button, text in zip(self.keep, words, strict=True):
            button.setText(text)
        self.buttons[0].setText("3  keep all" if titles is not None else "3  keep both")

    def draw_differences(self, members: list[int]) -> None:
        """Find where the members (places in the lens, the standard first) differ from the standard, one after the other."""
        corpus, rows = self._bench.results[CORPUS], self._bench.results[SPACE].terms.rows
        standard = corpus.texts[int(rows[members[0]])]

        def one(at: int) -> None:
            if at >= min(len(members), _STRIPES):
                return
            text = corpus.texts[int(rows[members[at]])]

            def show(runs: Aligned) -> None:
                self.strip.show_difference(at, _stripes(runs))
                one(at + 1)

            self._asker.ask("differences of a family", lambda: aligned(standard, text), show)

        one(1)

    def show_decision(self, words: str, done: int, of: int, waiting: int) -> None:
        """The decision on the shown pair, the number of decisions, and the number of documents that applying them sets aside."""
        self.decided.setText(f"decided: {words}" if words else "")
        self.done.setRange(0, max(of, 1))
        self.done.setValue(done)
        self.progress.setText(
            f"{done:,} of {of:,} decided" + (f" · {waiting:,} to set aside on Apply" if waiting else "")
        )
        self.apply.setVisible(waiting > 0)
        self.apply.setText(f"Apply: set {waiting:,} aside")

    # Moving together.

    def _scrolled(self, side: int) -> None:
        self.bands.update()
        found = self._found
        if self._moving or found is None or not len(found.places):
            return
        self._moving = True
        own, other = self.texts[side], self.texts[1 - side]
        viewport = own.viewport()
        assert viewport is not None
        y = viewport.height() // 3
        point = own.point_at(y)
        lengths = [len(text.toPlainText()) for text in self.texts]
        anchors = [np.concatenate(([0], found.places[:, 2 * of : 2 * of + 2].ravel(), [lengths[of]])) for of in (0, 1)]
        other.bring_to(int(np.interp(point, anchors[side], anchors[1 - side])), y)
        self._moving = False
        self.bands.update()

    def _walk_term(self, at: int) -> None:
        """Select the next place of a term in both texts."""
        found = self._found
        if found is None or at >= len(found.parts.columns):
            return
        column = int(found.parts.columns[at])
        turn = self._walk[1] + 1 if self._walk[0] == at else 0
        self._walk = (at, turn)
        self._moving = True
        for side, text in enumerate(self.texts):
            places = found.spans[side][found.columns[side] == column]
            if len(places):
                text.show_place(*places[turn % len(places)].tolist())
        self._moving = False
        self.bands.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.bands.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (
            Qt.Key.Key_Up,
            Qt.Key.Key_Down,
            Qt.Key.Key_PageUp,
            Qt.Key.Key_PageDown,
        ):
            self.texts[0].keyPressEvent(event)
        else:
            super().keyPressEvent(event)


def _stripes(runs: Aligned) -> NDArray[np.float64]:
    """For each stretch of the first text the share of words that the second has not. What the second has besides counts where it is put
    in (float64, CELLS)."""
    words = len(runs.first_words)
    inside = np.zeros(words + 1, np.int64)
    np.add.at(inside, runs.first[:, 0], 1)
    np.add.at(inside, runs.first[:, 1], -1)
    alone = (np.cumsum(inside)[:-1] == 0).astype(np.float64)
    cell = np.arange(words) * CELLS // max(words, 1)
    found: NDArray[np.float64] = np.zeros(CELLS)
    np.maximum.at(found, cell, alone)
    starts = np.concatenate((runs.second[:, 0], [len(runs.second_words)]))
    ends = np.concatenate(([0], runs.second[:, 1]))
    at = np.concatenate((runs.first[:, 0], [words]))
    for place in at[starts > ends].tolist():
        found[min(place * CELLS // max(words, 1), CELLS - 1)] = 1
    return found
