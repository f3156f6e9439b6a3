# SPDX-License-Identifier: GPL-3.0-or-later
"""The explanation of a pair's similarity: the parts of its number in a bar, and the rule by which they add up."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.look.cards import heading, muted, muted_line
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.bars import PartsBar
from jagged_lens.explain import Contributions

_NAMED = 7


class WhyCard(QFrame):
    """Shows the parts of one similarity. term_wanted(column): the work of a term's weights is to be seen."""

    term_wanted = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("card")
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 10)
        column.setSpacing(5)
        head = QHBoxLayout()
        self.head = heading("", 1.08)
        head.addWidget(self.head)
        self.figures = muted_line()
        head.addWidget(self.figures, 1)
        column.addLayout(head)
        self.bar = PartsBar()
        self._columns: list[int] = []
        self.bar.chosen.connect(lambda at: self.term_wanted.emit(self._columns[at]))
        column.addWidget(self.bar)
        self.most = _Line("Parts")
        self.only = [_Line("Only in the first"), _Line("Only in the second")]
        self.pairs = _Line("Word pairs")
        self.sentences = _Line("Nearest sentences")
        for line in (self.most, self.pairs, self.sentences, *self.only):
            column.addWidget(line)
        self.sum = muted("", 0.88)
        font = self.sum.font()
        font.setItalic(True)
        self.sum.setFont(font)
        self.sum.setWordWrap(True)
        column.addWidget(self.sum)

    def show_parts(
        self, parts: Contributions, shown: Sequence[str], sentences: Sequence[tuple[str, str, float]] = ()
    ) -> None:
        """shown: the terms of the lens, as they are written. sentences: those of both texts that are nearest across, and their similarity."""
        self.show()
        self.sentences.setVisible(bool(sentences))
        self.sentences.show_words([f"“{one}” – “{other}” {value:.2f}" for one, other, value in sentences], 0)
        self.head.setText(f"Why {parts.similarity:.3f}?")
        named = parts.named(shown)
        self._columns = parts.columns[: len(named)].tolist()
        figures, said = how_it_adds_up(parts)
        self.figures.setText(figures)
        self.bar.show_parts(named)
        self.bar.setVisible(not parts.given)
        self.most.show_words([f"{name} {part:.3f}" for name, part in named[:_NAMED]], len(parts.columns))
        self.pairs.setVisible(bool(parts.word_pairs))
        told = [
            f"{shown[one]} {value:.3f}" if one == other else f"{shown[one]}–{shown[other]} {value:.3f}"
            for one, other, value in parts.word_pairs[:_NAMED]
        ]
        rest = parts.total - sum(value for _, _, value in parts.word_pairs[:_NAMED])
        self.pairs.show_words([*told, f"all others {rest:.3f}"], 0)
        for line, columns in zip(self.only, (parts.only_first, parts.only_second), strict=True):
            line.show_words([shown[int(column)] for column in columns[:_NAMED]], len(columns))
        self.most.rename("Shared terms" if parts.given else "Parts")
        self.sum.setText(said if parts.given else f"{said} The parts add up to {parts.total:.4f}.")


def how_it_adds_up(parts: Contributions) -> tuple[str, str]:
    """The parts of the number, and the rule by which they add up, in words."""
    if parts.given:
        figures = f"{amount(len(parts.columns), 'shared term')}, a reading aid and not a sum"
        return figures, "The number comes from vectors made elsewhere, which cannot be split into terms or words."
    if parts.measure == "euclidean":
        figures = (
            f"the squared distance {parts.total:.4f} is the sum over {amount(len(parts.columns), 'term')}; similarity is 1 "
            f"÷ (1 + √{parts.total:.4f})"
        )
        said = "Sum of (weight in the first − weight in the second)² over the terms of both."
    else:
        share = float(parts.values[:6].sum() / parts.total) if parts.total else 0.0
        few = f"; the first six account for {share:.0%} of it" if len(parts.columns) > 6 else ""
        counted = amount(len(parts.columns), "shared term")
        if parts.themes:
            counted = amount(len(parts.columns), "term of the first", "terms of the first")
        figures = f"{counted}{few}"
        said = (
            "Sum of weight(first) × weight(second) over the shared terms, with both documents scaled to length 1."
            if parts.measure == "cosine"
            else "Sum of √(share in the first × share in the second) over shared terms."
        )
    if parts.themes:
        space = "learned vectors" if parts.learned else f"{parts.themes} themes"
        said = (
            f"Sum over the terms of the first: its weight × what the {space} assign to the term in the second, both scaled to length 1."
            if parts.measure == "cosine"
            else f"Sum over all terms: the difference of weights × what the {space} assign to that difference."
        )
    return figures, said


class _Line(QWidget):
    """Only in the first: … – the heaviest terms that one of the two has alone."""

    def __init__(self, text: str) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.label = muted(f"{text}:")
        self.label.setFixedWidth(self.label.fontMetrics().horizontalAdvance("Nearest sentences:") + 14)
        row.addWidget(self.label)
        self.words = ElidedLabel()
        row.addWidget(self.words, 1)

    def rename(self, text: str) -> None:
        """Begin with another name."""
        self.label.setText(f"{text}:")

    def show_words(self, words: list[str], count: int) -> None:
        more = f"  and {count - len(words)} more" if count > len(words) else ""
        self.words.setText((" · ".join(words) + more) if words else "nothing")
