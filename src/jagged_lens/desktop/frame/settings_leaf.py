"""The leaf with the settings of one step: each control is made from how its setting was declared."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import (
    QAbstractSpinBox,
    QCheckBox,
    QComboBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QLineEdit,
    QScrollArea,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.look.words import TITLES, plain
from jagged_lens.errors import RecipeError
from jagged_lens.lens import SECTIONS, STEPS, settings_of
from jagged_lens.project import Bench
from jagged_lens.setting import Declared

_WAIT = 350  # milliseconds without a further change before a number takes effect
_QUESTIONS = {
    "gather": "Where do documents come from?",
    "clean": "What becomes of the words?",
    "terms": "What is a term here?",
    "weigh": "How much does a term weigh?",
    "compare": "When are two alike?",
    "group": "How are they grouped?",
    "map": "How are they laid out?",
    "suggest": "Which label is suggested?",
}
_NONE = "Nothing is set here: what is compared is chosen on the desk."
_SECTION = {"place": "suggest"}
"""Desks whose settings stand in a section of another name."""


class _CalmWheel:
    """The wheel scrolls the leaf; it changes a field only when that has the focus."""

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            super().wheelEvent(event) if self.hasFocus() else event.ignore()  # type: ignore[misc,attr-defined]


class _Number(_CalmWheel, QDoubleSpinBox):
    """A number field without needless zeros."""

    def textFromValue(self, value: float) -> str:
        return plain(value)


class _Whole(_CalmWheel, QSpinBox):
    pass


class _Choice(_CalmWheel, QComboBox):
    pass


class _Labels(_CalmWheel, QComboBox):
    """A choice among the labels that there are, or none."""

    NONE = "none"

    def offer(self, bench: Bench, value: str) -> None:
        """Offer the labels of the documents, and a value that is none of them."""
        names = [label.name for label in bench.documents.labels()]
        names += [value] if value and value not in names else []
        if [self.itemText(at) for at in range(self.count())] != [self.NONE, *names]:
            self.clear()
            self.addItems([self.NONE, *names])


class Control(QWidget):
    """One setting: its label, a field of the fitting kind, its help on hover, and what is wrong with it."""

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
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        row = QHBoxLayout()
        row.setSpacing(8)
        label = PlainLabel(setting.label)
        label.setToolTip(setting.help)
        label.setFixedWidth(label.fontMetrics().horizontalAdvance("Lines recur from") + 4)
        label.setWordWrap(True)
        row.addWidget(label, 0, Qt.AlignmentFlag.AlignVCenter)
        self.field, self._read, self._write = self._made()
        self.field.setMinimumHeight(int(label.fontMetrics().height() * 1.7))
        for spin in (self.field, *self.field.findChildren(QAbstractSpinBox)):
            if isinstance(spin, QAbstractSpinBox):
                spin.setMinimumWidth(int(label.fontMetrics().averageCharWidth() * 6))
        self.field.setToolTip(setting.help)
        for widget in (self.field, *self.field.findChildren(QWidget)):
            if not widget.accessibleName():
                widget.setAccessibleName(setting.label)
            widget.setAccessibleDescription(setting.help)
        label.setBuddy(self.field)
        row.addWidget(self.field, 1)
        if setting.unit:
            unit = ElidedLabel(setting.unit)
            unit.setToolTip(setting.unit)
            theme.tone(unit, "muted")
            unit.setFont(theme.ui_font(0.88))
            row.addWidget(unit)
        column.addLayout(row)
        self.wrong = PlainLabel()
        self.wrong.setWordWrap(True)
        theme.tone(self.wrong, "madder")
        self.wrong.hide()
        column.addWidget(self.wrong)
        self.show_value()

    def show_value(self) -> None:
        """Show what the recipe says, unless it is being typed over."""
        settings = getattr(self._bench.recipe, self.step)
        value = getattr(settings, self.setting.name)
        if self.setting.when is not None:
            other, values = self.setting.when
            self.setVisible(getattr(settings, other) in values)
        if isinstance(self.field, _Labels):
            self._showing = True
            self.field.offer(self._bench, value)
            self._showing = False
        if self._read() != value:
            self._showing = True
            self._write(value)
            self._showing = False
        self.wrong.hide()

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
        except RecipeError as error:
            self.wrong.setText(f"{error.what[:1].upper()}{error.what[1:]}. {error.remedy}")
            self.wrong.show()

    def _made(self) -> tuple[QWidget, Callable[[], Any], Callable[[Any], None]]:
        """The field, how its value is read, and how one is shown in it."""
        setting = self.setting
        if setting.is_list and setting.choices:
            return self._boxes()
        if setting.choices:
            choice = _Choice()
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            choice.setMinimumContentsLength(5)
            choice.addItems(setting.choices)
            choice.currentTextChanged.connect(self._apply_now)
            return choice, choice.currentText, choice.setCurrentText
        if setting.is_range:
            return self._range()
        if setting.type is bool:
            box = QCheckBox("yes")
            box.toggled.connect(self._apply_now)
            return box, box.isChecked, box.setChecked
        if setting.type is int:
            whole = _Whole()
            whole.setRange(int(setting.low or 0), int(setting.high or 10**9))
            whole.setGroupSeparatorShown(True)
            whole.valueChanged.connect(self._changed)
            whole.editingFinished.connect(self._apply_if_waiting)
            return whole, whole.value, whole.setValue
        if setting.type is float:
            number = _Number()
            number.setDecimals(3)
            number.setRange(0.001, setting.high or 10**9)
            number.setSingleStep(0.05 if setting.high == 1 else 1)
            number.valueChanged.connect(self._changed)
            number.editingFinished.connect(self._apply_if_waiting)
            return number, lambda: round(number.value(), 3), number.setValue
        if setting.names_label:
            labels = _Labels()
            labels.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            labels.setMinimumContentsLength(5)
            labels.currentTextChanged.connect(self._apply_now)
            return (
                labels,
                lambda: labels.currentText() if labels.currentIndex() > 0 else "",
                lambda value: labels.setCurrentText(value or _Labels.NONE),
            )
        line = QLineEdit()
        line.editingFinished.connect(self._apply_now)
        if setting.is_list:
            line.setPlaceholderText("none; several with commas" if setting.apart == "," else "none; several with ;")

            def entries() -> tuple[str, ...]:
                return tuple(entry.strip() for entry in line.text().split(setting.apart) if entry.strip())

            return line, entries, lambda value: line.setText(f"{setting.apart} ".join(value))
        return line, line.text, line.setText

    def _apply_if_waiting(self) -> None:
        if self._wait.isActive():
            self._apply_now()

    def _boxes(self) -> tuple[QWidget, Callable[[], Any], Callable[[Any], None]]:
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        boxes = {}
        for choice in self.setting.choices:
            box = QCheckBox(choice.replace("-", " "))
            box.setAccessibleName(f"{self.setting.label} {box.text()}")
            box.toggled.connect(self._apply_now)
            column.addWidget(box)
            boxes[choice] = box

        def write(value: tuple[str, ...]) -> None:
            for choice, box in boxes.items():
                box.setChecked(choice in value)

        return holder, lambda: tuple(choice for choice, box in boxes.items() if box.isChecked()), write

    def _range(self) -> tuple[QWidget, Callable[[], Any], Callable[[Any], None]]:
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        low, high = _Whole(), _Whole()
        for spin, name in ((low, "from"), (high, "to")):
            spin.setRange(int(self.setting.low or 1), int(self.setting.high or 8))
            spin.setAccessibleName(f"{self.setting.label}, {name}")
            spin.valueChanged.connect(self._changed)
            spin.editingFinished.connect(self._apply_if_waiting)
        row.addWidget(low, 1)
        row.addWidget(PlainLabel("to"))
        row.addWidget(high, 1)

        def write(value: tuple[int, int]) -> None:
            low.setValue(value[0])
            high.setValue(value[1])

        return holder, lambda: (low.value(), high.value()), write


class SettingsLeaf(QWidget):
    """The settings of the step whose desk is in front."""

    def __init__(self, bench: Bench, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bench = bench
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self.controls: dict[str, dict[str, Control]] = {}
        self._pages: dict[str, QWidget] = {}
        self._step = STEPS[0]
        bench.state_changed.subscribe(self.refresh)

    def show_step(self, desk: str) -> None:
        step = _SECTION.get(desk, desk)
        self._step = step
        if step not in self._pages:
            self._pages[step] = self._page(step)
            self._column.addWidget(self._pages[step])
        for name, page in self._pages.items():
            page.setVisible(name == step)
        self.refresh()

    def refresh(self) -> None:
        for control in self.controls.get(self._step, {}).values():
            control.show_value()

    def _page(self, step: str) -> QWidget:
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(16, 14, 14, 14)
        column.setSpacing(9)
        question = PlainLabel(_QUESTIONS.get(step, _NONE))
        question.setWordWrap(True)
        question.setFont(theme.ui_font(1.12, bold=True))
        column.addWidget(question)
        self.controls[step] = {}
        for key, setting in settings_of(step).items() if step in SECTIONS else ():
            if setting.leaf and not (setting.choices and len(setting.choices) == 1):
                control = Control(step, setting, self._bench, inner)
                self.controls[step][key] = control
                column.addWidget(control)
        column.addStretch(1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(inner)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setAccessibleName(f"Settings of {TITLES.get(step, TITLES['place'])}")
        return area
