# SPDX-License-Identifier: GPL-3.0-or-later
"""The actions on the project in front of the user, for any caller: the window, one of its pictures, a script."""

from __future__ import annotations

from collections.abc import Collection, Hashable
from dataclasses import dataclass
from typing import Any

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import ALWAYS, PART, Job, Part, Recipe, name_of
from jagged_lens.project.behind import Behind
from jagged_lens.project.current import Current
from jagged_lens.project.file import Reading
from jagged_lens.project.front import Front
from jagged_lens.project.keeper import Keeper
from jagged_lens.project.pick import Pick
from jagged_lens.project.pick_verbs import PickVerbs
from jagged_lens.project.refreshed import Refreshed
from jagged_lens.project.refreshing import Refreshing
from jagged_lens.project.second import Second
from jagged_lens.project.sending import Sending
from jagged_lens.project.source_verbs import SourceVerbs
from jagged_lens.project.state import History, ProjectState
from jagged_lens.signal import Signal
from jagged_lens.worker import Queue

SHARED = ("from", "key", "text", "title", "labels", "date", "unit")
"""Settings of Gather that all lenses of a project share, since rows are the project's."""


@dataclass(frozen=True)
class Rooms:
    """The components of a project in front of the user. state_changed() when settings changed."""

    current: Current
    pick: Pick
    queue: Queue
    front: Front
    second: Second
    behind: Behind
    refreshing: Refreshing
    sending: Sending
    state_changed: Signal


class Verbs(SourceVerbs, PickVerbs):
    """The verbs of a bench: what can be changed, with undo; the pick; what is computed.

    errors, share, part_changed and settled are those of `Front`. queue: who wants what computed. second: another lens
    to be compared with. behind: the profiles of all lenses. sending:
    texts on their way to a service of vectors.

    Signals: state_changed() when settings changed, refreshed(what) when sources were read again and can be compared with what is
    here, trouble(words, details) for what the user must be told.
    """

    def __init__(self, rooms: Rooms) -> None:
        self._rooms = rooms
        self.current, self.queue, self.second, self.behind = rooms.current, rooms.queue, rooms.second, rooms.behind
        self._front = front = rooms.front
        self._refreshing = rooms.refreshing
        self.sending = rooms.sending
        self.errors, self.share = front.errors, front.share
        self.part_changed, self.settled = front.part_changed, front.settled
        self.state_changed, self.trouble = rooms.state_changed, rooms.queue.trouble
        self.refreshed = rooms.refreshing.refreshed

    @property
    def history(self) -> History:
        """The states that undo and redo lead to."""
        return self.current.history

    @property
    def keeper(self) -> Keeper | None:
        """The keeper that saves the project; None if nothing is kept."""
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
        """The state of the window, saved with the project."""
        return self.current.window

    @property
    def state(self) -> ProjectState:
        """The current state, as far as the user can change it."""
        return self.history.state

    @property
    def recipe(self) -> Recipe:
        """The recipe of the lens in front."""
        return self.state.recipe

    def job(self) -> Job:
        """The current request to the worker: the lens in front."""
        return self.current.job()

    def profile(self, lens: int) -> tuple[float, ...] | None:
        """The shares that come through the steps of a lens; None while they are not known."""
        return self.behind.profile(lens)

    def save(self) -> None:
        """Have the state saved soon."""
        self.current.save()

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
        self.change(self.state.with_stamps(refreshed.stamps), "add what changed")

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
        """True if changed settings are not computed."""
        return self.queue.held

    def set_hold(self, hold: bool) -> None:
        """Hold: settings can be changed without anything being computed; letting go computes."""
        self.queue.hold(hold)
        self.state_changed.emit()
        if not hold:
            self.compute()

    def _changed(self) -> None:
        self.second.follow()
        self.save()
        self.state_changed.emit()
        if self.hold:
            self._front.look_over()
        elif (
            self.job() != self._front.asked
        ):  # what no result depends on, as a decision on a pair, leaves them all alone
            self.compute()

    # What is computed.

    def compute(self, to_the_end: Part[Any] | None = None) -> None:
        """Ask for all results of the lens in front, and for those that are looked at. to_the_end: a part that is wanted as a whole,
        even where it was ended early."""
        self._front.compute(to_the_end)

    def compute_anew(self) -> None:
        """The same, and what failed before is tried again, here and in other lenses."""
        self.queue.forgive()
        self.behind.try_again()
        self._front.compute(anew=True)

    def look_at(self, who: Hashable, parts: tuple[Part[Any], ...]) -> None:
        """Somebody looks at the results of these parts, which come before all others now; at none: looks no more."""
        self._front.look_at(who, parts)

    def decline(self, part: Part[Any]) -> None:
        """Give up a part that is computed on demand; the others go on."""
        self._front.decline(part)

    def demand(self, part: Part[Any]) -> None:
        """Compute a part that was given up after all."""
        self._front.demand(part)

    def declined(self, part: Part[Any]) -> bool:
        """True if a part was given up by hand."""
        return self._front.declined(part)

    @property
    def order(self) -> tuple[Part[Any], ...]:
        """The parts that are wanted, in the order in which they are computed."""
        return self._front.order

    @property
    def working(self) -> bool:
        """True if anything is under way for the lens in front, or sources are being read again."""
        return self._front.working or self._refreshing.working

    def stop(self) -> None:
        """Give up what is under way; the results that were there stay. A map on its way stays as it is by now."""
        if self._front.working and not self._refreshing.working:
            self._front.stop()
        else:
            self.queue.stop_all()

    def enough(self, part: Part[Any]) -> None:
        """Let what there is of a part so far be its result; all others go on."""
        self._front.enough(part)

    def ready(self, *parts: Part[Any]) -> bool:
        """True if the results of all these parts belong to the recipe as it is now, and so to each other."""
        return all(name_of(part) in self._front.fresh for part in parts)

    def grows(self, part: Part[Any]) -> bool:
        """True if a part is under way, and something of it is there."""
        return part in self._front.growing

    def step_ready(self, step: str) -> bool:
        """True if all results of a step belong to the recipe as it is now."""
        return all(part.name in self._front.fresh for part in ALWAYS if part.step == step)

    def step_error(self, step: str) -> JaggedLensError | None:
        """The error in a step; None if there was none."""
        return next((error for name, error in self.errors.items() if PART[name].step == step), None)

    def step_share(self, step: str) -> float | None:
        """The share done of a step under way; None where it is not."""
        names = [part.name for part in ALWAYS if part.step == step]
        if not any(name in self.share for name in names):
            return None
        return sum(1.0 if name in self._front.fresh else self.share.get(name, 0.0) for name in names) / len(names)
