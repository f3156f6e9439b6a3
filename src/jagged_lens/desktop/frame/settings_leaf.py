# SPDX-License-Identifier: GPL-3.0-or-later
"""The leaf with the settings of one step: a short text whose words can be changed in place."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QAbstractSpinBox, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from jagged_lens.clean import list_name, list_names
from jagged_lens.desktop.frame.word_fields import (
    BoxesField,
    ChoiceField,
    LabelField,
    NumberField,
    RangeField,
    TextField,
    WholeField,
    WordButton,
)
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Way
from jagged_lens.desktop.look.flow import Flow
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.words import TITLES, language_words
from jagged_lens.desktop.look.worn import holds_parts, wear
from jagged_lens.desktop.sheets.list_editor import ListEditor
from jagged_lens.errors import ChosenElsewhereError, RecipeError
from jagged_lens.gather import entry_of
from jagged_lens.group import fitting_number
from jagged_lens.lens import SECTIONS, STEPS, TERMS, TOKENS, sentences_of, shown_settings_of
from jagged_lens.project import Bench
from jagged_lens.sentences import pieces_of
from jagged_lens.setting import Declared
from jagged_lens.terms import TermSettings

_WAIT = 350  # milliseconds without a further change before a number takes effect
_QUESTIONS = {
    "gather": "Where do documents come from?",
    "clean": "Which words are kept?",
    "terms": "What is a term here?",
    "weigh": "How are terms weighted?",
    "compare": "When are two documents similar?",
    "group": "How are they grouped?",
    "map": "How are they laid out?",
    "suggest": "Which label is suggested?",
    "report": "What is in the report, and in which files?",
}
_WITH = {"report": ("run",)}  # sections that have no step of their own
_NONE = "There are no settings here. Choose on the desk what to compare."
_SECTION = {"place": "suggest"}
"""Desks whose settings stand in a section of another name."""
_FILES = ("stop-words", "word-lists")
"""Lists whose entries may be files."""

_BY_NUMBER: dict[str, Callable[[int], float]] = {"least-documents": TermSettings().least_of, "groups": fitting_number}
"""Settings that go by the number of documents where nobody says otherwise."""


class Control(QWidget):
    """One setting in its sentence: a field of the fitting kind, and the mark that follows it."""

    elsewhere = pyqtSignal(str, str)
    """(step, value): a value that is chosen on the desk and not here."""

    def __init__(self, step: str, setting: Declared, bench: Bench, parent: QWidget) -> None:
        super().__init__(parent)
        self.step = step
        self.setting = setting
        self._bench = bench
        self._showing = False
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.setInterval(_WAIT)
        self._wait.timeout.connect(self._apply)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(1)
        self._row = row
        self.field, self._read, self._write = self._made()
        if isinstance(self.field, QAbstractSpinBox):
            self.field.setButtonSymbols(QAbstractSpinBox.ButtonSymbols.NoButtons)
        set_tip(self.field, setting.help)
        for widget in (self.field, *self.field.findChildren(QWidget)):
            if not widget.accessibleName():
                widget.setAccessibleName(setting.label)
            widget.setAccessibleDescription(setting.help)
        row.addWidget(self.field)
        self.wrong = PlainLabel()
        self.wrong.setWordWrap(True)
        theme.tone(self.wrong, "madder")
        self.wrong.hide()
        self.show_value()

    def close_with(self, mark: str) -> None:
        """Put a mark right behind the field."""
        self._row.addWidget(PlainLabel(mark))

    @property
    def differs(self) -> bool:
        """True if its value is not the default."""
        return bool(self._value() != self.setting.default)

    def _value(self) -> Any:
        return getattr(getattr(self._bench.recipe, self.step), self.setting.name)

    def show_value(self) -> None:
        """Show what the recipe says, unless it is being typed over."""
        settings = getattr(self._bench.recipe, self.step)
        value = self._value()
        counts = self.setting.counts_in(settings)
        self.setVisible(counts)
        self._showing = True
        if isinstance(self.field, LabelField):
            self.field.offer(self._bench, value)
        if self._read() != value:
            self._write(value)
        self._showing = False
        self.say_more()
        self.wrong.hide()

    def say_more(self) -> None:
        """Say what the default comes to with these documents."""
        if self.setting.key == "language" and isinstance(self.field, ChoiceField):
            tokens = self._bench.results.get(TOKENS)
            self.field.say("detect", language_words(tokens))
        elif self.setting.key in _BY_NUMBER and isinstance(self.field, NumberField):
            terms = self._bench.results.get(TERMS)
            if terms is not None:
                number = _BY_NUMBER[self.setting.key](len(terms.rows))
                self.field.setSpecialValueText(f"{number:g} (from the number of documents)")
                self.field.updateGeometry()

    def _changed(self) -> None:
        if not self._showing:
            self._wait.start()

    def _apply_now(self) -> None:
        if not self._showing:
            self._wait.stop()
            self._apply()

    def _apply(self) -> None:
        self.wrong.hide()
        try:
            self._bench.set(self.step, self.setting.key, self._read())
        except ChosenElsewhereError:
            wanted = str(self._read())
            self.show_value()
            self.elsewhere.emit(self.step, wanted)
        except RecipeError as error:
            self.wrong.setText(error.sentence)
            self.wrong.show()

    def _made(self) -> tuple[QWidget, Callable[[], Any], Callable[[Any], None]]:
        """The field, how its value is read, and how one is shown in it."""
        setting = self.setting
        if setting.is_list and setting.choices:
            boxes = BoxesField(setting)
            boxes.changed.connect(self._apply_now)
            return boxes, lambda: boxes.value, boxes.show_value
        if setting.is_list:
            word = WordButton(setting)
            word.clicked.connect(self.edit_list)
            word.show_value(())
            return word, lambda: word.value, word.show_value
        if setting.choices:
            return self._choice(setting.choices)
        if setting.is_range:
            span = RangeField(setting)
            span.changed.connect(self._changed)
            span.finished.connect(self._apply_if_waiting)
            return span, lambda: span.value, span.choose
        if setting.type is bool:
            return self._choice(("true", "false"))
        if setting.type is int:
            whole = WholeField()
            whole.setRange(int(setting.low or 0), int(setting.high or 10**9))
            whole.setGroupSeparatorShown(True)
            whole.setSpecialValueText(setting.said.get(0, "") if not setting.low else "")
            whole.valueChanged.connect(self._changed)
            whole.editingFinished.connect(self._apply_if_waiting)
            return whole, whole.value, whole.setValue
        if setting.type is float:
            number = NumberField(setting)
            number.setDecimals(3)
            number.setRange(0.001 if setting.low is None else setting.low, setting.high or 10**9)
            number.setSpecialValueText(setting.said.get(0, ""))
            number.setSingleStep(0.05 if setting.high == 1 else 1)
            number.valueChanged.connect(self._changed)
            number.editingFinished.connect(self._apply_if_waiting)
            return number, lambda: round(number.value(), 3), number.setValue
        if setting.names_label:
            labels = LabelField(setting.said.get("", "none"))
            labels.currentTextChanged.connect(self._apply_now)
            return labels, lambda: labels.value, labels.choose
        line = TextField(setting.said.get("", "none"))
        line.editingFinished.connect(self._apply_now)
        return line, line.text, line.setText

    def _choice(self, choices: tuple[str, ...]) -> tuple[QWidget, Callable[[], Any], Callable[[Any], None]]:
        setting = self.setting
        if setting.type is bool:
            choice = ChoiceField(choices, lambda value: setting.said.get(value == "true", value))
            choice.currentIndexChanged.connect(self._apply_now)
            return choice, lambda: choice.value == "true", lambda value: choice.choose(str(value).lower())
        ordered = choices
        if len(choices) > 12:  # languages, by name, behind what stands for any of them
            ordered = (*choices[:2], *sorted(choices[2:], key=lambda value: setting.said.get(value, value)))
        choice = ChoiceField(ordered, lambda value: setting.said.get(value, value))
        choice.currentIndexChanged.connect(self._apply_now)
        return choice, lambda: choice.value, choice.choose

    def _apply_if_waiting(self) -> None:
        if self._wait.isActive():
            self._apply_now()

    # Lists.

    def edit_list(self) -> None:
        """Open the list, one entry a line."""

        def done(entries: tuple[str, ...]) -> None:
            self._bench.set(self.step, self.setting.key, list(entries))

        self.editor = ListEditor(
            self.setting.label,
            self.setting.help,
            self._value(),
            done,
            self.window() or self,
            example=self.setting.entry,
            offered=self._offered(),
            hits=self._hits(),
            files=self.setting.key in _FILES,
        )
        self.editor.show()

    def _offered(self) -> dict[str, str]:
        """Entries to choose from, and what they are called."""
        if self.setting.key == "stop-words":
            return {name: list_name(name) for name in ("detect", *list_names())}
        if self.step == "gather" and self.setting.key in ("only", "without"):
            labels = self._bench.documents.labels()
            return {(entry := entry_of(one.name, value)): entry for one in labels for value in one.values if value}
        if self.step == "terms":
            terms = self._bench.results.get(TERMS)
            return {term: term for term in terms.shown[:2000]} if terms is not None else {}
        return {}

    def _hits(self) -> dict[str, int]:
        """The number of times each entry was found, where Clean has counted that."""
        tokens = self._bench.results.get(TOKENS)
        if tokens is None or self.setting.key not in ("own-rules", "replace"):
            return {}
        kind = "rule " if self.setting.key == "own-rules" else "replace "
        return {name.removeprefix(kind): count for name, count in tokens.hits if name.startswith(kind)}


class Sentence(QWidget):
    """One sentence of a step, with the settings that it says."""

    def __init__(self, step: str, template: str, bench: Bench, parent: QWidget) -> None:
        super().__init__(parent)
        self._step, self._bench = step, bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        holder = QWidget()
        flow = Flow(4)
        holder.setLayout(flow)
        policy = holder.sizePolicy()
        policy.setHeightForWidth(True)
        holder.setSizePolicy(policy)
        known = shown_settings_of(step)
        self.controls: dict[str, Control] = {}
        self._words: list[tuple[PlainLabel, tuple[str, ...]]] = []
        last: Control | None = None
        optional = False
        for piece in pieces_of(template):
            if piece.key:
                last = self.controls[piece.key] = Control(step, known[piece.key], bench, self)
                flow.addWidget(last)
                optional = bool(piece.option)
                continue
            words = piece.words.split()
            if last is not None and optional == bool(piece.option) and words[0] in ",;.:":
                last.close_with(words.pop(0))
            elif last is not None and words[0][0] in ",;.:" and optional == bool(piece.option):
                last.close_with(words[0][0])
                words[0] = words[0][1:]
            last = None
            for word in filter(None, words):
                label = PlainLabel(word)
                self._words.append((label, piece.option))
                flow.addWidget(label)
        self.back = Way("↺")
        self.back.setAccessibleName("Restore the default")
        self.back.clicked.connect(self.put_back)
        flow.addWidget(self.back)
        column.addWidget(holder)
        for control in self.controls.values():
            column.addWidget(control.wrong)
        self._flow, self._holder = flow, holder
        self.refresh()

    def refresh(self) -> None:
        """Show what the recipe says; without a setting that counts, nothing."""
        for control in self.controls.values():
            control.show_value()
        for label, option in self._words:
            label.setVisible(all(not self.controls[key].isHidden() for key in option))
        differing = [one for one in self.controls.values() if one.differs]
        self.back.setVisible(bool(differing))
        set_tip(self.back, "Restore the default of " + ", ".join(one.setting.label for one in differing))
        self.setVisible(any(not control.isHidden() for control in self.controls.values()))
        self._flow.invalidate()
        self._holder.updateGeometry()

    def put_back(self) -> None:
        """Give all its settings their defaults again, in one step that undo takes back."""
        values = {key: one.setting.default for key, one in self.controls.items() if one.differs}
        if len(values) == 1:
            self._bench.set(self._step, *values.popitem())
        elif values:
            recipe = self._bench.recipe.with_settings(self._step, values)
            self._bench.change(self._bench.state.with_recipe(recipe), f"{self._step}: defaults")


class SettingsLeaf(QWidget):
    """The settings of the step whose desk is in front."""

    elsewhere = pyqtSignal(str, str)

    def __init__(self, bench: Bench, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bench = bench
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._controls: dict[str, dict[str, Control]] = {}
        self._sentences: dict[str, list[Sentence]] = {}
        self._pages: dict[str, QWidget] = {}
        self._step, self._shown_step = STEPS[0], ""
        holds_parts(self)
        bench.state_changed.subscribe(self.refresh)
        bench.settled.subscribe(self._say_more)

    @property
    def controls(self) -> dict[str, dict[str, Control]]:
        """By step and key: those of the step in front, and of all steps that have been."""
        self._make_page()
        return self._controls

    def show_step(self, desk: str) -> None:
        """Show the settings of a step, as soon as they are seen or asked for."""
        self._step = _SECTION.get(desk, desk)

    def make_page_if_seen(self) -> None:
        """Make the page of the step, where the settings are in sight."""
        if self.isVisible():
            self._make_page()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._make_page()

    def _make_page(self) -> None:
        step = self._step
        if step not in self._pages:
            self._pages[step] = self._page(step)
            self._column.addWidget(self._pages[step])
        if step != self._shown_step:
            self._shown_step = step
            for name, page in self._pages.items():
                page.setVisible(name == step)
            self.refresh()

    def refresh(self) -> None:
        for sentence in self._sentences.get(self._step, []):
            sentence.refresh()

    def _say_more(self) -> None:
        """Say what defaults come to, once that is computed."""
        for control in self._controls.get(self._step, {}).values():
            control.say_more()

    def focus(self, key: str = "") -> None:
        """Put the keyboard into a setting of the step in front; into the first one where none is named."""
        controls = self.controls.get(self._step, {})
        control = controls.get(key) or next((one for one in controls.values() if not one.isHidden()), None)
        if control is not None:
            field = control.field.findChild(QAbstractSpinBox) or control.field
            field.setFocus(Qt.FocusReason.ShortcutFocusReason)
            area = self._pages[self._step]
            if isinstance(area, QScrollArea):
                area.ensureWidgetVisible(control)

    def _page(self, step: str) -> QWidget:
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(16, 14, 14, 14)
        column.setSpacing(9)
        question = PlainLabel(_QUESTIONS.get(step, _NONE))
        question.setWordWrap(True)
        question.setFont(theme.ui_font(1.12, bold=True))
        column.addWidget(question)
        self._controls[step], self._sentences[step] = {}, []
        sections = [one for one in (step, *_WITH.get(step, ())) if one in SECTIONS]
        for section, template in [(one, template) for one in sections for template in sentences_of(one)]:
            sentence = Sentence(section, template, self._bench, inner)
            self._sentences[step].append(sentence)
            self._controls[step] |= sentence.controls
            for control in sentence.controls.values():
                control.elsewhere.connect(self.elsewhere)
            column.addWidget(sentence)
        column.addStretch(1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(inner)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        wear(area)
        area.setAccessibleName(f"Settings of {TITLES.get(step, TITLES['place'])}")
        return area
