# SPDX-License-Identifier: GPL-3.0-or-later
"""The project that a path means."""

from __future__ import annotations

import dataclasses
import glob
from collections.abc import Sequence
from pathlib import Path

from jagged_lens.errors import RecipeError
from jagged_lens.gather import Means, Source, preview
from jagged_lens.lens import Job, Recipe, read_recipe
from jagged_lens.project.file import ProjectFile, Reading
from jagged_lens.project.plain_state import state_from
from jagged_lens.project.schema import ENDING
from jagged_lens.project.state import LensState, ProjectState


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


def job_at(path: Path, lens: str | None) -> tuple[Job, ProjectState | None]:
    """The job that a recipe or a project describes, and the state of the project. lens: the name of one of a project; None for the one in front.

    JaggedLensError where it cannot be opened.
    """
    if path.suffix.lower() != ENDING:
        return Job(read_recipe(path), path.parent), None
    state = opened(path)
    names = [one.name for one in state.lenses]
    if lens is not None and lens not in names:
        raise RecipeError(f'there is no lens "{lens}"', path.name, f"Its lenses are: {', '.join(names)}.")
    if lens is not None:
        state = state.chosen(names.index(lens))
    own = tuple((label.name, label.values) for label in state.labels)
    aside = frozenset(key for key, _ in state.aside)
    return Job(state.recipe, state.folder, aside, own, state.stamps, Reading(path)), state


def new_sources(path: Path, known: Sequence[Source]) -> tuple[Source, ...]:
    """The sources that a path means, of documents that come to those of some known sources: of a recipe its own, with absolute paths.
    Else the file or folder, a table read as a known one is whose columns it has.

    JaggedLensError where it cannot be read.
    """
    path = path.expanduser().absolute()
    if path.suffix.lower() == ".toml":
        return tuple(absolute(source, path.parent) for source in read_recipe(path).gather.sources)
    source = Source(file=str(path))
    tables = [one for one in known if one.text]
    if not tables or path.is_dir():
        return (source,)
    columns = set(preview(source, Means(path.parent)).columns)
    for one in tables:
        if set(one.text) <= columns:
            return (
                dataclasses.replace(
                    source,
                    text=one.text,
                    key=one.key if one.key in columns else "",
                    title=one.title if one.title in columns else "",
                    date=one.date if one.date in columns else "",
                    labels=tuple(name for name in one.labels if name in columns),
                    numbers=tuple(name for name in one.numbers if name in columns),
                ),
            )
    return (source,)


def absolute(source: Source, folder: Path) -> Source:
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
