# SPDX-License-Identifier: GPL-3.0-or-later
"""What goes out of the desk: matrices, the terms with their weights, themes."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMenu, QPushButton
from scipy.sparse import csr_array

from jagged_lens.desktop.desks.saving import save_to
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.export import document_keys, write_named_matrix, write_terms, write_themes
from jagged_lens.lens import CORPUS, SPACE, THEMES_AHEAD
from jagged_lens.project import Shown, theme_names


class Out(QPushButton):
    """A button with a menu; each entry asks for a file or a folder and writes into it what a run would."""

    def __init__(self, bench: Shown) -> None:
        super().__init__("Save")
        self._bench = bench
        set_tip(self, "Save the matrices, the terms with their weights, or the themes")
        menu = QMenu(self)
        menu.addAction("Weights as a matrix (weights.mtx)…", lambda: self._ask("weights.mtx", self.save_weights))
        menu.addAction("Counts as a matrix (counts.mtx)…", lambda: self._ask("counts.mtx", self.save_counts))
        menu.addAction("Terms with their weights (terms.csv)…", lambda: self._ask("terms.csv", self.save_terms))
        self._themes = menu.addAction("Themes, three tables, into a folder…", self._ask_themes)
        menu.aboutToShow.connect(self._enable)
        self.setMenu(menu)

    def _enable(self) -> None:
        assert self._themes is not None
        self._themes.setEnabled(self._bench.results.has(CORPUS, SPACE, THEMES_AHEAD))

    def _ask(self, name: str, save: Callable[[Path], None]) -> None:
        if not self._bench.results.has(CORPUS, SPACE):
            return
        chosen, _ = QFileDialog.getSaveFileName(self.window(), "Save", str(self._bench.state.folder / name))
        if chosen:
            save_to(self, Path(chosen), save)

    def _ask_themes(self) -> None:
        chosen = QFileDialog.getExistingDirectory(self.window(), "Save the themes into", str(self._bench.state.folder))
        if chosen:
            save_to(self, Path(chosen), self.save_themes)

    def save_weights(self, path: Path) -> None:
        """Write the weights in Matrix Market format, and what its rows and columns are beside it."""
        self._save(path, self._bench.results[SPACE].weights, "real")

    def save_counts(self, path: Path) -> None:
        """Write the counts in Matrix Market format, and what its rows and columns are beside it."""
        self._save(path, self._bench.results[SPACE].terms.counts, "integer")

    def _save(self, path: Path, matrix: csr_array, field: str) -> None:
        results = self._bench.results
        terms = results[SPACE].terms
        write_named_matrix(path, matrix, field, document_keys(results[CORPUS], terms), list(terms.terms))

    def save_terms(self, path: Path) -> None:
        """Write all terms with their weights."""
        write_terms(path, self._bench.results[SPACE])

    def save_themes(self, folder: Path) -> None:
        """Write the themes that are looked at into a folder."""
        results = self._bench.results
        terms = results[SPACE].terms
        found = results[THEMES_AHEAD]
        named = theme_names(found, terms.terms, self._bench.state.themes)
        write_themes(folder, found, terms, document_keys(results[CORPUS], terms), named)
