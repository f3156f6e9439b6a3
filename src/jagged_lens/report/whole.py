# SPDX-License-Identifier: GPL-3.0-or-later
"""The report of a lens: what the user pinned and wrote, then the standing parts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from jagged_lens import __version__
from jagged_lens.lens import CORPUS, LENS_ROWS, Recipe, Results
from jagged_lens.project import Entry
from jagged_lens.report.content import Report
from jagged_lens.report.pinned import pinned_sections
from jagged_lens.report.standing import standing_sections
from jagged_lens.sentences import amount


def report_of(
    recipe: Recipe,
    results: Results,
    names: Mapping[int, tuple[str, str]],
    name: str = "",
    entries: Sequence[Entry] = (),
    day: str = "",
) -> Report:
    """The report of a lens from its results. names: the user's name and note of groups. name: the title where the recipe has none.
    entries: findings, headings and paragraphs. day: ISO 8601."""
    settings = recipe.report
    read = f"{len(results[LENS_ROWS]):,} of {amount(len(results[CORPUS]), 'document')}, Jagged Lens {__version__}"
    under = f"{settings.author}. {read}" if settings.author else read
    sections = (*pinned_sections(entries, recipe), *standing_sections(recipe, results, names))
    return Report(settings.title or name or "Report", under, sections, day)
