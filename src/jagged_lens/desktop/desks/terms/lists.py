# SPDX-License-Identifier: GPL-3.0-or-later
"""The vocabulary as a list in a file, and a list as the vocabulary."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMenu

from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.saving import Piece, one_kind
from jagged_lens.lens import TERMS
from jagged_lens.project import Shown
from jagged_lens.terms import write_terms


class Lists(Action):
    """A button with a menu: keep only the terms of a list, use no list."""

    def __init__(self, bench: Shown) -> None:
        super().__init__("List")
        self._bench = bench
        set_tip(self, "Keep only the terms on a list of yours")
        menu = QMenu(self)
        menu.addAction("Keep only the terms of a list…", self._choose_list)
        self._forget = menu.addAction("Use no list", lambda: bench.set("terms", "only-list", ""))
        self.setMenu(menu)

    def show_state(self) -> None:
        """Offer to use no list only where one is used."""
        assert self._forget is not None
        self._forget.setEnabled(bool(self._bench.recipe.terms.only_list))

    def pieces(self) -> list[Piece]:
        """The kept terms, a term a line, or as CSV."""
        terms = self._bench.results[TERMS]
        times = terms.vocabulary.times[terms.kept].tolist()

        def write(path: Path) -> None:
            write_terms(path, terms.terms, times)

        kinds = (*one_kind("Text, a term a line (.txt)", ".txt", write), *one_kind("CSV table (.csv)", ".csv", write))
        return [Piece("The kept terms as a list", "terms", kinds)]

    def _choose_list(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self.window(),
            "Keep only the terms of a list",
            str(self._bench.state.folder),
            "Lists of terms (*.txt *.csv *.tsv);;All files (*)",
        )
        if name:
            self._bench.set("terms", "only-list", name)
