# SPDX-License-Identifier: GPL-3.0-or-later
"""Suggestions for documents without a value: taken one by one or all above a limit, or refused."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.flow import flowing
from jagged_lens.desktop.look.number_boxes import DecimalBox
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import ShareCell
from jagged_lens.desktop.tables.row_names import by_key
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import CORPUS, SPACE, SUGGESTIONS
from jagged_lens.place import Part, Suggestions
from jagged_lens.project import Shown, refusal, suggested_name

_OPEN, _TAKEN, _REFUSED = "", "taken", "refused"


class Taking(QWidget):
    """chosen(place): the cursor is on a document of the lens (its row there)."""

    chosen = pyqtSignal(int)
    read_wanted = pyqtSignal()

    def __init__(self, bench: Shown) -> None:
        super().__init__()
        self._bench = bench
        self._found: Suggestions | None = None
        self._places: NDArray[np.int64] = np.zeros(0, np.int64)
        self._states: list[str] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.said = muted()
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        self.take = Action("Accept")
        set_tip(self.take, "Give the chosen documents their suggested values")
        self.take.clicked.connect(lambda: self._take(self._chosen()))
        self.refuse = Action("Reject")
        set_tip(self.refuse, "Reject the chosen suggestions; they will not be accepted with the others")
        self.refuse.clicked.connect(self._refuse)
        self.back = Action("Reset")
        set_tip(self.back, "Reset the chosen suggestions to undecided")
        self.back.clicked.connect(self._take_back)
        self.all = Action("Accept all from")
        set_tip(
            self.all,
            "Accept all undecided suggestions with at least this probability",
        )
        self.all.clicked.connect(self._take_all)
        self.limit = DecimalBox()
        self.limit.setRange(0.0, 1.0)
        self.limit.setSingleStep(0.05)
        self.limit.setDecimals(2)
        self.limit.setValue(0.9)
        self.limit.setAccessibleName("Least probability to accept")
        self.limit.valueChanged.connect(lambda _: self._count())
        self.count = muted()
        column.addWidget(flowing(self.take, self.refuse, self.back, self.all, self.limit, self.count))
        self.table = TableView("Suggestions")
        self.table.setProperty(PICKS, True)
        self.table.setItemDelegateForColumn(2, ShareCell(self.table))
        self.table.row_changed.connect(lambda at: self.chosen.emit(int(self._places[at])))
        self.table.read_wanted.connect(lambda _: self.read_wanted.emit())
        column.addWidget(self.table, 1)
        column.addStretch(0)

    def show_suggestions(self, found: Suggestions) -> None:
        """Show the documents without a value, the surest first."""
        self._found = found
        places = np.flatnonzero((found.part == Part.NEW) & (found.suggested >= 0))
        self._places = places = places[np.argsort(-found.probability[places], kind="stable")]
        self.show_state()

    def show_state(self) -> None:
        """Show what was decided of them."""
        found, bench = self._found, self._bench
        if found is None or not bench.results.has(CORPUS, SPACE, SUGGESTIONS):
            return
        places, corpus, rows = self._places, bench.results[CORPUS], bench.results[SPACE].terms.rows
        own = rows[places]
        taken = dict(next((one.values for one in bench.state.labels if one.name == suggested_name(found.label)), ()))
        refused = bench.state.refused
        keys = [corpus.keys[int(row)] for row in own]
        self._states = [
            _TAKEN
            if key in taken
            else _REFUSED
            if refusal(found.label, key, found.values[found.suggested[place]]) in refused
            else _OPEN
            for key, place in zip(keys, places.tolist(), strict=True)
        ]
        states, titles = self._states, corpus.titles.take(own)
        nothing = int(((found.part == Part.NEW) & (found.suggested < 0)).sum())
        none = f" {amount(nothing, 'document')} without any terms get no suggestion." if nothing else ""
        self.said.setText(
            (
                f"{amount(len(places), 'document')} without a value. Accepted suggestions become the label "
                f"“{suggested_name(found.label)}”.{none}"
            )
            if len(places)
            else f"Every document has a value of {found.label}: there is nothing to suggest. New documents often have none.{none}"
        )
        columns = [
            Column("Document", lambda at: titles[at], searched=True, texts=titles),
            Column(
                "Suggested",
                lambda at: found.values[found.suggested[places[at]]],
                found.suggested[places],
                searched=True,
            ),
            Column(
                "Probability",
                lambda at: f"{found.probability[places[at]]:.2f}",
                found.probability[places],
                right=True,
                share=lambda at: float(found.probability[places[at]]),
            ),
            Column(
                "Decided",
                lambda at: states[at],
                np.array([(_OPEN, _TAKEN, _REFUSED).index(state) for state in states]),
                ink=lambda at: {_TAKEN: "verdigris", _REFUSED: "madder"}.get(states[at]),
            ),
        ]
        self.table.show_rows(columns, len(places), 0, by_key(corpus.keys, rows[places]))
        for widget in (self.take, self.refuse, self.back, self.all, self.limit, self.table):
            widget.setVisible(len(places) > 0)
        self._count()

    def filter(self, words: str) -> None:
        """Show only documents and values that have these words."""
        self.table.listed.filter(words)

    def _chosen(self) -> list[int]:
        return [int(self._places[at]) for at in self.table.chosen_rows()]

    def _sure(self) -> list[int]:
        found = self._found
        if found is None:
            return []
        limit = np.float32(self.limit.value())
        return [
            place
            for place, state in zip(self._places.tolist(), self._states, strict=True)
            if state == _OPEN and found.probability[place] >= limit
        ]

    def _count(self) -> None:
        sure = self._sure()
        self.count.setText(f"{len(sure):,}" if len(self._places) else "")
        self.all.setEnabled(bool(sure))

    def _take_all(self) -> None:
        self._take(self._sure())

    def _values(self, places: list[int]) -> list[tuple[str, str]]:
        found, rows = self._found, self._bench.results[SPACE].terms.rows
        assert found is not None
        keys = self._bench.documents.keys_of(int(rows[place]) for place in places)
        return [(key, found.values[found.suggested[place]]) for key, place in zip(keys, places, strict=True)]

    def _take(self, places: list[int]) -> None:
        found = self._found
        if found is not None and places:
            self._bench.change(
                self._bench.state.with_suggestions_taken(found.label, self._values(places)),
                f"take {amount(len(places), 'suggestion')}",
            )

    def _refuse(self) -> None:
        found, places = self._found, self._chosen()
        if found is not None and places:
            self._bench.change(
                self._bench.state.with_suggestions_refused(found.label, self._values(places)),
                f"refuse {amount(len(places), 'suggestion')}",
            )

    def _take_back(self) -> None:
        found, places = self._found, self._chosen()
        if found is not None and places:
            self._bench.change(
                self._bench.state.without_suggestions(found.label, self._values(places)),
                f"reset {amount(len(places), 'suggestion')}",
            )
