# SPDX-License-Identifier: GPL-3.0-or-later
"""All files of a lens in a folder: what `jagged-lens run` leaves, and what the window saves."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

from jagged_lens import __version__
from jagged_lens.export.counts import counts
from jagged_lens.export.decisions import write_decisions
from jagged_lens.export.run_files import Given, write_json, write_run
from jagged_lens.export.run_folder import RunFolder
from jagged_lens.gather import own_labels
from jagged_lens.lens import (
    ALWAYS,
    CORPUS,
    FAMILIES,
    GROUPING,
    HOLDING,
    LENS_ROWS,
    SUGGESTIONS,
    SWEEP,
    TERMS,
    THEMES,
    Job,
    Recipe,
    Results,
    sections_of,
    with_needs,
)
from jagged_lens.named_file import write_text
from jagged_lens.project import ProjectState, names_of, standing, theme_names
from jagged_lens.report import html_of, report_of

RUN_JSON = "run.json"
ALL_PARTS = with_needs([SUGGESTIONS, *ALWAYS, FAMILIES, HOLDING, SWEEP])
"""The parts that the files need: an error in a label to learn is reported before the map is laid out."""


def given_by(state: ProjectState | None, job: Job, results: Results) -> Given:
    """The names, notes and labels that a project gave to groups, themes and documents; none without a project."""
    if state is None:
        return Given()
    found = names_of(state.groups, results[GROUPING], results[CORPUS].keys, results[LENS_ROWS].tolist())
    themes = results[THEMES]
    return Given(
        found.given,
        theme_names(themes, results[TERMS].terms, state.themes) if themes.named else {},
        own_labels(results[CORPUS].keys, job.own),
    )


def write_all(
    folder: Path,
    job: Job,
    state: ProjectState | None,
    results: Results,
    title: str,
    measured: Mapping[str, Any] | None = None,
) -> dict[str, dict[str, Any]]:
    """Write all files of a lens into a folder, and give the counts in run.json. results: of ALL_PARTS. title: of the report. measured:
    seconds and memory, for run.json."""
    recipe, given = job.recipe, given_by(state, job, results)
    made = RunFolder(folder, recipe.run)
    write_run(made, results, recipe.compare.neighbours, given)
    if state is not None and state.decisions:
        found = standing(state.decisions, results[CORPUS].keys, results[LENS_ROWS].tolist(), job.aside)
        write_decisions(made / "decisions.csv", found)
    entries = state.report if state is not None else ()
    write_text(folder / "report.html", html_of(report_of(recipe, results, given.groups, title, entries)))
    found_counts = counts(results)
    write_run_json(folder, recipe, found_counts, measured)
    return found_counts


def write_run_json(
    folder: Path, recipe: Recipe, found: dict[str, dict[str, Any]], measured: Mapping[str, Any] | None = None
) -> None:
    """Write run.json with the files that are there, the recipe and the counts."""
    content = {
        "version": __version__,
        "files": sorted([*(file.name for file in folder.iterdir()), RUN_JSON]),
        "recipe": sections_of(recipe),
        "seed": recipe.seed,
        "counts": found,
        **(measured or {}),
    }
    write_json(folder / RUN_JSON, content)
