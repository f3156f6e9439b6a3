"""The bench: the plain model behind the window. It holds what the user can change and what is known of the results;
whoever wants to show it subscribes. Everything the window does is a call that a test or a script can make."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Collection, Hashable
from pathlib import Path
from typing import Any

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Corpus
from jagged_lens.lens import (
    ALWAYS,
    CORPUS,
    PART,
    PARTS,
    Began,
    Done,
    Failed,
    Finished,
    Job,
    News,
    Part,
    Recipe,
    Restarted,
    Share,
    Worker,
    name_of,
)
from jagged_lens.project.behind import Behind
from jagged_lens.project.computing import Computing
from jagged_lens.project.document_keys import DocumentKeys
from jagged_lens.project.file import ProjectFile, Reading
from jagged_lens.project.keeper import Keeper
from jagged_lens.project.opening import opened
from jagged_lens.project.pick import Pick
from jagged_lens.project.pick_verbs import PickVerbs
from jagged_lens.project.plain_state import plain
from jagged_lens.project.profile import profile
from jagged_lens.project.refreshed import Refreshed
from jagged_lens.project.refreshing import Refreshing, job_to_refresh
from jagged_lens.project.rescue import rescue
from jagged_lens.project.second import Second
from jagged_lens.project.source_verbs import SourceVerbs
from jagged_lens.project.state import History, ProjectState
from jagged_lens.signal import Signal

SHARED = ("from", "key", "text", "title", "labels", "date", "unit")
"""Settings of Gather that all lenses of a project share, since rows are the project's."""


class Bench(SourceVerbs, PickVerbs):
    """The project in front of the user: what can be changed, with undo; the results, as far as they are known; the pick.

    results, growing, fresh, errors, share, seconds, working, part_changed, settled and trouble are those of `Computing`.
    documents: what hangs on them. hold: while it is True, changed settings are not computed. looks_behind: compute the other
    lenses too, while nothing else is to be done. second: another lens to be compared with.
    keeper: saves the project; None where nothing is kept. reading: a project that is only read, since it cannot
    be written to. passwords: of databases,
    by their address; known to this window alone.

    Signals beside those of `Computing`: state_changed() when settings changed, refreshed(what) when sources were read again and
    can be compared with what is here.
    """

    def __init__(
        self, state: ProjectState, worker: Worker, keeper: Keeper | None = None, reading: Reading | None = None
    ) -> None:
        self.history = History(state)
        self.pick = Pick()
        self.hold = False
        self.looks_behind = True
        self.state_changed = Signal()
        self.refreshed = Signal()
        self.keeper = keeper
        self.reading = reading
        self.passwords: dict[str, str] = {}
        self.window: dict[str, Any] = {}
        self._worker = worker
        self._told_failure = ""
        self._computing = computing = Computing(worker, self.job, self._new_corpus)
        self.results, self.growing, self.fresh = computing.results, computing.growing, computing.fresh
        self.errors, self.share, self.seconds = computing.errors, computing.share, computing.seconds
        self.part_changed, self.settled, self.trouble = computing.part_changed, computing.settled, computing.trouble
        self.documents = DocumentKeys(self.results, lambda: self.state)
        self.second = Second(
            worker, self._job_of_lens, self._look_for_second, lambda: self._hears[1] == self.second.hear
        )
        self.second.changed.subscribe(self._know_second)
        self._behind = Behind(worker)
        self._behind.learned.subscribe(self.state_changed.emit)
        self._refreshing: Refreshing | None = None
        self._resumes = False  # what refreshing has interrupted
        self._ended: Part[Any] | None = None  # what was ended early in the work at hand
        self._asked: Job | None = None  # for what the work at hand was asked
        # Number of the work at hand, and whose it is.
        self._hears: tuple[int, Callable[[News], None]] = (0, computing.hear)

    @property
    def state(self) -> ProjectState:
        """What the user can change, as it is now."""
        return self.history.state

    @property
    def recipe(self) -> Recipe:
        """The recipe of the lens in front."""
        return self.state.recipe

    def job(self, lens: int | None = None) -> Job:
        """What the worker is asked for: the lens in front, or another."""
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

    def _job_of_lens(self, name: str) -> Job | None:
        return next((self.job(at) for at, one in enumerate(self.state.lenses) if one.name == name), None)

    def profile(self, lens: int) -> tuple[float, ...] | None:
        """The shares that come through the steps of a lens; None while they are not known."""
        if lens == self.state.active and len(self.results):
            return profile(self.results)
        return self._behind.known.get(self.job(lens))

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
        self.keeper, self.reading = keeper, reading
        self.window = {}
        self.history = History(state)
        self._forget()
        self.state_changed.emit()
        self.compute()

    def begin(self, keeper: Keeper | None = None) -> None:
        """A new project without documents."""
        folder = self.state.folder
        self.keeper, self.reading, self.window = keeper, None, {}
        self.history = History(dataclasses.replace(opened(None), folder=folder))
        self._forget()
        self.stop()
        self.state_changed.emit()
        for part in PARTS:
            self.part_changed.emit(part)

    def _forget(self) -> None:
        """Other documents are coming: nothing that was known belongs to them."""
        self.pick.forget()
        self._behind.known.clear()
        self._computing.forget()

    def leave(self) -> None:
        """Save the project and let go of it."""
        if self.keeper is not None:
            self.save()
            self.keeper.close(self.worth_keeping, {stamp for _, stamp in self.state.stamps}, seconds=2.0)
            self.keeper = None

    @property
    def worth_keeping(self) -> bool:
        """Whether anything has been done in the project."""
        return len(self.history.states()) > 1

    def save(self) -> None:
        """Have the state saved soon."""
        if self.keeper is not None:
            state = self.state
            self.keeper.save(lambda: plain(state), dict(self.window))

    def save_as(self, path: Path) -> None:
        """Keep the project under another name from now on. ProjectError where that does not work."""
        if self.keeper is None:
            keeper = Keeper(path, True, new=True)
            try:
                self._rescue(keeper.file)
            except JaggedLensError:
                keeper.close()
                raise
            self.keeper, self.reading = keeper, None
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
        self.history.look(self.state.with_stamps(stamps))

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
        sources = self.state.sources
        chosen = {sources[number] for number in (range(len(sources)) if numbers is None else numbers)}
        job = job_to_refresh(self.job(), chosen, failed_only)
        self._resumes |= self._computing.working
        self._computing.working = False
        self._refreshing = Refreshing(self._worker, job, sources)
        self._hears = (self._refreshing.number, self._hear_refreshing)

    def take_in_quietly(self, refreshed: Refreshed) -> None:
        """Note that sources were read again and are the same; nothing to undo."""
        self.history.look(self.state.with_stamps(refreshed.stamps))
        self.save()

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

    def set_hold(self, hold: bool) -> None:
        """Hold: settings can be changed without anything being computed; letting go computes."""
        self.hold = hold
        self.state_changed.emit()
        if not hold:
            self.compute()

    def _know_second(self) -> None:
        """The profile of the second lens is known as soon as it has been computed."""
        if self.second.ready and self.second.job is not None:
            self._behind.known[self.second.job] = profile(self.second.results)

    def _look_for_second(self) -> None:
        if not self.working and self._computing.complete and self.second.lacking and not self.hold:
            self._hears = (self.second.ask(), self.second.hear)

    def _changed(self) -> None:
        self.second.follow()
        self.save()
        self.state_changed.emit()
        if self.hold:
            self._computing.look_over()
        elif self.job() != self._asked:  # what no result depends on, as a decision on a pair, leaves them all alone
            self.compute()

    def compute(self, to_the_end: Part[Any] | None = None) -> None:
        """Ask for all results of the lens in front, and for those that are looked at. to_the_end: a part that is wanted as a whole,
        even where it was ended early."""
        self._computing.begin_anew()
        self._ask(to_the_end)

    def compute_anew(self) -> None:
        """The same, and what failed before is tried again, here and in other lenses."""
        self._behind.try_again()
        self._computing.begin_anew()
        self._ask(anew=True)

    def _ask(self, to_the_end: Part[Any] | None = None, anew: bool = False) -> None:
        self._refreshing, self._resumes, self._ended = None, False, None
        self._asked = self.job()
        self._hears = (self._computing.ask(to_the_end, anew), self._computing.hear)

    def look_at(self, who: Hashable, parts: tuple[Part[Any], ...]) -> None:
        """Somebody looks at the results of these parts, which come before all others now; at none: looks no more."""
        if self._computing.look_at(who, parts):
            self._compute_lacking()

    def decline(self, part: Part[Any]) -> None:
        """Give up a part that is computed on demand; the others go on."""
        self._computing.decline(part)

    def demand(self, part: Part[Any]) -> None:
        """Compute a part that was given up after all."""
        if self._computing.demand(part):
            self._compute_lacking()

    def declined(self, part: Part[Any]) -> bool:
        """Whether a part was given up by hand."""
        return self._computing.declined(part)

    def _compute_lacking(self) -> None:
        if self.state.sources and not self.hold and self._computing.complete and self._refreshing is None:
            self._ask()

    @property
    def order(self) -> tuple[Part[Any], ...]:
        """The parts that are wanted, in the order in which they are computed."""
        return self._computing.order()

    @property
    def working(self) -> bool:
        """Whether anything is under way for the lens in front, or sources are being read again."""
        return self._computing.working or self._refreshing is not None

    def stop(self) -> None:
        """Give up what is under way; the results that were there stay. A map on its way stays as it is by now."""
        self._resumes = False
        early = self._computing.can_end if self._refreshing is None else None
        if early is not None and early is not self._ended:
            self._ended = early
            self._computing.enough(early, alone=True)
        else:
            self._worker.stop()

    def enough(self, part: Part[Any]) -> None:
        """Let what there is of a part so far be its result; all others go on."""
        self._ended = part
        self._computing.enough(part)

    def listen(self) -> None:
        """Take in what the worker has said since the last call."""
        for news in self._worker.news():
            if isinstance(news, Restarted):
                self._hear_restart(news)
            elif news.number == self._hears[0]:
                self._hears[1](news)
                if isinstance(news, Finished):
                    self._look_behind()
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

    def _new_corpus(self, corpus: Corpus) -> None:
        """Other rows are there: the pick is of the same documents still. What was taken in is noted."""
        before = self.results.get(CORPUS)
        if before is not None and len(self.pick):
            wanted = {before.keys[row] for row in self.pick.rows}
            reading = before.keys[self.pick.reading] if self.pick.reading >= 0 else ""
            rows = {key: row for row, key in enumerate(corpus.keys) if key in wanted}
            self.results[CORPUS] = corpus
            self.pick.forget()
            self.pick.set(rows.values(), rows.get(reading, -1))
        else:
            self.pick.forget()
        stamps = dict(zip(self.state.sources, corpus.stamps, strict=False))
        state = self.state.with_stamps(stamps)
        if state != self.state:
            self.history.look(state)
            self.save()

    def _hear_refreshing(self, news: News) -> None:
        assert self._refreshing is not None
        match news:
            case Began() | Share() | Failed():
                self._computing.hear(dataclasses.replace(news, part="") if isinstance(news, Failed) else news)
            case Finished():
                refreshing, self._refreshing = self._refreshing, None
                self.share.clear()
                self.settled.emit()
                if self._resumes:
                    self._ask()
                before = self.results.get(CORPUS)
                if before is not None and (found := refreshing.compared(before)) is not None:
                    self.refreshed.emit(found)
            case Done(result=corpus):
                self._refreshing.corpus = corpus

    def _hear_restart(self, news: Restarted) -> None:
        self._refreshing = None
        if self._hears[1] == self.second.hear:
            self.second.give_up()  # whether it was it that ended the worker is not known
        elif self._hears[1] == self._behind.hear:
            self._behind.hear_restart()
        self._hears = (0, self._computing.hear)
        self._computing.working |= self._resumes
        if self._computing.hear_restart(news):
            self._ask()
        else:
            self._computing.settle(True)
            self._look_behind()

    def _look_behind(self) -> None:
        """Nothing else is to be done: compute what is looked at and lacking, else a lens whose profile is not known. Any change
        goes before it."""
        if self.working or not self._computing.complete:
            return
        if self._computing.lacking and not self.hold:
            self._ask()
            return
        self._behind.known[self.job()] = profile(self.results)
        if self.second.lacking:
            self._look_for_second()
            return
        number = None
        if self.looks_behind:
            number = self._behind.ask(self.job(lens) for lens in range(len(self.state.lenses)))
        if number is not None:
            self._hears = (number, self._behind.hear)
