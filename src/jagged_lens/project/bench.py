# SPDX-License-Identifier: GPL-3.0-or-later
"""The bench: the plain model behind the window. It holds what the user can change and what is known of the results;
whoever wants to show it subscribes. Everything the window does is a call that a test or a script can make."""

from __future__ import annotations

import dataclasses
from pathlib import Path

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import CORPUS, PARTS
from jagged_lens.project.behind import Behind
from jagged_lens.project.current import Current
from jagged_lens.project.document_keys import DocumentKeys
from jagged_lens.project.file import ProjectFile, Reading
from jagged_lens.project.front import Front
from jagged_lens.project.keeper import Keeper
from jagged_lens.project.opening import opened
from jagged_lens.project.pick import Pick
from jagged_lens.project.refreshing import Refreshing
from jagged_lens.project.rescue import rescue
from jagged_lens.project.second import Second
from jagged_lens.project.sending import Sending
from jagged_lens.project.state import History, ProjectState
from jagged_lens.project.verbs import Rooms, Verbs
from jagged_lens.signal import Signal
from jagged_lens.worker import Queue, Worker


class Bench(Verbs):
    """The project in front of the user: what can be changed, with undo; the results, as far as they are known; the pick.

    results, growing and fresh are those of `Front`: the newest, whether they belong together or not. documents: what hangs on
    them.
    """

    def __init__(
        self, state: ProjectState, worker: Worker, keeper: Keeper | None = None, reading: Reading | None = None
    ) -> None:
        current, pick, queue = Current(state, keeper, reading), Pick(), Queue(worker)
        front, second = Front(queue, current, pick), Second(queue, current)
        behind = Behind(queue, current, front, second)
        super().__init__(
            Rooms(
                current,
                pick,
                queue,
                front,
                second,
                behind,
                Refreshing(queue, current, front),
                Sending(current),
                Signal(),
            )
        )
        self.pick = pick
        self.results, self.growing, self.fresh = front.results, front.growing, front.fresh
        self.documents = DocumentKeys(lambda: self.results, self.current)
        self._told_failure = ""
        self.sending.ended.subscribe(self.compute)

    def open(
        self,
        path: Path,
        keeper: Keeper | None = None,
        state: ProjectState | None = None,
        reading: Reading | None = None,
    ) -> None:
        """Go over to another project. JaggedLensError where it cannot be opened; the present one then stays.

        keeper: of the other project; reading: that project, where it is only read. state: what was opened already. What was
        changed in the present one is saved before it is left.
        """
        state = state or opened(path)
        self.leave()
        self._go_over(state, keeper, reading)
        self.state_changed.emit()
        self.compute()

    def begin(self, keeper: Keeper | None = None) -> None:
        """A new project without documents."""
        self._go_over(dataclasses.replace(opened(None), folder=self.state.folder), keeper, None)
        self.state_changed.emit()
        for part in PARTS:
            self.part_changed.emit(part)

    def _go_over(self, state: ProjectState, keeper: Keeper | None, reading: Reading | None) -> None:
        """Other documents are coming: nothing that was known belongs to them."""
        self.sending.forget()
        self.current.keeper, self.current.reading, self.current.window = keeper, reading, {}
        self.current.history = History(state)
        self._rooms.pick.leave()
        self._refreshing.forget()
        self.behind.forget()
        self._front.forget()
        self.second.follow()

    def leave(self) -> None:
        """Save the project and let go of it."""
        self.sending.forget()
        if self.keeper is not None:
            self.save()
            self.keeper.close(self.worth_keeping, {stamp for _, stamp in self.state.stamps}, seconds=2.0)
            self.current.keeper = None

    @property
    def worth_keeping(self) -> bool:
        """True if anything has been done in the project."""
        return len(self.history.states()) > 1

    def save_as(self, path: Path) -> None:
        """Keep the project under another name from now on. ProjectError where that does not work."""
        if self.keeper is None:
            keeper = Keeper(path, True, new=True)
            try:
                self._rescue(keeper.file)
            except JaggedLensError:
                keeper.close()
                raise
            self.current.keeper, self.current.reading = keeper, None
            self.save()
            keeper.flush()
        else:
            self.save()
            self.keeper.move_to(path, self._rescue)
            self.save()
        if self.working:  # what is computed from now on is kept in the file as it is called now
            self.compute()
        self.state_changed.emit()

    def _rescue(self, file: ProjectFile) -> None:
        """Write into a new project the documents that are here, where no file holds them."""
        corpus = self.results.get(CORPUS)
        stamps = rescue(file, self.state, corpus, self.ready(CORPUS)) if corpus is not None else {}
        if lacking := [source.name for source in self.state.sources if source not in stamps]:
            self.trouble.emit(f"The documents from {', '.join(lacking)} are missing from it and are read again.", "")
        self.current.look(self.state.with_stamps(stamps))

    def listen(self) -> None:
        """Take in what the worker has said since the last call."""
        self.queue.listen()
        self.sending.listen()
        failure = self.keeper.failure if self.keeper is not None else ""
        if failure != self._told_failure:
            self._told_failure = failure
            self.trouble.emit(failure or "The project is saved again.", "")
