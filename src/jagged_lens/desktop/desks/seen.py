# SPDX-License-Identifier: GPL-3.0-or-later
"""The view of a desk as a finding keeps it: the picture as drawn or the rows in front, and the texts that are read."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.going_out import tables_seen
from jagged_lens.desktop.plots.drawing_file import Painting, as_png, as_svg
from jagged_lens.desktop.reading.reader import Reader
from jagged_lens.desktop.reading.reading_table import ReadingTable
from jagged_lens.desktop.tables.table_file import rows_of
from jagged_lens.project import Drawing, Quote, Rows


@dataclass(frozen=True)
class Seen:
    """words: what it says of itself. about_pick: whether it shows the picked documents."""

    words: str
    about_pick: bool
    drawing: Drawing | None = None
    rows: Rows | None = None
    quotes: tuple[Quote, ...] = ()


def seen_at(desk: Desk) -> Seen:
    """The current view of a desk."""
    if (reading := reading_table_of(desk)) is not None and reading.isVisible():
        return Seen(reading.heading.text(), True, quotes=_of_reading_table(reading))
    front = desk.in_front
    within = front.name and not front.name.lower().startswith(desk.title.lower())
    name = f"{desk.title}, {front.name.lower()}" if within else front.name or desk.title
    words = f"{name}: {front.own_words() or desk.figures.text()}".rstrip(": ")
    if (own := front.own_rows()) is not None:
        return Seen(words, front.about_pick, rows=own)
    tables = tables_seen(desk.content)
    picture = next((piece for piece in desk.pieces() if piece.painting is not None), None)  # its own, where it has one
    drawing = picture.painting if picture is not None else None
    if picture is not None and drawing is not None and picture.own:
        return Seen(words, front.about_pick, drawing=_drawn(drawing()))
    if tables:
        return Seen(words, front.about_pick, rows=rows_of(tables[0]))
    return Seen(words, front.about_pick, drawing=_drawn(drawing()) if drawing is not None else None)


def seen_in(reader: Reader) -> Seen:
    """The texts that are read beside the desk."""
    return Seen(
        reader.heading.text(),
        True,
        quotes=tuple(Quote(view.title.text(), tuple(view.text.runs())) for view in reader.shown_views()),
    )


def reading_table_of(desk: QWidget) -> ReadingTable | None:
    """The table at which two texts are read, of a desk that has one."""
    found = getattr(desk, "reading_table", None)
    return found if isinstance(found, ReadingTable) else None


def _of_reading_table(reading: ReadingTable) -> tuple[Quote, ...]:
    return tuple(
        Quote(title.text(), tuple(text.runs())) for title, text in zip(reading.titles, reading.texts, strict=True)
    )


def _drawn(painting: Painting) -> Drawing:
    svg = as_svg(painting)
    return Drawing(svg=svg) if svg else Drawing(png=as_png(painting, round(painting.size.width())))
