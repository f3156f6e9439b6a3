# SPDX-License-Identifier: GPL-3.0-or-later
"""The actions on sources: add, change, remove, view through the lens, take in."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jagged_lens.gather import Source
from jagged_lens.project.opening import absolute
from jagged_lens.project.state import ProjectState


class SourceVerbs:
    """The verbs of a bench that are about sources."""

    @property
    def state(self) -> ProjectState:
        """The current state, as far as the user can change it."""
        raise NotImplementedError

    def change(self, state: ProjectState, words: str) -> None:
        """Go on to another state; `words` say in the menu what undo would take back."""
        raise NotImplementedError

    def compute(self) -> None:
        """Ask for all results of the lens in front."""
        raise NotImplementedError

    def add_source(self, source: Source, taken_from: Path | None = None) -> None:
        """Add a source to the project, for all lenses. taken_from: the folder its relative path is relative to."""
        if taken_from is not None and taken_from != self.state.folder:
            source = absolute(source, taken_from)
        state = self.state
        self.change(state.with_sources((*state.sources, source)), f"add {source.name}")

    def add_sources(self, sources: Sequence[Source]) -> None:
        """Add several sources at once, in one step that undo takes back."""
        if sources:
            self.change(self.state.with_sources((*self.state.sources, *sources)), f"add {len(sources)} sources")

    def place_source(self, source: Source, taken_from: Path | None = None) -> None:
        """See the documents of a source through the lens, without making them documents of the project."""
        if taken_from is not None and taken_from != self.state.folder:
            source = absolute(source, taken_from)
        self.change(self.state.with_placing((*self.state.placing, source)), f"place {source.name}")

    def stop_placing(self) -> None:
        """See no new documents any more."""
        self.change(self.state.with_placing(()), "discard the new documents")

    def take_placed_in(self) -> None:
        """Make the new documents that are seen documents of the project."""
        state = self.state
        taken = state.with_sources((*state.sources, *state.placing)).with_placing(())
        self.change(taken, "add the new documents")

    def change_source(self, number: int, source: Source) -> None:
        """Read a source in another way. Where only a password was corrected, which is no part of the state, it is read again."""
        sources = list(self.state.sources)
        same = sources[number] == source
        sources[number] = source
        self.change(self.state.with_sources(tuple(sources)), f"change {source.name}")
        if same and source.database:
            self.compute()

    def remove_source(self, number: int) -> None:
        """Leave a source out of the project; undo brings it back."""
        sources = self.state.sources
        name = sources[number].name
        self.change(self.state.with_sources(sources[:number] + sources[number + 1 :]), f"remove {name}")
