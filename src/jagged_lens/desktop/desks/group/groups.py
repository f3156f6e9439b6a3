# SPDX-License-Identifier: GPL-3.0-or-later
"""The groups as cards, and the one under the cursor in full with its members."""

from __future__ import annotations

import dataclasses
from typing import Any

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from jagged_lens.desktop.desks.by_group import group_title
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.group import by_hand
from jagged_lens.desktop.desks.group.cards import SORTS, GroupCards, Shown
from jagged_lens.desktop.desks.group.members import MemberTable
from jagged_lens.desktop.desks.group.one_group import OneGroup
from jagged_lens.desktop.desks.group.why import NEEDS, WhyHere
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look.cards import muted, muted_line
from jagged_lens.desktop.look.controls import Choice
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.scrolled import scrolled
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.tables.table_file import rows_of
from jagged_lens.group import Holding
from jagged_lens.lens import CORPUS, GROUPING, HOLDING, KEY_TERMS, QUALITY, SPACE, TERMS, Part
from jagged_lens.project import Rows
from jagged_lens.report import group_of, groups_rows

_TOLD = 3


class GroupsFace(Face):
    """keep_wanted: the groups are to become a label. term_wanted(row, column): how the weight of a term in a document comes about."""

    name = "Groups"
    about_pick = True
    needs = NEEDS
    also = (HOLDING,)
    keep_wanted = pyqtSignal()
    term_wanted = pyqtSignal(int, int)

    def own_words(self) -> str:
        return ""

    def own_rows(self) -> Rows | None:
        """The members of the group that is picked, else all groups."""
        results = self.bench.results
        keys = self.bench.documents.keys_of(self.bench.pick.rows)
        if group_of(keys, results) >= 0 and len(self.members.listed.order):
            return rows_of(self.members)
        return groups_rows(results, self.bench.documents.group_names().given)

    def build(self) -> None:
        row = QHBoxLayout()
        row.addWidget(muted("Sort by"))
        self.sort = Choice()
        self.sort.addItems(SORTS)
        self.sort.setAccessibleName("Sort groups by")
        self.sort.textActivated.connect(lambda name: self.cards.sort_by(name))
        row.addWidget(self.sort)
        self.about = muted_line()
        row.addWidget(self.about, 1)
        self.state = PartState(self.bench, HOLDING, "the stability test")
        row.addWidget(self.state)
        self.body.addLayout(row)
        split = QSplitter(Qt.Orientation.Horizontal)
        split.setChildrenCollapsible(False)
        self.cards = GroupCards()
        self.cards.row_changed.connect(self._pick_group)
        self.cards.clicked.connect(
            lambda _: self._pick_group(self.cards.current_row())
        )  # the one that is told already, too
        self.cards.read_wanted.connect(lambda _: self.read())
        self.cards.dropped.connect(self._drop)
        self.cards.setMinimumWidth(int(self.fontMetrics().averageCharWidth() * 32))
        split.addWidget(self.cards)
        right = QWidget()
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        down = QSplitter(Qt.Orientation.Vertical)
        down.setChildrenCollapsible(False)
        self.one = OneGroup(self.bench, self.asker)
        self.one.group_wanted.connect(self.cards.go_to)
        self.one.keep_wanted.connect(self.keep_wanted)
        self.one.read_wanted.connect(self.read_document)
        down.addWidget(self.one)
        below = QWidget()
        lower = QVBoxLayout(below)
        lower.setContentsMargins(0, 4, 0, 0)
        lower.setSpacing(5)
        self.leaves = LeafRow(["Members", "Why is it here?"], small=True)
        self.members = MemberTable()
        self.members.setProperty(PICKS, True)
        self.members.row_changed.connect(self._read_member)
        self.members.read_wanted.connect(lambda _: self.read())
        self.why = WhyHere(self.bench, self.asker)
        self.why.term_wanted.connect(self.term_wanted)
        for leaf in (self.members, scrolled(self.why)):
            self.leaves.leaves.addWidget(leaf)
        lower.addWidget(self.leaves)
        lower.addWidget(self.leaves.leaves, 1)
        down.addWidget(below)
        down.setSizes([400, 260])
        column.addWidget(down, 1)
        split.addWidget(right)
        split.setSizes([280, 410])
        split.setStretchFactor(0, 2)
        split.setStretchFactor(1, 3)
        self.body.addWidget(split, 1)
        self._shown: object = None
        self._front: frozenset[str] = frozenset()  # the keys of the documents of the group that is shown
        self._front_name = ""  # its value, where groups are those of a label
        self.bench.pick.changed.subscribe(self._follow_pick)
        self.bench.state_changed.subscribe(self.look_again)

    def take_focus(self) -> None:
        """Give the keyboard to the cards."""
        self.cards.setFocus(Qt.FocusReason.OtherFocusReason)

    def filter(self, words: str) -> None:
        self.cards.listed.filter(words)

    def summary(self) -> str:
        quality = self.bench.results.get(QUALITY)
        if quality is None:
            return ""
        weak = int(quality.weak.sum())
        return f"{amount(weak, 'weak member')}" if weak else ""

    def refresh(self) -> None:
        results, names = self.bench.results, self.bench.documents.group_names()
        grouping, quality, key_terms, terms = results[GROUPING], results[QUALITY], results[KEY_TERMS], results[TERMS]
        g = len(grouping)
        weak = np.bincount(grouping.group[quality.weak], minlength=g)
        telling = [
            [
                (terms.shown[column], float(key_terms.inside[group, at] / max(grouping.sizes[group], 1)))
                for at, column in enumerate(key_terms.columns(group)[:_TOLD])
            ]
            for group in range(g)
        ]
        titles = [group_title(self.bench, group) or "no typical terms" for group in range(g)]
        noted = [bool(names.of[group].note) if group in names.of else False for group in range(g)]
        self.cards.takes_documents = bool(by_hand.own_label(self.bench))
        self.cards.show_groups(
            Shown(titles, telling, grouping.sizes, grouping.tightness, quality.groups, self._holding(g), weak, noted)
        )
        waiting = len(names.waiting)
        self.about.setText(
            f"{amount(waiting, 'name')} kept for later: no group here matches {'it' if waiting == 1 else 'them'} any more."
            if waiting
            else ""
        )
        set_tip(self.about, "; ".join(one.name or one.note for one in names.waiting[:20]))
        first, current = not self._front, self._found_again() if g else -1
        self._shown = None
        if g and current != self.cards.current_row():
            self.cards.show_chosen([current])
        self._show_one(current)
        if first:
            self._follow_pick()
        else:  # the group in front stays, wherever a document that is read has gone
            self._show_pick()
        self.say()

    def draw_part(self, part: Part[Any]) -> None:
        """The stability of groups, as it is measured."""
        self.state.show_state()
        self.state.setVisible(self.state.isVisible() and self.bench.recipe.group.holding)
        shown = self.cards.shown
        if shown is not None and self.bench.results.has(*self.needs):
            holding = self._holding(len(shown.titles))
            if len(holding) == len(shown.holding) and not np.array_equal(holding, shown.holding, equal_nan=True):
                self.cards.show_groups(dataclasses.replace(shown, holding=holding))
        if self.one.group >= 0 and self.bench.results.has(*self.needs):
            self.one.show_holding(self._known(len(self.bench.results[GROUPING])))

    def _known(self, g: int) -> Holding | None:
        """The current results on the stability of groups."""
        holding = (
            self.bench.results.get(HOLDING)
            if self.bench.results.has(HOLDING)
            else self.bench.results.growing.get(HOLDING)
        )
        return holding if holding is not None and holding.tries and len(holding.groups) == g else None

    def _holding(self, g: int) -> np.ndarray:
        """The stability of each group; NaN if it is not known."""
        holding = self._known(g)
        return holding.groups if holding is not None else np.full(g, np.nan, np.float32)

    def _found_again(self) -> int:
        """The group of the value that was in front, where groups are those of a label. Else the one with most of the documents of that in
        front, the one under the cursor, or the first."""
        grouping, rows = self.bench.results[GROUPING], self.bench.results[SPACE].terms.rows
        if self._front_name in grouping.names:
            return grouping.names.index(self._front_name)
        if self._front:
            corpus_rows = self.bench.documents.rows_of(self._front)
            own = grouping.group[np.isin(rows, np.array(corpus_rows, np.int64))]
            counts = np.bincount(own[own >= 0], minlength=len(grouping))
            if counts.any():
                return int(counts.argmax())
        current = self.cards.current_row()
        return current if 0 <= current < len(grouping) else 0

    def _show_one(self, group: int) -> None:
        grouping = self.bench.results[GROUPING]
        known = 0 <= group < len(grouping)
        self.one.setVisible(known)
        self.members.setVisible(known)
        if not known:
            self.one.group = -1
            self.members.rows = np.zeros(0, np.int64)
            return
        self.one.show_group(group, self._known(len(grouping)))
        members = self.bench.results[SPACE].terms.rows[grouping.group == group]
        self._front = frozenset(self.bench.documents.keys_of(members.tolist()))
        self._front_name = grouping.names[group] if grouping.names else ""
        if (grouping, group) != self._shown:
            self._shown = (grouping, group)
            results = self.bench.results
            self.members.show_members(results[CORPUS], results[SPACE].terms.rows, grouping, results[QUALITY], group)

    def _pick_group(self, group: int) -> None:
        if not self.bench.results.has(*self.needs):
            return
        rows = self.bench.results[SPACE].terms.rows
        typical = int(rows[self.bench.results[KEY_TERMS].typical[group]])
        self._show_one(group)
        self.bench.pick.set(by_hand.members(self.bench, group), typical)

    def _read_member(self, row: int) -> None:
        self.bench.pick.set([int(self.bench.results[SPACE].terms.rows[self.members.rows[row]])])
        self.reader.wanted.emit(False)

    def _follow_pick(self) -> None:
        """Show the card of the group of what is read, its place among the members, and why it is there."""
        if not self.isVisible() or not self.bench.results.has(*self.needs):
            return
        row = self.bench.pick.one
        group = self.bench.documents.group_of(row)
        if group >= 0 and self.bench.pick.reading >= 0 and group != self.cards.current_row():
            self.cards.show_chosen([group])
            self._show_one(group)
        self._show_pick()

    def _show_pick(self) -> None:
        """Show the place of what is read among the members, and why it is there."""
        if not self.isVisible() or not self.bench.results.has(*self.needs):
            return
        self.why.show_document(self.bench.pick.reading)
        lens_rows = self.bench.results[SPACE].terms.rows
        places = np.flatnonzero(np.isin(lens_rows[self.members.rows], np.array(self.bench.pick.rows, np.int64)))
        if len(places) < len(self.members.rows):
            self.members.show_chosen(places.tolist())

    def _drop(self, group: int) -> None:
        """The members that were dragged go into another group."""
        rows = self.bench.results[SPACE].terms.rows
        by_hand.move(self.bench, [int(rows[self.members.rows[row]]) for row in self.members.chosen_rows()], group)

    def offer_groups(self) -> None:
        """Offer the groups that the picked documents can be moved to, where groups are a label of the user's own."""
        if by_hand.own_label(self.bench) and self.bench.pick.rows and self.one.group >= 0:
            self.one.move_here.showMenu()
