# SPDX-License-Identifier: GPL-3.0-or-later
"""The tree as a ridge, with the line that cuts it and what is known of the branch that is picked."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QSizeF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QVBoxLayout

from jagged_lens.desktop.desks.by_group import group_title
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.group.words import held
from jagged_lens.desktop.desks.part_state import PartState
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted, muted_line
from jagged_lens.desktop.look.controls import Action, Choice
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.drawing_file import Painting, drawn_image
from jagged_lens.desktop.plots.label_choice import LabelChoice
from jagged_lens.desktop.plots.ridge import RidgeCanvas
from jagged_lens.desktop.plots.ridge_view import Bay
from jagged_lens.desktop.plots.telling_bars import TellingBars
from jagged_lens.desktop.saving import Piece, one_kind, picture_kinds
from jagged_lens.desktop.tables.arrangement import folded
from jagged_lens.export import document_keys, write_joins, write_newick
from jagged_lens.group import BREAKS, Ridge, document_frequencies, key_terms, ridge_of
from jagged_lens.lens import CORPUS, GROUPING, HOLDING, KEY_TERMS, RIDGE, SPACE, TERMS, Part
from jagged_lens.strings import fold
from jagged_lens.terms import TermCounts

_LINKAGES = ("single", "complete", "average", "ward")
_TERMS = 6
_NAMED = 2
_MOST_NAMED = 30  # parts of a cut that get a name while it is dragged


class RidgeFace(Face):
    name = "Ridge"
    needs = (CORPUS, TERMS, SPACE, GROUPING, KEY_TERMS)
    also = (RIDGE, HOLDING)

    def build(self) -> None:
        self._ridge: Ridge | None = None
        self._tree: object = None
        self._words = ""
        row = QHBoxLayout()
        row.addWidget(muted("Linkage"))
        self.linkage = Choice()
        self.linkage.addItems(_LINKAGES)
        self.linkage.setAccessibleName("Linkage")
        self.linkage.textActivated.connect(lambda name: self.bench.set("group", "linkage", name))
        row.addWidget(self.linkage)
        self.label_word = muted("Marks")
        row.addWidget(self.label_word)
        self.label = LabelChoice("Label to mark")
        self.label.activated.connect(self._mark)
        row.addWidget(self.label)
        self.about = muted_line(
            "Neighbours join at the depth of the notch between them. Drag the line to cut the tree."
        )
        row.addWidget(self.about, 1)
        self.state = PartState(self.bench, RIDGE, "the tree")
        row.addWidget(self.state)
        self.fit = Action("All")
        set_tip(self.fit, "Show the whole ridge (0); Ctrl and wheel, + and - zoom")
        row.addWidget(self.fit)
        self.body.addLayout(row)
        frame = QFrame()
        frame.setObjectName("card")
        inside = QVBoxLayout(frame)
        inside.setContentsMargins(4, 4, 4, 4)
        self.canvas = RidgeCanvas()
        self.canvas.pointed.connect(self._point)
        self.canvas.chosen.connect(self._choose)
        self.canvas.cut_moved.connect(lambda _: self._name_bays(True))
        self.canvas.cut_set.connect(self._cut)
        self.fit.clicked.connect(self.canvas.fit)
        inside.addWidget(self.canvas)
        self.body.addWidget(frame, 1)
        self._make_card()
        self.bench.pick.changed.subscribe(self._picked)
        self.bench.state_changed.subscribe(self.look_again)

    def _make_card(self) -> None:
        self.card = QFrame()
        self.card.setObjectName("card")
        row = QHBoxLayout(self.card)
        row.setContentsMargins(10, 6, 10, 6)
        left = QVBoxLayout()
        self.branch = muted()
        self.branch.setFont(theme.ui_font(0.98, bold=True))
        self.branch.setWordWrap(True)
        left.addWidget(self.branch)
        self.joined = muted()
        self.joined.setWordWrap(True)
        left.addWidget(self.joined)
        left.addStretch(1)
        row.addLayout(left, 2)
        self.telling = TellingBars()
        row.addWidget(self.telling, 3)
        self.card.hide()
        self.body.addWidget(self.card)

    def take_focus(self) -> None:
        """Give the keyboard to the ridge."""
        self.canvas.setFocus(Qt.FocusReason.OtherFocusReason)

    def filter(self, words: str) -> None:
        """Mark the documents whose title has these words."""
        self._words = words
        ridge = self._ridge
        if ridge is None or not self.bench.results.has(CORPUS, SPACE):
            return
        wanted = fold(words).strip()
        if not wanted:
            self.asker.forget("titles on the ridge")
            self.canvas.show_found(np.zeros(0, np.int64))
            return
        titles = self.bench.results[CORPUS].titles.take(self._leaf_rows(ridge))

        def show(places: NDArray[np.int64]) -> None:
            if self._ridge is ridge:
                self.canvas.show_found(places)
                self.said.emit(f"{amount(len(places), 'title')} found")

        self.asker.ask(
            "titles on the ridge", lambda: np.flatnonzero(folded(titles).lines_with(wanted)).astype(np.int64), show
        )

    def summary(self) -> str:
        ridge = self._ridge
        return f"a tree of {amount(len(ridge), 'document')}" if ridge is not None else ""

    def refresh(self) -> None:
        self.linkage.setCurrentText(self.bench.recipe.group.linkage)
        self.label.offer(self.bench.documents.labels())
        for widget in (self.label, self.label_word):
            widget.setVisible(self.label.count() > 0)
        self._draw()

    def draw_part(self, part: Part[Any]) -> None:
        if part is RIDGE:
            self.state.show_state()
        self._draw()

    def _draw(self) -> None:
        bench = self.bench
        tree = bench.results.get(RIDGE)
        if tree is None or not bench.results.has(*self.needs, RIDGE):
            return
        if tree is not self._tree:
            self._tree, self._ridge = tree, ridge_of(tree)
            self.card.hide()
        ridge, settings, grouping = self._ridge, bench.results.recipe.group, bench.results[GROUPING]
        assert ridge is not None
        rows, titles = self._leaf_rows(ridge), bench.results[CORPUS].titles
        by_tree = settings.by == "tree"
        groups = len(grouping) if by_tree else min(max(len(grouping), 1), max(len(ridge), 1))
        own = grouping.group[tree.rows[tree.order]].astype(np.int64)
        self.canvas.show_ridge(ridge, lambda place: titles[int(rows[place])], own, groups, by_tree)
        self._mark()
        self._name_bays(False)
        if self._words:
            self.filter(self._words)
        self._picked()
        self.say()

    def _leaf_rows(self, ridge: Ridge) -> NDArray[np.int32]:
        """The corpus rows of the leaves, in order."""
        rows: NDArray[np.int32] = self.bench.results[SPACE].terms.rows[ridge.tree.rows[ridge.tree.order]]
        return rows

    def _mark(self) -> None:
        label, ridge = self.label.label, self._ridge
        if label is None or ridge is None or not self.bench.results.has(SPACE):
            self.canvas.show_marks(np.zeros(0, np.int64), lambda place: "")
            return
        codes = label.codes[self._leaf_rows(ridge)]
        counts = np.bincount(codes, minlength=len(label.values))
        rank = np.empty(len(counts), np.int64)
        rank[np.argsort(-counts, kind="stable")] = np.arange(len(counts))
        marks = np.where(codes == label.none, -1, rank[codes])
        self.canvas.show_marks(marks, lambda place: label.values[int(codes[place])])

    def _name_bays(self, moved: bool) -> None:
        """Name the parts of the cut: as the groups are called, where it is theirs. Else by what tells them apart, as it is found out."""
        bench, ridge = self.bench, self._ridge
        if ridge is None or not bench.results.has(*self.needs):
            return
        groups = self.canvas.groups
        starts, number = ridge.parts(groups)
        sizes = np.diff(np.append(starts, len(ridge)))
        grouping = bench.results[GROUPING]
        if bench.results.recipe.group.by == "tree" and groups == len(grouping):
            self.asker.forget("names of bays")
            holding = bench.results.get(HOLDING) if bench.results.has(HOLDING) else None
            known = holding is not None and holding.tries and len(holding.groups) == groups
            values = holding.groups if holding is not None and known else np.full(groups, np.nan)
            self.canvas.show_bays(
                [
                    Bay(
                        int(group),
                        group_title(bench, int(group)),
                        f"{size:,}"
                        + (f" · {held(float(values[group]))} {values[group]:.2f}" if known else " documents"),
                        bool(values[group] < BREAKS),
                    )
                    for group, size in zip(number.tolist(), sizes.tolist(), strict=True)
                ]
            )
            return
        self.canvas.show_bays([])
        terms = bench.results[TERMS]
        largest = np.argsort(-sizes, kind="stable")[:_MOST_NAMED]
        leaves = [ridge.tree.rows[ridge.tree.order[starts[at] : starts[at] + sizes[at]]] for at in largest]

        def show(names: list[str]) -> None:
            if self.canvas.groups != groups or self._ridge is not ridge:
                return
            named = dict(zip(largest.tolist(), names, strict=True))
            self.canvas.show_bays(
                [
                    Bay(int(group), named.get(at, ""), amount(int(sizes[at]), "document"))
                    for at, group in enumerate(number.tolist())
                ]
            )

        self.asker.ask("names of bays", lambda: _named(terms, leaves), show)

    def _cut(self, groups: int) -> None:
        """The line was let go: the lens is grouped by the tree, cut there."""
        bench = self.bench
        changed = bench.recipe.with_settings("group", {"by": "tree", "groups": min(groups, 1000), "group-size": 0})
        bench.change(bench.state.with_recipe(changed), f"cut the tree into {groups}")

    def _point(self, node: int) -> None:
        ridge = self._ridge
        if node < 0 or ridge is None:
            self.said.emit(self.summary())
            return
        sides = ridge.sides(node)
        if sides is not None:
            one, other = (int(ridge.last[side] - ridge.first[side]) + 1 for side in sides)
            self.said.emit(f"{one:,} and {other:,} join at {ridge.height[node]:.3f}")

    def _choose(self, node: int) -> None:
        """Pick the documents of a branch and tell of it."""
        ridge, bench = self._ridge, self.bench
        if ridge is None or not bench.results.has(*self.needs):
            return
        leaves = ridge.leaves(node)
        rows = bench.results[SPACE].terms.rows[leaves]
        bench.pick.set(rows.tolist(), int(rows[0]) if len(rows) == 1 else -1)
        self._show_branch(node)

    def _show_branch(self, node: int) -> None:
        ridge, bench = self._ridge, self.bench
        assert ridge is not None
        leaves = ridge.leaves(node)
        sides, above = ridge.sides(node), int(ridge.above[node])
        words = f"Its two sides join at {ridge.height[node]:.3f}" if sides is not None else "A leaf"
        self.joined.setText(words + (f"; joins the next at {ridge.height[above]:.3f}." if above >= 0 else "."))
        self.branch.setText(f"A branch of {amount(len(leaves), 'document')}" if len(leaves) > 1 else "One document")
        terms = bench.results[TERMS]

        def show(found: list[tuple[str, float, float]]) -> None:
            if self.canvas.current == node and self._ridge is ridge:
                self.telling.show_terms(found)

        self.card.show()
        self.asker.ask("terms of a branch", lambda: _told(terms, leaves), show)

    def _picked(self) -> None:
        """Mark what was picked elsewhere if it is exactly one branch."""
        ridge, bench = self._ridge, self.bench
        if ridge is None or not self.isVisible() or not bench.results.has(*self.needs, RIDGE):
            return
        places = np.flatnonzero(np.isin(self._leaf_rows(ridge), np.array(bench.pick.rows, np.int64)))
        if not len(places):
            self.canvas.show_current(-1)
            self.card.hide()
            return
        node = ridge.node_at(int(places[0]), -1.0)
        while ridge.last[node] < places[-1] and ridge.above[node] >= 0:
            node = int(ridge.above[node])
        whole = ridge.last[node] - ridge.first[node] + 1 == len(places)
        if whole and node != self.canvas.current:
            self.canvas.show_current(node)
            self._show_branch(node)
        elif not whole:
            self.canvas.show_current(-1)
            self.card.hide()

    # What goes out.

    def own_pieces(self) -> list[Piece]:
        pieces = [Piece("This picture", "ridge", picture_kinds(self._painting), self.copy_picture, self._painting)]
        if self.bench.results.has(RIDGE, CORPUS, TERMS):
            results = self.bench.results
            tree = results[RIDGE]

            def newick(path: Path) -> None:
                write_newick(path, tree, document_keys(results[CORPUS], results[TERMS]))

            kinds = (
                *one_kind("Newick (.nwk)", ".nwk", newick),
                *one_kind("CSV table of the joins (.csv)", ".csv", lambda path: write_joins(path, tree)),
            )
            pieces.append(Piece("The tree", "tree", kinds))
        return pieces

    def _painting(self) -> Painting:
        return Painting(QSizeF(self.canvas.size()), self._painted, "Ridge of the tree")

    def _painted(self, painter: QPainter, shapes: bool) -> None:
        painter.fillRect(self.canvas.rect(), theme.colour("paper"))
        self.canvas.paint(painter, shapes)

    def copy_picture(self) -> str:
        """Put the picture on the clipboard; what is said of it."""
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setImage(drawn_image(QSizeF(self.canvas.size()), 2 * self.canvas.width(), self._painted))
        return "The picture was copied."


def _inside(terms: TermCounts, rows: NDArray[np.int32]) -> NDArray[np.bool_]:
    inside = np.zeros(terms.counts.shape[0], np.bool_)
    inside[rows] = True
    return inside


def _named(terms: TermCounts, branches: list[NDArray[np.int32]]) -> list[str]:
    """The first telling terms of each of some sets of documents."""
    everywhere = document_frequencies(terms.counts)
    found = (key_terms(terms.counts, _inside(terms, rows), _NAMED, everywhere)[0] for rows in branches)
    return [" · ".join(terms.shown[int(column)] for column in columns) for columns in found]


def _told(terms: TermCounts, rows: NDArray[np.int32]) -> list[tuple[str, float, float]]:
    """The telling terms of some documents, with their shares inside and outside."""
    n, everywhere = terms.counts.shape[0], document_frequencies(terms.counts)
    columns, _ = key_terms(terms.counts, _inside(terms, rows), _TERMS, everywhere)
    within = document_frequencies(terms.counts[rows][:, columns])
    size, rest = max(len(rows), 1), max(n - len(rows), 1)
    return [
        (terms.shown[int(column)], float(held / size), float((everywhere[column] - held) / rest))
        for column, held in zip(columns, within, strict=True)
    ]
