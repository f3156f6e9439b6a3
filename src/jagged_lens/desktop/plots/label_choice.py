"""A choice among the labels of the documents."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import QComboBox

from jagged_lens.gather import Label


class LabelChoice(QComboBox):
    """The label that was chosen stays for as long as it is there."""

    def __init__(self, name: str) -> None:
        """name: as it is read out."""
        super().__init__()
        self.setAccessibleName(name)
        self._labels: dict[str, Label] = {}

    @property
    def label(self) -> Label | None:
        """The label that is chosen; None where there is none."""
        return self._labels.get(self.currentText())

    def offer(self, labels: Sequence[Label]) -> None:
        """Offer these labels."""
        names = [label.name for label in labels]
        chosen = self.currentText()
        if names != list(self._labels):
            self.clear()
            self.addItems(names)
            self.setCurrentText(chosen if chosen in names else (names[0] if names else ""))
        self._labels = dict(zip(names, labels, strict=True))
