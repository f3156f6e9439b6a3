"""Everything that the user can change, as one immutable state; undo is a list of states."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from pathlib import Path

from jagged_lens.lens import Recipe


@dataclass(frozen=True)
class LensState:
    """One lens: its name and its recipe."""

    name: str
    recipe: Recipe


@dataclass(frozen=True)
class ProjectState:
    """The lenses, which of them is in front, and the folder that relative paths are relative to."""

    lenses: tuple[LensState, ...]
    active: int
    folder: Path

    @property
    def lens(self) -> LensState:
        return self.lenses[self.active]

    @property
    def recipe(self) -> Recipe:
        return self.lens.recipe

    def with_recipe(self, recipe: Recipe) -> ProjectState:
        """This state with another recipe in the lens in front."""
        changed = dataclasses.replace(self.lens, recipe=recipe)
        return dataclasses.replace(self, lenses=(*self.lenses[: self.active], changed, *self.lenses[self.active + 1 :]))


class History:
    """The states that there were, and where we are in them. Each change has words for the menu."""

    def __init__(self, state: ProjectState) -> None:
        self._states: list[tuple[str, ProjectState]] = [("", state)]
        self._at = 0

    @property
    def state(self) -> ProjectState:
        return self._states[self._at][1]

    @property
    def undo_words(self) -> str | None:
        """What undo would take back; None where there is nothing."""
        return self._states[self._at][0] if self._at else None

    @property
    def redo_words(self) -> str | None:
        return self._states[self._at + 1][0] if self._at + 1 < len(self._states) else None

    def change(self, state: ProjectState, words: str) -> bool:
        """Go on to a new state; what was undone before is given up. False where nothing changed."""
        if state == self.state:
            return False
        del self._states[self._at + 1 :]
        self._states.append((words, state))
        self._at += 1
        return True

    def undo(self) -> bool:
        self._at -= bool(self._at)
        return self._at + 1 < len(self._states)

    def redo(self) -> bool:
        if self._at + 1 < len(self._states):
            self._at += 1
            return True
        return False
