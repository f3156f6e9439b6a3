# SPDX-License-Identifier: GPL-3.0-or-later
"""The Compare desk: how alike documents are, as pairs, families, from one document, as a grid and as a network; and the reading table."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent

from jagged_lens.desktop.desks.compare.against import AgainstFace
from jagged_lens.desktop.desks.compare.decided import Decided
from jagged_lens.desktop.desks.compare.families import FamiliesFace
from jagged_lens.desktop.desks.compare.grid import GridFace
from jagged_lens.desktop.desks.compare.links import LinksFace
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.compare.review import Review
from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.reading.reading_table import ReadingTable
from jagged_lens.lens import CORPUS, FAMILIES, PAIRS, SPACE, TOKENS, Part
from jagged_lens.project import Shown


class CompareDesk(Desk):
    """reading(bool): the reading table lies over the desk, or not any more. term_wanted(row, column): of a document of the lens and a
    term, how the weight comes about."""

    step = "compare"
    needs = (CORPUS, PAIRS)
    faces = (PairsFace, FamiliesFace, AgainstFace, GridFace, LinksFace)
    reading = pyqtSignal(bool)
    term_wanted = pyqtSignal(int, int)

    def build(self) -> None:
        self.field = self.filter_field("Filter ( / )")
        self.tools.addWidget(self.field)
        self.show_faces()
        self.read_of = Shown(self.bench)  # what is read in full width, of the face that it was opened on
        self.reading_table = ReadingTable(self.read_of, self.asker, self)
        self.decided = Decided(self.bench)
        self.review = Review(self.read_of, self.reading_table, Decided(self.read_of))
        self.leaf_row.shown.connect(lambda _: self.take_focus())
        pairs, families = self.unmade(PairsFace), self.unmade(FamiliesFace)
        pairs.opened.connect(self.open_pair)
        pairs.term_wanted.connect(self.term_wanted)
        families.opened.connect(self.open_family)
        self.unmade(AgainstFace).pair_wanted.connect(partial(self.open_two, of=AgainstFace))
        self.unmade(GridFace).pair_wanted.connect(partial(self.open_two, of=GridFace))
        self.unmade(LinksFace).pair_wanted.connect(partial(self.open_two, of=LinksFace))
        self.unmade(AgainstFace).term_wanted.connect(self.term_wanted)
        table = self.reading_table
        table.closed.connect(self.close_reading)
        table.chosen.connect(self.choose)
        table.member_wanted.connect(self.review.go_to_member)
        table.applied.connect(self.apply)
        self.bench.state_changed.subscribe(self.review.follow)
        self.bench.part_changed.subscribe(self._results_changed)
        self.keys = [
            ("J, K", "next and previous pair"),
            ("Return", "read the pair or family in full width; Esc goes back"),
            ("Space", "read in the reader"),
            ("1, 2", "keep the first, keep the second"),
            ("3, 4", "keep both, decide later"),
            ("U", "undo the last decision"),
            ("← →", "on the distribution: move the limit"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def refresh(self) -> None:
        pairs = self.bench.results[PAIRS]
        n = pairs.documents
        limit = self.bench.recipe.compare.pairs_from
        above = int((pairs.similarity >= limit).sum())
        below = len(pairs) - above
        families = f", in {amount(pairs.families, 'family', 'families')}" if pairs.families else ""
        copies = f" and {amount(below, 'copy', 'copies')} below" if below else ""
        self.figures.setText(f"{n * (n - 1) // 2:,} pairs · {above:,} from {limit:.2f}{copies}{families}")

    # The reading table.

    def open_pair(self, pair: int) -> None:
        """Read a listed pair in full width; J and K go on in the order of the list."""
        if self._hand_on(PairsFace):
            self.review.open_pairs(self.face(PairsFace).table.listed.order, pair)
            self._opened()

    def open_family(self, family: int) -> None:
        """Read a family against its standard."""
        if self._hand_on(FamiliesFace, FAMILIES):
            self.review.open_family(self.read_of.results[FAMILIES], family)
            self._opened()

    def open_two(self, first: int, second: int, of: type[Face] = PairsFace) -> None:
        """Read two documents of the lens that a face shows."""
        if self._hand_on(of):
            self.review.open_two(first, second)
            self._opened()

    def _hand_on(self, of: type[Face], *more: Part[Any]) -> bool:
        """Read from now on what a face shows; False where not all is there."""
        shown = self.unmade(of).bench.results
        if not shown.has(SPACE, TOKENS, PAIRS, *more):
            return False
        self.read_of.show(shown)
        return True

    def _opened(self) -> None:
        self._place_table()
        self.reading.emit(True)

    def close_reading(self) -> bool:
        """Back from the reading table; whether it was open."""
        if not self.review.open:
            return False
        pair = self.review.pair
        self.review.close()
        self.reading.emit(False)
        if pair >= 0:
            self.face(PairsFace).table.go_to(pair)
        self.take_focus()
        return True

    def step_pair(self, by: int) -> None:
        """Next or previous pair, or member of a family."""
        if self.review.open:
            self.review.step(by)
        elif self.leaf_row.front == 0:
            self.face(PairsFace).step(by)

    def choose(self, choice: int) -> None:
        """Decide on what is in front, 1 to 4, and go on to the next."""
        if self.review.open:
            self.review.choose(choice)
            return
        if self.leaf_row.front == 0:
            self.face(PairsFace).choose(choice)

    def take_back(self) -> None:
        """Take the last decision back."""
        self.review.take_back()

    def apply(self) -> None:
        """Set aside what goes by the decisions."""
        self.close_reading()
        self.decided.apply()

    def show_pairs_of_pick(self) -> None:
        """List the pairs of what is picked."""
        self.bring_up(PairsFace)
        self.face(PairsFace).show_pairs_of_pick()

    def show_against(self, row: int) -> None:
        """Compare a document (a corpus row) with all others."""
        self.bring_up(AgainstFace)
        self.face(AgainstFace).show_document(row)

    def take_focus(self) -> None:
        if self.review.open:
            self.reading_table.setFocus()
            return
        self.front_face.take_focus()

    def _results_changed(self, part: Part) -> None:
        if part is PAIRS and self.review.open and not self.bench.ready(PAIRS):
            self.close_reading()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._place_table()

    def _place_table(self) -> None:
        self.reading_table.setGeometry(self.rect())
