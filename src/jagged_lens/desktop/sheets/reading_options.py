# SPDX-License-Identifier: GPL-3.0-or-later
"""The reading of a source: the options of tables, and those of texts."""

from __future__ import annotations

import re
from functools import partial
from pathlib import PurePosixPath
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.look.controls import Button, Choice, TickBox, Word
from jagged_lens.desktop.look.plain import PlainLabel, ask_line, set_tip
from jagged_lens.desktop.look.read_out import name_editable
from jagged_lens.desktop.sheets.source_pages import line
from jagged_lens.gather import Preview, Source

_ENCODINGS = ("", "utf-8", "utf-16", "cp1252", "cp1250", "cp1251", "cp1253", "cp1254", "cp1257", "iso-8859-2", "iso-8859-15",
              "koi8-r", "koi8-u", "cp437", "cp850", "cp866", "mac_roman", "cp932", "gb18030", "big5hkscs", "cp949")  # fmt: skip
_ENCODING_TIP = "If empty, it is detected. Separate several by commas: each file uses the first that fits it."
_CUTS = (
    ("no", "one document"),
    ("line", "one document per line"),
    ("blank-line", "one document per paragraph"),
    ("at", "split at a separator"),
)
OF_TEXTS = ("cut", "cut-at", "replies", "path-labels")
"""Recipe keys that mean nothing for a table."""


def _entries(text: str) -> list[str]:
    """Names between commas; a place that is left empty counts, unless all are."""
    names = [name.strip() for name in text.split(",")]
    return names if any(names) else []


def _labelled(text: str) -> list[str]:
    """Labels written NAME = VALUE, several with commas between them; a value may hold commas itself.

    >>> _labelled("origin = letters, cards, crop = bean")
    ['origin = letters, cards', 'crop = bean']
    """
    return [one.strip() for one in re.split(r",(?=[^,=]+=)", text) if "=" in one]


class TableOptions(QWidget):
    """Separator, header, sheet and encoding of a table. changed() is told of every change by hand."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._showing = False
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.separator, self.header, self.sheet, self.encoding = Choice(), Choice(), Choice(), Choice()
        self.header.addItems(["guess", "yes", "no"])
        for field in (self.separator, self.encoding):
            field.setEditable(True)
        self.encoding.addItems(_ENCODINGS)
        self._labels: dict[str, PlainLabel] = {}
        for name, words, choice in (
            ("separator", "Separator", self.separator),
            ("header", "First row names the columns", self.header),
            ("sheet", "Sheet", self.sheet),
        ):
            self._labels[name] = PlainLabel(words)
            row.addWidget(self._labels[name])
            row.addWidget(choice)
            name_editable(choice, words)
            choice.currentTextChanged.connect(self._changed)
        self._encoding_label = PlainLabel("Encoding")
        row.addWidget(self._encoding_label)
        row.addWidget(self.encoding)
        name_editable(self.encoding, "Encoding")
        set_tip(self.encoding, _ENCODING_TIP)
        self.encoding.editTextChanged.connect(self._changed)
        row.addStretch(1)

    def _changed(self) -> None:
        if not self._showing:
            self.changed.emit()

    def values(self) -> dict[str, Any]:
        """The values of the fields, by recipe key."""
        return {
            "header": self.header.currentText(),
            "separator": self.separator.currentText().strip(),
            "sheet": self.sheet.currentText(),
            "encoding": self.encoding.currentText().strip(),
        }

    def show_source(self, source: Source) -> None:
        """Fill the fields with a source that is there."""
        self.header.setCurrentText(source.header)
        self.separator.setCurrentText(source.separator)
        self.sheet.addItem(source.sheet)
        self.encoding.setCurrentText(source.encoding)

    def show_preview(self, found: Preview) -> None:
        """Show how a table was read, where nothing else was asked for."""
        self._showing = True
        for name, field in (("separator", self.separator), ("sheet", self.sheet)):
            choices = found.choices.get(name, [])
            if choices and [field.itemText(at) for at in range(field.count())] != choices:
                field.clear()
                field.addItems(choices)
            if name in found.settings:
                field.setCurrentText(found.settings[name])
        if self.header.currentText() == "guess" and "header" in found.settings:
            self.header.setItemText(0, "guess")
        if not self.encoding.currentText() and found.settings.get("encoding"):
            edit = self.encoding.lineEdit()
            assert edit is not None
            edit.setPlaceholderText(found.settings["encoding"])
        self._showing = False

    def show_known(self, found: Preview | None) -> None:
        """Show those options alone that mean something for what was found."""
        known = {**found.settings, **found.choices} if found is not None and found.is_table else {}
        self.setVisible(bool(known))
        for name, field in (("separator", self.separator), ("header", self.header), ("sheet", self.sheet)):
            field.setVisible(name in known)
            self._labels[name].setVisible(name in known)
        has_encoding = "encoding" in known and bool(known["encoding"])
        self.encoding.setVisible(has_encoding)
        self._encoding_label.setVisible(has_encoding)


class TextOptions(QWidget):
    """How a text is split, what is left out of it, its labels and encoding. changed() reports every change."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        changed = self.changed.emit
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(PlainLabel("A text is"))
        self.cut = Choice()
        self.cut.addItems([words for _, words in _CUTS])
        self.cut.setAccessibleName("How a text is split")
        self.cut.currentIndexChanged.connect(self._cut_changed)
        row.addWidget(self.cut)
        self.cut_at = line("Separator", "a line such as ***, or /a regular expression/", changed)
        self.cut_at.setVisible(False)
        row.addWidget(self.cut_at, 1)
        self.replies = TickBox("without quoted replies")
        set_tip(self.replies, "E-mail: leave out quotes of earlier messages")
        self.replies.toggled.connect(self.changed)
        row.addWidget(self.replies)
        column.addLayout(row)
        row = QHBoxLayout()
        self._path_words = PlainLabel("Labels from the path")
        row.addWidget(self._path_words)
        self.path_labels = line("Labels from the path", "names for its parts, from the left: year, district", changed)
        row.addWidget(self.path_labels, 1)
        self.path = QWidget()
        self._path_row = QHBoxLayout(self.path)
        self._path_row.setContentsMargins(0, 0, 0, 0)
        self._path_row.setSpacing(2)
        self._path_row.addWidget(PlainLabel(""))
        self.path.hide()
        self.parts: list[Button] = []
        row.addWidget(PlainLabel("Label for all"))
        self.labelled = line("Label for all", "for example origin = letters", changed)
        row.addWidget(self.labelled, 1)
        self._encoding_label = PlainLabel("Encoding")
        row.addWidget(self._encoding_label)
        self.encoding = line("Encoding of the texts", "detected", changed)
        set_tip(self.encoding, _ENCODING_TIP)
        self.encoding.setMaximumWidth(self.fontMetrics().averageCharWidth() * 14)
        row.addWidget(self.encoding)
        column.addLayout(row)
        column.addWidget(self.path)

    def _cut_changed(self) -> None:
        self.cut_at.setVisible(self._cut == "at")
        self.changed.emit()

    def show_path(self, name: str) -> None:
        """Show the parts of a file's path, each of which can be made a label by a click; "" where no text has one."""
        path = PurePosixPath(name)
        folders = [*path.parts[:-1], path.stem] if name else []
        labels = _entries(self.path_labels.text())
        while (item := self._path_row.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        self.parts = []
        for at, part in enumerate(folders):
            label = labels[at] if at < len(labels) else ""
            button = Word(f"{label}: {part}" if label else part)
            button.setAutoDefault(False)
            set_tip(button, "Click to make this part of the path a label")
            button.clicked.connect(partial(self._name_part, at))
            self._path_row.addWidget(button)
            self._path_row.addWidget(PlainLabel("/" if at + 1 < len(folders) else path.suffix))
            self.parts.append(button)
        self._path_row.addStretch(1)
        self.path.setVisible(bool(folders))

    def _name_part(self, at: int) -> None:
        labels = _entries(self.path_labels.text())
        labels += [""] * (at + 1 - len(labels))
        name, taken = ask_line(self, "A label from the path", "Name of the label; empty for none", labels[at])
        if taken:
            labels[at] = name.strip().replace(",", " ")
            self.path_labels.setText(", ".join(labels))

    def cut_into(self, cut: str, at: str = "") -> None:
        """Cut the text in another way."""
        self.cut_at.setText(at)
        self.cut.setCurrentIndex([name for name, _ in _CUTS].index(cut))

    @property
    def _cut(self) -> str:
        return _CUTS[self.cut.currentIndex()][0]

    def values(self) -> dict[str, Any]:
        """The values of the fields, by recipe key."""
        return {
            "encoding": self.encoding.text().strip(),
            "cut": "no" if self._cut == "at" and not self.cut_at.text().strip() else self._cut,
            "cut-at": self.cut_at.text() if self._cut == "at" else "",
            "replies": "drop" if self.replies.isChecked() else "keep",
            "path-labels": _entries(self.path_labels.text()),
            "labelled": _labelled(self.labelled.text()),
        }

    def show_source(self, source: Source) -> None:
        """Fill the fields with a source that is there."""
        self.encoding.setText(source.encoding)
        self.cut.setCurrentIndex([name for name, _ in _CUTS].index(source.cut))
        self.cut_at.setText(source.cut_at)
        self.replies.setChecked(source.replies == "drop")
        self.path_labels.setText(", ".join(source.path_labels))
        self.labelled.setText(", ".join(source.labelled))

    def show_for(self, kind: str, mails: bool) -> None:
        """Show those options alone that mean something for a kind of source. mails: whether there are any among the texts."""
        for widget in (self._path_words, self.path_labels, self.encoding, self._encoding_label):
            widget.setVisible(kind == "file")
        self.replies.setVisible(kind == "file" and mails)
        self.cut_at.setVisible(self._cut == "at")
