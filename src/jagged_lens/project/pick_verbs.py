# SPDX-License-Identifier: GPL-3.0-or-later
"""The actions on the pick: make, grow, keep, label, set aside."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np

from jagged_lens.lens import LENS_ROWS, NEIGHBOURS, NGRAMS, Part, Recipe, Results
from jagged_lens.project.document_keys import DocumentKeys
from jagged_lens.project.pick import Picked
from jagged_lens.project.state import ProjectState


class PickVerbs:
    """The verbs of a bench that are about the pick."""

    results: Results
    documents: DocumentKeys
    pick: Picked

    @property
    def state(self) -> ProjectState:
        """The current state, as far as the user can change it."""
        raise NotImplementedError

    @property
    def recipe(self) -> Recipe:
        """The recipe of the lens in front."""
        raise NotImplementedError

    def ready(self, *parts: Part[Any]) -> bool:
        """True if the results of all these parts belong to the recipe as it is now, and so to each other."""
        raise NotImplementedError

    def change(self, state: ProjectState, words: str) -> None:
        """Go on to another state; `words` say in the menu what undo would take back."""
        raise NotImplementedError

    def pick_all(self) -> None:
        """Pick all documents of the lens."""
        self.pick.set(self.documents.lens_rows().tolist())

    def invert_pick(self) -> None:
        """Pick those documents of the lens that are not picked."""
        self.pick.set(np.setdiff1d(self.documents.lens_rows(), np.array(self.pick.rows, np.int64)).tolist())

    def grow_pick(self) -> None:
        """Add the nearest neighbours of every picked document; nothing while neighbours and documents do not belong together."""
        neighbours = self.results.get(NEIGHBOURS)
        if neighbours is None or not self.ready(NEIGHBOURS, LENS_ROWS):
            return
        rows = self.documents.lens_rows()
        inside = np.flatnonzero(np.isin(rows, np.array(self.pick.rows, np.int64)))
        near = neighbours.row[inside, : self.recipe.compare.neighbours]
        self.pick.set((*self.pick.rows, *rows[near[near >= 0]].tolist()), self.pick.reading)

    def pick_documents_of_terms(self) -> None:
        """Pick the documents that hold any of the picked terms."""
        ngrams = self.results.get(NGRAMS)
        if ngrams is not None:
            rows = ngrams.terms.rows_of(set(self.pick.terms)).values()
            held = [ngrams.rows[ngrams.holders(row)[0]] for row in rows]
            self.pick.set(np.unique(np.concatenate(held)).tolist() if held else ())

    def keep_pick(self, name: str) -> None:
        """Keep the pick under a name."""
        self.change(self.state.with_kept(name, self.documents.keys_of(self.pick.rows)), f"keep {name}")

    def pick_kept(self, name: str, within: bool = False) -> None:
        """Pick what was kept under a name, or what of it is picked already."""
        keys = next((one.keys for one in self.state.kept if one.name == name), frozenset())
        rows = self.documents.rows_of(keys)
        self.pick.set(set(rows) & set(self.pick.rows) if within else rows)

    def label_pick(self, name: str, value: str) -> None:
        """Give the picked documents a value of a label of the user's own; "" takes it away."""
        self.change(self.state.with_label(name, self.documents.keys_of(self.pick.rows), value), f"label {name}")

    def set_pick_aside(self, reason: str) -> None:
        """Set the picked documents aside; they stay in the project and can be brought back."""
        self.change(self.state.set_aside(self.documents.keys_of(self.pick.rows), reason), "set aside")

    def bring_back(self, keys: Iterable[str]) -> None:
        """Bring back documents that were set aside, by their keys."""
        self.change(self.state.brought_back(keys), "bring back")
