# SPDX-License-Identifier: GPL-3.0-or-later
"""One against all: a document, or a text that is typed, and how alike every other document is to it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QStringListModel, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import (
    QCompleter,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.clean import Known
from jagged_lens.compare import one_against_all
from jagged_lens.desktop.desks.by_group import by_group
from jagged_lens.desktop.desks.compare.why import WhyCard
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look.cards import muted, muted_line
from jagged_lens.desktop.look.controls import Action, Switch
from jagged_lens.desktop.look.flow import Flow
from jagged_lens.desktop.look.number_boxes import DecimalBox
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import WEAK, amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.plots.label_choice import LabelChoice
from jagged_lens.desktop.plots.round_canvas import RoundCanvas
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import ShareCell
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.explain import Contributions, contributions
from jagged_lens.group import letter
from jagged_lens.lens import CORPUS, GROUPING, PAIRS, SPACE, THEMES, TOKENS
from jagged_lens.map import rings
from jagged_lens.place import Typed, taken_through
from jagged_lens.vectors import Unanswered, host_of
from jagged_lens.weigh import in_themes

_OFFERED = 12
_WAIT = 400  # milliseconds after the last key


@dataclass(frozen=True, eq=False)
class _Answer:
    """similarity: float32, n, NaN for itself and empty ones. order: int64, the rows that are alike at all, most first. typed: the text,
    where it is one."""

    similarity: NDArray[np.float32]
    order: NDArray[np.int64]
    typed: Typed | None


class AgainstFace(Face):
    """pair_wanted(first, second): both are to be read in full width. term_wanted(row, column): the work of a weight."""

    name = "One against all"
    reads_itself = True
    needs = (CORPUS, TOKENS, SPACE, THEMES, GROUPING, PAIRS)
    pair_wanted = pyqtSignal(int, int)
    term_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self._key = ""
        self._place = -1
        self._answer: _Answer | None = None
        self._pointed = False
        self._words = ""
        self._build_question()
        split = QSplitter(Qt.Orientation.Horizontal)
        left = QWidget()
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        self.about = muted_line()
        column.addWidget(self.about)
        self.table = TableView("Documents by similarity")
        self.table.setProperty(PICKS, True)
        self.table.setItemDelegateForColumn(2, ShareCell(self.table))
        self.table.row_changed.connect(self._show_other)
        self.table.read_wanted.connect(lambda _: self.read())
        self.table.opens = True
        self.table.open_wanted.connect(self._open)
        column.addWidget(self.table, 1)
        split.addWidget(left)
        right = QWidget()
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(muted("Limit"))
        self.limit = DecimalBox()
        self.limit.setRange(0.01, 1.0)
        self.limit.setSingleStep(0.01)
        self.limit.setValue(0.3)
        self.limit.setAccessibleName("Least similarity")
        self.limit.valueChanged.connect(lambda value: self.canvas.show_limit(value))
        row.addWidget(self.limit)
        self.pick_button = Action("Pick")
        set_tip(
            self.pick_button,
            "Pick all documents with at least this similarity; dragging the ring does the same",
        )
        self.pick_button.clicked.connect(lambda: self._pick_within(self.limit.value()))
        row.addWidget(self.pick_button)
        row.addStretch(1)
        column.addLayout(row)
        self.canvas = RoundCanvas()
        self.canvas.circles = [(1 - similarity, f"{similarity:g} alike") for similarity in (0.75, 0.5, 0.25, 0.0)]
        self.canvas.show_limit(0.3)
        self.canvas.limit_set.connect(self._ring_set)
        self.canvas.picked.connect(self._point)
        self.canvas.read_wanted.connect(lambda at: self.read())
        column.addWidget(self.canvas, 1)
        split.addWidget(right)
        split.setSizes([360, 300])
        split.setChildrenCollapsible(False)
        self.body.addWidget(split, 1)
        self.why = WhyCard()
        self.why.term_wanted.connect(self._term_wanted)
        self.why.hide()
        self.body.addWidget(self.why)
        self.bench.pick.changed.subscribe(self._pick_changed)

    def _build_question(self) -> None:
        question = QWidget()
        row = Flow()
        question.setLayout(row)
        self.field = QLineEdit()
        self.field.setMinimumWidth(self.fontMetrics().averageCharWidth() * 30)
        self.field.setPlaceholderText("A document by its title")
        self.field.setAccessibleName("Document to compare with all others")
        self.field.setClearButtonEnabled(True)
        self._offers = QStringListModel(self)
        self._offered: dict[str, int] = {}
        completer = QCompleter(self._offers, self)
        completer.setCompletionMode(QCompleter.CompletionMode.UnfilteredPopupCompletion)
        completer.activated.connect(self._take_offer)
        self.field.setCompleter(completer)
        self.field.textEdited.connect(self._offer)
        self.field.returnPressed.connect(self._take_first)
        row.addWidget(self.field)
        self.of_pick = Action("Use the reader's")
        set_tip(self.of_pick, "Compare the document in the reader")
        self.of_pick.clicked.connect(self._take_pick)
        row.addWidget(self.of_pick)
        self.type_button = Switch("Type a text")
        set_tip(self.type_button, "Compare a text of your own, typed or pasted, with all documents")
        self.type_button.toggled.connect(self._typing)
        row.addWidget(self.type_button)
        self.label_word = muted("Label")
        row.addWidget(self.label_word)
        self.label = LabelChoice("Label shown in the list")
        self.label.activated.connect(self._list)
        row.addWidget(self.label)
        self.body.addWidget(question)
        self.text = QPlainTextEdit()
        self.text.setPlaceholderText("Type or paste a text. It is cleaned, counted and weighted like the documents.")
        self.text.setAccessibleName("Text to compare with all documents")
        self.text.setTabChangesFocus(True)
        self.text.setMaximumHeight(self.fontMetrics().height() * 5)
        self.text.hide()
        self._typed = QTimer(self)
        self._typed.setSingleShot(True)
        self._typed.setInterval(_WAIT)
        self._typed.timeout.connect(self._ask)
        self.text.textChanged.connect(self._typed.start)
        self.body.addWidget(self.text)
        self.send = Action("Send this text")
        set_tip(self.send, "Send the text to the service, and compare it by its vector")
        self.send.clicked.connect(self._send)
        self.send.hide()
        self.body.addWidget(self.send, 0, Qt.AlignmentFlag.AlignLeft)
        self.bench.sending.changed.subscribe(self._sending_changed)

    def take_focus(self) -> None:
        """Give the keyboard to the list, or to the question where there is no answer yet."""
        (self.table if self._answer is not None else self.field).setFocus(Qt.FocusReason.OtherFocusReason)

    def filter(self, words: str) -> None:
        self._words = words
        self.table.listed.filter(words)

    def refresh(self) -> None:
        self.label.offer(self.bench.documents.labels())
        for widget in (self.label_word, self.label):
            widget.setVisible(self.label.count() > 0)
        if not self._key and not self.type_button.isChecked():
            self._take_pick()
        self._ask()

    def show_document(self, row: int) -> None:
        """Compare a document (a corpus row)."""
        corpus = self.bench.results.get(CORPUS)
        if corpus is None:
            return
        self._key = corpus.keys[row]
        self.type_button.setChecked(False)
        self.field.setText(corpus.titles[row])
        self._ask()

    # Which document.

    def _offer(self, words: str) -> None:
        corpus, space = self.bench.results.get(CORPUS), self.bench.results.get(SPACE)
        if corpus is None or space is None or len(words.strip()) < 2:
            return
        rows = space.terms.rows

        def found() -> dict[str, int]:
            wanted = words.casefold().strip()
            offered: dict[str, int] = {}
            for row in rows.tolist():
                title = corpus.titles[row]
                if wanted in title.casefold():
                    offered.setdefault(title if title not in offered else f"{title}  ({corpus.keys[row]})", row)
                    if len(offered) == _OFFERED:
                        break
            return offered

        def show(offered: dict[str, int]) -> None:
            self._offered = offered
            self._offers.setStringList(list(offered))
            completer = self.field.completer()
            if offered and completer is not None and self.field.hasFocus():
                completer.complete()

        self.asker.ask("titles", found, show)

    def _take_offer(self, title: str) -> None:
        if title in self._offered:
            self.show_document(self._offered[title])

    def _take_first(self) -> None:
        title = self.field.text()
        if title in self._offered:
            self._take_offer(title)
        elif self._offered:
            self._take_offer(next(iter(self._offered)))

    def _take_pick(self) -> None:
        row = self.bench.pick.one
        rows = self.bench.documents.lens_rows()
        if row < 0 and len(rows):
            row = int(rows[0])
        if row >= 0:
            self.show_document(row)

    def _pick_changed(self) -> None:
        """Who picks one document elsewhere while this is seen wants to see it compared."""
        pick = self.bench.pick
        if self.isVisible() and len(pick.rows) == 1 and not self._pointed and not self.type_button.isChecked():
            self.show_document(pick.rows[0])

    def _typing(self, on: bool) -> None:
        self.text.setVisible(on)
        self.field.setEnabled(not on)
        self.of_pick.setEnabled(not on)
        if on:
            self.text.setFocus()
        self._ask()

    # The answer.

    def _ask(self) -> None:
        bench = self.bench
        if not bench.results.has(*self.needs):
            return
        results, recipe, folder = bench.results, bench.results.recipe, bench.state.folder
        space, themes, measure = results[SPACE], results[THEMES], recipe.compare.measure
        known = Known.of(results[TOKENS])
        typed_text = self.text.toPlainText() if self.type_button.isChecked() else None
        place = self._own_place()
        if typed_text is None and place < 0:
            self._say_none(f"{self.field.text() or 'The document'} is not in this lens. Choose another document.")
            return

        sending = self.bench.sending

        def found() -> _Answer:
            typed = None
            vector = sending.vector_of(typed_text) if typed_text and themes.given else None
            if vector is not None and len(vector) != len(themes):
                vector = None
            if typed_text is None:
                similarity = one_against_all(in_themes(space, themes), measure, place)
            else:
                typed = taken_through(
                    typed_text, space, themes, recipe.clean, recipe.terms, recipe.weigh, folder, known, vector=vector
                )
                similarity = one_against_all(in_themes(typed.space, typed.themes), measure, typed.row)[:-1]
            alike = np.flatnonzero(similarity > 0)
            return _Answer(similarity, alike[np.argsort(-similarity[alike], kind="stable")], typed)

        def show(answer: _Answer) -> None:
            self._answer, self._place = answer, -1 if answer.typed is not None else place
            self._draw()

        self.asker.ask("one against all", found, show)

    def _own_place(self) -> int:
        rows = self.bench.documents.rows_of([self._key]) if self._key else []
        return self.bench.documents.place_of(rows[0]) if rows else -1

    def _say_none(self, words: str) -> None:
        self._answer = None
        self.about.setText(words)
        self.table.show_rows([], 0)
        self.why.hide()

    def _draw(self) -> None:
        answer = self._answer
        assert answer is not None
        n = len(answer.similarity)
        alike = amount(len(answer.order), "document")
        if answer.typed is not None:
            typed = answer.typed
            unknown = f" · unknown: {', '.join(dict.fromkeys(typed.unknown))}" if typed.unknown else ""
            share = f"{typed.unknown_share:.0%} of its {amount(typed.words, 'kept word')} not among the terms{unknown}"
            by = f" · compared by terms: {self._why_by_terms()}" if typed.by_terms else ""
            self.about.setText(
                f"{share} · {alike} with any similarity{by}"
                if typed.words
                else "No word of the text is among the terms yet."
            )
            self._offer_sending(typed)
        else:
            self.send.hide()
            self.about.setText(f"{alike} with any similarity, of {n - 1:,} others")
        self.why.hide()
        self._list()
        group, categories = by_group(self.bench, n)
        similarity = np.append(answer.similarity, np.float32(np.nan))
        places = rings(similarity, np.append(group, -1), self._place if self._place >= 0 else n)
        self.canvas.show_points(places, np.ones(n + 1, np.float32), np.append(group, -1), categories)

    def _why_by_terms(self) -> str:
        """The reason that a typed text has no vector, in a lens that works on vectors from outside."""
        weigh = self.bench.results.recipe.weigh
        if weigh.space == "service":
            return f"the text was not sent to {host_of(weigh.vectors)}"
        return "a typed text has no vector in the file"

    def _offer_sending(self, typed: Typed) -> None:
        """Offer to send the typed text, where its vector can be had so."""
        weigh = self.bench.results.recipe.weigh
        self.send.setVisible(typed.by_terms and weigh.space == "service" and self.bench.sending.share is None)
        self.send.setText(f"Send this text to {host_of(weigh.vectors)}")

    def _send(self) -> None:
        """Send the typed text, for its vector."""
        text = self.text.toPlainText()

        def begin(asked: Unanswered | None) -> None:
            if asked is not None and asked.texts == (text,):
                self.send.hide()
                self.bench.sending.begin(asked)

        self.asker.ask("the text to send", lambda: self.bench.sending.unanswered([text]), begin)

    def _sending_changed(self) -> None:
        """Ask again: the vector of the typed text has come, or not."""
        sending = self.bench.sending
        if self.is_made and self.isVisible() and self.type_button.isChecked() and sending.share is None:
            self._ask()
            if sending.wrong:
                self.about.setText(sending.words)

    def _list(self) -> None:
        answer = self._answer
        if answer is None:
            return
        corpus, rows = self.bench.results[CORPUS], self.bench.results[SPACE].terms.rows
        order, similarity, label = answer.order, answer.similarity, self.label.label
        group = self.bench.results[GROUPING].group
        self.table.show_rows(
            [
                Column("#", lambda at: f"{at + 1:,}", np.arange(len(order)), right=True),
                Column("Document", lambda at: corpus.titles[int(rows[order[at]])], searched=True),
                Column(
                    "Alike",
                    lambda at: f"{similarity[order[at]]:.3f}",
                    similarity[order],
                    right=True,
                    share=lambda at: float(similarity[order[at]]),
                ),
                Column(
                    "Group",
                    lambda at: (
                        letter(int(group[order[at]])) + WEAK * self.bench.documents.is_weak(int(rows[order[at]]))
                        if group[order[at]] >= 0
                        else ""
                    ),
                    group[order],
                    tip=f"{WEAK}: weak member of its group",
                ),
                Column(
                    label.name if label is not None else "Label",
                    lambda at: label.value(int(rows[order[at]])) if label is not None else "",
                    searched=True,
                ),
            ],
            len(order),
            1,
        )
        self.table.listed.filter(self._words)

    def _show_other(self, at: int) -> None:
        answer = self._answer
        if answer is None or at >= len(answer.order) or not self.bench.results.has(*self.needs):
            return
        other, place = int(answer.order[at]), self._place
        results, measure = self.bench.results, self.bench.results.recipe.compare.measure
        space, themes = results[SPACE], results[THEMES]
        own = place
        if answer.typed is not None:
            space, themes, own = answer.typed.space, answer.typed.themes, answer.typed.row
        shown = results[SPACE].terms.shown
        self.canvas.show_pick(np.array([other]), other)

        def show(parts: Contributions) -> None:
            self.why.show_parts(parts, shown)
            self._pointed = True
            if place >= 0:
                self.reader.show_pair(
                    self.bench.results, place, other, f"{at + 1:,} of {len(answer.order):,} by similarity", parts
                )
            else:
                self.bench.pick.set([int(results[SPACE].terms.rows[other])])
            self._pointed = False
            self.reader.wanted.emit(False)

        self.asker.ask("parts of a pair", lambda: contributions(space, measure, own, other, themes), show)

    def _open(self, at: int) -> None:
        if self._answer is not None and self._place >= 0:
            self.pair_wanted.emit(self._place, int(self._answer.order[at]))
        else:
            self.read()

    def _term_wanted(self, column: int) -> None:
        at = self.table.current_row()
        if self._answer is not None and at >= 0:
            self.term_wanted.emit(self._place if self._place >= 0 else int(self._answer.order[at]), column)

    # The picture.

    def _point(self, places: Any, add: bool) -> None:
        """Points were picked on the picture: one goes to its row, several are the pick."""
        answer = self._answer
        if answer is None:
            return
        chosen = np.asarray(places)
        chosen = chosen[chosen < len(answer.similarity)]
        if len(chosen) == 1:
            at = np.flatnonzero(answer.order == chosen[0])
            if len(at):
                self.table.go_to(int(at[0]))
        elif len(chosen):
            self.bench.pick.set(self.bench.results[SPACE].terms.rows[chosen].tolist())
            self.canvas.show_pick(chosen, -1)

    def _ring_set(self, limit: float) -> None:
        self.limit.setValue(limit)
        self._pick_within(limit)

    def _pick_within(self, limit: float) -> None:
        """Pick what is as alike as the limit or more."""
        answer = self._answer
        if answer is None:
            return
        inside = answer.order[answer.similarity[answer.order] >= np.float32(limit)]
        rows = self.bench.results[SPACE].terms.rows
        self._pointed = True
        self.bench.pick.set(rows[inside].tolist())
        self._pointed = False
        self.canvas.show_pick(inside, -1)
