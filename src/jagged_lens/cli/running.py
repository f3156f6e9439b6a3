# SPDX-License-Identifier: GPL-3.0-or-later
"""Runs without a window: what is computed, and how its files come into their place."""

from __future__ import annotations

import dataclasses
import json
import os
import resource
import signal
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import click
from tqdm import tqdm

from jagged_lens.cli.sending import send_texts, with_answers
from jagged_lens.errors import JaggedLensError, Stopped
from jagged_lens.export import ALL_PARTS, RUN_JSON, RunFolder, counts_of_placed, write_all, write_placed, write_run_json
from jagged_lens.gather import Corpus
from jagged_lens.language import NAMES
from jagged_lens.lens import (
    ARRIVALS,
    CORPUS,
    LENS_ROWS,
    PLACED,
    STEPS,
    TOKENS,
    Job,
    Part,
    Recent,
    Recipe,
    Results,
    compute,
    noticed,
    with_needs,
)
from jagged_lens.named_file import half_written
from jagged_lens.progress import Progress
from jagged_lens.project import job_at, new_sources

_PLACED = with_needs([PLACED])
_SENT = with_needs([CORPUS, LENS_ROWS])
_SENT_TO_PLACE = with_needs([CORPUS, LENS_ROWS, ARRIVALS])


def run(recipe_path: Path, out: Path, lens: str | None, sending: bool = False) -> None:
    """Compute a whole lens and leave its files in a folder. sending: send texts that have no vectors to the service of the recipe."""
    job, state = job_at(recipe_path, lens)
    job = with_answers(job, out)
    memory, seconds = Recent(), dict.fromkeys(STEPS, 0.0)
    if sending:
        _send(job, _texts_of(_computed(job, out, _SENT, memory, seconds)))
    results = _computed(job, out, ALL_PARTS, memory, seconds)
    title = state.lens.name if state is not None else recipe_path.stem
    with _files_of(out) as half:
        found_counts = write_all(half, job, state, results, title, _measured(seconds))
    _say_summary(job.recipe, results, found_counts, out)
    _say_notes(results[CORPUS])


def place(recipe_path: Path, new: Path, out: Path, lens: str | None, sending: bool = False) -> None:
    """See new documents through a lens and leave what was found in a folder. sending: send texts, theirs and those of the lens, to the
    service of the recipe."""
    job, _ = job_at(recipe_path, lens)
    job = with_answers(dataclasses.replace(job, placing=new_sources(new, job.recipe.gather.sources)), out)
    memory, seconds = Recent(), dict.fromkeys(STEPS, 0.0)
    if sending:
        there = _computed(job, out, _SENT_TO_PLACE, memory, seconds)
        _send(job, [*_texts_of(there), *there[ARRIVALS].texts])
    results = _computed(job, out, _PLACED, memory, seconds)
    with _files_of(out) as half:
        write_placed(RunFolder(half, job.recipe.run) / "placed.csv", results)
        write_run_json(half, job.recipe, counts_of_placed(results), _measured(seconds))
    _say_notes(results[ARRIVALS])


def _texts_of(results: Results) -> list[str]:
    """The texts of the documents in the lens."""
    rows = results[LENS_ROWS]
    return list(results[CORPUS].texts.take(rows))


def _send(job: Job, texts: list[str]) -> None:
    bar = tqdm(total=1.0, disable=not sys.stderr.isatty(), bar_format="Sending   {bar} {elapsed}", leave=False)

    def progress(share: float) -> None:
        bar.n = share
        bar.refresh()

    try:
        send_texts(job, texts, progress, lambda words: click.echo(f"jagged-lens: {words}", err=True))
    finally:
        bar.close()


def _computed(job: Job, out: Path, parts: tuple[Part[Any], ...], memory: Recent, seconds: dict[str, float]) -> Results:
    """The results of some parts. seconds: those that each step took are added."""
    out.mkdir(parents=True, exist_ok=True)
    listener = Bar(sys.stderr.isatty(), len(parts), seconds)
    job = dataclasses.replace(job, warned=lambda error: click.echo(f"jagged-lens: note: {one_line(error)}", err=True))
    results = compute(job, memory, listener, lambda: parts)
    listener.close()
    return results


@contextmanager
def _files_of(out: Path) -> Iterator[Path]:
    """A folder to write files into, which then are put in their place all together."""
    with half_written(out) as half:
        yield half
        _move(half, out)


def _measured(seconds: dict[str, float]) -> dict[str, Any]:
    """The time and the memory that a run took."""
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return {"seconds": seconds, "peak_memory_mb": round(peak, 1)}


def _say_summary(recipe: Recipe, results: Results, found: dict[str, dict[str, Any]], out: Path) -> None:
    """One line per step for its result, and the notices."""
    language = NAMES.get(results[TOKENS].language, "unknown language")
    trust = found["map"]["trust"]
    lines = (
        ("Gather", f"{found['gather']['documents']:,} documents, {found['gather']['in_lens']:,} in the lens"),
        ("Clean", f"{found['clean']['kept']:,} of {found['clean']['tokens']:,} words kept; {language}"),
        ("Terms", f"{found['terms']['kept']:,} of {found['terms']['different']:,} kept"),
        ("Compare", f"{found['compare']['pairs']:,} close pairs in {found['compare']['families']:,} families"),
        ("Group", f"{found['group']['groups']:,} groups, cohesion {found['group']['quality']:.2f}"),
        ("Map", "no document has a place" if trust is None else f"{trust:.0%} of nearest neighbours kept"),
    )
    for step, words in lines:
        click.echo(f"{step:<8} {words}", err=True)
    click.echo(f"Files    {out}", err=True)
    for one in noticed(recipe, results):
        remedy = f" See {one.key} in [{one.step}]." if one.key else ""
        click.echo(f"jagged-lens: note: {one.words}{remedy}", err=True)


def _say_notes(corpus: Corpus) -> None:
    for notice in [*corpus.notices, *(doubt.words for doubt in corpus.doubts)]:
        click.echo(f"jagged-lens: note: {shown(notice)}", err=True)
    for one in corpus.unread:
        click.echo(f"jagged-lens: not read: {shown(one.name)}: {shown(one.reason)}", err=True)


class StoppedHalfway(Exception):  # noqa: N818
    """The run was stopped while its files were put in the place of older ones; the message says how many were."""


def _earlier(out: Path) -> list[Path]:
    """The files that an earlier run left in a folder, by its run.json."""
    try:
        names = json.loads((out / RUN_JSON).read_text("utf-8", "replace")).get("files", [])
    except (OSError, ValueError, AttributeError, RecursionError):
        return []
    return [
        out / name for name in names if isinstance(name, str) and Path(name).name == name and (out / name).is_file()
    ]


def _move(half: Path, out: Path) -> None:
    """Put finished files in their place, and take away those of an earlier run that are not among them.

    It takes a moment, in which no signal is taken.
    """
    files = sorted(half.iterdir())
    stale = {path.name for path in _earlier(out)} - {file.name for file in files}
    held = (signal.SIGINT, signal.SIGTERM)
    before = signal.pthread_sigmask(signal.SIG_BLOCK, held)
    moved = 0
    try:
        for file in files:
            os.replace(file, out / file.name)
            moved += 1
        for name in stale:
            (out / name).unlink(missing_ok=True)
    except (Stopped, KeyboardInterrupt):
        if not moved:
            raise
        raise StoppedHalfway(f"{moved} of {len(files)} files") from None
    finally:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)


class Bar:
    """The listener of a run: seconds of each step, a bar on a terminal, and an end at the first failure. seconds: added to, by step."""

    def __init__(self, seen: bool, parts: int, seconds: dict[str, float]) -> None:
        self.seconds = seconds
        self._bar = tqdm(total=parts, disable=not seen, bar_format="{desc:<10}{bar} {elapsed}", leave=False)
        self._done = 0

    def began(self, part: Part[Any]) -> Progress:
        self._bar.set_description(part.step)
        return self._share

    def _share(self, share: float) -> None:
        self._bar.n = self._done + min(max(share, 0.0), 1.0)
        self._bar.refresh()

    def done(self, part: Part[Any], key: str, result: Any, seconds: float) -> None:
        self.seconds[part.step] = round(self.seconds.get(part.step, 0.0) + seconds, 4)
        self._done += 1
        self._share(0.0)

    def grew(self, part: Part[Any], preview: Any) -> None:
        """A run shows no previews."""

    def deferred(self, part: Part[Any]) -> None:
        """Nothing is wanted before anything else in a run."""

    def failed(self, part: Part[Any], error: JaggedLensError, details: str = "") -> None:
        self.close()
        if details:
            click.echo(details, err=True)
        raise error

    def close(self) -> None:
        self._bar.close()


def one_line(error: JaggedLensError) -> str:
    return shown(str(error))


def shown(text: str) -> str:
    """A text in one line, without what a terminal would take for a command to it."""
    line = " ".join(text.split())
    return "".join(one if one.isprintable() else "\ufffd" for one in line)
