# SPDX-License-Identifier: GPL-3.0-or-later
"""The sheet on which everything is saved: what, in which format, where. It remembers folder and formats."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QGridLayout,
    QLineEdit,
    QListWidget,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, Choice
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.sheet_end import end_sheet
from jagged_lens.desktop.look.worn import wear
from jagged_lens.desktop.saving import Kind, Piece, save_piece

_FOLDER, _FORMAT, _WIDTH = "saved into", "saved as", "width of pictures"
_USUAL_WIDTH, _MOST_WIDTH = 1_600, 12_000


class SaveSheet(QDialog):
    """A list of pieces, the formats of the one that is chosen, and a place for its file."""

    def __init__(self, pieces: Sequence[Piece], folder: Path, memory: QSettings | None, parent: QWidget) -> None:
        """folder: where it goes where nothing is remembered. memory: None where nothing is."""
        super().__init__(parent)
        wear(self)
        self.setWindowTitle("Save")
        self._pieces, self._memory = list(pieces), memory
        column = QVBoxLayout(self)
        self.list = QListWidget()
        self.list.setAccessibleName("Pieces")
        self.list.addItems([piece.words for piece in pieces])
        self.list.setVisible(len(pieces) > 1)
        rows = min(max(len(pieces), 2), 8)
        self.list.setFixedHeight(int(self.fontMetrics().height() * 1.5 * rows) + 8)
        column.addWidget(self.list)
        grid = QGridLayout()
        grid.setColumnStretch(1, 1)
        self.format, self.width_box = Choice(), QSpinBox()
        self.width_box.setRange(100, _MOST_WIDTH)
        self.width_box.setSingleStep(100)
        self.width_box.setSuffix(" pixels wide")
        self.width_box.setValue(int(str(self._remembered(_WIDTH, _USUAL_WIDTH))))
        self.folder, self.name = QLineEdit(str(self._start(folder))), QLineEdit()
        self.folder.setMinimumWidth(int(self.fontMetrics().averageCharWidth() * 52))
        self.browse = Action("Choose…")
        self.browse.setAutoDefault(False)  # Return saves, wherever the keyboard is
        self.browse.clicked.connect(self._browse)
        self._labels = []
        for at, (words, widget) in enumerate(
            (("Format", self.format), ("Width", self.width_box), ("Folder", self.folder), ("Name", self.name))
        ):
            label = muted(words)
            self._labels.append(label)
            widget.setAccessibleName(words)
            grid.addWidget(label, at, 0)
            grid.addWidget(widget, at, 1)
        grid.addWidget(self.browse, 2, 2)
        column.addLayout(grid)
        self.said = muted("")
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        self.save = end_sheet(self, column, "Save", self._accept)
        set_tip(self.save, "What is there under this name is replaced once the new file is whole")
        self.list.currentRowChanged.connect(self._show_piece)
        self.format.currentIndexChanged.connect(self._show_kind)
        self.folder.textChanged.connect(self._say)
        self.name.textChanged.connect(self._say)
        self.list.setCurrentRow(0)
        self._show_piece()
        (self.list if len(pieces) > 1 else self.name).setFocus()

    @property
    def piece(self) -> Piece:
        """The piece that is chosen."""
        return self._pieces[max(self.list.currentRow(), 0)]

    @property
    def kind(self) -> Kind:
        """The format that is chosen."""
        return self.piece.kinds[max(self.format.currentIndex(), 0)]

    @property
    def path(self) -> Path:
        """The file, with the ending of its format; the folder where files go into one."""
        folder, kind = Path(self.folder.text().strip()).expanduser(), self.kind
        if not kind.ending:
            return folder
        name = self.name.text().strip()
        return folder / (name if name.lower().endswith(kind.ending) else name + kind.ending)

    def _remembered(self, key: str, usual: object) -> object:
        value = self._memory.value(key) if self._memory is not None else None
        return usual if value in (None, "") else value

    def _start(self, folder: Path) -> Path:
        kept = Path(str(self._remembered(_FOLDER, folder)))
        return kept if kept.is_dir() else folder

    def _show_piece(self) -> None:
        piece = self.piece
        self.format.blockSignals(True)
        self.format.clear()
        self.format.addItems([kind.words for kind in piece.kinds])
        endings = [kind.ending for kind in piece.kinds]
        for kept in str(self._remembered(_FORMAT, "")).split():
            if kept in endings:
                self.format.setCurrentIndex(endings.index(kept))
                break
        self.format.blockSignals(False)
        self.format.setEnabled(len(endings) > 1)
        self.name.setText(piece.stem)
        self._show_kind()

    def _show_kind(self) -> None:
        kind = self.kind
        for widget in (self._labels[1], self.width_box):
            widget.setVisible(kind.pixels)
        self._labels[3].setVisible(bool(kind.ending))
        self.name.setVisible(bool(kind.ending))
        self._say()

    def _say(self) -> None:
        folder, kind = Path(self.folder.text().strip()).expanduser(), self.kind
        named = bool(self.name.text().strip()) or not kind.ending
        wrong = ""
        if not folder.is_dir():
            wrong = "There is no such folder."
        elif not named:
            wrong = "Give the file a name."
        elif kind.ending and "/" in self.name.text():
            wrong = "A name must not contain a slash."
        there = not wrong and kind.ending and self.path.exists()
        self.said.setText(wrong or (f"{self.path.name} exists and will be replaced." if there else ""))
        self.save.setEnabled(not wrong)

    def _browse(self) -> None:
        chosen = QFileDialog.getExistingDirectory(self, "Choose a folder", self.folder.text())
        if chosen:
            self.folder.setText(chosen)

    def _accept(self) -> None:
        kind, path = self.kind, self.path
        if self._memory is not None:
            self._memory.setValue(_FOLDER, str(path.parent if kind.ending else path))
            before = [one for one in str(self._remembered(_FORMAT, "")).split() if one != kind.ending]
            self._memory.setValue(_FORMAT, " ".join(filter(None, [kind.ending, *before[:12]])))
            self._memory.setValue(_WIDTH, self.width_box.value())
        self.accept()
        parent = self.parentWidget()
        assert parent is not None
        save_piece(parent, path, kind, self.width_box.value())
