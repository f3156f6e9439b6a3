# SPDX-License-Identifier: GPL-3.0-or-later
"""The Group desk: the groups, what tells each apart, whether they hold; the tree as a ridge; how many there are; groups against a label."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.group.cards import GroupCards
from jagged_lens.desktop.desks.group.cross import AgainstLabelFace
from jagged_lens.desktop.desks.group.groups import GroupsFace
from jagged_lens.desktop.desks.group.how_many import HowManyFace
from jagged_lens.desktop.desks.group.ridge import RidgeFace
from jagged_lens.desktop.desks.group.terms import TermGroups
from jagged_lens.desktop.look.words import amount
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, QUALITY, TERMS


class GroupDesk(Desk):
    """keep_wanted: the groups are to become a label. term_wanted(row, column): of a document of the lens and a term, how the weight comes
    about. term_chosen(row, shown): a term of the vocabulary was gone to. shown: it is to be shown among all terms."""

    step = "group"
    needs = (CORPUS, TERMS, GROUPING, KEY_TERMS, QUALITY)
    faces = (GroupsFace, RidgeFace, HowManyFace, AgainstLabelFace, TermGroups)
    keep_wanted = pyqtSignal()
    term_wanted = pyqtSignal(int, int)
    term_chosen = pyqtSignal(int, bool)

    def build(self) -> None:
        self.field = self.filter_field("Filter ( / )")
        self.tools.addWidget(self.field)
        self.show_faces()
        self.leaf_row.shown.connect(lambda _: self.take_focus())
        self.unmade(GroupsFace).keep_wanted.connect(self.keep_wanted)
        for face in (self.unmade(GroupsFace), self.unmade(AgainstLabelFace)):
            face.term_wanted.connect(self.term_wanted)
        terms = self.unmade(TermGroups)
        terms.chosen.connect(lambda row: self.term_chosen.emit(row, False))
        terms.wanted.connect(lambda row: self.term_chosen.emit(row, True))
        self.keys = [
            ("↑ ↓", "the next group; its documents become the pick"),
            ("Space", "read"),
            ("M", "groups kept as a label: move the picked documents to another group"),
            ("J, K", "next and previous group, or misfit"),
            ("Arrows", "on the ridge: to the larger branch, its other side, the previous and the next"),
            ("Ctrl+← →", "on the ridge: one group more, one less"),
            ("+ − 0", "on the ridge: zoom in, zoom out, show all"),
            ("← →, Return", "on the curves: another number of groups; take it"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def refresh(self) -> None:
        results = self.bench.results
        grouping, quality = results[GROUPING], results[QUALITY]
        out = int((grouping.group < 0).sum())
        none = f" · {amount(out, 'document')} in no group" if out else ""
        silhouette = f" · silhouette {quality.mean:.3f}" if quality.mean == quality.mean else ""
        settings = self.bench.recipe.group
        wanted = settings.number(int((grouping.group >= 0).sum())) if settings.searched else 0
        fewer = f" · {wanted} requested" if wanted > len(grouping) else ""
        self.figures.setText(
            f"{amount(len(grouping), 'group')} · cohesion {grouping.quality:.3f}{silhouette}{none}{fewer}"
        )

    @property
    def table(self) -> GroupCards:
        """The list of groups."""
        return self.face(GroupsFace).cards

    def step_on(self, by: int) -> None:
        """Next or previous misfit, where they are in front, or group."""
        face = self.front_face
        if isinstance(face, AgainstLabelFace):
            face.step(by)
        elif isinstance(face, GroupsFace):
            face.cards.step(by)

    def offer_groups(self) -> None:
        """Offer the groups that the picked documents can be moved to."""
        face = self.front_face
        if isinstance(face, GroupsFace):
            face.offer_groups()

    def take_focus(self) -> None:
        self.front_face.take_focus()
