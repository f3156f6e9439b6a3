# SPDX-License-Identifier: GPL-3.0-or-later
"""Two weightings side by side: what ranks highest under the lens's formula, and under another."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QWidget

from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.weigh.formula_words import PARTS, formula
from jagged_lens.desktop.desks.weigh.part_choice import PartChoice
from jagged_lens.desktop.look.cards import heading, muted, muted_line
from jagged_lens.desktop.look.controls import Choice, MainAction
from jagged_lens.desktop.look.flow import Flow
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.plots.two_rankings import TwoRankings
from jagged_lens.explain import Ranking, document_terms, ranked_documents, ranked_terms
from jagged_lens.lens import CORPUS, SPACE, Recipe
from jagged_lens.weigh import VectorSpace, WeighSettings, weigh

_SHOWN = 30
_OF = ("terms of the document", "documents of the term")


class TwoFace(Face):
    """The document is the one that is read; the term the one that was clicked last, or its heaviest."""

    name = "Side by side"
    reads_itself = True
    needs = (CORPUS, SPACE)

    def build(self) -> None:
        self._other: tuple[object, WeighSettings | None, VectorSpace | None] = (None, None, None)
        self._term = -1
        self._row = -1
        row = QHBoxLayout()
        self.of = Choice()
        self.of.addItems(list(_OF))
        self.of.setAccessibleName("What is ranked")
        self.of.activated.connect(self._draw)
        row.addWidget(self.of)
        self.which = muted_line()
        row.addWidget(self.which, 1)
        self.take = MainAction("Use this formula")
        set_tip(self.take, "Use the formula on the right in the lens")
        self.take.clicked.connect(self._take)
        row.addWidget(self.take)
        self.body.addLayout(row)
        line = QWidget()
        heads = Flow()
        line.setLayout(heads)
        self.own = heading("")
        heads.addWidget(self.own)
        heads.addWidget(muted("against"))
        self.choices: dict[str, PartChoice] = {}
        for key, (title, words) in PARTS.items():
            choice = PartChoice(f"The other formula. {title}", words)
            set_tip(choice, title)
            choice.activated.connect(self._draw)
            heads.addWidget(choice)
            self.choices[key] = choice
        self.body.addWidget(line)
        self.picture = TwoRankings()
        self.picture.chosen.connect(self._chosen)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(self.picture)
        area.setAccessibleName("Two weightings side by side")
        self.body.addWidget(area, 1)
        self.hint = muted(
            "Green: higher under the other formula. Red: lower. A number is its rank there. Click to follow it.",
            0.88,
        )
        self.hint.setWordWrap(True)
        self.body.addWidget(self.hint)
        self.bench.pick.changed.subscribe(self._pick_changed)
        for key, kind in (("local", "count"), ("global", "none"), ("length", "L2")):
            self.choices[key].choose(kind)

    def other(self) -> WeighSettings:
        """The settings at the right."""
        return self._with_other().weigh

    def _with_other(self) -> Recipe:
        """The recipe of the lens with the formula at the right."""
        chosen: dict[str, object] = {key: choice.currentData() for key, choice in self.choices.items()}
        return self.bench.recipe.with_settings("weigh", chosen)

    def take_focus(self) -> None:
        """Give the keyboard to the picture."""
        self.picture.setFocus()

    def refresh(self) -> None:
        self.own.setText(formula(self.bench.recipe.weigh))
        self._pick_changed()

    def _pick_changed(self) -> None:
        if not self.isVisible() or not self.bench.results.has(*self.needs):
            return
        self._row = max(self.bench.documents.place_of(self.bench.pick.one), 0)
        self._draw()

    def _draw(self) -> None:
        bench = self.bench
        if not bench.results.has(*self.needs) or not len(bench.results[SPACE].terms.rows):
            return
        space, settings, row, by_term = bench.results[SPACE], self.other(), self._row, self.of.currentIndex() == 1
        self.take.setEnabled(settings != bench.recipe.weigh)
        term = self._term

        def found() -> tuple[Ranking, Ranking, int]:
            known, of, other = self._other
            if known is not space or of != settings or other is None:
                other = weigh(space.terms, settings)
                self._other = (space, settings, other)
            if not by_term:
                return ranked_terms(space, row), ranked_terms(other, row), term
            held = document_terms(space, row).columns
            column = term if 0 <= term < space.weights.shape[1] else int(held[0]) if len(held) else 0
            return ranked_documents(space, column), ranked_documents(other, column), column

        def show(answer: tuple[Ranking, Ranking, int]) -> None:
            own, other, column = answer
            titles, shown, rows = bench.results[CORPUS].titles, space.terms.shown, space.terms.rows

            def name(of: int) -> str:
                return titles[int(rows[of])] if by_term else shown[of]

            def side(one: Ranking) -> list[tuple[int, str, float]]:
                return [
                    (of, name(of), weight)
                    for of, weight in zip(one.of[:_SHOWN].tolist(), one.weights[:_SHOWN].tolist(), strict=True)
                ]

            ranks = [{int(of): at for at, of in enumerate(one.of.tolist())} for one in (own, other)]
            self.which.setText(f"“{shown[column]}”" if by_term else titles[int(rows[row])])
            self.picture.show_rankings(side(own), side(other), *ranks)

        self.asker.ask("two weightings", found, show)

    def _chosen(self, of: int) -> None:
        """From a term to its documents, from a document to its terms."""
        if self.of.currentIndex() == 0:
            self._term = of
            self.of.setCurrentIndex(1)
            self._draw()
        else:
            self.of.setCurrentIndex(0)
            self.bench.pick.set([int(self.bench.results[SPACE].terms.rows[of])])

    def _take(self) -> None:
        self.bench.change(self.bench.state.with_recipe(self._with_other()), "weigh: another formula")
