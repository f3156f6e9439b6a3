"""The bench: the plain model behind the window. It holds what the user can change and what is known of the results;
whoever wants to show it subscribes. Everything the window does is a call that a test or a script can make."""

from __future__ import annotations

import dataclasses
import glob
import time
from collections.abc import Collection, Iterable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Corpus, Label, Source
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
    keys_of,
    read_recipe,
    stamp_of,
)
from jagged_lens.project.file import ENDING, ProjectFile, create
from jagged_lens.project.keeper import Keeper
from jagged_lens.project.pick import Pick
from jagged_lens.project.plain_state import plain, state_from
from jagged_lens.project.profile import profile
from jagged_lens.project.refreshed import Refreshed, compared
from jagged_lens.project.state import History, LensState, ProjectState
from jagged_lens.signal import Signal

_STEP = {part.name: part.step for part in PARTS}
_MOST_DEATHS = 2
SHARED = ("from", "key", "text", "title", "labels", "date", "unit")
"""Settings of Gather that all lenses of a project share, since rows are the project's."""


def opened(path: Path | None) -> ProjectState:
    """The project that a path means: a recipe (.toml), or a table, a text file or a folder with the default recipe.

    Recipes beside it named NAME.*.toml are further lenses, in the order of their names. For a project (.jagged), the state
    that was saved in it. JaggedLensError where it cannot be opened.
    """
    if path is None:
        return ProjectState((LensState("First lens", Recipe()),), 0, Path.cwd())
    path = path.expanduser().absolute()
    if path.suffix.lower() == ENDING:
        file = ProjectFile(path)
        file.verify()
        content = file.state()
        return state_from(content, path) if content is not None else opened(None)
    if path.suffix.lower() == ".toml":
        recipes = {
            one: read_recipe(one) for one in (path, *sorted(path.parent.glob(f"{glob.escape(path.stem)}.*.toml")))
        }
        lenses = [LensState(_lens_name(one), recipe) for one, recipe in recipes.items()]
        return ProjectState(tuple(lenses), 0, path.parent)
    recipe = Recipe().with_setting("gather", "from", path.name)
    return ProjectState((LensState("First lens", recipe),), 0, path.parent)


def _absolute(source: Source, folder: Path) -> Source:
    """A source whose relative path is no longer relative."""
    for name in ("file", "database", "links"):
        value = getattr(source, name)
        if value and "://" not in value:
            return dataclasses.replace(source, **{name: str(folder / Path(value).expanduser())})  # type: ignore[arg-type]
    return source


def _lens_name(path: Path) -> str:
    """The first comment line of a recipe names its lens; else its file does."""
    first = path.read_text("utf-8-sig").partition("\n")[0]
    return first[1:].strip().rstrip(".") if first.startswith("#") and len(first) < 50 else path.stem


class Bench:
    """The project in front of the user.

    results: the newest result of each part. fresh: the parts whose result belongs to the recipe as it is now; the others
    are out of date, or not there. errors: by part. share: how much of each part under way is done. hold: while it is
    True, changed settings are not computed. looks_behind: compute the other lenses too, while nothing else is to be done.

    Signals: state_changed() when settings changed, part_changed(name) when a part began, went on, failed or was done,
    settled() when nothing is under way any more, trouble(words, details) for what the user must be told, refreshed(what) when
    sources were read again and can be compared with what is here. keeper: saves the project; None where nothing is kept.
    passwords: of databases, by their address; known to this window alone.
    """

    def __init__(self, state: ProjectState, worker: Worker, keeper: Keeper | None = None) -> None:
        self.history = History(state)
        self.pick = Pick()
        self.results: dict[str, Any] = {}
        self.fresh: set[str] = set()
        self.errors: dict[str, JaggedLensError] = {}
        self.share: dict[str, float] = {}
        self.seconds: dict[str, float] = {}
        self.working = False
        self.hold = False
        self.looks_behind = True
        self.state_changed = Signal()
        self.part_changed = Signal()
        self.settled = Signal()
        self.trouble = Signal()
        self.refreshed = Signal()
        self.keeper = keeper
        self.passwords: dict[str, str] = {}
        self.window: dict[str, Any] = {}
        self._refresh: tuple[int, Job, dict[str, Any]] | None = None
        self._told_failure = ""
        self._worker = worker
        self._keys: dict[str, str] = {}
        self._number = 0
        self._deaths = 0
        self._profiles: dict[Job, tuple[float, ...]] = {}
        self._behind: tuple[int, Job, dict[str, Any]] | None = None
        self._labels: tuple[tuple[object, object], tuple[Label, ...]] = ((None, None), ())

    @property
    def state(self) -> ProjectState:
        return self.history.state

    @property
    def recipe(self) -> Recipe:
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
            state.taken,
            self.keeper.file if self.keeper is not None else None,
            tuple(self.passwords.items()),
            forgiving=True,
        )

    def profile(self, lens: int) -> tuple[float, ...] | None:
        """The shares that come through the steps of a lens; None while they are not known."""
        if lens == self.state.active and self.results:
            return profile(self.results)
        return self._profiles.get(self.job(lens))

    def open(self, path: Path, keeper: Keeper | None = None, state: ProjectState | None = None) -> None:
        """Go over to another project. JaggedLensError where it cannot be opened; the present one then stays.

        keeper: of the other project. state: what was opened already. What was changed in the present one is saved before it
        is left.
        """
        state = state or opened(path)
        self.leave()
        self.keeper = keeper
        self.window = {}
        self.history = History(state)
        self.pick.forget()
        self.results.clear()
        self._keys.clear()
        self._profiles.clear()
        self._all_out_of_date()
        self.state_changed.emit()
        self.compute()

    def begin(self, keeper: Keeper | None = None) -> None:
        """A new project without documents."""
        folder = self.state.folder
        self.keeper, self.window = keeper, {}
        self.history = History(dataclasses.replace(opened(None), folder=folder))
        self.pick.forget()
        self.results.clear()
        self._keys.clear()
        self._profiles.clear()
        self._all_out_of_date()
        self.stop()
        self.state_changed.emit()
        for part in PARTS:
            self.part_changed.emit(part.name)

    def leave(self) -> None:
        """Save the project and let go of it."""
        if self.keeper is not None:
            self.save()
            self.keeper.close(self.worth_keeping, {stamp for _, stamp in self.state.taken}, seconds=2.0)
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
            create(path)
            self.keeper = Keeper(path, True)
            self.save()
            self.keeper.flush()
        else:
            self.save()
            self.keeper.move_to(path, self._rescue)
            self.save()
        if self.working:  # what is computed from now on is kept in the file as it is called now
            self.compute()
        self.state_changed.emit()

    def _rescue(self, file: ProjectFile) -> None:
        """Write into a new project the documents that are here, where the file that held them is gone."""
        corpus = self.results.get("corpus")
        if corpus is None or self.recipe.gather.unit != "document":
            return
        for number, (source, stamp) in enumerate(zip(self.state.sources, corpus.stamps, strict=False)):
            if stamp:
                file.keep_documents(stamp, source, corpus.take(np.flatnonzero(corpus.source == number)))

    def set(self, step: str, key: str, value: object) -> None:
        """Change one setting of the lens in front and compute what depends on it. RecipeError where it is not allowed."""
        if step == "gather" and key in SHARED:
            self.change(self.state.with_shared({key: value}), f"{step}: {key}")
            return
        changed = self.recipe.with_setting(step, key, value)
        self.change(self.state.with_recipe(changed), f"{step}: {key}")

    # Sources.

    def add_source(self, source: Source, taken_from: Path | None = None) -> None:
        """Add a source to the project, for all lenses. taken_from: the folder its relative path is relative to."""
        if taken_from is not None and taken_from != self.state.folder:
            source = _absolute(source, taken_from)
        state = self.state
        self.change(state.with_sources((*state.sources, source)), f"add {source.name}")

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

    def refresh(self, numbers: Collection[int] | None = None, failed_only: bool = False) -> None:
        """Read sources again; `refreshed` then says what is new, changed and gone. Nothing is taken in yet.

        failed_only: of links, fetch those alone that did not come; the others stay as they are.
        """
        sources = self.state.sources
        chosen = {sources[number] for number in (range(len(sources)) if numbers is None else numbers)}
        stamps = {}
        for source in chosen:
            # A server or a page does not show from outside whether it has changed: its stamp is of this moment.
            now = f"{stamp_of(source, self.state.folder)}-{time.time_ns():x}"
            stamps[source] = now if source.kind in ("links", "database") else stamp_of(source, self.state.folder)
        taken = tuple({**dict(self.state.taken), **stamps}.items())
        job = dataclasses.replace(self.job(), taken=taken, again=False)
        if not failed_only and self.keeper is not None:
            job = dataclasses.replace(job, again=any(source.kind == "links" for source in chosen))
        self.working = True
        self._behind = None
        self._refresh = (self._worker.ask(job, ("corpus",)), job, {})

    def take_in_quietly(self, refreshed: Refreshed) -> None:
        """Note that sources were read again and are the same; nothing to undo."""
        self.history.look(self.state.with_taken(refreshed.taken))
        self.save()

    def take_in(self, refreshed: Refreshed) -> None:
        """Go over to what was read again."""
        self.change(self.state.with_taken(refreshed.taken), "take in what changed")

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
        if self.history.undo_words is not None and self.history.undo():
            self._changed()

    def redo(self) -> None:
        if self.history.redo():
            self._changed()

    def set_hold(self, hold: bool) -> None:
        """Hold: settings can be changed without anything being computed; letting go computes."""
        self.hold = hold
        self.state_changed.emit()
        if not hold:
            self.compute()

    def _changed(self) -> None:
        self._deaths = 0
        self.save()
        self.state_changed.emit()
        if not self.hold:
            self.compute()
            return
        keys = keys_of(self.job()).of
        self.fresh = {name for name, key in keys.items() if self._keys.get(name) == key}
        for part in PARTS:
            self.part_changed.emit(part.name)

    def compute(self) -> None:
        """Ask for all results of the lens in front."""
        self.working = True
        self._behind = self._refresh = None
        self._number = self._worker.ask(self.job())

    def stop(self) -> None:
        """Give up what is under way; the results that were there stay."""
        self._worker.stop()

    def listen(self) -> None:
        """Take in what the worker has said since the last call."""
        for news in self._worker.news():
            self._hear(news)
        failure = self.keeper.failure if self.keeper is not None else ""
        if failure != self._told_failure:
            self._told_failure = failure
            self.trouble.emit(failure or "The project is saved again.", "")

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

    # What hangs on documents: outside a document is its key, inside its corpus row.

    def labels(self) -> tuple[Label, ...]:
        """The labels that came with the documents, then those of the user's own."""
        corpus = self.results.get("corpus")
        if corpus is None:
            return ()
        of, known = self._labels
        if of[0] is not corpus or of[1] is not self.state.labels:  # made once, not whenever the mouse is moved
            keys = list(corpus.keys) if self.state.labels else []
            own = []
            for label in self.state.labels:
                values = dict(label.values)
                own.append(Label.of(label.name, (values.get(key, "") for key in keys)))
            known = (*corpus.labels, *own)
            self._labels = ((corpus, self.state.labels), known)
        return known

    def picked_keys(self) -> list[str]:
        corpus = self.results.get("corpus")
        return [corpus.keys[row] for row in self.pick.rows] if corpus is not None else []

    def rows_of_keys(self, keys: Iterable[str]) -> list[int]:
        """The corpus rows of those keys that are there."""
        wanted = frozenset(keys)
        corpus = self.results.get("corpus")
        return [row for row, key in enumerate(corpus.keys) if key in wanted] if corpus is not None else []

    def origin(self, row: int) -> Path | str | None:
        """The file that a document came from, where it is still there, or the web address."""
        corpus = self.results.get("corpus")
        if corpus is None or not len(corpus.source):
            return None
        source = self.state.sources[int(corpus.source[row])]
        if source.links:
            return next((page.landed for page in corpus.pages if page.address == corpus.origins[row]), None)
        base = self.state.folder / Path(source.file or source.database).expanduser()
        while not base.exists() and base != base.parent:  # a pattern: the folder before it
            base = base.parent
        inside = base if base.is_dir() else base.parent
        return next((path for path in (inside / corpus.origins[row], base) if path.is_file()), None)

    def lens_rows(self) -> NDArray[np.int32]:
        """The corpus rows of the documents in the lens, in order; empty before there are any."""
        rows = self.results.get("rows")
        return rows if rows is not None else np.zeros(0, np.int32)

    def group_of(self, row: int) -> int:
        """The group of a corpus row; -1 where it has none."""
        grouping, rows = self.results.get("grouping"), self.lens_rows()
        place = int(np.searchsorted(rows, row))
        if grouping is None or len(grouping.group) != len(rows) or place >= len(rows) or rows[place] != row:
            return -1
        return int(grouping.group[place])

    def pick_all(self) -> None:
        self.pick.set(self.lens_rows().tolist())

    def invert_pick(self) -> None:
        self.pick.set(np.setdiff1d(self.lens_rows(), np.array(self.pick.rows, np.int64)).tolist())

    def grow_pick(self) -> None:
        """Add the nearest neighbours of every picked document."""
        neighbours = self.results.get("neighbours")
        if neighbours is None:
            return
        rows = self.lens_rows()
        inside = np.flatnonzero(np.isin(rows, np.array(self.pick.rows, np.int64)))
        near = neighbours.row[inside, : self.recipe.compare.neighbours]
        self.pick.set((*self.pick.rows, *rows[near[near >= 0]].tolist()), self.pick.reading)

    def pick_documents_of_terms(self) -> None:
        """Pick the documents that hold any of the picked terms."""
        ngrams = self.results.get("ngrams")
        if ngrams is not None:
            rows = ngrams.terms.rows_of(set(self.pick.terms)).values()
            held = [ngrams.rows[ngrams.holders(row)[0]] for row in rows]
            self.pick.set(np.unique(np.concatenate(held)).tolist() if held else ())

    def keep_pick(self, name: str) -> None:
        """Keep the pick under a name."""
        self.change(self.state.with_kept(name, self.picked_keys()), f"keep {name}")

    def pick_kept(self, name: str, within: bool = False) -> None:
        """Pick what was kept under a name, or what of it is picked already."""
        keys = next((one.keys for one in self.state.kept if one.name == name), frozenset())
        rows = self.rows_of_keys(keys)
        self.pick.set(set(rows) & set(self.pick.rows) if within else rows)

    def label_pick(self, name: str, value: str) -> None:
        """Give the picked documents a value of a label of the user's own; "" takes it away."""
        self.change(self.state.with_label(name, self.picked_keys(), value), f"label {name}")

    def set_pick_aside(self, reason: str) -> None:
        """Set the picked documents aside; they stay in the project and can be brought back."""
        self.change(self.state.set_aside(self.picked_keys(), reason), "set aside")

    def bring_back(self, keys: Iterable[str]) -> None:
        self.change(self.state.brought_back(keys), "bring back")

    def _all_out_of_date(self) -> None:
        self.fresh.clear()
        self.errors.clear()
        self.share.clear()

    def _hear(self, news: News) -> None:
        if isinstance(news, Restarted):
            self._behind = self._refresh = None
            self._hear_restart(news)
            return
        if self._behind is not None and news.number == self._behind[0]:
            self._hear_behind(news)
            return
        if self._refresh is not None and news.number == self._refresh[0]:
            self._hear_refresh(news)
            return
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
                    if part == "corpus":
                        self._new_corpus(result)
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

    def _new_corpus(self, corpus: Corpus) -> None:
        """Other rows are there: the pick is of the same documents still. What was taken in is noted."""
        before = self.results.get("corpus")
        if before is not None and len(self.pick):
            wanted = {before.keys[row] for row in self.pick.rows}
            reading = before.keys[self.pick.reading] if self.pick.reading >= 0 else ""
            rows = {key: row for row, key in enumerate(corpus.keys) if key in wanted}
            self.results["corpus"] = corpus
            self.pick.forget()
            self.pick.set(rows.values(), rows.get(reading, -1))
        else:
            self.pick.forget()
        stamps = dict(zip(self.state.sources, corpus.stamps, strict=False))
        state = self.state.with_taken(stamps)
        if state != self.state:
            self.history.look(state)
            self.save()

    def _hear_refresh(self, news: News) -> None:
        assert self._refresh is not None
        found = self._refresh[2]
        match news:
            case Began(part=part) | Share(part=part):
                self.share[part] = getattr(news, "share", 0.0)
                self.part_changed.emit(part)
            case Done(part=part, result=result):
                found[part] = result
            case Failed(error=error, details=details):
                self.trouble.emit(str(error), details)
            case Finished():
                self._refresh = None
                self.working = False
                self.share.clear()
                self.settled.emit()
                before = self.results.get("corpus")
                if before is not None and "corpus" in found:
                    self.refreshed.emit(compared(before, found["corpus"], self.state.sources))

    def _hear_restart(self, news: Restarted) -> None:
        self._deaths += 1
        again = self.working and news.again and self._deaths <= _MOST_DEATHS
        self.trouble.emit(
            news.reason + (" The work was begun again." if again else " Nothing that was there is lost."), ""
        )
        if again:
            self.compute()
        else:
            self._settle()

    def _settle(self) -> None:
        self.working = False
        self.share.clear()
        if len(self.fresh) == len(PARTS):
            self._profiles[self.job()] = profile(self.results)
        for part in PARTS:
            self.part_changed.emit(part.name)
        self.settled.emit()
        self._look_behind()

    def _look_behind(self) -> None:
        """Nothing else is to be done: compute a lens whose profile is not known. Any change goes before it."""
        unknown = (self.job(lens) for lens in range(len(self.state.lenses)))
        job = next((job for job in unknown if job not in self._profiles), None)
        if self.looks_behind and job is not None and len(self.fresh) == len(PARTS) and not self.working:
            self._behind = (self._worker.ask(job), job, {})

    def _hear_behind(self, news: News) -> None:
        assert self._behind is not None
        _, job, results = self._behind
        match news:
            case Done(part=part, result=result):
                results[part] = result
            case Finished():
                self._behind = None
                self._profiles[job] = profile(results)
                self.state_changed.emit()
                self._look_behind()
