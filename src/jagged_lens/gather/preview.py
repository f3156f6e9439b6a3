# SPDX-License-Identifier: GPL-3.0-or-later
"""The preview of a source before it is added: its first rows or documents, and the likely role of each column."""

from __future__ import annotations

import csv
import dataclasses
import itertools
from collections.abc import Sequence
from dataclasses import dataclass

from jagged_lens.errors import SourceError
from jagged_lens.gather.apart import read_apart
from jagged_lens.gather.corpus import Doubt, Unread
from jagged_lens.gather.cut import pieces_of
from jagged_lens.gather.encoding import decoded
from jagged_lens.gather.files import deepest, files_of, is_table, path_labels
from jagged_lens.gather.offers import cuts_offered
from jagged_lens.gather.readers import Options, Piece
from jagged_lens.gather.roles import PREVIEW_ROWS, ColumnLook, Role, guess_roles, look_at, roles_in, source_with
from jagged_lens.gather.source import Source
from jagged_lens.gather.sources import MOST_MEMORY, Means, is_hard_source, unfitting
from jagged_lens.gather.tables import Table, open_table
from jagged_lens.gather.tables.separated import open_pasted
from jagged_lens.killable import call_killable
from jagged_lens.named_file import small_file
from jagged_lens.progress import Progress, unheard

_FILES_LOOKED_AT = 12
_CELL = 300


@dataclass(frozen=True)
class Preview:
    """is_table: whether columns have roles. columns, rows: as they would be read, cells cut to a glance. looks, roles: of each
    column. settings, choices: how a table was read, and what could be chosen. files: how many there are. notices: in
    words. source: the one that was looked at, with what was guessed in it. offers: other ways to cut a text, in words and as settings.
    problem: why nothing could be read, "" where something could."""

    source: Source
    is_table: bool
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    looks: tuple[ColumnLook, ...] = ()
    roles: tuple[Role, ...] = ()
    settings: dict[str, str] = dataclasses.field(default_factory=dict)
    choices: dict[str, list[str]] = dataclasses.field(default_factory=dict)
    files: int = 0
    notices: tuple[str, ...] = ()
    offers: tuple[tuple[str, dict[str, str]], ...] = ()
    problem: str = ""


SECONDS = 20.0
"""Limit of a preview of what could be made to hang."""


def preview(source: Source, means: Means, progress: Progress = unheard) -> Preview:
    """The first rows or documents of a source. SourceError where it cannot be read; only the first rows are.

    TookTooLong where that takes longer than SECONDS: a query without an end, a spreadsheet that claims any number of rows.
    """
    if is_hard_source(source, means.folder):
        what = f"the preview of {source.name}"
        return call_killable(
            preview_here, source, means, progress=progress, seconds=SECONDS, memory=MOST_MEMORY, what=what
        )
    return preview_here(source, means, progress)


def tables_of(database: str, means: Means, progress: Progress = unheard) -> list[str]:
    """The names of the tables and views of a database, asked for at most SECONDS."""
    return call_killable(_tables_of, database, means, progress=progress, seconds=SECONDS, what="listing the tables")


def _tables_of(database: str, means: Means, progress: Progress = unheard) -> list[str]:
    from jagged_lens.gather.database import tables_in

    return tables_in(database, means.folder, means.passwords)


def preview_here(source: Source, means: Means, progress: Progress = unheard) -> Preview:
    """A preview made in this process."""
    try:
        return _preview(source, means, progress)
    except UnicodeError as error:
        raise unfitting(source) from error
    except OSError as error:
        raise SourceError(f"it cannot be read ({error.strerror})", source.name) from error


def _preview(source: Source, means: Means, progress: Progress) -> Preview:
    if source.kind == "database":
        from jagged_lens.gather.database import opened_table

        with opened_table(source, means.folder, means.passwords) as table:
            return _of_table(table, source)
    if source.kind == "pasted":
        return _of_paste(source)
    if source.kind == "links":
        return _of_links(source, means)
    files, notices = files_of(source, means.folder, progress)
    if is_table(files[0]):
        table = open_table(files[0].path, files[0].name, source)
        try:
            return _of_table(table, source, len(files))
        finally:
            table.close()
    shown = files[:_FILES_LOOKED_AT]
    rows: list[tuple[str, ...]] = []
    found = read_apart(shown, Options(source.encoding, source.replies), means.threads, progress, seconds=10)
    labels = [name for name in source.path_labels if name]
    most = deepest(files)
    texts: list[str] = []
    reasons: list[str] = []
    for file, ones in zip(shown, found, strict=True):
        for one in ones:
            if isinstance(one, Unread):
                reasons.append(one.reason)
                rows.append((one.name, f"not read: {one.reason}", "", *[""] * len(labels)))
            elif isinstance(one, Doubt):
                notices.append(Doubt(file.name, one.readings).words)
            elif isinstance(one, str):
                notices.append(f"{file.name} {one}")
            else:
                texts.append(one.text)
                values = path_labels(f"{file.name}/{one.name}" if one.name else file.name, source, most)
                for piece in itertools.islice(pieces_of(one, source), PREVIEW_ROWS):
                    rows.append(
                        (file.name, *_glance([piece.title, piece.text]), *(values.get(name, "") for name in labels))
                    )
    columns = ("file", "title", "text", *labels)
    offers = tuple(cuts_offered(texts[0])) if len(files) == 1 and len(texts) == 1 and source.cut == "no" else ()
    cutter = source.cutter()
    if source.cut == "at" and cutter is not None and not any(cutter.search(text) for text in texts):
        notices.insert(0, f"The separator “{source.cut_at}” does not occur in the preview: texts stay whole.")
    return Preview(
        source,
        False,
        columns,
        tuple(rows[:PREVIEW_ROWS]),
        files=len(files),
        notices=tuple(notices[:20]),
        offers=offers,
        problem=reasons[0] if reasons and len(reasons) == len(rows) else "",
    )


def _of_table(table: Table, source: Source, files: int = 1) -> Preview:
    rows = [list(row) for row in itertools.islice(table.rows, PREVIEW_ROWS)]
    looks = look_at(table.columns, rows)
    roles = roles_in(source, table.columns) or guess_roles(looks)
    if source.kind == "database":  # what is fetched from a database is its rows
        roles = ["leave out" if role == "link" else role for role in roles]
    known = source_with(source, table.columns, roles) if not roles_in(source, table.columns) else source
    return Preview(
        known,
        True,
        tuple(table.columns),
        tuple(_glance(row) for row in rows),
        tuple(looks),
        tuple(roles),
        table.settings,
        table.choices,
        files,
        (*table.notices, *(doubt.words for doubt in table.doubts)),
    )


def _of_paste(source: Source) -> Preview:
    """A paste whose lines have tabs in them is a table, unless it is to be cut."""
    lines = source.pasted.splitlines()[:PREVIEW_ROWS]
    separator = source.separator or _separator_of(lines)
    if source.cut == "no" and separator:
        table = open_pasted(dataclasses.replace(source, separator=separator))
        return _of_table(table, dataclasses.replace(source, separator=separator))
    pieces = list(itertools.islice(pieces_of(Piece(source.pasted), source), PREVIEW_ROWS))
    rows = tuple(_glance([piece.title, piece.text]) for piece in pieces)
    notices: tuple[str, ...] = ()
    cutter = source.cutter()
    if source.cut == "at" and cutter is not None and not cutter.search(source.pasted):
        notices = (f"The separator “{source.cut_at}” does not occur in this text: it stays whole.",)
    offers = tuple(cuts_offered(source.pasted)) if source.cut == "no" else ()
    return Preview(source, False, ("title", "text"), rows, files=0, notices=notices, offers=offers)


def _separator_of(lines: Sequence[str]) -> str:
    """The separator of pasted lines, if they are a table: a tab in nearly every line, or as many commas or semicolons in each as in the
    first, the header."""
    if len(lines) < 2:
        return ""
    if sum("\t" in line for line in lines) > 0.8 * len(lines):
        return "tab"
    for mark in (";", ","):
        try:
            rows = [row for row in csv.reader(lines, delimiter=mark) if row]
        except csv.Error:
            continue
        names = rows[0] if rows else []
        alike = sum(len(row) == len(names) for row in rows)
        short = all(name.strip() and len(name) < 40 and len(name.split()) < 5 for name in names)
        if len(names) > 1 and short and alike > 0.9 * len(rows) and len(set(names)) == len(names):
            return mark
    return ""


def _of_links(source: Source, means: Means) -> Preview:
    from jagged_lens.gather.links import addresses_in

    if not source.lists_links:
        as_file = dataclasses.replace(source, links="", file=source.links, column="")
        files, _ = files_of(as_file, means.folder)
        if is_table(files[0]):
            table = open_table(files[0].path, files[0].name, as_file)
            try:
                return _of_table(table, source)
            finally:
                table.close()
        text = decoded(small_file(files[0].path))[0]
    else:
        text = source.links
    found = addresses_in(text)
    rows = tuple((address,) for address in found[:PREVIEW_ROWS])
    return Preview(source, False, ("address",), rows, files=len(found))


def _glance(cells: Sequence[str]) -> tuple[str, ...]:
    return tuple(" ".join(cell[:_CELL].split()) for cell in cells)
