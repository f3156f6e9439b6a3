"""The Clean desk: what each rule took, what became of every word, what the collection suggests, and a place to try rules."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.clean import Reason, Suggestion, Tokens, Trial, suggestions, try_rules
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import card, muted
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.look.words import RULES, amount
from jagged_lens.desktop.plots.rule_bars import RuleBars, RuleLine
from jagged_lens.desktop.reading.marked_text import MarkedText
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.errors import JaggedLensError, RecipeError
from jagged_lens.explain import Hit, cleaned_spans, rule_hits
from jagged_lens.lens import CORPUS, TOKENS
from jagged_lens.progress import Progress
from jagged_lens.strings import Strings

_TAKEN_AS = {
    Reason.KEPT: "",
    Reason.MARKUP: "markup",
    Reason.WEB_ADDRESS: "web address",
    Reason.MAIL_ADDRESS: "mail address",
    Reason.SYMBOL: "symbol",
    Reason.RECURRING_LINE: "recurring line",
    Reason.PATTERN: "own pattern",
    Reason.NUMBER: "number",
    Reason.SHORT: "too short",
    Reason.LONG: "too long",
    Reason.JOINED: "part of a phrase",
    Reason.NEVER: "never used",
    Reason.STOP_WORD: "stop word",
}
_TAKE_OUT = {
    Reason.MARKUP: "markup",
    Reason.WEB_ADDRESS: "web-addresses",
    Reason.MAIL_ADDRESS: "mail-addresses",
    Reason.SYMBOL: "symbols",
    Reason.RECURRING_LINE: "recurring-lines",
}
_ON_TEXT = {**_TAKE_OUT, Reason.PATTERN: "pattern"}
_TRIED = (
    (
        "an own rule",
        "own-rules",
        "slugs, snails = slug   ·   join: late frost   ·   never: plot   ·   as written: leaves",
    ),
    (
        "search and replace",
        "replace",
        r"plot = parcel   ·   /plot \d+/ = plot   ·   /expression/ = (nothing: taken out)",
    ),
    ("tokens by a pattern", "pattern", r"a regular expression that fits one token, such as [a-z]{3,}"),
)
_WAIT = 350
_BEFORE = 32  # characters


@dataclass(frozen=True, eq=False)
class _Counts:
    """Of each written word how often it occurs, how often it is kept and why else it is taken (a Reason); how many documents
    keep none."""

    times: NDArray[np.int64]
    kept: NDArray[np.int64]
    reasons: NDArray[np.uint8]
    empty: int


def _counts(tokens: Tokens) -> _Counts:
    words = len(tokens.written)
    kept = np.bincount(tokens.form, tokens.kept, minlength=words).astype(np.int64)
    reasons = np.zeros(words, np.uint8)
    reasons[tokens.form] = tokens.reason
    empty = int((tokens.kept_by_row() == 0).sum())
    return _Counts(np.bincount(tokens.form, minlength=words), kept, reasons, empty)


def _all_become(tokens: Tokens) -> Strings:
    """What each written word is counted as; a dash for those that are taken."""
    words = Strings.joined([tokens.words, Strings.of(["–"])])
    return words.take(np.where(tokens.word >= 0, tokens.word, len(tokens.words)))


class CleanDesk(Desk):
    step = "clean"
    needs = (CORPUS, TOKENS)

    def build(self) -> None:
        self._trials = Asker(self)  # a trial that takes long keeps no other question waiting
        self._trials.failed.connect(self.asker.failed)
        self.tools.addWidget(self.filter_field("Filter what is below ( / )", self._filter))
        frame, column = card()
        column.setContentsMargins(12, 8, 12, 6)
        self.bars = RuleBars()
        self.bars.switched.connect(self._switch)
        self.bars.chosen.connect(self._show_hits)
        column.addWidget(self.bars)
        row = QHBoxLayout()
        self.lost = muted()
        self.lost.setWordWrap(True)
        row.addWidget(self.lost, 1)
        self.pick_empty = QPushButton("Pick them")
        self.pick_empty.setProperty("flat", "true")
        self.pick_empty.clicked.connect(self._pick_empty)
        row.addWidget(self.pick_empty)
        column.addLayout(row)
        self.body.addWidget(frame)
        self.leaf_row = LeafRow(("Words", "Hits", "Suggested", "Try a rule"))
        self.leaf_row.shown.connect(self._leaf_shown)
        self.body.addWidget(self.leaf_row)
        self.leaves = self.leaf_row.leaves
        self.table = TableView("Words")
        self.hits = TableView("What the rule took")
        self.hits.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.hits.row_changed.connect(self._read_hit)
        self.hits.read_wanted.connect(self._read_hit)
        for leaf in (self.table, self.hits, self._suggested_leaf(), self._try_leaf()):
            self.leaves.addWidget(leaf)
        self.body.addWidget(self.leaves, 1)
        self._rule = "KEPT"
        self._found: list[Hit] = []
        self._suggested: list[Suggestion] = []
        self.bench.state_changed.subscribe(self._state_changed)
        self.bench.pick.changed.subscribe(self._try_soon)
        self.keys = [
            ("Up, Down", "in the rules: choose a rule and see what it took"),
            ("Space", "in the rules: switch it on or off"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def _suggested_leaf(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        self.suggested = TableView("Suggested rules")
        column.addWidget(self.suggested, 1)
        row = QHBoxLayout()
        self.take = QPushButton("Take it over")
        self.take.setToolTip("Add this rule to the own rules of the lens; undo takes it back")
        self.take.clicked.connect(self.take_suggestion)
        self.refuse = QPushButton("Not this one")
        self.refuse.setToolTip("Do not suggest this rule again in this project; undo brings it back")
        self.refuse.clicked.connect(self.refuse_suggestion)
        for button in (self.take, self.refuse):
            row.addWidget(button)
        row.addStretch(1)
        column.addLayout(row)
        return page

    def _try_leaf(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        row = QHBoxLayout()
        self.tried_kind = QComboBox()
        self.tried_kind.setAccessibleName("What is tried")
        for words, _, _ in _TRIED:
            self.tried_kind.addItem(words)
        self.tried_kind.currentIndexChanged.connect(self._kind_changed)
        row.addWidget(self.tried_kind)
        self.tried = QLineEdit()
        self.tried.setAccessibleName("The rule that is tried")
        self.tried.textChanged.connect(self._try_soon)
        row.addWidget(self.tried, 1)
        self.add_tried = QPushButton("Take it over")
        self.add_tried.setEnabled(False)
        self.add_tried.clicked.connect(self.take_tried)
        row.addWidget(self.add_tried)
        column.addLayout(row)
        self.tried_words = PlainLabel()
        self.tried_words.setWordWrap(True)
        self.tried_words.setTextFormat(Qt.TextFormat.PlainText)
        self.tried_words.setAccessibleName("What the rule would do")
        column.addWidget(self.tried_words)
        self.tried_text = MarkedText()
        self.tried_text.setAccessibleName("A document under the rule")
        column.addWidget(self.tried_text, 1)
        self._try_wait = QTimer(self)
        self._try_wait.setSingleShot(True)
        self._try_wait.setInterval(_WAIT)
        self._try_wait.timeout.connect(self._try)
        self._kind_changed()
        return page

    def _leaf_shown(self, place: int) -> None:
        if place == 2:
            self._ask_suggestions()
        elif place == 3:
            self._try_soon()
        self._say_leaf()

    def _filter(self, words: str) -> None:
        for table in (self.table, self.hits, self.suggested):
            table.rows.filter(words)

    def _say_leaf(self) -> None:
        place = self.leaves.currentIndex()
        said = ""
        if place == 0 and TOKENS in self.bench.results:
            said = f"{len(self.bench.results[TOKENS].words):,} different"
        elif place == 1:
            said = (
                f"{RULES[self._rule]}: {amount(len(self._found), 'example')}"
                if self._rule != "KEPT"
                else "Choose a rule above"
            )
        elif place == 2:
            said = amount(len(self._suggested), "suggestion")
        self.leaf_row.words.setText(said)

    # Rules.

    def _switch(self, name: str) -> None:
        """Switch a rule on or off."""
        reason, c = Reason[name], self.bench.recipe.clean
        if reason in _TAKE_OUT:
            rule = _TAKE_OUT[reason]
            rules = [one for one in c.take_out if one != rule] if rule in c.take_out else [*c.take_out, rule]
            self.bench.set("clean", "take-out", rules)
        elif reason == Reason.NUMBER:
            self.bench.set("clean", "numbers", "keep" if c.numbers == "drop" else "drop")
        elif reason == Reason.SHORT:
            self.bench.set("clean", "shortest", 1 if c.shortest > 1 else self._before("shortest", 2))
        elif reason == Reason.STOP_WORD:
            usual = [c.language if c.language == "en" else f"{c.language}-wide"]
            self.bench.set("clean", "stop-words", [] if c.stop_words else self._before("stop_words", usual))

    def _before(self, name: str, usual: Any) -> Any:
        """What a rule that is switched on again said before it was switched off: the newest that undo leads to, else the usual."""
        off = getattr(self.bench.recipe.clean, name)
        lens = self.bench.state.lens.name
        for state in reversed(self.bench.history.past()):
            for one in state.lenses:
                if one.name == lens and (value := getattr(one.recipe.clean, name)) != off:
                    return list(value) if isinstance(value, tuple) else value
        return usual

    def _lines(self) -> list[RuleLine]:
        tokens, c = self.bench.results[TOKENS], self.bench.recipe.clean
        taken = {loss.rule: loss.taken for loss in tokens.account}
        hits = dict(tokens.hits)
        replaced = sum(count for name, count in tokens.hits if name.startswith("replace "))
        on: dict[Reason, bool | None] = {reason: rule in c.take_out for reason, rule in _TAKE_OUT.items()}
        on |= {
            Reason.NUMBER: c.numbers == "drop",
            Reason.SHORT: c.shortest > 1,
            Reason.LONG: None,
            Reason.STOP_WORD: bool(c.stop_words),
        }
        left = tokens.account[0].left
        lines = [RuleLine("KEPT", RULES["KEPT"], None, 0, left)]
        for reason in Reason:
            if reason == Reason.KEPT:
                continue
            count = taken.get(reason, 0)
            number = hits.get(reason.name.lower().replace("_", "-"), 0) if reason in _ON_TEXT else None
            if reason == Reason.PATTERN and number is not None:
                number += replaced
            if on.get(reason) is None and not count and not number:
                continue
            left -= count
            lines.append(RuleLine(reason.name, RULES[reason.name], on.get(reason), count, left, number))
        return lines

    def _pick_empty(self) -> None:
        tokens = self.bench.results[TOKENS]
        self.bench.pick.set(np.flatnonzero(tokens.kept_by_row() == 0).tolist())
        self.read()

    def _show_hits(self, name: str) -> None:
        """What a rule took, with what stands around it."""
        self._rule = name
        if self.leaves.currentIndex() != 1:
            self.leaf_row.show_leaf(1)
        corpus, tokens = self.bench.results[CORPUS], self.bench.results[TOKENS]
        reason = Reason[name]
        if reason == Reason.KEPT:
            self._list_hits([])
            return
        self.asker.ask("hits of a rule", lambda: rule_hits(corpus, tokens, reason), self._list_hits)

    def _list_hits(self, found: list[Hit]) -> None:
        self._found = found
        corpus = self.bench.results[CORPUS]
        columns = [
            Column("Before", lambda row: "…" + found[row].before[-_BEFORE:], right=True, searched=True),
            Column("Taken", lambda row: found[row].taken, searched=True, ink=lambda row: "madder"),
            Column("After", lambda row: found[row].after, searched=True),
            Column("Document", lambda row: corpus.titles[found[row].row], searched=True),
        ]
        self.hits.show_rows(columns, len(found), [30, 18, 30, 22], 2)
        self._say_leaf()

    def _read_hit(self, place: int) -> None:
        if 0 <= place < len(self._found):
            self.read_document(self._found[place].row)

    # Suggestions.

    def _ask_suggestions(self) -> None:
        tokens = self.bench.results.get(TOKENS)
        if tokens is not None and self.bench.ready(TOKENS):
            self.asker.ask("suggested rules", lambda: suggestions(tokens), self._list_suggestions)

    def _list_suggestions(self, found: list[Suggestion]) -> None:
        refused, own = self.bench.state.refused, set(self.bench.recipe.clean.own_rules)
        self._suggested = shown = [one for one in found if one.rule not in refused and one.rule not in own]
        documents = np.array([one.documents for one in shown], np.int64)
        columns = [
            Column("Rule", lambda row: shown[row].rule, searched=True),
            Column("Why", lambda row: shown[row].why, searched=True),
            Column("Documents", lambda row: f"{documents[row]:,}", documents, right=True),
        ]
        self.suggested.show_rows(columns, len(shown), [30, 50, 12], 1)
        if shown:
            self.suggested.go_to(0)
        self._say_leaf()

    def _suggestion(self) -> Suggestion | None:
        place = self.suggested.current_row()
        return self._suggested[place] if 0 <= place < len(self._suggested) else None

    def take_suggestion(self) -> None:
        """Make the suggestion under the cursor a rule of the lens."""
        chosen = self._suggestion()
        if chosen is not None:
            self.bench.set("clean", "own-rules", [*self.bench.recipe.clean.own_rules, chosen.rule])

    def refuse_suggestion(self) -> None:
        """Do not suggest this again."""
        chosen = self._suggestion()
        if chosen is not None:
            self.bench.change(self.bench.state.with_refused(chosen.rule), f"refuse {chosen.rule}")

    def _state_changed(self) -> None:
        if self.leaves.currentIndex() == 2 and self.isVisible():
            self._ask_suggestions()

    # Trying.

    def _kind_changed(self) -> None:
        _, key, hint = _TRIED[self.tried_kind.currentIndex()]
        self.tried.setPlaceholderText(hint)
        self.tried.setToolTip(hint)
        if key == "pattern":
            self.tried.setText(self.bench.recipe.clean.pattern or r"\w+")
        self._try_soon()

    def _try_soon(self) -> None:
        if hasattr(self, "_try_wait") and self.leaves.currentIndex() == 3:
            self._try_wait.start()

    def _tried_settings(self) -> dict[str, object]:
        key, words = _TRIED[self.tried_kind.currentIndex()][1], self.tried.text().strip()
        c = self.bench.recipe.clean
        if key == "pattern":
            return {"tokens": "pattern", "pattern": words}
        have = c.own_rules if key == "own-rules" else c.replace
        return {key: [*have, words]} if words else {}

    def _try(self) -> None:
        """Clean a document under the rule, in a thread, and say what it would do."""
        corpus = self.bench.results.get(CORPUS)
        if corpus is None or not len(corpus):
            return
        recipe, folder = self.bench.recipe, self.bench.state.folder
        pick = self.bench.pick
        row = pick.reading if pick.reading >= 0 else pick.rows[0] if pick.rows else 0
        try:
            tried = recipe.with_settings("clean", self._tried_settings())
        except RecipeError as error:
            self._say_trial(error)
            return

        def question(progress: Progress) -> Trial | JaggedLensError:
            try:
                return try_rules(corpus, recipe.clean, tried.clean, row, folder, progress)
            except JaggedLensError as error:
                return error

        self._trials.ask_stoppable("a rule that is tried", question, self._say_trial)

    def _say_trial(self, found: Trial | JaggedLensError) -> None:
        wrong = isinstance(found, JaggedLensError)
        theme.tone(self.tried_words, "madder" if wrong else "muted")
        style = self.tried_words.style()
        assert style is not None
        style.polish(self.tried_words)
        self.add_tried.setEnabled(not wrong and bool(self._tried_settings()))
        if isinstance(found, JaggedLensError):
            self.tried_words.setText(str(found))
            return
        corpus = self.bench.results[CORPUS]
        if self.tried.text().strip():
            said = f"Changes {found.changed:,} of {found.sampled:,} sampled documents."
        else:
            said = "Type a rule; it is tried on the document that is read, and on a sample of others."
        self.tried_words.setText(
            f"{said}  Shown: {corpus.titles[found.row]}. Tokens are dotted, what is taken is struck."
        )
        kept, taken = cleaned_spans(found.tokens, 0)
        self.tried_text.show_text(corpus.texts[found.row], tokens=kept, taken=taken)

    def take_tried(self) -> None:
        """Make the rule that is tried one of the lens."""
        try:
            changed = self.bench.recipe.with_settings("clean", self._tried_settings())
        except RecipeError as error:
            self._say_trial(error)
            return
        self.bench.change(self.bench.state.with_recipe(changed), f"clean: {self.tried.text().strip()}")
        if _TRIED[self.tried_kind.currentIndex()][1] != "pattern":
            self.tried.clear()

    # Drawing.

    def refresh(self) -> None:
        tokens: Tokens = self.bench.results[TOKENS]
        losses = tokens.account
        self.figures.setText(f"{amount(losses[0].left, 'token')} · {losses[-1].left:,} kept")
        self.bars.show_lines(self._lines(), self._rule)

        def counted() -> _Counts:
            return _counts(tokens)

        def show(counts: _Counts) -> None:
            if self.bench.results.get(TOKENS) is tokens:
                self._say_empty(counts.empty)
                self._list_words(tokens, counts)

        self.asker.ask("counts of the words", counted, show)
        if self.leaves.currentIndex() == 1:
            self._show_hits(self._rule)
        elif self.leaves.currentIndex() == 2:
            self._ask_suggestions()
        self._say_leaf()

    def _say_empty(self, documents: int) -> None:
        self.lost.setText(
            f"{amount(documents, 'document')} keep no word at all and have no place in the space."
            if documents
            else "Every document keeps some words."
        )
        self.pick_empty.setVisible(documents > 0)

    def _list_words(self, tokens: Tokens, counts: _Counts) -> None:
        times, kept, reasons = counts.times, counts.kept, counts.reasons

        def becomes(row: int) -> str:
            word = int(tokens.word[row])
            return tokens.words[word] if word >= 0 else "–"

        columns = [
            Column("Word", lambda row: tokens.written[row], searched=True, texts=tokens.written),
            Column("Becomes", becomes, searched=True, tip="What it is counted as", texts=partial(_all_become, tokens)),
            Column("Times", lambda row: f"{times[row]:,}", times, right=True),
            Column("Kept", lambda row: f"{kept[row]:,}", kept, right=True),
            Column(
                "Taken as",
                lambda row: _TAKEN_AS[Reason(int(reasons[row]))] if kept[row] < times[row] else "",
                reasons,
                ink=lambda row: "madder",
            ),
        ]
        self.table.show_rows(columns, len(tokens.written), [24, 20, 9, 9, 16], 0)
        if self.table.rows.unsorted:
            self.table.sortByColumn(2, Qt.SortOrder.DescendingOrder)
