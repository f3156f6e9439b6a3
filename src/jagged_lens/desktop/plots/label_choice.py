# SPDX-License-Identifier: GPL-3.0-or-later
"""Choices among names that come and go: the labels of the documents, the orders that they can stand in."""

from __future__ import annotations

from collections.abc import Sequence

from jagged_lens.desktop.look.controls import Choice
from jagged_lens.gather import Label


class NameChoice(Choice):
    """Keep the chosen ones chosen while they exist."""

    def __init__(self, name: str) -> None:
        """name: as it is read out."""
        super().__init__()
        self.setAccessibleName(name)

    def offer_names(self, names: Sequence[str]) -> None:
        """Offer these names."""
        chosen = self.currentText()
        if [self.itemText(at) for at in range(self.count())] != list(names):
            self.clear()
            self.addItems(names)
            self.setCurrentText(chosen if chosen in names else (names[0] if names else ""))


class LabelChoice(NameChoice):
    """A choice among labels."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self._labels: dict[str, Label] = {}

    @property
    def label(self) -> Label | None:
        """The label that is chosen; None where there is none."""
        return self._labels.get(self.currentText())

    def offer(self, labels: Sequence[Label]) -> None:
        """Offer these labels."""
        self.offer_names([label.name for label in labels])
        self._labels = {label.name: label for label in labels}
