# SPDX-License-Identifier: GPL-3.0-or-later
"""JSON Lines: an object a line; objects inside it become columns named outer.inner."""

from __future__ import annotations

import io
import itertools
import json
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

from jagged_lens.errors import SourceError
from jagged_lens.gather.encoding import guess_of_file, shown
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables.table import Table, cell_text
from jagged_lens.named_file import open_plain

_LOOKED_AT = 200
_DEEPEST = 4
_LISTED = 8
MOST_CHARACTERS = 50_000_000  # of one line


def open_json_lines(path: Path, name: str, source: Source, likely: Mapping[str, float] | None = None) -> Table:
    """The columns are the keys of the first objects, and those that the source names, which may come later. SourceError where
    no line is an object, or a named column is in none."""
    raw = open_plain(path)
    size = max(path.stat().st_size, 1)
    try:
        guess, _ = guess_of_file(raw, source.encoding, likely)
    except SourceError:
        raw.close()
        raise
    text = io.TextIOWrapper(raw, guess.encoding, "replace")
    table = Table([], iter(()), lambda: raw.tell() / size, settings={"encoding": shown(guess.encoding)})
    table.say_encoding(name, source.encoding, guess)
    table.close = text.close
    objects = _objects(text, table, name)
    first = list(itertools.islice(objects, _LOOKED_AT))
    if not first:
        raise SourceError("none of its lines is a JSON object", name, "JSON Lines has one object per line.")
    table.columns = list(dict.fromkeys(key for one in first for key in one))
    named = [source.key, *source.text, source.title, *source.labels, source.date, *source.numbers, source.column]
    late = [column for column in dict.fromkeys(named) if column and column not in table.columns]
    ended = len(first) < _LOOKED_AT
    columns = table.columns + ([] if ended else late)
    table.rows = _rows_read(itertools.chain(first, objects), columns, table, name, late)
    table.columns = columns
    return table


def _rows_read(
    objects: Iterator[dict[str, str]], columns: list[str], table: Table, name: str, late: list[str]
) -> Iterator[Sequence[str]]:
    known, unread, missing = set(columns), dict[str, int](), set(late) & set(columns)
    for number, one in enumerate(objects, 1):
        for key in one.keys() - known:
            unread.setdefault(key, number)
        missing -= one.keys()
        yield [one.get(column, "") for column in columns]
    if missing:
        seen = ", ".join(column for column in columns if column not in missing)
        raise SourceError(f'there is no column "{min(missing)}"', name, f"Its columns are: {seen}.")
    if unread:
        listed = ", ".join(f"{key} (object {at:,})" for key, at in itertools.islice(unread.items(), _LISTED))
        table.notices.append(
            f"{name}: {len(unread):,} columns first appear far down and are read only if they are named: {listed}."
        )


def _objects(lines: io.TextIOBase, table: Table, name: str) -> Iterator[dict[str, str]]:
    wrong, first_wrong = 0, 0
    for number, line in enumerate(_lines(lines, table, name), 1):
        if not line.strip():
            continue
        try:
            value = json.loads(line)
        except (ValueError, RecursionError):
            value = None
        if isinstance(value, dict):
            yield dict(_flat(value, "", 0))
        else:
            wrong += 1
            first_wrong = first_wrong or number
    if wrong:
        table.notices.append(
            f"{name}: {wrong:,} lines are not JSON objects and were skipped; the first is line {first_wrong:,}."
        )


def _lines(text: io.TextIOBase, table: Table, name: str) -> Iterator[str]:
    """The lines; "" in place of one that is too long, which is passed over piece by piece."""
    long = 0
    while line := text.readline(MOST_CHARACTERS):
        if len(line) < MOST_CHARACTERS or line.endswith("\n"):
            yield line
            continue
        long += 1
        while line and not line.endswith("\n"):
            line = text.readline(MOST_CHARACTERS)
        yield ""
    if long:
        table.notices.append(
            f"{name}: {long:,} lines are longer than {MOST_CHARACTERS / 1e6:g} million characters and were skipped."
        )


def _flat(value: dict[str, Any], before: str, depth: int) -> Iterator[tuple[str, str]]:
    for key, one in value.items():
        if isinstance(one, dict) and depth < _DEEPEST:
            yield from _flat(one, f"{before}{key}.", depth + 1)
        elif isinstance(one, (dict, list)) and any(isinstance(inner, (dict, list)) for inner in one):
            yield before + key, json.dumps(one, ensure_ascii=False)
        else:
            yield before + key, cell_text(one)
