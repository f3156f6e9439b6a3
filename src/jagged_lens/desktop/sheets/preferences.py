# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings window: what is the user's own and belongs to no project. Kept in the XDG configuration folder."""

from __future__ import annotations

import os
from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Choice, TickBox
from jagged_lens.desktop.look.number_boxes import DecimalBox, WholeBox
from jagged_lens.desktop.look.plain import PlainLabel, without_icons
from jagged_lens.desktop.look.worn import wear

LOOKS = ("system", "light", "dark")


@dataclass(frozen=True)
class Preferences:
    """look: light, dark or that of the system. letters: size of all letters, 1 is that of the desktop. colour_blind: colours
    chosen for readers who are. memory: gigabytes of results that are remembered. threads: of the worker."""

    look: str = "system"
    letters: float = 1.0
    colour_blind: bool = False
    memory: float = 3.0
    threads: int = os.cpu_count() or 1

    @classmethod
    def read(cls, memory: QSettings | None) -> Preferences:
        """As they were kept; what is not there or makes no sense has its default."""
        if memory is None:
            return cls(look="light")
        plain = cls()
        look = str(memory.value("look", plain.look))
        try:
            return cls(
                look if look in LOOKS else plain.look,
                min(max(float(memory.value("letters", plain.letters)), 0.7), 2.0),
                str(memory.value("colour-blind", "false")) == "true",
                min(max(float(memory.value("memory", plain.memory)), 0.2), 1000.0),
                min(max(int(memory.value("threads", plain.threads)), 1), 64),
            )
        except ValueError:
            return plain

    def write(self, memory: QSettings | None) -> None:
        if memory is not None:
            memory.setValue("look", self.look)
            memory.setValue("letters", self.letters)
            memory.setValue("colour-blind", "true" if self.colour_blind else "false")
            memory.setValue("memory", self.memory)
            memory.setValue("threads", self.threads)


class PreferencesWindow(QDialog):
    """Shows preferences; each change takes effect at once."""

    def __init__(self, preferences: Preferences, changed: Callable[[Preferences], None], parent: QWidget) -> None:
        super().__init__(parent)
        wear(self)
        self.setWindowTitle("Settings")
        self._tell = changed
        column = QVBoxLayout(self)
        form = QFormLayout()
        column.addLayout(form)
        self.look = Choice()
        self.look.addItems(["same as the system", "light", "dark"])
        self.look.setCurrentIndex(LOOKS.index(preferences.look))
        form.addRow("Look", self.look)
        self.letters = WholeBox()
        self.letters.setRange(70, 200)
        self.letters.setSingleStep(10)
        self.letters.setSuffix(" %")
        self.letters.setKeyboardTracking(False)  # 150 is typed by way of 1 and 15
        self.letters.setValue(round(preferences.letters * 100))
        form.addRow("Size of all letters", self.letters)
        self.colour_blind = TickBox("for colour-blind readers")
        self.colour_blind.setChecked(preferences.colour_blind)
        form.addRow("Colours of groups", self.colour_blind)
        self.memory = DecimalBox()
        self.memory.setRange(0.2, 1000)
        self.memory.setDecimals(1)
        self.memory.setSuffix(" GB")
        self.memory.setValue(preferences.memory)
        form.addRow("Memory for results", self.memory)
        self.threads = WholeBox()
        self.threads.setRange(1, 64)
        self.threads.setValue(preferences.threads)
        form.addRow("Threads", self.threads)
        note = PlainLabel("Results do not depend on memory or threads. Both take effect at the next computation.")
        theme.tone(note, "muted")
        note.setWordWrap(True)
        column.addWidget(note)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        without_icons(buttons)
        buttons.rejected.connect(self.close)
        column.addWidget(buttons)
        for label, field in (
            ("Look", self.look),
            ("Size of all letters", self.letters),
            ("Memory for results", self.memory),
            ("Threads", self.threads),
        ):
            field.setAccessibleName(label)
        self.look.currentIndexChanged.connect(self._changed)
        self.letters.valueChanged.connect(self._changed)
        self.colour_blind.toggled.connect(self._changed)
        self.memory.valueChanged.connect(self._changed)
        self.threads.valueChanged.connect(self._changed)

    def _changed(self) -> None:
        self._tell(
            Preferences(
                LOOKS[self.look.currentIndex()],
                self.letters.value() / 100,
                self.colour_blind.isChecked(),
                self.memory.value(),
                self.threads.value(),
            )
        )
