# SPDX-License-Identifier: GPL-3.0-or-later
"""CSV and TSV (RFC 4180, and the other separators found in the wild), read as they stream by."""

from __future__ import annotations

import csv
import io
import itertools
import re
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather.encoding import Guess, guess_of_file, is_binary, shown
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables.table import Table, has_header, named
from jagged_lens.named_file import open_plain

SEPARATORS = (",", ";", "\t", "|")
_START = 1 << 20
_SAID = re.compile(r"\ufeff?sep=([^\r\n])\r?\n", re.IGNORECASE)
_SHOWN = {"\t": "tab"}
_MEANT = {"tab": "\t", "\\t": "\t"}

MOST_CHARACTERS = 50_000_000  # of one field: the parser takes four bytes and more for each
csv.field_size_limit(MOST_CHARACTERS)


def open_separated(path: Path, name: str, source: Source, likely: Mapping[str, float] | None = None) -> Table:
    """The table in a file. SourceError where it is none."""
    raw = open_plain(path)
    size = max(path.stat().st_size, 1)
    try:
        guess, start = guess_of_file(raw, source.encoding, likely)
    except SourceError:
        raw.close()
        raise
    if is_binary(start) and not source.encoding:
        raw.close()
        raise SourceError("this is not a text table", name, "Choose another file, or set its encoding.")
    text = io.TextIOWrapper(raw, guess.encoding, "replace", newline="")
    shown_start = start.decode(guess.encoding, "replace")
    return _table(text, shown_start, name, source, guess, lambda: raw.tell() / size)


def open_pasted(source: Source) -> Table:
    """The table in a text that was pasted."""
    return _table(
        io.StringIO(source.pasted, newline=""), source.pasted[:_START], source.name, source, Guess(""), lambda: 0.5
    )


def _table(text: io.TextIOBase, start: str, name: str, source: Source, guess: Guess, share: object) -> Table:
    said = _SAID.match(start)
    if said:
        text.readline(_START)
        start = start[said.end() :]
    separator = _MEANT.get(source.separator, source.separator) or (said[1] if said else "")
    if len(separator) > 1:
        raise SourceError(
            f'the separator "{source.separator}" is longer than one character',
            name,
            "Use a single character such as a comma, or tab.",
        )
    if not separator:
        separator = "\t" if name.lower().endswith(".tsv") else separator_of(start)
    notices: list[str] = []
    escape = escape_of(start, separator)
    found = _parsed(_lines(text, name), separator, escape, name, notices)
    first = list(itertools.islice(found, 30))
    if source.header == "guess" and not any(cell.strip() for row in first[:1] for cell in row):
        raise SourceError("the table has no header row", name, "The first row must name the columns.")
    header = source.header == "yes" or (source.header == "guess" and has_header(first))
    width = len(first[0]) if first else 0
    columns = named(first[0] if header and first else [""] * width)
    table = Table(columns, iter(()), share, notices)  # type: ignore[arg-type]
    table.settings = {
        "encoding": shown(guess.encoding),
        "separator": _SHOWN.get(separator, separator),
        "header": "yes" if header else "no",
    }
    table.choices = {"separator": [_SHOWN.get(one, one) for one in SEPARATORS]}
    table.close = text.close
    table.rows = _rows_read(itertools.chain(first[header:], found), table, name)
    table.say_encoding(name, source.encoding, guess)
    return table


def _lines(text: io.TextIOBase, name: str) -> Iterator[str]:
    """The lines of a text; NUL, at which a parser stumbles, as U+FFFD."""
    while line := text.readline(MOST_CHARACTERS + 1):
        if len(line) > MOST_CHARACTERS:
            raise SourceError(f"one of its lines is longer than {MOST_CHARACTERS / 1e6:g} million characters", name)
        yield line.replace("\0", "\ufffd") if "\0" in line else line


class _Fed:
    """Lines on their way to the parser. since: those of the row that it is at; over: whether they have come to an end."""

    def __init__(self, lines: Iterator[str]) -> None:
        self._lines = lines
        self.since: list[str] = []
        self.over = False

    def __iter__(self) -> _Fed:
        return self

    def __next__(self) -> str:
        try:
            line = next(self._lines)
        except StopIteration:
            self.over = True
            raise
        self.since.append(line)
        return line


def _parsed(
    lines: Iterator[str], separator: str, escape: str | None, name: str, notices: list[str]
) -> Iterator[list[str]]:
    """The rows that hold something. Where a quotation mark is never closed, nothing that stands behind it is swallowed: from
    there on each line is a row, and a notice says so."""
    fed, at = _Fed(lines), 0
    reader = csv.reader(fed, delimiter=separator, escapechar=escape)
    while True:
        try:
            row = next(reader)
        except StopIteration:
            return
        except csv.Error as error:
            if len(fed.since) < 2:
                raise SourceError(f"the table cannot be read beyond line {at + 1:,} ({error})", name) from error
            row, broken = [], True
        else:
            broken = fed.over and bool(fed.since)
        if broken:
            notices.append(
                f"{name}: a quotation mark in line {at + 1:,} is never closed; from there on, each line was read as one row."
            )
            rest = csv.reader(itertools.chain(fed.since, fed), delimiter=separator, quoting=csv.QUOTE_NONE)
            yield from filter(None, rest)
            return
        at += len(fed.since)
        fed.since.clear()
        if row:
            yield row


def _rows_read(rows: Iterator[list[str]], table: Table, name: str) -> Iterator[Sequence[str]]:
    width, ragged, total = len(table.columns), 0, 0
    for row in rows:
        total += 1
        ragged += len(row) != width
        yield row[:width]
    if ragged:
        table.notices.append(
            f"{name}: {ragged:,} of {total:,} rows do not have {width} fields; missing cells were left empty."
        )


def separator_of(start: str) -> str:
    """The separator that splits the first rows into the same number of fields, and into the most; a comma if none does."""
    lines = start[:65_536]

    def fitness(mark: str) -> tuple[float, int]:
        return _regular(lines, mark, escape_of(lines, mark))

    best = max(SEPARATORS, key=fitness)
    return best if fitness(best)[1] else ","


def escape_of(start: str, separator: str) -> str | None:
    """A backslash, where quotation marks inside quoted fields have one before them in place of standing twice; else None."""
    lines = start[:65_536]
    if '\\"' not in lines:
        return None
    plain, escaped = _regular(lines, separator, None), _regular(lines, separator, "\\")
    return "\\" if escaped[1] > 1 and escaped[0] > plain[0] else None


def _regular(lines: str, separator: str, escape: str | None) -> tuple[float, int]:
    """The share of the first rows with as many fields as the first, and that number; zeros if there is only one."""
    reader = csv.reader(io.StringIO(lines, newline=""), delimiter=separator, escapechar=escape)
    try:
        widths = [len(row) for row in itertools.islice(reader, 20)]
    except csv.Error:
        return (0.0, 0)
    filled = [width for width in widths[:-1] or widths if width]
    if not filled or filled[0] == 1:
        return (0.0, 0)
    return (sum(width == filled[0] for width in filled) / len(filled), filled[0])
