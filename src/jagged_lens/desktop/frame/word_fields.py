# SPDX-License-Identifier: GPL-3.0-or-later
"""Fields that stand in a sentence like its words: a number, a choice, a list, a text, a label."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QAction, QValidator, QWheelEvent
from PyQt6.QtWidgets import (
    QAbstractSpinBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QWidget,
)

from jagged_lens.desktop.look.controls import Choice, Word
from jagged_lens.desktop.look.number_boxes import WholeBox, typed_decimal
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.words import plain
from jagged_lens.project import Bench
from jagged_lens.sentences import value_words
from jagged_lens.setting import Declared

_MOST = 34  # characters of a field in a line


def _wide(widget: QWidget, text: str, more: int) -> int:
    metrics = widget.fontMetrics()
    return min(metrics.horizontalAdvance(text), metrics.averageCharWidth() * _MOST) + more


class _CalmWheel:
    """The wheel scrolls the leaf; it changes a field only when that has the focus."""

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            super().wheelEvent(event) if self.hasFocus() else event.ignore()  # type: ignore[misc,attr-defined]


class _AsWideAsItsText:
    """A number field that is as wide as what stands in it."""

    def sizeHint(self) -> QSize:
        size: QSize = super().sizeHint()  # type: ignore[misc]
        size.setWidth(_wide(self, self.text(), 18))  # type: ignore[arg-type,attr-defined]
        return size

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()


class WholeField(_CalmWheel, _AsWideAsItsText, WholeBox):
    """A whole number."""


class NumberField(_CalmWheel, _AsWideAsItsText, QDoubleSpinBox):
    """A number without needless zeros; a share of documents as a percentage."""

    def __init__(self, setting: Declared) -> None:
        super().__init__()
        self._always, self._below = setting.is_share, setting.unit == "documents"

    def textFromValue(self, value: float) -> str:
        if self._always or (self._below and 0 < value < 1):
            return f"{100 * value:g}%"
        return plain(value)

    def valueFromText(self, text: str | None) -> float:
        number = (text or "").strip().removesuffix("%").strip()
        value = typed_decimal(number)
        if value is None:
            return self.value()
        return value / 100 if "%" in (text or "") or (self._always and value > 1) else value

    def validate(self, text: str | None, at: int) -> tuple[QValidator.State, str, int]:
        fits = re.fullmatch(r"\d*[.,]?\d*\s*%?", text or "") or text == self.specialValueText()
        return (QValidator.State.Acceptable if fits else QValidator.State.Invalid), text or "", at


class ChoiceField(_CalmWheel, Choice):
    """One of several values, each in words."""

    def __init__(self, choices: Sequence[str], said: Callable[[str], str]) -> None:
        super().__init__()
        for choice in choices:
            self.addItem(said(choice), choice)
        self.setProperty("word", "true")
        self.currentIndexChanged.connect(self.updateGeometry)

    @property
    def value(self) -> str:
        return str(self.currentData())

    def choose(self, value: str) -> None:
        """Show, or set, another value."""
        self.setCurrentIndex(self.findData(value))

    def say(self, value: str, words: str) -> None:
        """Say a value in other words than before."""
        at = self.findData(value)
        if at >= 0 and self.itemText(at) != words:
            self.setItemText(at, words)
            self.updateGeometry()

    def sizeHint(self) -> QSize:
        return QSize(_wide(self, self.currentText(), 26), super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return QSize(40, super().minimumSizeHint().height())


class LabelField(_CalmWheel, Choice):
    """One of the labels that there are, or none."""

    def __init__(self, none: str) -> None:
        super().__init__()
        self._none = none
        self.addItem(none)
        self.setProperty("word", "true")
        self.currentIndexChanged.connect(self.updateGeometry)

    def offer(self, bench: Bench, value: str) -> None:
        """Offer the labels of the documents, and a value that is none of them."""
        names = [label.name for label in bench.documents.labels()]
        names += [value] if value and value not in names else []
        if [self.itemText(at) for at in range(self.count())] != [self._none, *names]:
            self.clear()
            self.addItems([self._none, *names])

    @property
    def value(self) -> str:
        return self.currentText() if self.currentIndex() > 0 else ""

    def choose(self, value: str) -> None:
        self.setCurrentIndex(max(self.findText(value), 0) if value else 0)

    def sizeHint(self) -> QSize:
        return QSize(_wide(self, self.currentText(), 26), super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return QSize(40, super().minimumSizeHint().height())


class TextField(QLineEdit):
    """A text; where there is none, the words for that."""

    def __init__(self, none: str) -> None:
        super().__init__()
        self.setPlaceholderText(none)
        self.textChanged.connect(lambda: self.updateGeometry())

    def sizeHint(self) -> QSize:
        return QSize(_wide(self, self.text() or self.placeholderText(), 18), super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return QSize(40, super().minimumSizeHint().height())


class WordButton(Word):
    """A word that opens something."""

    def __init__(self, setting: Declared) -> None:
        super().__init__()
        self._setting = setting
        self.value: tuple[str, ...] = ()

    def show_value(self, value: tuple[str, ...]) -> None:
        """Say another value."""
        self.value = tuple(value)
        words = value_words(self._setting, self.value)
        set_tip(self, "\n".join([*self.value, "", self._setting.help]) if self.value else self._setting.help)
        most = self.fontMetrics().averageCharWidth() * _MOST
        self.setText(self.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, most))
        self.updateGeometry()


class BoxesField(WordButton):
    """Several of some values, ticked in a menu."""

    changed = pyqtSignal()

    def __init__(self, setting: Declared) -> None:
        super().__init__(setting)
        menu = QMenu(self)
        self.boxes: dict[str, QAction] = {}
        for choice in setting.choices:
            action = menu.addAction(setting.said.get(choice, choice))
            assert action is not None
            action.setCheckable(True)
            action.toggled.connect(self._toggled)
            self.boxes[choice] = action
        self._showing = False
        self.show_value(())
        self.setMenu(menu)

    def _toggled(self) -> None:
        if not self._showing:
            self.show_value(tuple(choice for choice, box in self.boxes.items() if box.isChecked()))
            self.changed.emit()

    def show_value(self, value: tuple[str, ...]) -> None:
        self._showing = True
        for choice, box in self.boxes.items():
            box.setChecked(choice in value)
        self._showing = False
        super().show_value(value)


class RangeField(QWidget):
    """Two numbers, from and to."""

    changed = pyqtSignal()
    finished = pyqtSignal()

    def __init__(self, setting: Declared) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        self.low, self.high = WholeField(), WholeField()
        for spin, name in ((self.low, "from"), (self.high, "to")):
            spin.setRange(int(setting.low or 1), int(setting.high or 8))
            spin.setButtonSymbols(QAbstractSpinBox.ButtonSymbols.NoButtons)
            spin.setAccessibleName(f"{setting.label}, {name}")
            spin.valueChanged.connect(self.changed)
            spin.editingFinished.connect(self.finished)
        row.addWidget(self.low)
        row.addWidget(PlainLabel("to"))
        row.addWidget(self.high)

    @property
    def value(self) -> tuple[int, int]:
        return self.low.value(), self.high.value()

    def choose(self, value: tuple[int, int]) -> None:
        self.low.setValue(value[0])
        self.high.setValue(value[1])
