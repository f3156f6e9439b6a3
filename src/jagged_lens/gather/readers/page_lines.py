# SPDX-License-Identifier: GPL-3.0-or-later
"""Lines of text on pages, to paragraphs in reading order: columns, paragraphs, running heads and feet, divided words.

A line knows where it stands; what belongs together is told by the distance between lines, by indents and by the size of letters.
"""

from __future__ import annotations

import itertools
import re
import statistics
from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

_JUMPS = 3  # so often may the text go back up a page: the columns of any page that is in order
_FEW = 6  # lines
_WIDTH = 0.5  # of a letter, as a share of its size, on the average
_OUTER = 2  # lines at the top and at the bottom of a page that may run through all pages
_RUNNING = 0.4  # of the pages
_END = re.compile(r"[.!?:;…。！？][\"'”’»)\]]*$")
_BULLET = re.compile(r"[•◦▪‣●○■–—*·]\s|\(?\d{1,3}[.)]\s")
_PAGE_NUMBER = re.compile(
    r"(?i)(?:page|seite|p\.|s\.|página|pagina|strona|sida)?\s*[-–]?\s*\d{1,4}\s*[-–]?"
    r"(?:\s*(?:/|of|von|de|di|van|z)\s*\d{1,4})?"
)
_DIVIDED = re.compile(r"(\w[\w’']*)([-\u2010\u00ad])\n(\w+)")


@dataclass(frozen=True)
class Line:
    """x, y: where it begins, y upwards; size: of its letters, all in points."""

    x: float
    y: float
    size: float
    text: str

    @property
    def end(self) -> float:
        """About where it ends."""
        return self.x + len(self.text) * self.size * _WIDTH


def in_order(lines: Sequence[Line], width: float) -> list[Line]:
    """The lines of a page as they follow each other; where those jump about, from top to bottom, column by column.

    Two columns are told by many lines that begin right of the middle, and none that begins shortly before it.
    """
    jumps = sum(after.y > before.y + 2 for before, after in itertools.pairwise(lines))
    if jumps <= _JUMPS or len(lines) < _FEW:
        return list(lines)
    right = [line for line in lines if line.x >= width * 0.45]
    two = len(right) > 0.3 * len(lines) and not any(0.3 * width < line.x < 0.45 * width for line in lines)
    columns = [[line for line in lines if line.x < width * 0.45], right] if two else [list(lines)]
    found: list[Line] = []
    for column in columns:
        rows: dict[int, list[Line]] = defaultdict(list)
        for line in column:
            rows[round(-line.y / 3)].append(line)
        for key in sorted(rows):
            row = sorted(rows[key], key=lambda line: line.x)
            found.append(Line(row[0].x, row[0].y, row[0].size, " ".join(line.text for line in row)))
    return found


def without_running(pages: Sequence[Sequence[Line]]) -> tuple[list[list[Line]], int]:
    """The pages without the heads and feet that run through them, and how many lines went.

    Such a line is among the outermost of its page, and stands on two pages and two in five of all at the same height, the same but for
    its numbers, and nowhere else; or it is the number of a page and nothing else.
    """
    outer = [_outermost(page) for page in pages]
    seen = Counter(mark for marks in outer for mark in set(marks.values()))
    least = max(2, _RUNNING * sum(bool(page) for page in pages))
    inner = {
        _alike(line)
        for page, marks in zip(pages, outer, strict=True)
        for at, line in enumerate(page)
        if at not in marks
    }
    running = {mark for mark, count in seen.items() if count >= least and mark[1] not in inner}
    kept = [
        [line for at, line in enumerate(page) if at not in marks or not (marks[at] in running or _number(page, at))]
        for page, marks in zip(pages, outer, strict=True)
    ]
    return kept, sum(len(page) - len(rest) for page, rest in zip(pages, kept, strict=True))


def _outermost(page: Sequence[Line]) -> dict[int, tuple[int, str]]:
    """The top and bottom lines of a page: their places, and their text with all numbers equal."""
    order = sorted(range(len(page)), key=lambda at: page[at].y)
    if len(order) <= _OUTER:
        return {}
    return {at: (round(page[at].y / 4), _alike(page[at])) for at in {*order[:_OUTER], *order[-_OUTER:]}}


def _alike(line: Line) -> str:
    """The text of a line, with all numbers alike."""
    return re.sub(r"\d+", "0", " ".join(line.text.split()))


def _number(page: Sequence[Line], at: int) -> bool:
    """True if the highest or lowest line of a page is its number, and stands apart from the others."""
    apart = min(abs(page[at].y - line.y) for other, line in enumerate(page) if other != at)
    outermost = page[at].y in (min(line.y for line in page), max(line.y for line in page))
    return outermost and apart > 1.6 * page[at].size and bool(_PAGE_NUMBER.fullmatch(page[at].text.strip()))


def paragraphs(pages: Sequence[Sequence[Line]]) -> str:
    """The text of pages: a line end between lines, a blank line between paragraphs, words that were divided put together again."""
    leading = _leading(pages)
    parts: list[str] = []
    before: Line | None = None
    for page in pages:
        margin = _margins(page)
        for at, line in enumerate(page):
            if before is not None:
                same_page = at > 0
                parts.append("\n\n" if _begins(before, line, same_page, leading, margin) else "\n")
            parts.append(" ".join(line.text.split()))
            before = line
    return joined_words("".join(parts))


def _leading(pages: Sequence[Sequence[Line]]) -> dict[int, float]:
    """The usual distance between lines of each size of letters."""
    gaps: dict[int, list[float]] = defaultdict(list)
    for page in pages:
        for before, after in itertools.pairwise(page):
            gap = before.y - after.y
            if round(before.size) == round(after.size) and 0 < gap < 4 * max(after.size, 1):
                gaps[round(after.size)].append(gap)
    return {size: statistics.median_low(sorted(found)[: max(1, len(found) * 4 // 5)]) for size, found in gaps.items()}


def _margins(page: Sequence[Line]) -> tuple[float, ...]:
    """The left edges of the columns of a page."""
    begins = Counter(round(line.x) for line in page)
    return tuple(x for x, count in begins.items() if count >= max(3, len(page) // 5))


def _begins(before: Line, line: Line, same_page: bool, leading: dict[int, float], margins: tuple[float, ...]) -> bool:
    """True if a line begins a paragraph."""
    gap = before.y - line.y
    if not same_page or gap < -2:  # the next page, or the next column
        return bool(_END.search(before.text)) or not line.text[:1].islower()
    if abs(before.size - line.size) > 0.1 * max(before.size, line.size) or _BULLET.match(line.text):
        return True
    usual = leading.get(round(line.size), 1.2 * line.size)
    if gap > 1.25 * usual:
        return True
    indent = line.x - before.x
    if 0.8 * line.size < indent < 6 * line.size and any(abs(before.x - x) < 2 for x in margins) and gap > 0:
        return True
    longest = max(before.end, line.end)
    ended = bool(_END.search(before.text)) and before.end < before.x + 0.7 * (longest - before.x)
    return ended and line.text[:1].isupper() and abs(indent) < 2


def joined_words(text: str) -> str:
    """Words that a line end divides put together: without the hyphen before a small letter or inside capitals, else with it.

    >>> joined_words("the seed li-\\nbrary of Lark-\\nMoor, LI-\\nBRARY")
    'the seed library of Lark-Moor, LIBRARY'
    """

    def whole(found: re.Match[str]) -> str:
        first, mark, rest = found.groups()
        capitals = len(first) > 1 and first.isupper() and rest.isupper()
        keeps = mark == "-" and not rest[0].islower() and not capitals
        return f"{first}{'-' if keeps else ''}{rest}"

    return _DIVIDED.sub(whole, text)
