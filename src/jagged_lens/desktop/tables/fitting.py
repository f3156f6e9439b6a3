# SPDX-License-Identifier: GPL-3.0-or-later
"""The widths of columns: those of content and title, with the remaining room for the text column."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from PyQt6.QtGui import QFontMetrics, QFontMetricsF

from jagged_lens.desktop.tables.arrangement import Column, Cut

_SAMPLE = 120  # rows that are measured: the first, and others evenly spread
_MOST_LOOKED_AT = 5_000  # rows in which it is looked for what a column is used for
_EDGE = 22  # pixels beside a text
_BAR = 7  # letters of the bar beside a number
_MOST_TITLE = 20  # letters that a title asks room for
_MOST = 30  # letters that a column asks room for, where its text may be cut
_LEAST = 11  # and letters that it can do with
_TEXT = 24  # letters that the text column has at the least
_SHORTEST_SHARED = 10  # letters of a beginning that is worth saying once


@dataclass(frozen=True)
class Width:
    """The preferred and the least width of a column, in pixels."""

    wide: int
    least: int


@dataclass(frozen=True)
class Shared:
    """The beginning that all rows of a column share, by the place of the column."""

    beginnings: Mapping[int, str] = field(default_factory=dict)

    def short(self, column: int, text: str) -> str:
        """The text without it; as it is where it begins otherwise."""
        beginning = self.beginnings.get(column)
        return f"…{text[len(beginning) :]}" if beginning and text.startswith(beginning) else text

    def titled(self, column: int, title: str) -> str:
        """The title of the column, with what its rows begin with."""
        beginning = self.beginnings.get(column)
        return f"{title}: {beginning}…" if beginning else title


def measured_rows(size: int) -> list[int]:
    """The rows that are measured, of so many."""
    if size <= _SAMPLE:
        return list(range(size))
    return sorted({*range(_SAMPLE // 2), *np.linspace(0, size - 1, _SAMPLE // 2).astype(int).tolist()})


def shared_beginnings(columns: Sequence[Column], size: int, stretch: int) -> Shared:
    """The beginning shared by all rows of the text column, if it is worth showing only once: whole words, and no row consists of it
    alone."""
    if size < 2 or not 0 <= stretch < len(columns) or columns[stretch].cut is not Cut.END:
        return Shared()
    column = columns[stretch]
    texts = [column.text(row) for row in measured_rows(size)]
    if column.below is not None:
        texts += [column.below(row) for row in measured_rows(size)]
    beginning = common_beginning(texts)
    return Shared({stretch: beginning} if beginning else {})


def common_beginning(texts: Sequence[str]) -> str:
    """The words that all texts begin with, with the space or stroke behind them; "" where that is short, or all of one.

    >>> common_beginning(["Allotment notes: pea", "Allotment notes: leek"]), common_beginning(["pea", "peas"])
    ('Allotment notes: ', '')
    """
    first, last = min(texts), max(texts)
    same = next((at for at, (one, other) in enumerate(zip(first, last, strict=False)) if one != other), len(first))
    common = first[:same]
    end = max(common.rfind(mark) for mark in (" ", "/", "\\")) + 1
    common = common[:end]
    return common if len(common) >= _SHORTEST_SHARED and all(len(text) > len(common) for text in texts) else ""


def is_used(column: Column, size: int) -> bool:
    """True if a column has anything to show. A long one counts as used where the first rows are empty and it does not say so itself."""
    if column.used is not None or not size:
        return column.used is not False
    if any(column.text(row) for row in measured_rows(size)):
        return True
    return size > _MOST_LOOKED_AT or any(column.text(row) for row in range(size))


def wants(column: Column, title: str, is_text: bool, size: int, metrics: QFontMetrics, titles: QFontMetricsF) -> Width:
    """The preferred width of a column. is_text: it takes the remaining room, and accepts less."""
    letter = metrics.averageCharWidth()
    texts: Iterable[str] = (column.text(row) for row in measured_rows(size)) if not column.wide else ()
    content = max((metrics.horizontalAdvance(text) for text in texts), default=0)
    if column.below is not None:
        content = max([content, *(metrics.horizontalAdvance(column.below(row)) for row in measured_rows(size))])
    if column.wide:
        content = letter * column.wide
    elif column.share is not None and column.mark is None:
        content += letter * _BAR
    named = min(titles.horizontalAdvance(title), titles.averageCharWidth() * _MOST_TITLE)
    head = round(named) + _EDGE
    content += _EDGE
    if is_text:
        least = content if column.cut is Cut.NEVER else min(content, letter * _TEXT + _EDGE)
        return Width(max(least, head), max(least, head))
    if column.cut is Cut.NEVER or column.right or column.wide:
        return Width(max(content, head), max(content, head))
    wide = max(min(content, letter * _MOST + _EDGE), head)
    return Width(wide, max(min(content, letter * _LEAST + _EDGE), min(head, letter * _LEAST + _EDGE)))


def fitted(
    wanted: Sequence[Width], shown: Sequence[int], stretch: int, fixed: Mapping[int, int], room: int
) -> dict[int, int]:
    """The width of each column that is shown: what it wants where there is room, less where its text can be cut. The text column takes
    what is left. fixed: those that stay as they are. Where that does not fit, the table is moved to and fro."""
    widths = {at: fixed.get(at, wanted[at].wide) for at in shown}
    over = sum(widths.values()) - room
    if over > 0:
        spare = {at: widths[at] - wanted[at].least for at in shown if at not in fixed and widths[at] > wanted[at].least}
        share = min(over / sum(spare.values()), 1.0) if spare else 0.0
        for at, some in spare.items():
            widths[at] -= int(np.ceil(some * share))
    elif stretch in widths:
        widths[stretch] -= over
    return widths
