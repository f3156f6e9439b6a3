# SPDX-License-Identifier: GPL-3.0-or-later
"""The open project: the state with its history, and where it is kept."""

from __future__ import annotations

from typing import Any

from jagged_lens.gather import Corpus, Label, own_labels
from jagged_lens.lens import Job
from jagged_lens.project.file import Reading
from jagged_lens.project.keeper import Keeper
from jagged_lens.project.plain_state import with_pictures
from jagged_lens.project.state import History, ProjectState


class Current:
    """The project in front of the user, without any result of it.

    keeper: saves the project; None where nothing is kept. reading: a project that is only read, since it cannot be written to.
    passwords: of databases, by their address; known to this window alone. window: how the window looked, saved with the project.
    """

    def __init__(self, state: ProjectState, keeper: Keeper | None, reading: Reading | None) -> None:
        self.history = History(state)
        self.keeper = keeper
        self.reading = reading
        self.passwords: dict[str, str] = {}
        self.window: dict[str, Any] = {}
        self._labels: tuple[tuple[object, object], tuple[Label, ...]] = ((None, None), ())

    @property
    def state(self) -> ProjectState:
        """The current state, as far as the user can change it."""
        return self.history.state

    def job(self, lens: int | None = None) -> Job:
        """The current request to the worker: the lens in front, or another."""
        state = self.state
        recipe = state.recipe if lens is None else state.lenses[lens].recipe
        return Job(
            recipe,
            state.folder,
            frozenset(key for key, _ in state.aside),
            tuple((label.name, label.values) for label in state.labels),
            state.stamps,
            self.keeper.file if self.keeper is not None else self.reading,
            tuple(self.passwords.items()),
            forgiving=True,
            placing=state.placing if lens is None else (),
        )

    def job_of(self, name: str) -> Job | None:
        """The job of a lens by its name; None where there is none."""
        return next((self.job(at) for at, one in enumerate(self.state.lenses) if one.name == name), None)

    def labels_of(self, corpus: Corpus) -> tuple[Label, ...]:
        """The labels that came with some documents, then those of the user's own. Made once, whichever picture asks."""
        hung = self.state.labels
        of, known = self._labels
        if of[0] is not corpus or of[1] is not hung:
            own = tuple((label.name, label.values) for label in hung)
            known = (*corpus.labels, *own_labels(corpus.keys, own))
            self._labels = ((corpus, hung), known)
        return known

    def look(self, state: ProjectState) -> None:
        """Go on to another state in which nothing was changed that could be undone."""
        if state != self.state:
            self.history.look(state)
            self.save()

    def save(self) -> None:
        """Have the state saved soon."""
        if self.keeper is not None:
            state = self.state
            self.keeper.save(lambda: with_pictures(state), dict(self.window))
