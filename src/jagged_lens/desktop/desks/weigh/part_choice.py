# SPDX-License-Identifier: GPL-3.0-or-later
"""A choice among the kinds of one part of the formula."""

from __future__ import annotations

from collections.abc import Mapping

from jagged_lens.desktop.look.controls import Choice


class PartChoice(Choice):
    """Kinds by their names in words; what is chosen is the kind as a recipe has it."""

    def __init__(self, name: str, words: Mapping[str, tuple[str, str]]) -> None:
        """name: as it is read out. words: of each kind its name and its signs."""
        super().__init__()
        for kind, (said, _) in words.items():
            self.addItem(said, kind)
        self.setAccessibleName(name)
        self.setMinimumContentsLength(7)

    def choose(self, kind: str) -> None:
        """Show a kind as chosen."""
        self.setCurrentIndex(self.findData(kind))
