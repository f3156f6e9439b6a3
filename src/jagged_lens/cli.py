"""The command line: jagged-lens [open | demo | run | info]."""

from __future__ import annotations

import dataclasses
import importlib.metadata
import os
import platform
import resource
import shutil
import signal
import sys
import tempfile
from pathlib import Path
from types import FrameType
from typing import Any

import click
from tqdm import tqdm

from jagged_lens import __version__
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import JaggedLensError, RecipeError, Stopped
from jagged_lens.export import write_decisions, write_json, write_run
from jagged_lens.lens import (
    ALWAYS,
    CORPUS,
    CROSS,
    FAMILIES,
    GROUPING,
    HOLDING,
    LAYOUT,
    LENS_ROWS,
    NEIGHBOURS,
    PAIRS,
    QUALITY,
    SPACE,
    STEPS,
    SWEEP,
    TERMS,
    THEMES,
    TOKENS,
    Job,
    Part,
    Recent,
    Results,
    Worker,
    compute,
    read_recipe,
    sections_of,
    settings_of,
    with_needs,
)
from jagged_lens.linux import install
from jagged_lens.parallel import set_threads
from jagged_lens.progress import Progress
from jagged_lens.project import ENDING, ProjectState, Reading, names_of, opened, standing

WRONG = 2
STOPPED = 130
_HALF = ".half-written-"


@click.group(invoke_without_command=True)
@click.version_option(__version__, prog_name="jagged-lens")
@click.pass_context
def main(context: click.Context) -> None:
    """Look at a pile of documents through weighted n-grams. Without a command, the window opens."""
    if context.invoked_subcommand is None:
        sys.exit(_window(None))


@main.command("open")
@click.argument("file", type=click.Path(path_type=Path))
def open_file(file: Path) -> None:
    """Open the window on FILE: a recipe (.toml), a table, a text file or a folder."""
    sys.exit(_window(file))


@main.command()
@click.option("--pictures", type=click.Path(path_type=Path), help="Draw every view into this folder and leave.")
def demo(pictures: Path | None) -> None:
    """Open the window on the return notes of the Larkmoor Seed Library."""
    sys.exit(_window(demo_recipe(), pictures))


@main.command()
@click.argument("recipe", type=click.Path(path_type=Path))
@click.option(
    "--out", required=True, type=click.Path(path_type=Path), help="The folder that the files go to; made if need be."
)
@click.option(
    "--threads", type=click.IntRange(1, 256), help="Work on so many threads. The result does not depend on it."
)
@click.option("--lens", help="Of a project: the lens to run, by its name; else the one that was in front.")
def run(recipe: Path, out: Path, threads: int | None, lens: str | None) -> None:
    """Do the whole job that RECIPE describes, without a window, and leave its tables in the folder --out.

    In place of a recipe a project (.jagged) can be given: its documents are those that were taken in.
    """
    if threads:
        set_threads(threads)
    signal.signal(signal.SIGINT, _stop)
    signal.signal(signal.SIGTERM, _stop)
    try:
        _run(recipe, out, lens)
    except JaggedLensError as error:
        click.echo(f"jagged-lens: {_one_line(error)}", err=True)
        sys.exit(WRONG)
    except _StoppedHalfway as error:
        click.echo(f"jagged-lens: stopped; {error} in {_shown(str(out))} are new, the others as they were", err=True)
        sys.exit(STOPPED)
    except (Stopped, KeyboardInterrupt):
        click.echo("jagged-lens: stopped; nothing was written", err=True)
        sys.exit(STOPPED)
    except (MemoryError, RuntimeError) as error:
        if isinstance(error, RuntimeError) and "thread" not in str(error):
            raise
        click.echo(
            "jagged-lens: there is not enough memory. Use fewer documents or terms, or a higher limit.", err=True
        )
        sys.exit(1)
    except OSError as error:
        click.echo(f"jagged-lens: {_shown(str(out))}: cannot be written ({error.strerror})", err=True)
        sys.exit(1)


@main.command()
@click.argument("recipe", required=False, type=click.Path(path_type=Path))
def info(recipe: Path | None) -> None:
    """Say which version this is and what every setting of a recipe means; with RECIPE, what is set in it."""
    try:
        given = sections_of(read_recipe(recipe)) if recipe else None
    except JaggedLensError as error:
        click.echo(f"jagged-lens: {_one_line(error)}", err=True)
        sys.exit(WRONG)
    click.echo(f"Jagged Lens {__version__}, Python {platform.python_version()}")
    versions = (f"{name} {importlib.metadata.version(name)}" for name in ("numpy", "scipy", "PyStemmer", "pydantic"))
    click.echo(", ".join(versions))
    for step in STEPS:
        click.echo(f"\n[{step}]")
        for key, setting in settings_of(step).items():
            value = given[step][key] if given else setting.default
            click.echo(f"{key} = {_toml(value)}")
            click.echo(f"    {setting.help} Allowed: {setting.allowed}.")


@main.command("demo-pages")
@click.option(
    "--port", type=click.IntRange(0, 65535), default=8640, show_default=True, help="0 takes any that is free."
)
def demo_pages(port: int) -> None:
    """Serve a few made-up web pages on this machine alone, to try links on, and say their addresses."""
    from jagged_lens.demo.page_server import serve_until_stopped

    click.echo("Allow private networks for a source with these addresses. Ctrl+C ends the server.")
    try:
        serve_until_stopped(port, click.echo)
    except OSError as error:
        click.echo(f"jagged-lens: port {port} cannot be used ({error.strerror})", err=True)
        sys.exit(1)


@main.command("install-desktop")
def install_desktop() -> None:
    """Put the entry, icon, AppStream file and MIME type of Jagged Lens in place for this user."""
    data = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")
    try:
        for path in install(data):
            click.echo(path)
    except OSError as error:
        click.echo(f"jagged-lens: {data}: cannot be written ({error.strerror})", err=True)
        sys.exit(1)


_PARTS = with_needs([*ALWAYS, FAMILIES, HOLDING, SWEEP])
"""What the files of a run are made of."""


def _job(path: Path, lens: str | None) -> tuple[Job, ProjectState | None]:
    """The job that a recipe or a project describes, and the state of the project."""
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


def _run(recipe_path: Path, out: Path, lens: str | None) -> None:
    job, state = _job(recipe_path, lens)
    recipe = job.recipe
    out.mkdir(parents=True, exist_ok=True)
    listener = _Bar(sys.stderr.isatty())
    job = dataclasses.replace(job, warned=lambda error: click.echo(f"jagged-lens: note: {_one_line(error)}", err=True))
    results = compute(job, Recent(), listener, lambda: _PARTS)
    listener.close()
    _tidy(out)
    half = Path(tempfile.mkdtemp(prefix=f"{_HALF}{os.getpid()}-", dir=out))
    try:
        write_run(half, results, recipe.compare.neighbours, _names(state, results))
        if state is not None and state.decisions:
            found = standing(state.decisions, results[CORPUS].keys, results[LENS_ROWS].tolist(), job.aside)
            write_decisions(half / "decisions.csv", found)
        write_json(
            half / "run.json",
            {
                "version": __version__,
                "recipe": sections_of(recipe),
                "seed": recipe.seed,
                "counts": _counts(results),
                "seconds": listener.seconds,
                "peak_memory_mb": round(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, 1),
            },
        )
        _move(half, out)
    finally:
        shutil.rmtree(half, ignore_errors=True)
    for notice in results[CORPUS].notices:
        click.echo(f"jagged-lens: note: {_shown(notice)}", err=True)
    for one in results[CORPUS].unread:
        click.echo(f"jagged-lens: not read: {_shown(one.name)}: {_shown(one.reason)}", err=True)


def _names(state: ProjectState | None, results: Results) -> dict[int, tuple[str, str]]:
    """Name and note of the groups to which the project gave any."""
    if state is None:
        return {}
    found = names_of(state.groups, results[GROUPING], results[CORPUS].keys, results[LENS_ROWS].tolist())
    return {group: (one.name, one.note) for group, one in found.of.items()}


class _StoppedHalfway(Exception):  # noqa: N818
    """The run was stopped while its files were put in the place of older ones; the message says how many were."""


def _move(half: Path, out: Path) -> None:
    """Put finished files in their place. It takes a moment, in which no signal is taken."""
    files = sorted(half.iterdir())
    held = (signal.SIGINT, signal.SIGTERM)
    before = signal.pthread_sigmask(signal.SIG_BLOCK, held)
    moved = 0
    try:
        for file in files:
            os.replace(file, out / file.name)
            moved += 1
    except (Stopped, KeyboardInterrupt):
        if not moved:
            raise
        raise _StoppedHalfway(f"{moved} of {len(files)} files") from None
    finally:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)


def _tidy(out: Path) -> None:
    """Remove what a run left half-written that was killed."""
    for left in out.glob(f"{_HALF}*"):
        process = left.name.removeprefix(_HALF).partition("-")[0]
        if not process.isdigit() or not Path(f"/proc/{process}").exists():
            shutil.rmtree(left, ignore_errors=True)


def _counts(results: Results) -> dict[str, dict[str, Any]]:
    """What was there after each step."""
    terms, space, pairs = results[TERMS], results[SPACE], results[PAIRS]
    grouping, layout, themes = results[GROUPING], results[LAYOUT], results[THEMES]
    losses = results[TOKENS].account
    kinds = {"same": 0, "edited": 1, "holds": 2, "subject": 3}
    return {
        "gather": {
            "documents": len(results[CORPUS]),
            "in_lens": len(results[LENS_ROWS]),
            "unread": [{"name": one.name, "reason": one.reason} for one in results[CORPUS].unread],
        },
        "clean": {
            "tokens": losses[0].left,
            "kept": losses[-1].left,
            "taken": {loss.rule.name.lower().replace("_", "-"): loss.taken for loss in losses[1:]},
        },
        "terms": {"different": len(terms.vocabulary), "kept": len(terms.kept)},
        "weigh": {
            "entries": int(space.weights.nnz),
            "empty_documents": int(space.empty.sum()),
            "themes": len(themes),
            "share": float(themes.shares.sum()),
        },
        "compare": {
            "pairs": len(pairs),
            "families": pairs.families,
            "listed_from": pairs.listed_from,
            "spared": pairs.spared,
            "left_out": pairs.left_out,
            "kinds": {name: int((pairs.kind == kind).sum()) for name, kind in kinds.items()},
            "recall": results[NEIGHBOURS].recall,
        },
        "group": {
            "groups": len(grouping),
            "quality": grouping.quality,
            "silhouette": _number(results[QUALITY].mean),
            "weak": int(results[QUALITY].weak.sum()),
            "suggested": results[SWEEP].suggested or None,
            "purity": _number(results[CROSS].purity),
            "adjusted_rand": _number(results[CROSS].adjusted_rand),
        },
        "map": {
            "trust": _number(layout.overall),
            "trust_of_components": _number(layout.components),
            "without_neighbours": int(layout.laid.rim.sum()),
            "stress": _number(layout.laid.stress),
            "explained": list(layout.projection.explained),
        },
    }


def _number(value: float) -> float | None:
    return None if value != value else value


class _Bar:
    """The listener of a run: seconds of each step, a bar on a terminal, and an end at the first failure."""

    def __init__(self, shown: bool) -> None:
        self.seconds: dict[str, float] = dict.fromkeys(STEPS, 0.0)
        self._bar = tqdm(total=len(_PARTS), disable=not shown, bar_format="{desc:<10}{bar} {elapsed}", leave=False)
        self._done = 0

    def began(self, part: Part[Any]) -> Progress:
        self._bar.set_description(part.step)
        return self._share

    def _share(self, share: float) -> None:
        self._bar.n = self._done + min(max(share, 0.0), 1.0)
        self._bar.refresh()

    def done(self, part: Part[Any], key: str, result: Any, seconds: float) -> None:
        self.seconds[part.step] = round(self.seconds[part.step] + seconds, 4)
        self._done += 1
        self._share(0.0)

    def grew(self, part: Part[Any], preview: Any) -> None:
        """A run shows no previews."""

    def deferred(self, part: Part[Any]) -> None:
        """Nothing is wanted before anything else in a run."""

    def failed(self, part: Part[Any], error: JaggedLensError) -> None:
        self.close()
        raise error

    def close(self) -> None:
        self._bar.close()


def _stop(number: int, frame: FrameType | None) -> None:
    raise Stopped


def _window(file: Path | None, pictures: Path | None = None) -> int:
    worker = Worker()  # first, so that it gets ready while Qt is loaded here
    try:
        from jagged_lens.desktop import show

        return show(file, worker, pictures)
    except ImportError as error:
        click.echo(f"jagged-lens: the window cannot be opened ({error})", err=True)
        return 1
    except JaggedLensError as error:
        click.echo(f"jagged-lens: {_one_line(error)}", err=True)
        return WRONG
    finally:
        worker.close()


def _one_line(error: JaggedLensError) -> str:
    return _shown(str(error))


def _shown(text: str) -> str:
    """A text in one line, without what a terminal would take for a command to it."""
    line = " ".join(text.split())
    return "".join(one if one.isprintable() else "\ufffd" for one in line)


def _toml(value: object) -> str:
    if isinstance(value, (list, tuple)):
        return "[" + ", ".join(map(_toml, value)) + "]"
    if isinstance(value, bool):
        return str(value).lower()
    return f'"{value}"' if isinstance(value, str) else str(value)
