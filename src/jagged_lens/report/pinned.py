# SPDX-License-Identifier: GPL-3.0-or-later
"""The findings of a report under the user's headings, with the paragraphs between them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from jagged_lens.lens import Recipe, ReportSettings
from jagged_lens.project import Entry, Finding, Heading, Quote, Words, differences
from jagged_lens.report.content import Aside, Paragraph, Part, Picture, Quoted, Section, Subheading, Table
from jagged_lens.text_cells import is_number

FINDINGS = "Findings"
_ELLIPSIS = " …"


def pinned_sections(entries: Sequence[Entry], recipe: Recipe) -> list[Section]:
    """The sections that the user put together; those above the first heading come under “Findings”. recipe: of the lens of the report."""
    sections: list[Section] = []
    title, number, parts = FINDINGS, 0, list[Part]()
    for entry in entries:
        if isinstance(entry, Heading):
            if parts or number:
                sections.append(Section(f"part-{number}", title, tuple(parts)))
            title, number, parts = entry.text, entry.number, []
        elif isinstance(entry, Words):
            parts += [Paragraph(text) for text in entry.text.split("\n") if text.strip()]
        else:
            parts += _finding(entry, recipe)
    if parts or number:
        sections.append(Section(f"part-{number}", title, tuple(parts)))
    return sections


def _finding(finding: Finding, recipe: Recipe) -> Iterator[Part]:
    settings = recipe.report
    yield Subheading(finding.title)
    yield from (Paragraph(text) for text in finding.note.split("\n") if text.strip())
    figures = "; ".join(f"{name}: {value}" for name, value in finding.figures)
    if finding.drawing is not None:
        yield Picture(finding.drawing.svg, finding.title, "", finding.drawing.png)
    if finding.rows is not None:
        rows = finding.rows
        cut = f", {len(rows.rows):,} of {rows.of:,} rows" if len(rows.rows) < rows.of else ""
        yield Table(f"{rows.caption}{cut}", rows.heads, rows.rows, _numbers(rows.rows, len(rows.heads)))
    if settings.texts:
        yield from (_quoted(quote, settings) for quote in finding.quotes)
    if figures:
        yield Aside(f"Figures: {figures}.")
    yield Aside(_origin(finding, recipe))


def _origin(finding: Finding, recipe: Recipe) -> str:
    """Where it was seen, and the settings that are others in the lens of the report."""
    told = f"Seen in the lens “{finding.lens}” on {finding.day}"
    other = [f"{one.label} {one.after}" for one in differences(recipe, finding.recipe)]
    return f"{told}, with {'; '.join(other)}." if other else f"{told}."


def _quoted(quote: Quote, settings: ReportSettings) -> Quoted:
    """The text, cut after as many words as are wanted."""
    if not settings.words:
        return Quoted(quote.title, quote.runs)
    left, runs = settings.words, list[tuple[str, str]]()
    for text, mark in quote.runs:
        words = text.split()
        if len(words) > left:
            runs.append((" ".join(words[:left]) + _ELLIPSIS, mark))
            break
        runs.append((text, mark))
        left -= len(words)
    return Quoted(quote.title, tuple(runs))


def _numbers(rows: Sequence[Sequence[str]], columns: int) -> frozenset[int]:
    """The columns in which all cells that are not empty are numbers."""
    found = set()
    for at in range(1, columns):
        cells = [row[at] for row in rows if row[at].strip()]
        if cells and all(is_number(cell) for cell in cells):
            found.add(at)
    return frozenset(found)
