# SPDX-License-Identifier: GPL-3.0-or-later
"""The exports of the desk: matrices, the terms with their weights, themes."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget
from scipy.sparse import csr_array

from jagged_lens.desktop.desks.going_out import Piece
from jagged_lens.desktop.saving import save_to
from jagged_lens.export import document_keys, write_named_matrix, write_terms, write_themes
from jagged_lens.lens import CORPUS, SPACE, THEMES_AHEAD
from jagged_lens.project import Shown, theme_names


class Out:
    """Each piece asks for a file or a folder and writes into it what a run would."""

    def __init__(self, bench: Shown, parent: QWidget) -> None:
        self._bench = bench
        self._parent = parent

    def pieces(self) -> list[Piece]:
        """The matrices and the terms, and the themes where there are any."""
        if not self._bench.results.has(CORPUS, SPACE):
            return []
        pieces = [
            Piece("Weights as a matrix (weights.mtx)", lambda: self._ask("weights.mtx", self.save_weights)),
            Piece("Counts as a matrix (counts.mtx)", lambda: self._ask("counts.mtx", self.save_counts)),
            Piece("Terms with their weights (terms.csv)", lambda: self._ask("terms.csv", self.save_terms)),
        ]
        if self._bench.results.has(CORPUS, SPACE, THEMES_AHEAD):
            pieces.append(Piece("Themes, three tables, into a folder", self._ask_themes))
        return pieces

    def _ask(self, name: str, save: Callable[[Path], None]) -> None:
        chosen, _ = QFileDialog.getSaveFileName(self._parent.window(), "Save", str(self._bench.state.folder / name))
        if chosen:
            save_to(self._parent, Path(chosen), save)

    def _ask_themes(self) -> None:
        chosen = QFileDialog.getExistingDirectory(
            self._parent.window(), "Save the themes into", str(self._bench.state.folder)
        )
        if chosen:
            save_to(self._parent, Path(chosen), self.save_themes)

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
