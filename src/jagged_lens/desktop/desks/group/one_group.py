# SPDX-License-Identifier: GPL-3.0-or-later
"""One group in full: name and note, figures, whether it holds, its terms, its label, its neighbours, and what can be done with it by hand."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from functools import partial

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QMenu, QScrollArea, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.by_group import group_title
from jagged_lens.desktop.desks.group import by_hand
from jagged_lens.desktop.desks.group.why import Chip
from jagged_lens.desktop.desks.group.words import HOLDING_TIP, holding_said, number
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, Way
from jagged_lens.desktop.look.flow import Flow
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.group_lines import GroupLines
from jagged_lens.desktop.plots.label_choice import LabelChoice
from jagged_lens.desktop.plots.share_bar import ShareBar
from jagged_lens.desktop.plots.telling_bars import TellingBars
from jagged_lens.group import BREAKS, Holding, letter
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, QUALITY, SPACE, TERMS, THEMES
from jagged_lens.project import GroupName, Shown

_TERMS = 8
_STRONGEST = 8
_NEAR = 3
_MOST_IN_MENU = 60

_FOR_MENU = str.maketrans({"&": "&&", "{": "{{", "}": "}}"})


class OneGroup(QScrollArea):
    """group_wanted(group): another one is to be shown. keep_wanted: the groups are to become a label. read_wanted(row): a corpus row."""

    group_wanted = pyqtSignal(int)
    keep_wanted = pyqtSignal()
    read_wanted = pyqtSignal(int)

    def __init__(self, bench: Shown, asker: Asker) -> None:
        super().__init__()
        self._bench = bench
        self._asker = asker
        self.group = -1
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName("The group in full")
        inner = QFrame()
        inner.setObjectName("card")
        column = QVBoxLayout(inner)
        column.setContentsMargins(12, 9, 12, 9)
        column.setSpacing(4)
        self._make_head(column)
        self._make_terms(column)
        self._make_ends(column)
        self._make_label(column)
        self._make_near(column)
        column.addStretch(1)
        self.setWidget(inner)

    def _make_head(self, column: QVBoxLayout) -> None:
        row = QHBoxLayout()
        self.chip = Chip(1.5)
        row.addWidget(self.chip)
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the group")
        self.name.setFont(theme.ui_font(1.08, bold=True))
        set_tip(
            self.name, "Name of the group: type another and press Return. It follows the group through small changes."
        )
        self.name.editingFinished.connect(self._named)
        row.addWidget(self.name, 1)
        column.addLayout(row)
        self.note = QLineEdit()
        self.note.setAccessibleName("Note on the group")
        self.note.setPlaceholderText("Note")
        self.note.editingFinished.connect(self._named)
        column.addWidget(self.note)
        self.figures = muted()
        self.figures.setWordWrap(True)
        column.addWidget(self.figures)
        line = QHBoxLayout()
        self.holding = muted()
        self.holding.setWordWrap(True)
        set_tip(self.holding, HOLDING_TIP)
        line.addWidget(self.holding, 1)
        self.measure = Action("Is it stable?")
        set_tip(self.measure, HOLDING_TIP)
        self.measure.clicked.connect(lambda: self._bench.set("group", "holding", True))
        line.addWidget(self.measure)
        column.addLayout(line)
        tools = Flow()
        self.keep = self._button(
            "Keep groups as a label…", "You can then rename, merge, split and correct them by hand"
        )
        self.keep.clicked.connect(self.keep_wanted)
        self.merge, self.merge_menu = self._menu("Merge into", "Move all its documents to another group")
        self.split, self.split_menu = self._menu("Split", "Split it into two or more groups")
        self.move_here, self.move_menu = self._menu(
            "Move to", "Move the picked documents to another group (M, or drag members onto a card)"
        )
        for button in (self.keep, self.move_here, self.merge, self.split):
            tools.addWidget(button)
        column.addLayout(tools)

    def _button(self, words: str, help_: str) -> Action:
        button = Action(words)
        set_tip(button, help_)
        return button

    def _menu(self, words: str, help_: str) -> tuple[Action, QMenu]:
        button = self._button(words, help_)
        menu = QMenu(button)
        menu.setAccessibleName(words)
        menu.aboutToShow.connect(self._fill_menus)
        button.setMenu(menu)
        return button, menu

    def _make_terms(self, column: QVBoxLayout) -> None:
        column.addWidget(_titled("Typical terms"))
        self.telling = TellingBars()
        self.telling.chosen.connect(self._pick_term)
        column.addWidget(self.telling)
        self.strongest = muted()
        self.strongest.setWordWrap(True)
        set_tip(self.strongest, "Terms with the highest weights in the centroid of the group")
        column.addWidget(self.strongest)

    def _make_ends(self, column: QVBoxLayout) -> None:
        self.typical, self.oddest = Way(), Way()
        for words, button in (("Most typical", self.typical), ("Oddest", self.oddest)):
            line = QHBoxLayout()
            line.addWidget(muted(words))
            button.setMinimumWidth(40)
            line.addWidget(button)
            line.addStretch(1)
            column.addLayout(line)
        self.typical.clicked.connect(lambda: self._read_end(0))
        self.oddest.clicked.connect(lambda: self._read_end(1))

    def _make_label(self, column: QVBoxLayout) -> None:
        line = QHBoxLayout()
        self.label_word = _titled("Values of")
        line.addWidget(self.label_word)
        self.label = LabelChoice("Label whose values are shown")
        self.label.activated.connect(self._show_label)
        line.addWidget(self.label)
        line.addStretch(1)
        column.addLayout(line)
        self.values = ShareBar("Values of the label in the group")
        self.values.chosen.connect(self._pick_value)
        column.addWidget(self.values)

    def _make_near(self, column: QVBoxLayout) -> None:
        self.near_word = _titled("Nearest groups")
        set_tip(self.near_word, "Cosine between the centroids of the groups")
        column.addWidget(self.near_word)
        self.near = GroupLines("Nearest groups")
        self.near.chosen.connect(lambda group, _: self.group_wanted.emit(group))
        column.addWidget(self.near)

    def show_group(self, group: int, holding: Holding | None) -> None:
        """Show a group of those that are there. holding: what is known by now of how they hold."""
        self.group = group
        bench, results = self._bench, self._bench.results
        grouping, quality, key_terms, terms = (
            results[GROUPING],
            results[QUALITY],
            results[KEY_TERMS],
            results[TERMS],
        )
        self.chip.show_group(group)
        given = bench.documents.group_names().of.get(group)
        value = grouping.names[group] if grouping.names else ""
        label = by_hand.own_label(bench)
        _put(self.name, value if label else given.name if given is not None else value)
        self.name.setPlaceholderText(group_title(bench, group))
        _put(self.note, given.note if given is not None else "")
        size, inside = int(grouping.sizes[group]), grouping.group == group
        weak = int((quality.weak & inside).sum())
        self.figures.setText(
            f"{amount(size, 'document')} · cohesion {number(grouping.tightness[group])} · silhouette {number(quality.groups[group])}"
            + (f" · {amount(weak, 'weak member')}" if weak else "")
        )
        set_tip(
            self.figures,
            "Cohesion: mean cosine to the centroid. Silhouette: how much closer its documents are to each other than to "
            "those of the next group, from -1 to 1. Weak members: silhouette below 0.",
        )
        self.show_holding(holding)
        n = len(grouping.group)
        self.telling.show_terms(
            [
                (
                    terms.shown[int(key_terms.terms[group, at])],
                    float(key_terms.inside[group, at] / max(size, 1)),
                    float((key_terms.documents[group, at] - key_terms.inside[group, at]) / max(n - size, 1)),
                )
                for at in range(min(_TERMS, len(key_terms.columns(group))))
            ]
        )
        self.strongest.setText(self._centroid_words(group))
        rows = results[SPACE].terms.rows
        self._ends = tuple(int(rows[ends[group]]) for ends in (key_terms.typical, key_terms.oddest))
        for button, row in zip((self.typical, self.oddest), self._ends, strict=True):
            title = results[CORPUS].titles[row]
            button.setText(button.fontMetrics().elidedText(title, Qt.TextElideMode.ElideRight, 230))
            set_tip(button, f"Read {title}")
            button.setAccessibleName(f"Read {title}")
        self.label.offer(bench.documents.labels())
        for widget in (self.label, self.label_word, self.values):
            widget.setVisible(self.label.count() > 0)
        self._show_label()
        order = np.argsort(-quality.nearness[group], kind="stable")
        nearest = [int(other) for other in order if other != group][:_NEAR]
        self.near_word.setVisible(bool(nearest))
        self.near.show_groups([(one, group_title(bench, one), float(quality.nearness[group, one])) for one in nearest])
        self.keep.setVisible(not label)
        for action in (self.merge, self.split, self.move_here):
            action.setVisible(bool(label))

    def show_holding(self, holding: Holding | None) -> None:
        """Say how the group holds, as far as that is known."""
        settings = self._bench.recipe.group
        told = holding_said(holding, self.group)
        self.holding.setText(told or ("measuring…" if settings.holding and settings.searched else ""))
        breaks = told and holding is not None and holding.groups[self.group] < BREAKS
        theme.tone(self.holding, "madder" if breaks else "muted")
        self.holding.setVisible(bool(self.holding.text()))
        self.measure.setVisible(not settings.holding and settings.searched)

    def _centroid_words(self, group: int) -> str:
        themes = self._bench.results.get(THEMES)
        if themes is not None and themes.of_vectors:
            return ""  # dimensions have no names
        terms, centroid = self._bench.results[TERMS], self._bench.results[GROUPING].centroids[[group]]
        order = np.argsort(-np.abs(centroid.data), kind="stable")[:_STRONGEST]
        if centroid.shape[1] == len(terms.kept):
            names = [terms.shown[int(centroid.indices[at])] for at in order]
        else:
            names = [f"theme {int(centroid.indices[at]) + 1}{' (low)' * bool(centroid.data[at] < 0)}" for at in order]
        return "Highest weights in its centroid: " + ", ".join(names)

    def _show_label(self) -> None:
        label = self.label.label
        rows = np.array(by_hand.members(self._bench, self.group), np.int64)
        self._shown_values = by_hand.values_of(label, rows) if label is not None else []
        self.values.show_parts(self._shown_values)

    def _pick_value(self, at: int) -> None:
        label = self.label.label
        if label is not None:
            value = self._shown_values[at][0]
            rows = by_hand.members(self._bench, self.group)
            self._bench.pick.set(row for row in rows if (label.value(row) or "none") == value)

    def _pick_term(self, at: int) -> None:
        results = self._bench.results
        column = int(results[KEY_TERMS].terms[self.group, at])
        self._bench.pick.set_terms([results[TERMS].terms[column]])

    def _read_end(self, end: int) -> None:
        self.read_wanted.emit(self._ends[end])

    def _named(self) -> None:
        """Take what stands in the fields, where it is another name or note."""
        bench, group = self._bench, self.group
        if group < 0 or not bench.results.has(GROUPING):
            return
        given = bench.documents.group_names().of.get(group)
        name, note = " ".join(self.name.text().split()), " ".join(self.note.text().split())
        grouping = bench.results[GROUPING]
        if by_hand.own_label(bench):
            if name and name != grouping.names[group]:
                by_hand.rename(bench, group, name)
                return
            name = ""
        elif grouping.names and name == grouping.names[group]:
            name = ""
        before = (given.name, given.note) if given is not None else ("", "")
        if (name, note) != before:
            keys = frozenset(bench.documents.keys_of(by_hand.members(bench, group)))
            bench.change(
                bench.state.with_group_named(given, GroupName(name, note, keys)), f"name group {letter(group)}"
            )

    def _offer(self, menu: QMenu, act: Callable[[int], None], words: str = "{}") -> None:
        """All other groups in a menu. The letter of each is its key. words: what is said of each, with its letter and title in them."""
        others = (other for other in range(len(self._bench.results[GROUPING])) if other != self.group)
        for other in itertools.islice(others, _MOST_IN_MENU):
            title = group_title(self._bench, other).replace("&", "&&")
            menu.addAction(words.format(f"&{letter(other)}  {title}"), partial(act, other))

    def _fill_menus(self) -> None:
        """Offer the groups that are there."""
        bench = self._bench
        for menu in (self.merge_menu, self.move_menu, self.split_menu):
            menu.clear()
        if GROUPING not in bench.results or not 0 <= self.group < len(bench.results[GROUPING]):
            return
        rows = tuple(bench.pick.rows)
        own = f"{letter(self.group)}  {group_title(bench, self.group)}".translate(_FOR_MENU)
        self._offer(self.merge_menu, lambda other: by_hand.merge(bench, self.group, other), f"{own}  into  {{}}")
        self._offer(self.move_menu, lambda other: by_hand.move(bench, rows, other))
        self.move_menu.setEnabled(bool(rows))
        apart = self.split_menu.addAction("The &picked documents separately")
        assert apart is not None
        inside = len(set(rows) & set(by_hand.members(bench, self.group)))
        apart.setEnabled(0 < inside < int(bench.results[GROUPING].sizes[self.group]))
        apart.triggered.connect(lambda: by_hand.split_picked(bench, self.group))
        for parts in range(2, 7):
            action = self.split_menu.addAction(f"Into &{parts} by k-means")
            assert action is not None
            action.setEnabled(int(bench.results[GROUPING].sizes[self.group]) >= parts)
            action.triggered.connect(partial(by_hand.split_into, bench, self._asker, self.group, parts))


def _put(field: QLineEdit, text: str) -> None:
    """Show a text in a field, unless it is being typed over."""
    if field.text() != text and not (field.hasFocus() and field.isModified()):
        field.setText(text)


def _titled(text: str) -> QWidget:
    title = muted(text)
    title.setFont(theme.ui_font(0.92, bold=True))
    return title
