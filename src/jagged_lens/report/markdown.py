# SPDX-License-Identifier: GPL-3.0-or-later
"""A report as Markdown (CommonMark, with the tables of GFM), to be worked on further; its pictures are SVG files beside it."""

from __future__ import annotations

import re
from collections.abc import Iterator

from jagged_lens.report.content import Listing, Paragraph, Part, Picture, Report, Table

_MARKS = re.compile(r"([\\`*_{}\[\]()<>#+\-.!|~&:/@])")


def markdown_of(report: Report, stem: str) -> tuple[str, dict[str, str]]:
    """The report as Markdown, and its pictures: SVG by file name. stem: with which the names of the pictures begin."""
    pictures: dict[str, str] = {}
    lines = [f"# {_plain(report.title)}", "", _plain(report.under + (f", {report.day}" if report.day else "")), ""]
    for section in report.sections:
        lines += [f"## {_plain(section.title)}", ""]
        for part in section.parts:
            lines += _lines(part, f"{stem}-{section.name}.svg", pictures)
    return "\n".join(lines).rstrip() + "\n", pictures


def _lines(part: Part, picture: str, pictures: dict[str, str]) -> Iterator[str]:
    match part:
        case Paragraph(text):
            yield from (_plain(text), "")
        case Listing(lines):
            yield from (f"- {_plain(line)}" for line in lines)
            yield ""
        case Table():
            yield from (f"**{_plain(part.caption)}**", "")
            yield f"| {' | '.join(map(_plain, part.heads))} |"
            yield f"| {' | '.join('---:' if at in part.numbers else '---' for at in range(len(part.heads)))} |"
            yield from (f"| {' | '.join(map(_plain, row))} |" for row in part.rows)
            yield ""
        case Picture():
            pictures[picture] = part.svg
            yield from (f"![{_plain(part.alternative)}](<{_address(picture)}>)", "", _plain(part.caption), "")


def _plain(text: str) -> str:
    """A text in one line in which nothing is markup."""
    return _MARKS.sub(r"\\\1", " ".join(text.split()))


def _address(name: str) -> str:
    """The name of a file between angle brackets."""
    return re.sub(r"([<>\\])", r"\\\1", name)
