# SPDX-License-Identifier: GPL-3.0-or-later
"""A report as Markdown (CommonMark, with the tables of GFM), to be worked on further; its pictures are SVG files beside it."""

from __future__ import annotations

import re
from collections.abc import Iterator

from jagged_lens.report.content import Aside, Listing, Paragraph, Part, Picture, Quoted, Report, Subheading, Table
from jagged_lens.report.safe_svg import safe_svg

_MARKS = re.compile(r"([\\`*_{}\[\]()<>#+\-.!|~&:/@])")


def markdown_of(report: Report, stem: str) -> tuple[str, dict[str, bytes]]:
    """The report as Markdown, and its pictures: SVG or PNG by file name. stem: with which the names of the pictures begin."""
    pictures: dict[str, bytes] = {}
    lines = [f"# {_plain(report.title)}", "", _plain(report.under + (f", {report.day}" if report.day else "")), ""]
    for section in report.sections:
        lines += [f"## {_plain(section.title)}", ""]
        for part in section.parts:
            inside = sum(name.startswith(f"{stem}-{section.name}") for name in pictures)
            lines += _lines(part, f"{stem}-{section.name}{f'-{inside + 1}' if inside else ''}", pictures)
    return "\n".join(lines).rstrip() + "\n", pictures


def _lines(part: Part, picture: str, pictures: dict[str, bytes]) -> Iterator[str]:
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
            own = f"{picture}.{'png' if part.png else 'svg'}"
            pictures[own] = part.png or safe_svg(part.svg, "picture", part.alternative).encode()
            yield from (f"![{_plain(part.alternative)}](<{_address(own)}>)", "")
            if part.caption:
                yield from (_plain(part.caption), "")
        case Subheading(text):
            yield from (f"### {_plain(text)}", "")
        case Aside(text):
            yield from (f"*{_plain(text)}*", "")
        case Quoted():
            yield from (f"> **{_plain(part.title)}**", ">")
            said = "".join(_marked(text, mark) for text, mark in part.runs)
            yield from (f"> {line}".rstrip() for line in said.splitlines())
            yield ""


def _marked(text: str, mark: str) -> str:
    """A stretch of a text, between the signs of its mark; the blanks at its ends stand outside them."""
    sign = {"shared": "**", "differs": "*", "removed": "~~"}.get(mark, "")
    lines = []
    for line in text.replace("\r", "\n").split("\n"):
        inner = line.strip()
        own = _plain(inner)
        before, after = line[: len(line) - len(line.lstrip())], line[len(line.rstrip()) :]
        lines.append(f"{' ' * bool(before)}{sign}{own}{sign}{' ' * bool(after)}" if inner else " " * bool(line))
    return "\n".join(lines)


def _plain(text: str) -> str:
    """A text in one line in which nothing is markup."""
    return _MARKS.sub(r"\\\1", " ".join(text.split()))


def _address(name: str) -> str:
    """The name of a file between angle brackets."""
    return re.sub(r"([<>\\])", r"\\\1", name)
