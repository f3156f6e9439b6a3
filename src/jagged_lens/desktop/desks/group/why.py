# SPDX-License-Identifier: GPL-3.0-or-later
"""The reasons why a document is in its group: the terms that tie it there rather than to the next best, and their sum."""

from __future__ import annotations

from PyQt6.QtCore import QRect, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.by_group import group_title
from jagged_lens.desktop.desks.group.words import number
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.group_colours import paint_letter
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.end_bars import EndBars
from jagged_lens.explain import Membership, membership
from jagged_lens.group import letter
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, QUALITY, SPACE, TERMS, THEMES
from jagged_lens.project import Shown

NEEDS = (CORPUS, TERMS, SPACE, THEMES, GROUPING, KEY_TERMS, QUALITY)
_SIDES = 4  # terms for and against that are shown


class Chip(QWidget):
    """The letter of a group on its colour."""

    def __init__(self, scale: float = 1.3) -> None:
        super().__init__()
        self.group = -1
        side = int(self.fontMetrics().height() * scale)
        self.setFixedSize(max(side, 22), side)

    def show_group(self, group: int) -> None:
        """Show another group; -1: nothing."""
        self.group = group
        set_tip(self, f"Group {letter(group)}" if group >= 0 else "")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.group >= 0:
            painter = QPainter(self)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            paint_letter(painter, QRect(0, 0, self.width(), self.height()), self.group)


class WhyHere(QFrame):
    """A card on the document that is read. term_wanted(row, column): how the weight of a term in a document of the lens comes about."""

    term_wanted = pyqtSignal(int, int)

    def __init__(self, bench: Shown, asker: Asker) -> None:
        super().__init__()
        self.setObjectName("card")
        self._bench = bench
        self._asker = asker
        self._told: Membership | None = None
        self._place = -1
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 7, 10, 8)
        column.setSpacing(3)
        row = QHBoxLayout()
        self.document = ElidedLabel()
        self.document.setFont(theme.ui_font(0.95, bold=True))
        row.addWidget(self.document, 1)
        self.copy = Action("Copy")
        set_tip(self.copy, "Copy all terms with their contributions, separated by tabs")
        self.copy.clicked.connect(self._copy)
        row.addWidget(self.copy)
        column.addLayout(row)
        line = QHBoxLayout()
        self.here, self.there = Chip(), Chip()
        self.words = muted()
        self.words.setWordWrap(True)
        line.addWidget(self.here)
        line.addWidget(self.words, 1)
        line.addWidget(self.there)
        column.addLayout(line)
        self.bars = EndBars("What ties it to its group and to the next")
        self.bars.chosen.connect(lambda column, _: self.term_wanted.emit(self._place, column))
        column.addWidget(self.bars)
        column.addStretch(1)
        self._say_nothing()

    def show_document(self, row: int) -> None:
        """Tell of a corpus row; or of nothing, where it is in no group, or there is no other."""
        bench = self._bench
        place = bench.documents.place_of(row) if row >= 0 and bench.results.has(*NEEDS) else -1
        group = int(bench.results[GROUPING].group[place]) if place >= 0 else -1
        other = int(bench.results[QUALITY].next[place]) if place >= 0 else -1
        self._place = place
        if group < 0 or other < 0:
            self._asker.forget("why here")
            self._say_nothing()
            return
        space, themes, grouping = bench.results[SPACE], bench.results[THEMES], bench.results[GROUPING]
        self.document.setText(bench.results[CORPUS].titles[row])
        self._asker.ask("why here", lambda: membership(space, grouping, place, group, other, themes), self._show)

    def _show(self, told: Membership) -> None:
        bench = self._bench
        if not bench.results.has(*NEEDS) or self._place < 0:
            return
        self._told = told
        silhouette = float(bench.results[QUALITY].silhouette[self._place])
        names = [f"{letter(group)} {group_title(bench, group)}" for group in (told.group, told.other)]
        self.here.show_group(told.group)
        self.there.show_group(told.other)
        near = f"{number(told.closeness)} to the centroid of {names[0]}, {number(told.other_closeness)} to that of {names[1]}"
        summed = ". The terms are a reading aid, not a sum" if told.given else ", the sum over the terms"
        side = "closer to its own by" if told.lead >= 0 else "closer to the other by"
        weak = " Weak member: it is closer to the documents of another group." if silhouette < 0 else ""
        self.words.setText(f"{near}: {side} {abs(told.lead):.3f}{summed}.{weak}")
        shown = bench.results[TERMS].shown
        strong = [(int(told.columns[at]), shown[int(told.columns[at])], float(told.values[at])) for at in self._ends()]
        self.bars.show_things(strong)
        for widget in (self.here, self.there, self.bars, self.copy):
            widget.show()

    def _say_nothing(self) -> None:
        """There is nothing to tell: no document is read, or it is in no group, or there is no other."""
        self._told = None
        self.document.setText("")
        for widget in (self.here, self.there, self.bars, self.copy):
            widget.hide()
        self.words.setText("Read a document to see what ties it to its group rather than the next best.")

    def _ends(self) -> list[int]:
        """The places of the terms that speak most for its group, then of those that speak most for the other."""
        assert self._told is not None
        values = self._told.values
        first = [at for at in range(min(_SIDES, len(values))) if values[at] > 0]
        last = [at for at in range(max(len(values) - _SIDES, len(first)), len(values)) if values[at] < 0]
        return first + last

    def _copy(self) -> None:
        clipboard = QApplication.clipboard()
        if self._told is not None and clipboard is not None:
            lines = [f"{name}\t{value:.6f}" for name, value in self._told.named(self._bench.results[TERMS].shown)]
            clipboard.setText("\n".join(["term\tadds", *lines, f"lead\t{self._told.lead:.6f}"]))
