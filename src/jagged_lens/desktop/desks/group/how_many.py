# SPDX-License-Identifier: GPL-3.0-or-later
"""The search for the number of groups. Each number of a range is tried: shown as it comes, and taken by a key or a button."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.group.sweep_words import said, told
from jagged_lens.desktop.desks.group.words import sample_said
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, MainAction, TickBox
from jagged_lens.desktop.look.number_boxes import WholeBox
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.sweep_curves import SweepCurves
from jagged_lens.group import SWEEP as RANGE
from jagged_lens.group import Sweep
from jagged_lens.lens import CORPUS, GROUPING, SPACE, SWEEP, Part

_USUAL = (2, 30)


class HowManyFace(Face):
    name = "How many"
    needs = (CORPUS, SPACE, GROUPING)
    also = (SWEEP,)

    def build(self) -> None:
        self._wanted: tuple[int, ...] = ()
        row = QHBoxLayout()
        row.addWidget(muted("Try from"))
        self.low, self.high = WholeBox(), WholeBox()
        for spin, name in ((self.low, "Fewest groups to try"), (self.high, "Most groups to try")):
            spin.setRange(*RANGE)
            spin.setAccessibleName(name)
            spin.setMinimumHeight(int(self.fontMetrics().height() * 1.7))
        self.low.setValue(_USUAL[0])
        self.high.setValue(_USUAL[1])
        row.addWidget(self.low)
        row.addWidget(muted("to"))
        row.addWidget(self.high)
        row.addWidget(muted("groups"))
        self.try_them = MainAction("Try them")
        set_tip(
            self.try_them,
            (
                "Group all documents, and 20 random subsets of four fifths of them, into each number of groups. Results appear "
                "as they come."
            ),
        )
        self.try_them.clicked.connect(self._try)
        row.addWidget(self.try_them)
        self.flows = TickBox("Flows")
        set_tip(self.flows, "How documents move from the groups of one number to those of the next")
        row.addWidget(self.flows)
        row.addStretch(1)
        self.state = PartState(self.bench, SWEEP, "the numbers of groups")
        row.addWidget(self.state)
        self.body.addLayout(row)
        self.frame = QFrame()
        self.frame.setObjectName("card")
        inside = QVBoxLayout(self.frame)
        inside.setContentsMargins(6, 6, 6, 6)
        self.curves = SweepCurves()
        self.curves.chosen.connect(self._tell)
        self.curves.taken.connect(self._take)
        self.flows.toggled.connect(self.curves.show_flows)
        inside.addWidget(self.curves)
        self.body.addWidget(self.frame, 1)
        self.words = muted("", 1.0)
        self.words.setWordWrap(True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.words.setAccessibleName("Evidence for and against a number of groups")
        theme.tone(self.words, "ink")
        self.words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.body.addWidget(self.words)
        line = QHBoxLayout()
        self.figures = muted("")
        self.figures.setWordWrap(True)
        line.addWidget(self.figures, 1)
        self.take = Action("Use this number")
        set_tip(self.take, "Group the documents into this many (Return on the curves)")
        self.take.clicked.connect(lambda: self._take(self.curves.current))
        line.addWidget(self.take)
        self.body.addLayout(line)
        self.bench.state_changed.subscribe(self.look_again)

    def take_focus(self) -> None:
        """Give the keyboard to the curves."""
        self.curves.setFocus(Qt.FocusReason.OtherFocusReason)

    def summary(self) -> str:
        sweep = self._sweep()
        return f"suggested: {sweep.suggested}" if sweep is not None and sweep.suggested else ""

    def refresh(self) -> None:
        wanted = self.bench.recipe.group.sweep
        if wanted and wanted != self._wanted:
            self.low.setValue(wanted[0])
            self.high.setValue(wanted[1])
        self._wanted = wanted
        self._draw()

    def draw_part(self, part: Part[Any]) -> None:
        self.state.show_state()
        self.state.setVisible(self.state.isVisible() and bool(self.bench.recipe.group.sweep))
        self._draw()

    def _sweep(self) -> Sweep | None:
        """The current state of the results."""
        if not self.bench.recipe.group.sweep:
            return None
        if self.bench.results.has(SWEEP):
            return self.bench.results.get(SWEEP)
        return self.bench.results.growing.get(SWEEP)

    def _draw(self) -> None:
        sweep, wanted = self._sweep(), self.bench.recipe.group.sweep
        known = sweep is not None and len(sweep) > 0
        for widget in (self.take, self.flows):
            widget.setEnabled(known)
        if not wanted:
            self.frame.setVisible(False)
            self.words.setText(
                "Nothing has been tried yet. Each number of groups is tried on all documents and on 20 random subsets. Curves "
                "show cohesion, silhouette and stability. With many documents this takes a while; you can stop it."
            )
            self.figures.setText("")
            return
        self.frame.setVisible(True)
        if sweep is None:
            self.words.setText("Trying the first number…" if self.bench.working else "")
            return
        n = int((self.bench.results[GROUPING].group >= 0).sum()) if GROUPING in self.bench.results else 0
        self.curves.show_sweep(sweep, wanted[0], min(wanted[1], max(n - 1, wanted[0])), self._present())
        complete = self.bench.results.has(SWEEP)
        if complete and not len(sweep):
            self.words.setText(f"There are too few documents to try {wanted[0]} groups or more.")
        else:
            so_far = f"{len(sweep)} of {sweep.of} numbers tried" if sweep.stopped else ""
            how = "" if not so_far else f"{so_far}; stopped. " if complete else f"{so_far} so far. "
            sampled = sample_said(sweep.documents) if 0 < sweep.documents < n else ""
            self.words.setText(how + said(sweep) + sampled)
        self._tell()
        self.say()

    def _present(self) -> int:
        """The number of groups that the lens has."""
        grouping = self.bench.results.get(GROUPING)
        return len(grouping) if grouping is not None else 0

    def _tell(self) -> None:
        sweep = self._sweep()
        if sweep is not None:
            self.figures.setText(told(sweep, self.curves.current))
            self.take.setText(f"Use {self.curves.current} groups" if self.curves.current else "Use this number")

    def _try(self) -> None:
        low, high = sorted((self.low.value(), self.high.value()))
        known = self._sweep()
        same = (low, high) == self.bench.recipe.group.sweep
        if same and self.bench.declined(SWEEP):
            self.bench.demand(SWEEP)
        elif same and known is not None and known.stopped and self.bench.results.has(SWEEP):
            self.bench.compute(to_the_end=SWEEP)
        else:
            self.bench.set("group", "sweep", (low, high))

    def _take(self, groups: int) -> None:
        """Group the documents into so many, in the way that was tried."""
        if not groups:
            return
        settings = self.bench.recipe.group
        by = settings.by if settings.by == "tree" else "k-means"
        changed = self.bench.recipe.with_settings("group", {"by": by, "groups": groups, "group-size": 0})
        self.bench.change(self.bench.state.with_recipe(changed), f"{groups} groups")
