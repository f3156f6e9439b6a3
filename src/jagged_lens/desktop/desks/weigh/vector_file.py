# SPDX-License-Identifier: GPL-3.0-or-later
"""The choice of a file of vectors, with a preview of what it has for these documents."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QFrame, QHBoxLayout, QLineEdit, QVBoxLayout

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, MainAction
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.errors import RecipeError
from jagged_lens.lens import CORPUS, LENS_ROWS
from jagged_lens.project import Shown, Snapshot
from jagged_lens.vectors import ENDINGS, KEYS_BESIDE, GivenVectors, KeyedVectors, joined, read_vectors

_FIRST_NUMBERS = 5
_FIRST_KEYS = 3


class VectorFileCard(QFrame):
    """Names a file, says what is in it, and lets the later steps work on it. used(): they do."""

    used = pyqtSignal()

    def __init__(self, bench: Shown, asker: Asker) -> None:
        super().__init__()
        self.setObjectName("card")
        self._bench = bench
        self._asker = asker
        self._keys: Callable[[], tuple[list[str], Sequence[str]]] = lambda: ([], [])
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 10)
        row = QHBoxLayout()
        row.addWidget(muted("File"))
        self.path = QLineEdit()
        self.path.setAccessibleName("File of vectors")
        self.path.setPlaceholderText("vectors.npy, .npz, .csv, .tsv or .parquet")
        set_tip(
            self.path,
            f"NumPy (.npy with the keys in vectors{KEYS_BESIDE} beside it, or .npz), a table with a key and numbers, or Parquet.",
        )
        self.path.editingFinished.connect(self.look)
        row.addWidget(self.path, 1)
        self.choose = Action("Choose…")
        self.choose.setAccessibleName("Choose a file of vectors")
        self.choose.clicked.connect(self._choose)
        row.addWidget(self.choose)
        self.use = MainAction("Use these vectors")
        self.use.clicked.connect(self._use)
        row.addWidget(self.use)
        column.addLayout(row)
        self.told = muted("", 0.95)
        self.told.setWordWrap(True)
        column.addWidget(self.told)
        self._say("")

    def show_documents(self, results: Snapshot) -> None:
        """Preview files for the documents of a lens."""
        corpus, rows = results[CORPUS], results[LENS_ROWS]
        self._keys = lambda: (list(corpus.keys.take(rows)), corpus.keys)
        weigh = self._bench.recipe.weigh
        if weigh.space == "file" and self.path.text() != weigh.vectors and not self.path.hasFocus():
            self.path.setText(weigh.vectors)
            self.use.hide()
            self.told.hide()

    def begin(self) -> None:
        """Nothing is known yet: say what is wanted, and put the keyboard there."""
        self.path.setFocus()
        if not self.path.text().strip():
            self._say(
                f"Choose a file with a vector for each document, under the keys that Gather shows: {', '.join(ENDINGS)}."
            )

    def _say(self, words: str, wrong: bool = False, usable: bool = False) -> None:
        self.told.setText(words)
        theme.tone(self.told, "madder" if wrong else "muted")
        self.told.setVisible(bool(words))
        self.use.setVisible(usable)

    def _choose(self) -> None:
        kinds = " ".join(f"*{ending}" for ending in ENDINGS)
        path, _ = QFileDialog.getOpenFileName(
            self.window(), "Choose a file of vectors", str(self._bench.state.folder), f"Vectors ({kinds})"
        )
        if path:
            self.path.setText(self._relative(Path(path)))
            self.look()

    def _relative(self, path: Path) -> str:
        """The path as a recipe says it: relative where it is in the folder of the project."""
        folder = self._bench.state.folder
        return str(path.relative_to(folder)) if path.is_relative_to(folder) else str(path)

    def look(self) -> None:
        """Read the file, and say what it has for these documents."""
        name, folder, of_documents = self.path.text().strip(), self._bench.state.folder, self._keys
        if not name:
            self._say("")
            return

        def found() -> tuple[KeyedVectors, GivenVectors, list[str]]:
            read = read_vectors(name, folder)
            keys, others = of_documents()
            return read, joined(read, keys, others), keys[:_FIRST_KEYS]

        self._say("Reading the file.")
        self._asker.ask_stoppable(
            "vectors of a file",
            lambda progress: found(),
            lambda told: self._preview(name, *told),
            lambda words: self._say(words, wrong=True),
        )

    def _preview(self, name: str, read: KeyedVectors, found: GivenVectors, mine: list[str]) -> None:
        if self.path.text().strip() != name:
            return
        there = int(found.there.sum())
        words = [f"{amount(len(read.keys), 'vector')} of {amount(read.dimensions, 'dimension')}."]
        if read.key_name:
            words.append(f"The keys come from “{read.key_name}”.")
        words.append(f"{there:,} of {amount(len(found.there), 'document')} have one.")
        for keys, said in (
            (found.unmatched, "no document has this key"),
            (found.twice, "the key occurs twice, and the first counts"),
            (found.not_finite, "not all numbers are finite, or all are 0"),
        ):
            if len(keys):
                some = ", ".join(keys[:_FIRST_KEYS]) + (" …" if len(keys) > _FIRST_KEYS else "")
                words.append(f"{len(keys):,}: {said} ({some}).")
        first = " ".join(f"{float(one):.3g}" for one in read.vectors[0][:_FIRST_NUMBERS])
        words.append(f"The first, {read.keys[0]}: {first} …")
        if not there:
            words.append(f"No key is that of a document. Keys of documents here are {', '.join(mine)} …")
        self._say(" ".join(words), wrong=not there, usable=bool(there) and self._bench.recipe.weigh.vectors != name)

    def _use(self) -> None:
        try:
            self._bench.set("weigh", "vectors", self.path.text().strip())
        except RecipeError as error:
            self._say(error.sentence, wrong=True)
            return
        self.use.hide()
        self.used.emit()
