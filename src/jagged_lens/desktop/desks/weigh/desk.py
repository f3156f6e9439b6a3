# SPDX-License-Identifier: GPL-3.0-or-later
"""The Weigh desk: the formula worked through, two weightings side by side, the matrix as a picture, themes."""

from __future__ import annotations

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.weigh.formula import FormulaFace
from jagged_lens.desktop.desks.weigh.matrix import MatrixFace
from jagged_lens.desktop.desks.weigh.out import Out
from jagged_lens.desktop.desks.weigh.space import SpaceFace
from jagged_lens.desktop.desks.weigh.themes import ThemesFace
from jagged_lens.desktop.desks.weigh.two import TwoFace
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.saving import Piece
from jagged_lens.lens import SPACE, WORDS


class WeighDesk(Desk):
    step = "weigh"
    needs = (SPACE,)
    faces = (FormulaFace, TwoFace, MatrixFace, ThemesFace, SpaceFace)

    def build(self) -> None:
        self.tools.addWidget(self.filter_field("Filter terms ( / )"))
        self.out = Out(self.bench)
        self.show_faces()
        self.leaf_row.shown.connect(lambda _: self.take_focus())
        self.unmade(MatrixFace).cell_wanted.connect(self.show_cell)
        self.keys = [
            ("Ctrl+C", "copy the chosen rows"),
            ("Space", "on the rankings: from a term to its documents"),
            ("← →", "on the scree plot: keep fewer or more themes"),
            ("+ − 0", "on the matrix: zoom in, zoom out, show all; arrows move between cells"),
            ("Return", "on the matrix: work through the cell"),
        ]

    def own_pieces(self) -> list[Piece]:
        return self.out.pieces()

    def refresh(self) -> None:
        space = self.bench.results[SPACE]
        n, m = space.weights.shape
        words = self.bench.results.get(WORDS)
        seldom = (
            f" · {words.seldom:,} words occur too seldom for a vector" if words is not None and words.seldom else ""
        )
        self.figures.setText(
            f"{amount(n, 'document')} × {amount(m, 'term')} · {space.weights.nnz:,} non-zero cells, {space.filled:.2%}{seldom}"
        )

    def show_cell(self, row: int, column: int) -> None:
        """Work through the weight of a term (a column of the space) in a document of the lens."""
        self.bring_up(FormulaFace)
        self.face(FormulaFace).show_cell(row, column)

    def want_space(self, space: str) -> None:
        """Bring up what a space needs that is not known yet: a file or a service of vectors."""
        self.bring_up(SpaceFace)
        self.face(SpaceFace).want(space)

    def take_focus(self) -> None:
        self.front_face.take_focus()
