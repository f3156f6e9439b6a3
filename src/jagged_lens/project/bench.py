"""The bench: the plain model behind the window. It holds what the user can change and what is known of the results;
whoever wants to show it subscribes. Everything the window does is a call that a test or a script can make."""

from __future__ import annotations

import dataclasses
from collections.abc import Collection, Hashable
from pathlib import Path
from typing import Any

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import ALWAYS, CORPUS, PART, PARTS, Job, Part, Recipe, name_of
from jagged_lens.project.behind import Behind
from jagged_lens.project.current import Current
from jagged_lens.project.document_keys import DocumentKeys
from jagged_lens.project.file import ProjectFile, Reading
from jagged_lens.project.front import Front
from jagged_lens.project.keeper import Keeper
from jagged_lens.project.opening import opened
from jagged_lens.project.pick import Pick
from jagged_lens.project.pick_verbs import PickVerbs
from jagged_lens.project.refreshed import Refreshed
from jagged_lens.project.refreshing import Refreshing
from jagged_lens.project.rescue import rescue
from jagged_lens.project.second import Second
from jagged_lens.project.source_verbs import SourceVerbs
from jagged_lens.project.state import History, ProjectState
from jagged_lens.signal import Signal
from jagged_lens.worker import Queue, Worker

SHARED = ("from", "key", "text", "title", "labels", "date", "unit")
"""Settings of Gather that all lenses of a project share, since rows are the project's."""


class Bench(SourceVerbs, PickVerbs):
    """The project in front of the user: what can be changed, with undo; the results, as far as they are known; the pick.

    results, growing, fresh, errors, share, seconds, part_changed and settled are those of `Front`. queue: who wants what
    computed. documents: what hangs on them. second: another lens to be compared with. behind: the profiles of all lenses.

    Signals: state_changed() when settings changed, refreshed(what) when sources were read again and can be compared with what is
    here, trouble(words, details) for what the user must be told.
    """

    def __init__(
        self, state: ProjectState, worker: Worker, keeper: Keeper | None = None, reading: Reading | None = None
    ) -> None:
        self.current = Current(state, keeper, reading)
        self.pick = Pick()
        self.state_changed = Signal()
        self.queue = Queue(worker)
        self.front = front = Front(self.queue, self.current, self.pick)
        self.results, self.growing, self.fresh = front.results, front.growing, front.fresh
        self.errors, self.share, self.seconds = front.errors, front.share, front.seconds
        self.part_changed, self.settled, self.trouble = front.part_changed, front.settled, self.queue.trouble
        self.documents = DocumentKeys(self.results, lambda: self.state)
        self.second = Second(self.queue, self.current)
        self.behind = Behind(self.queue, self.current, front, self.second)
        self._refreshing = Refreshing(self.queue, self.current, front)
        self.refreshed = self._refreshing.refreshed
        self._told_failure = ""

    @property
    def history(self) -> History:
        """The states that undo and redo lead to."""
        return self.current.history

    @property
    def keeper(self) -> Keeper | None:
        """What saves the project; None where nothing is kept."""
        return self.current.keeper

    @property
    def reading(self) -> Reading | None:
        """A project that is only read, since it cannot be written to."""
        return self.current.reading

    @property
    def passwords(self) -> dict[str, str]:
        """Passwords of databases by their address; known to this window alone."""
        return self.current.passwords

    @property
    def window(self) -> dict[str, Any]:
        """How the window looked, saved with the project."""
        return self.current.window

    @property
    def state(self) -> ProjectState:
        """What the user can change, as it is now."""
        return self.history.state

    @property
    def recipe(self) -> Recipe:
        """The recipe of the lens in front."""
        return self.state.recipe

    def job(self) -> Job:
        """What the worker is asked for: the lens in front."""
        return self.current.job()

    def profile(self, lens: int) -> tuple[float, ...] | None:
        """The shares that come through the steps of a lens; None while they are not known."""
        return self.behind.profile(lens)

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
        self.current.keeper, self.current.reading, self.current.window = keeper, reading, {}
        self.current.history = History(state)
        self.pick.forget()
        self._refreshing.forget()
        self.behind.forget()
        self.front.forget()
        self.second.follow()

    def leave(self) -> None:
        """Save the project and let go of it."""
        if self.keeper is not None:
            self.save()
            self.keeper.close(self.worth_keeping, {stamp for _, stamp in self.state.stamps}, seconds=2.0)
            self.current.keeper = None

    @property
    def worth_keeping(self) -> bool:
        """Whether anything has been done in the project."""
        return len(self.history.states()) > 1

    def save(self) -> None:
        """Have the state saved soon."""
        self.current.save()

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
            self.trouble.emit(
                f"The documents of {', '.join(lacking)} are not in it: they are read from there again.", ""
            )
        self.current.look(self.state.with_stamps(stamps))

    def set(self, step: str, key: str, value: object) -> None:
        """Change one setting of the lens in front and compute what depends on it. RecipeError where it is not allowed."""
        if step == "gather" and key in SHARED:
            self.change(self.state.with_shared({key: value}), f"{step}: {key}")
            return
        changed = self.recipe.with_setting(step, key, value)
        self.change(self.state.with_recipe(changed), f"{step}: {key}")

    # Sources that are read again.

    def refresh(self, numbers: Collection[int] | None = None, failed_only: bool = False) -> None:
        """Read sources again; `refreshed` then says what is new, changed and gone. Nothing is taken in yet.

        failed_only: of links, fetch those alone that did not come; the others stay as they are.
        """
        self._refreshing.read(numbers, failed_only)

    def take_in_quietly(self, refreshed: Refreshed) -> None:
        """Note that sources were read again and are the same; nothing to undo."""
        self.current.look(self.state.with_stamps(refreshed.stamps))

    def take_in(self, refreshed: Refreshed) -> None:
        """Go over to what was read again."""
        self.change(self.state.with_stamps(refreshed.stamps), "take in what changed")

    def change(self, state: ProjectState, words: str) -> None:
        """Go on to another state; `words` say in the menu what undo would take back."""
        if self.history.change(state, words):
            self._changed()

    def choose_lens(self, lens: int) -> None:
        """Bring another lens to the front."""
        if lens != self.state.active and 0 <= lens < len(self.state.lenses):
            self.history.look(self.state.chosen(lens))
            self._changed()

    def undo(self) -> None:
        """Take the last change back."""
        if self.history.undo_text is not None and self.history.undo():
            self._changed()

    def redo(self) -> None:
        """Do again what was taken back."""
        if self.history.redo():
            self._changed()

    @property
    def hold(self) -> bool:
        """Whether changed settings are not computed."""
        return self.queue.held

    def set_hold(self, hold: bool) -> None:
        """Hold: settings can be changed without anything being computed; letting go computes."""
        self.queue.held = hold
        self.state_changed.emit()
        if not hold:
            self.compute()

    def _changed(self) -> None:
        self.second.follow()
        self.save()
        self.state_changed.emit()
        if self.hold:
            self.front.look_over()
        elif (
            self.job() != self.front.asked
        ):  # what no result depends on, as a decision on a pair, leaves them all alone
            self.compute()

    # What is computed.

    def compute(self, to_the_end: Part[Any] | None = None) -> None:
        """Ask for all results of the lens in front, and for those that are looked at. to_the_end: a part that is wanted as a whole,
        even where it was ended early."""
        self.front.compute(to_the_end)

    def compute_anew(self) -> None:
        """The same, and what failed before is tried again, here and in other lenses."""
        self.queue.forgive()
        self.behind.try_again()
        self.front.compute(anew=True)

    def look_at(self, who: Hashable, parts: tuple[Part[Any], ...]) -> None:
        """Somebody looks at the results of these parts, which come before all others now; at none: looks no more."""
        self.front.look_at(who, parts)

    def decline(self, part: Part[Any]) -> None:
        """Give up a part that is computed on demand; the others go on."""
        self.front.decline(part)

    def demand(self, part: Part[Any]) -> None:
        """Compute a part that was given up after all."""
        self.front.demand(part)

    def declined(self, part: Part[Any]) -> bool:
        """Whether a part was given up by hand."""
        return self.front.declined(part)

    @property
    def order(self) -> tuple[Part[Any], ...]:
        """The parts that are wanted, in the order in which they are computed."""
        return self.front.order

    @property
    def working(self) -> bool:
        """Whether anything is under way for the lens in front, or sources are being read again."""
        return self.front.working or self._refreshing.working

    def stop(self) -> None:
        """Give up what is under way; the results that were there stay. A map on its way stays as it is by now."""
        if self.front.working and not self._refreshing.working:
            self.front.stop()
        else:
            self.queue.stop_all()

    def enough(self, part: Part[Any]) -> None:
        """Let what there is of a part so far be its result; all others go on."""
        self.front.enough(part)

    def listen(self) -> None:
        """Take in what the worker has said since the last call."""
        self.queue.listen()
        failure = self.keeper.failure if self.keeper is not None else ""
        if failure != self._told_failure:
            self._told_failure = failure
            self.trouble.emit(failure or "The project is saved again.", "")

    def ready(self, *parts: Part[Any]) -> bool:
        """Whether the results of all these parts belong to the recipe as it is now, and so to each other."""
        return all(name_of(part) in self.fresh for part in parts)

    def step_ready(self, step: str) -> bool:
        """Whether all results of a step belong to the recipe as it is now."""
        return all(part.name in self.fresh for part in ALWAYS if part.step == step)

    def step_error(self, step: str) -> JaggedLensError | None:
        """What went wrong in a step; None where nothing did."""
        return next((error for name, error in self.errors.items() if PART[name].step == step), None)

    def step_share(self, step: str) -> float | None:
        """The share done of a step under way; None where it is not."""
        names = [part.name for part in ALWAYS if part.step == step]
        if not any(name in self.share for name in names):
            return None
        return sum(1.0 if name in self.fresh else self.share.get(name, 0.0) for name in names) / len(names)
