# SPDX-License-Identifier: GPL-3.0-or-later
"""A choice of documents: all of them, those that are picked, or those with one value of a label."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu

from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.gather import Label
from jagged_lens.project import Shown

_MOST_VALUES = 40


@dataclass(frozen=True)
class Inside:
    """The documents: all, the picked ones, or those with a value of a label."""

    label: str = ""
    value: str = ""
    picked: bool = False

    def __bool__(self) -> bool:
        return self.picked or bool(self.label)

    def words(self) -> str:
        """Its name."""
        if self.picked:
            return "the pick"
        return f"{self.label}: {self.value or '(none)'}" if self.label else "all"


class Within(Action):
    """A button with the choice in its menu, which is made when it is opened: the commonest values of every label."""

    chosen = pyqtSignal()

    def __init__(self, bench: Shown) -> None:
        super().__init__()
        self._bench = bench
        self.choice = Inside()
        self.choices = QMenu(self)
        self.choices.aboutToShow.connect(self._fill)
        self.setMenu(self.choices)
        self.choose(Inside())

    def choose(self, choice: Inside) -> None:
        """Choose documents."""
        self.choice = choice
        text = self.fontMetrics().elidedText(f"Within {choice.words()}", Qt.TextElideMode.ElideRight, 190)
        self.setText(text.replace("&", "&&"))
        set_tip(self, f"Terms within {choice.words()}. Choose a value of a label, or the pick.")
        self.setAccessibleName(f"Within {choice.words()}")
        self.chosen.emit()

    def rows(self, rows: NDArray[np.int32], labels: Sequence[Label]) -> NDArray[np.bool_] | None:
        """For some corpus rows whether they are chosen; None where the value is not there any more, or nothing is picked."""
        if self.choice.picked:
            inside = np.isin(rows, np.array(self._bench.pick.rows, np.int64))
            return inside if inside.any() else None
        label = next((one for one in labels if one.name == self.choice.label), None)
        values = list(label.values) if label is not None else []
        if label is None or self.choice.value not in values:
            return None
        return np.asarray(label.codes[rows] == values.index(self.choice.value))

    def _fill(self) -> None:
        self.choices.clear()
        self._entry(self.choices, "All documents", Inside())
        picked = self._entry(self.choices, "The pick", Inside(picked=True))
        picked.setEnabled(len(self._bench.pick) > 0)
        self.choices.addSeparator()
        for label in self._bench.documents.labels():
            menu = self.choices.addMenu(label.name.replace("&", "&&"))
            assert menu is not None
            counts = np.bincount(label.codes, minlength=len(label.values))
            for code in np.argsort(-counts, kind="stable")[:_MOST_VALUES].tolist():
                value = label.values[code]
                self._entry(menu, f"{value or '(none)'}   {counts[code]:,}", Inside(label.name, value))

    def _entry(self, menu: QMenu, text: str, choice: Inside) -> QAction:
        entry = menu.addAction(text.replace("&", "&&"), lambda: self.choose(choice))
        assert entry is not None
        entry.setCheckable(True)
        entry.setChecked(choice == self.choice)
        return entry
