"""The Group desk: the groups, what tells each apart, whether they hold; the tree as a ridge; how many there are; groups against a label."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.group.groups import GroupsFace
from jagged_lens.desktop.desks.group.ridge import RidgeFace
from jagged_lens.desktop.look.words import amount
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, QUALITY, TERMS


class GroupDesk(Desk):
    """keep_wanted: the groups are to become a label. term_wanted(row, column): of a document of the lens and a term, how the weight comes
    about."""

    step = "group"
    needs = (CORPUS, TERMS, GROUPING, KEY_TERMS, QUALITY)
    faces = (GroupsFace, RidgeFace)
    keep_wanted = pyqtSignal()
    term_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self.field = self.filter_field("Filter ( / )")
        self.tools.addWidget(self.field)
        column = self.body
        assert isinstance(column, QVBoxLayout)
        column.addWidget(self.leaf_row)
        column.addWidget(self.leaf_row.leaves, 1)
        self.leaf_row.shown.connect(lambda _: self.take_focus())
        self.unmade(GroupsFace).keep_wanted.connect(self.keep_wanted)
        self.unmade(GroupsFace).term_wanted.connect(self.term_wanted)
        self.keys = [
            ("↑ ↓", "the next group, whose documents are the pick"),
            ("Space", "read"),
            ("M", "groups kept as a label: move the picked documents to another group"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def refresh(self) -> None:
        results = self.bench.results
        grouping, quality = results[GROUPING], results[QUALITY]
        out = int((grouping.group < 0).sum())
        none = f" · {amount(out, 'document')} in none" if out else ""
        silhouette = f" · silhouette {quality.mean:.3f}" if quality.mean == quality.mean else ""
        settings = self.bench.recipe.group
        wanted = settings.number(int((grouping.group >= 0).sum())) if settings.by != "label" else 0
        fewer = f" · {wanted} were asked for" if wanted > len(grouping) else ""
        self.figures.setText(
            f"{amount(len(grouping), 'group')} · {grouping.quality:.3f} tight{silhouette}{none}{fewer}"
        )

    def take_focus(self) -> None:
        self.front_face.take_focus()
