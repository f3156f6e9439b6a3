"""The bench: the plain model behind the window. It holds what the user can change and what is known of the results;
whoever wants to show it subscribes. Everything the window does is a call that a test or a script can make."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import (
    PARTS,
    Began,
    Done,
    Failed,
    Finished,
    Job,
    News,
    Planned,
    Recipe,
    Restarted,
    Share,
    Worker,
    read_recipe,
)
from jagged_lens.project.pick import Pick
from jagged_lens.project.state import History, LensState, ProjectState
from jagged_lens.signal import Signal

_STEP = {part.name: part.step for part in PARTS}
_MOST_DEATHS = 2


def opened(path: Path | None) -> ProjectState:
    """The project that a path means: a recipe (.toml), or a table, a text file or a folder with the default recipe."""
    if path is None:
        return ProjectState((LensState("First lens", Recipe()),), 0, Path.cwd())
    path = path.expanduser().absolute()
    if path.suffix.lower() == ".toml":
        return ProjectState((LensState("First lens", read_recipe(path)),), 0, path.parent)
    recipe = Recipe().with_setting("gather", "from", path.name)
    return ProjectState((LensState("First lens", recipe),), 0, path.parent)


class Bench:
    """The project in front of the user.

    results: the newest result of each part. fresh: the parts whose result belongs to the recipe as it is now; the others
    are out of date, or not there. errors: by part. share: how much of each part under way is done.

    Signals: state_changed() when settings changed, part_changed(name) when a part began, went on, failed or was done,
    settled() when nothing is under way any more, trouble(words, details) for what the user must be told.
    """

    def __init__(self, state: ProjectState, worker: Worker) -> None:
        self.history = History(state)
        self.pick = Pick()
        self.results: dict[str, Any] = {}
        self.fresh: set[str] = set()
        self.errors: dict[str, JaggedLensError] = {}
        self.share: dict[str, float] = {}
        self.seconds: dict[str, float] = {}
        self.working = False
        self.state_changed = Signal()
        self.part_changed = Signal()
        self.settled = Signal()
        self.trouble = Signal()
        self._worker = worker
        self._keys: dict[str, str] = {}
        self._number = 0
        self._deaths = 0

    @property
    def state(self) -> ProjectState:
        return self.history.state

    @property
    def recipe(self) -> Recipe:
        return self.state.recipe

    def open(self, path: Path) -> None:
        """Go over to another project. JaggedLensError where it cannot be opened; the present one then stays."""
        state = opened(path)
        self.history = History(state)
        self.pick.clear()
        self.results.clear()
        self._keys.clear()
        self._all_out_of_date()
        self.state_changed.emit()
        self.compute()

    def set(self, step: str, key: str, value: object) -> None:
        """Change one setting of the lens in front and compute what depends on it. RecipeError where it is not allowed."""
        changed = self.recipe.with_setting(step, key, value)
        self._change(self.state.with_recipe(changed), f"{step}: {key}")

    def undo(self) -> None:
        if self.history.undo_words is not None and self.history.undo():
            self._changed()

    def redo(self) -> None:
        if self.history.redo():
            self._changed()

    def _change(self, state: ProjectState, words: str) -> None:
        if self.history.change(state, words):
            self._changed()

    def _changed(self) -> None:
        self._deaths = 0
        self.state_changed.emit()
        self.compute()

    def compute(self) -> None:
        """Ask for all results of the lens in front."""
        self.working = True
        self._number = self._worker.ask(Job(self.recipe, self.state.folder))

    def stop(self) -> None:
        """Give up what is under way; the results that were there stay."""
        self._worker.stop()

    def listen(self) -> None:
        """Take in what the worker has said since the last call."""
        for news in self._worker.news():
            self._hear(news)

    def ready(self, *names: str) -> bool:
        """Whether all these parts belong to the recipe as it is now, and so to each other."""
        return all(name in self.fresh for name in names)

    def step_ready(self, step: str) -> bool:
        return all(part.name in self.fresh for part in PARTS if part.step == step)

    def step_error(self, step: str) -> JaggedLensError | None:
        return next((error for name, error in self.errors.items() if _STEP.get(name) == step), None)

    def step_share(self, step: str) -> float | None:
        """The share done of a step under way; None where it is not."""
        names = [part.name for part in PARTS if part.step == step]
        if not any(name in self.share for name in names):
            return None
        return sum(1.0 if name in self.fresh else self.share.get(name, 0.0) for name in names) / len(names)

    def _all_out_of_date(self) -> None:
        self.fresh.clear()
        self.errors.clear()
        self.share.clear()

    def _hear(self, news: News) -> None:
        if news.number != self._number:
            return
        match news:
            case Planned(keys=keys):
                self.errors.clear()
                self.share.clear()
                self.fresh = {name for name, key in keys.items() if self._keys.get(name) == key}
                for part in PARTS:
                    self.part_changed.emit(part.name)
            case Began(part=part):
                self.share[part] = 0.0
                self.part_changed.emit(part)
            case Share(part=part, share=share):
                self.share[part] = share
                self.part_changed.emit(part)
            case Done(part=part, key=key, seconds=seconds, result=result):
                self.share.pop(part, None)
                self.seconds[part] = seconds
                if self._keys.get(part) != key:
                    self.results[part], self._keys[part] = result, key
                self.fresh.add(part)
                self.part_changed.emit(part)
            case Failed(part=part, error=error, details=details):
                self.share.pop(part, None)
                if part:
                    self.errors[part] = error
                    self.part_changed.emit(part)
                self.trouble.emit(str(error), details)
            case Finished():
                self._settle()
            case Restarted(reason=reason):
                self._hear_restart(reason)

    def _hear_restart(self, reason: str) -> None:
        self._deaths += 1
        again = self.working and "unexpectedly" in reason and self._deaths <= _MOST_DEATHS
        self.trouble.emit(reason + (" The work was begun again." if again else " Nothing that was there is lost."), "")
        if again:
            self.compute()
        else:
            self._settle()

    def _settle(self) -> None:
        self.working = False
        self.share.clear()
        for part in PARTS:
            self.part_changed.emit(part.name)
        self.settled.emit()
