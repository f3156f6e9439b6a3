# SPDX-License-Identifier: GPL-3.0-or-later
"""Findings as plain values, for the file, and back. Pictures are named by their digest, and kept beside."""

from __future__ import annotations

import datetime
from collections.abc import Iterable, Mapping
from typing import Any

from jagged_lens.lens import recipe_of, sections_of
from jagged_lens.project.findings import MARKS, Drawing, Entry, Finding, Heading, Quote, Rows, Way, Words
from jagged_lens.project.pictures_kept import digest_of
from jagged_lens.project.plain_values import a_list, a_text, pairs, texts


def plain_entries(entries: Iterable[Entry]) -> list[dict[str, Any]]:
    """The entries of a report as dictionaries, lists, texts and numbers."""
    return [_plain(entry) for entry in entries]


def pictures_of(entries: Iterable[Entry]) -> dict[str, bytes]:
    """The pictures of the entries, by digest."""
    drawn = [_content(entry.drawing) for entry in entries if isinstance(entry, Finding) and entry.drawing is not None]
    return {digest_of(content): content for content in drawn}


def entries_from(values: Any, pictures: Mapping[str, bytes]) -> tuple[Entry, ...]:
    """The entries that plain values describe. pictures: by digest; a finding whose picture is not among them has none.

    TypeError, ValueError or LookupError where the values are not what they should be.
    """
    entries = tuple(_entry(one, pictures) for one in a_list(values))
    if len({entry.number for entry in entries}) < len(entries):
        raise ValueError("two parts of the report have one number")
    return entries


def _content(drawing: Drawing) -> bytes:
    return drawing.png or drawing.svg.encode()


def _plain(entry: Entry) -> dict[str, Any]:
    if isinstance(entry, Heading):
        return {"number": entry.number, "heading": entry.text}
    if isinstance(entry, Words):
        return {"number": entry.number, "words": entry.text}
    way, rows = entry.way, entry.rows
    return {
        "number": entry.number,
        "title": entry.title,
        "named": entry.named,
        "note": entry.note,
        "day": entry.day,
        "lens": entry.lens,
        "recipe": sections_of(entry.recipe),
        "way": {
            "desk": way.desk,
            "face": way.face,
            "row": list(way.row),
            "pick": list(way.pick),
            "reading": way.reading,
            "terms": list(way.terms),
        },
        "figures": [list(one) for one in entry.figures],
        "picture": digest_of(_content(entry.drawing)) if entry.drawing is not None else "",
        "rows": {
            "caption": rows.caption,
            "heads": list(rows.heads),
            "rows": [list(one) for one in rows.rows],
            "of": rows.of,
        }
        if rows is not None
        else None,
        "quotes": [{"title": one.title, "runs": [list(run) for run in one.runs]} for one in entry.quotes],
    }


def _entry(values: Any, pictures: Mapping[str, bytes]) -> Entry:
    number = _number(values["number"])
    if "heading" in values:
        return Heading(number, a_text(values["heading"]))
    if "words" in values:
        return Words(number, a_text(values["words"]))
    day, way = a_text(values["day"]), values["way"]
    datetime.date.fromisoformat(day)
    return Finding(
        number,
        a_text(values["title"]),
        a_text(values["note"]),
        day,
        a_text(values["lens"]),
        recipe_of(values["recipe"]),
        Way(
            a_text(way["desk"]),
            a_text(way["face"]),
            texts(way["row"]),
            texts(way["pick"]),
            a_text(way["reading"]),
            texts(way["terms"]),
        ),
        pairs(values["figures"]),
        _drawing(pictures.get(a_text(values["picture"]))),
        _rows(values["rows"]) if values["rows"] is not None else None,
        tuple(_quote(one) for one in values["quotes"]),
        values["named"] is True,
    )


def _drawing(content: bytes | None) -> Drawing | None:
    if content is None:
        return None
    if content.startswith(b"\x89PNG\r\n"):
        return Drawing(png=content)
    return Drawing(svg=content.decode())


def _rows(values: Any) -> Rows:
    heads, rows = texts(values["heads"]), tuple(texts(one) for one in values["rows"])
    if any(len(row) != len(heads) for row in rows):
        raise ValueError("a row of a finding has too many or too few cells")
    return Rows(a_text(values["caption"]), heads, rows, _number(values["of"]))


def _quote(values: Any) -> Quote:
    runs = pairs(values["runs"])
    if any(mark not in MARKS for _, mark in runs):
        raise ValueError("a text of a finding has an unknown mark")
    return Quote(a_text(values["title"]), runs)


def _number(value: Any) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or value < 0:
        raise TypeError(f"{str(value)[:40]} is not a number")
    return value
