# SPDX-License-Identifier: GPL-3.0-or-later
"""A place to try a rule on a document before it is taken over."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit

from jagged_lens.clean import Trial, try_rules
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action, Choice
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.reading.marked_text import MarkedText
from jagged_lens.errors import JaggedLensError, RecipeError
from jagged_lens.explain import cleaned_spans
from jagged_lens.gather import Corpus
from jagged_lens.lens import CORPUS, TOKENS
from jagged_lens.progress import Progress

_TRIED = (
    (
        "an own rule",
        "own-rules",
        "slugs, snails = slug   ·   join: late frost   ·   never: plot   ·   as written: leaves",
    ),
    (
        "search and replace",
        "replace",
        r"plot = parcel   ·   /plot \d+/ = plot   ·   /expression/ = (nothing: removed)",
    ),
    ("tokens by a pattern", "pattern", r"a regular expression that matches one token, such as [a-z]{3,}"),
)
_WAIT = 350


class Trying(Face):
    name = "Try a rule"
    needs = (CORPUS,)

    def build(self) -> None:
        self._trials = Asker(self)  # a trial that takes long keeps no other question waiting
        self._trials.failed.connect(self.asker.failed)
        self.body.setSpacing(6)
        row = QHBoxLayout()
        self.kind = Choice()
        self.kind.setAccessibleName("Kind of rule")
        for text, _, _ in _TRIED:
            self.kind.addItem(text)
        self.kind.currentIndexChanged.connect(self._kind_changed)
        row.addWidget(self.kind)
        self.rule = QLineEdit()
        self.rule.setAccessibleName("Rule to try")
        self.rule.textChanged.connect(self._soon)
        row.addWidget(self.rule, 1)
        self.add = Action("Add this rule")
        self.add.setEnabled(False)
        self.add.clicked.connect(self.take_over)
        row.addWidget(self.add)
        self.body.addLayout(row)
        self.outcome = PlainLabel()
        self.outcome.setWordWrap(True)
        self.outcome.setTextFormat(Qt.TextFormat.PlainText)
        self.outcome.setAccessibleName("Effect of the rule")
        self.body.addWidget(self.outcome)
        self.text = MarkedText()
        self.text.setAccessibleName("A document with the rule applied")
        self.body.addWidget(self.text, 1)
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.setInterval(_WAIT)
        self._wait.timeout.connect(self.try_it)
        self.bench.pick.changed.subscribe(self._soon)
        self._kind_changed()

    def refresh(self) -> None:
        self._soon()
        self.say()

    def _kind_changed(self) -> None:
        _, key, hint = _TRIED[self.kind.currentIndex()]
        self.rule.setPlaceholderText(hint)
        set_tip(self.rule, hint)
        if key == "pattern":
            self.rule.setText(self.bench.recipe.clean.pattern or r"\w+")
        self._soon()

    def _soon(self) -> None:
        if self.isVisible():
            self._wait.start()

    def _settings(self) -> dict[str, object]:
        key, text = _TRIED[self.kind.currentIndex()][1], self.rule.text().strip()
        c = self.bench.recipe.clean
        if key == "pattern":
            return {"tokens": "pattern", "pattern": text}
        have = c.own_rules if key == "own-rules" else c.replace
        return {key: [*have, text]} if text else {}

    def try_it(self) -> None:
        """Clean a document under the rule, in a thread, and say what it would do."""
        corpus = self.bench.results.get(CORPUS)
        if corpus is None or not len(corpus):
            return
        recipe, folder = self.bench.recipe, self.bench.state.folder
        tokens = self.bench.results.get(TOKENS)
        language = tokens.language if tokens is not None else ""
        pick = self.bench.pick
        row = pick.reading if pick.reading >= 0 else pick.rows[0] if pick.rows else 0
        try:
            tried = recipe.with_settings("clean", self._settings())
        except RecipeError as error:
            self._show(corpus, error)
            return

        def question(progress: Progress) -> Trial | JaggedLensError:
            try:
                return try_rules(corpus, recipe.clean, tried.clean, row, folder, language, progress)
            except JaggedLensError as error:
                return error

        self._trials.ask_stoppable("a rule on trial", question, partial(self._show, corpus))

    def _show(self, corpus: Corpus | None, found: Trial | JaggedLensError) -> None:
        wrong = isinstance(found, JaggedLensError)
        theme.tone(self.outcome, "madder" if wrong else "muted")
        self.add.setEnabled(not wrong and bool(self._settings()))
        if isinstance(found, JaggedLensError) or corpus is None:
            self.outcome.setText(str(found))
            return
        if self.rule.text().strip():
            said = f"Changes {found.changed:,} of {found.sampled:,} sampled documents."
        else:
            said = "Type a rule. It is tried on the document in the reader and on a sample of others."
        self.outcome.setText(
            f"{said}  Shown: {corpus.titles[found.row]}. Kept tokens are dotted; removed text is struck through."
        )
        kept, taken = cleaned_spans(found.tokens, 0)
        self.text.show_text(corpus.texts[found.row], tokens=kept, taken=taken)

    def take_over(self) -> None:
        """Make the rule that is tried one of the lens."""
        try:
            changed = self.bench.recipe.with_settings("clean", self._settings())
        except RecipeError as error:
            self._show(None, error)
            return
        self.bench.change(self.bench.state.with_recipe(changed), f"clean: {self.rule.text().strip()}")
        if _TRIED[self.kind.currentIndex()][1] != "pattern":
            self.rule.clear()
