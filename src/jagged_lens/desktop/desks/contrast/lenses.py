# SPDX-License-Identifier: GPL-3.0-or-later
"""Two lenses: how far they agree, their maps on each other, who moved, how groups flow into groups, pairs that only one lists."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QHBoxLayout

from jagged_lens.contrast import Seen, TwoLenses, two_lenses
from jagged_lens.desktop.desks.by_group import by_group, group_title
from jagged_lens.desktop.desks.contrast.lone_pairs import LonePairs, LonePairsTable, lone_pairs
from jagged_lens.desktop.desks.contrast.movers import Movers
from jagged_lens.desktop.desks.contrast.two_maps import TwoMaps
from jagged_lens.desktop.desks.contrast.words import agreeing, differing
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, Choice, MainAction, TickBox
from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.profile import profile_picture
from jagged_lens.desktop.plots.flows import Block, Flows
from jagged_lens.group import letter
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, LAYOUT, NEIGHBOURS, PAIRS, SPACE, TERMS, THEMES, Part, Results
from jagged_lens.project import differences

_NONE = "choose a lens"


class LensesFace(Face):
    """pair_wanted(first, second): two documents of the lens (their rows there) are to be read in full width."""

    name = "Two lenses"
    reads_itself = True
    needs = (CORPUS, TERMS, SPACE, THEMES, GROUPING, KEY_TERMS, LAYOUT, NEIGHBOURS, PAIRS)
    pair_wanted = pyqtSignal(int, int)
    double_wanted = pyqtSignal()

    def build(self) -> None:
        self._found: TwoLenses | None = None
        self._pairs: LonePairs | None = None
        self._leaves_drawn: set[int] = set()  # leaves that show what was found last
        self._compared: tuple[object, ...] = ()
        self._here = self._there = self.bench.results  # which were compared
        self._words = ""
        row = QHBoxLayout()
        row.addWidget(muted("Compare with"))
        self.other = Choice()
        self.other.setAccessibleName("The other lens")
        self.other.activated.connect(self._choose)
        row.addWidget(self.other)
        self.double = MainAction("Duplicate this lens")
        set_tip(self.double, "Copy this lens, change a setting, and see the effect here (Ctrl+D)")
        self.double.clicked.connect(self.double_wanted)
        row.addWidget(self.double)
        self.state = muted()
        row.addWidget(self.state)
        self.stop = Action("Stop")
        self.stop.clicked.connect(self._stop)
        row.addWidget(self.stop)
        self.body.addLayout(row)
        self.differ = muted()
        self.differ.setWordWrap(True)
        set_tip(self.differ, "Different settings: this lens → the other lens")
        self.figures = muted("", 1.0)
        self.figures.setWordWrap(True)
        set_tip(
            self.figures,
            "Adjusted Rand index: agreement on which pairs of documents are together, corrected for chance. 0: chance; 1: "
            "identical groupings. Maps: rotated, mirrored and scaled to the best fit (Procrustes). The misfit is the "
            "remaining squared distance as a share of the spread of the map.",
        )
        self.leaf_row = LeafRow(["Maps", "Movers", "Flows", "Pairs"], small=True)
        self.lines = TickBox("Lines")
        set_tip(
            self.lines,
            "Lines join each picked document to itself on the other map. With no pick, they show the documents that moved most",
        )
        self.lines.toggled.connect(lambda _: self._draw_lines())
        self.leaf_row.add(self.lines)
        self.maps = TwoMaps()
        self.movers = Movers(self.asker)
        self.flows = Flows()
        self.pairs = LonePairsTable()
        for leaf in (self.maps, self.movers, self.flows, self.pairs):
            self.leaf_row.leaves.addWidget(leaf)
        self.leaf_row.shown.connect(self._leaf_shown)
        row.addWidget(self.leaf_row, 1)
        self.body.addWidget(self.leaf_row.leaves, 1)
        self.body.addWidget(self.figures)
        self.body.addWidget(self.differ)
        self.body.addStretch(0)
        self._connect()

    def _leaf_shown(self, place: int) -> None:
        self.lines.setVisible(place == 0)
        self._draw_leaf()

    def _connect(self) -> None:
        bench = self.bench
        self.maps.picked.connect(self._pick_points)
        self.maps.read_wanted.connect(self._read_point)
        self.movers.chosen.connect(lambda row: bench.pick.set([row]))
        self.movers.read_wanted.connect(self.read)
        self.movers.pair_wanted.connect(self._want_pair)
        self.flows.chosen.connect(self._pick_flow)
        self.pairs.chosen.connect(lambda first, second: bench.pick.set([first, second], first))
        self.pairs.read_wanted.connect(self.read)
        self.pairs.pair_wanted.connect(self._want_pair)
        bench.pick.changed.subscribe(self._show_pick)
        bench.second.changed.subscribe(self._second_changed)
        bench.state_changed.subscribe(self._offer)
        bench.behind.learned.subscribe(self._offer)
        self._offer()

    # Which lens.

    def _offer(self) -> None:
        """The other lenses, each with its profile."""
        state = self.bench.state
        names = [lens.name for at, lens in enumerate(state.lenses) if at != state.active]
        if self.bench.second.name == state.lens.name:
            self.bench.second.choose("")
        self.other.blockSignals(True)
        self.other.clear()
        self.other.addItem(_NONE if names else "there is no other lens")
        for at, lens in enumerate(state.lenses):
            if at != state.active:
                self.other.addItem(QIcon(profile_picture(self.bench.profile(at))), lens.name)
        chosen = self.other.findText(self.bench.second.name) if self.bench.second.name else 0
        self.other.setCurrentIndex(max(chosen, 0))
        self.other.blockSignals(False)
        self.other.setEnabled(bool(names))
        self.double.setVisible(not names)
        set_tip(
            self.other,
            "" if names else "Duplicate the lens (Ctrl+D) and change the copy to compare the two",
        )
        self._second_changed()

    def _choose(self, at: int) -> None:
        self.choose(self.other.itemText(at) if at else "")

    def choose(self, name: str) -> None:
        """Compare with the lens of a name; "": with none."""
        self.bench.second.choose(name)
        self._offer()

    def look(self) -> None:
        super().look()
        second, state = self.bench.second, self.bench.state
        if not second.name and len(state.lenses) > 1 and self.is_made:  # the one behind, or before it
            at = state.active + 1 if state.active + 1 < len(state.lenses) else state.active - 1
            self.choose(state.lenses[at].name)

    def _stop(self) -> None:
        second = self.bench.second
        if second.stopped or second.error is not None:
            second.again()
        else:
            second.stop()

    def _second_changed(self) -> None:
        if not self.is_made:
            return
        second = self.bench.second
        waits = bool(second.name) and not second.ready
        over = second.stopped or second.error is not None
        text = "failed" if second.error else "stopped" if second.stopped else f"computing {second.share:.0%}"
        self.state.setText(text if waits else "")
        set_tip(self.state, str(second.error) if second.error else "")
        self.stop.setVisible(waits)
        self.stop.setText("Compute" if over else "Stop")
        ready = bool(second.name) and second.ready
        if ready:
            number = next(at for at, lens in enumerate(self.bench.state.lenses) if lens.name == second.name)
            self.other.setItemIcon(self.other.currentIndex(), QIcon(profile_picture(self.bench.profile(number))))
        self.leaf_row.leaves.setVisible(ready)
        if not second.name:
            self.differ.setText("")
            self.figures.setText(
                "Choose a second lens to see how the two differ and how far they agree."
                if len(self.bench.state.lenses) > 1
                else "There is only one lens. Duplicate it and change the copy to see how the two differ and how far they agree."
            )
        elif not ready:
            self.figures.setText(str(second.error) if second.error else "Computing the other lens.")
        self._compare()

    def refresh(self) -> None:
        self._compared = ()
        self._compare()

    # What is found.

    def _compare(self) -> None:
        bench, second = self.bench, self.bench.second
        there = second.snapshot
        if there is None or not (self.is_made and self.isVisible() and second.name and bench.results.has(*self.needs)):
            return
        here = bench.results
        if here.keys_of((CORPUS,)) != there.keys_of((CORPUS,)):
            return  # it will be computed on the documents that are here now
        self.differ.setText(differing(differences(here.recipe, there.recipe)))
        parts: tuple[Part[Any], ...] = (GROUPING, NEIGHBOURS, LAYOUT, PAIRS)
        now = (second.name, here.keys_of(parts), there.keys_of(parts))
        if now == self._compared:
            return
        self._compared = now
        measures = (here.recipe.compare.measure, there.recipe.compare.measure)
        seen = [
            Seen(one[SPACE].terms.rows, one[NEIGHBOURS], one[GROUPING], one[LAYOUT].positions, one[PAIRS])
            for one in (here, there)
        ]

        def work() -> tuple[TwoLenses, LonePairs]:
            found = two_lenses(*seen)
            return found, lone_pairs(found, here, there, measures)

        def show(answer: tuple[TwoLenses, LonePairs]) -> None:
            self._found, self._pairs = answer
            self._here, self._there = here, there
            self._show()

        self.asker.ask("two lenses", work, show)

    def _show(self) -> None:
        assert self._found is not None
        self.figures.setText(agreeing(self._found, self._same_label()))
        self._leaves_drawn.clear()
        self._draw_leaf()

    def _draw_leaf(self) -> None:
        """Draw the leaf in front, if it has not been drawn since the two were compared."""
        found, pairs, second = self._found, self._pairs, self.bench.second
        place = self.leaf_row.front
        if (
            found is None
            or pairs is None
            or place in self._leaves_drawn
            or self._here.keys_of(self.needs) != self.bench.results.keys_of(self.needs)  # it is compared anew
        ):
            return
        self._leaves_drawn.add(place)
        corpus, names = self.bench.results[CORPUS], (self.bench.state.lens.name, second.name)
        if place == 0:
            self._show_maps(found, names)
        elif place == 1:
            self.movers.show_movers(found, corpus, self._here, self._there)
            self.movers.filter(self._words)
        elif place == 2:
            self._show_flows(found, names)
        else:
            self.pairs.show_pairs(pairs, corpus, names)
        self._show_pick()

    def _show_maps(self, found: TwoLenses, names: tuple[str, str]) -> None:
        here, there = self._here, self._there
        first, categories = by_group(self.bench, len(here[GROUPING].group))
        second = np.full(len(there[GROUPING].group), -1, np.int64)
        second[found.at_second] = first[found.at_first]
        self.maps.titles[0].setText(f"{names[0]}, in its own groups")
        self.maps.titles[1].setText(f"{names[1]}, turned to match, in the same colours")
        ends = np.column_stack((found.at_first, found.at_second))
        self.maps.show_maps((here[LAYOUT].positions, found.positions), categories, (first, second), ends)

    def _show_flows(self, found: TwoLenses, names: tuple[str, str]) -> None:
        here, there = self._here, self._there
        self.flows.show_flows(
            found.flows,
            [
                Block(letter(group), group_title(self.bench, group), group_colour(group))
                for group in range(len(here[GROUPING]))
            ],
            [Block(letter(group), _title(there, group), group_colour(group)) for group in range(len(there[GROUPING]))],
            names,
        )

    def _same_label(self) -> str:
        """The label by whose values both lenses are grouped; "" where they are not."""
        own, other = self._here.recipe.group, self._there.recipe.group
        return own.label if own.by == other.by == "label" and own.label == other.label else ""

    def summary(self) -> str:
        return "" if self._found is None else f"adjusted Rand {self._found.adjusted_rand:.2f}"

    def filter(self, words: str) -> None:
        self._words = words
        self.movers.filter(words)
        self.pairs.table.listed.filter(words)

    # The pick.

    def _rows(self, side: int) -> NDArray[np.int32]:
        results = self._here if side == 0 else self._there
        return results[SPACE].terms.rows

    def _pick_points(self, side: int, rows: NDArray[np.int64], add: bool) -> None:
        chosen = self._rows(side)[rows].tolist()
        pick = self.bench.pick
        pick.set({*pick.rows, *chosen} if add else chosen, chosen[0] if len(chosen) == 1 else -1)
        if chosen:
            self.reader.wanted.emit(False)

    def _read_point(self, side: int, at: int) -> None:
        self.read_document(int(self._rows(side)[at]))

    def _pick_flow(self, first: int, second: int, add: bool) -> None:
        found = self._found
        if found is None:
            return
        here = self._here[GROUPING].group[found.at_first]
        there = self._there[GROUPING].group[found.at_second]
        inside = ((here == first) | (first < 0)) & ((there == second) | (second < 0)) & (here >= 0) & (there >= 0)
        rows = found.rows[inside].tolist()
        self.bench.pick.set({*self.bench.pick.rows, *rows} if add else rows)
        self.reader.wanted.emit(False)

    def _show_pick(self) -> None:
        if not self.is_made or not self.isVisible() or self._found is None:
            return
        picked = np.array(sorted(self.bench.pick.rows), np.int64)
        reading = self.bench.pick.reading
        rows, cursors = [], []
        for side in (0, 1):
            own = self._rows(side)
            rows.append(np.flatnonzero(np.isin(own, picked)))
            at = np.flatnonzero(own == reading)
            cursors.append(int(at[0]) if len(at) else -1)
        self.maps.show_pick(rows, cursors)
        self._draw_lines()

    def _draw_lines(self) -> None:
        found = self._found
        if found is None or not self.lines.isChecked():
            self.maps.draw_lines(np.zeros(0, np.int64))
            return
        some = np.flatnonzero(np.isin(found.rows, list(self.bench.pick.rows)))
        self.maps.draw_lines(some if len(some) else found.moved[:200])

    def _want_pair(self, first: int, second: int) -> None:
        places = [self.bench.documents.place_of(row) for row in (first, second)]
        if min(places) >= 0:
            self.pair_wanted.emit(*places)

    def take_focus(self) -> None:
        if self.is_made:
            self.other.setFocus()


def _title(results: Results, group: int) -> str:
    grouping = results[GROUPING]
    if grouping.names:
        return grouping.names[group]
    shown = results[TERMS].shown
    return " · ".join(shown[column] for column in results[KEY_TERMS].names(group))
