"""CSV and TSV (RFC 4180, and the other separators found in the wild), read as they stream by."""

from __future__ import annotations

import csv
import io
import itertools
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather.encoding import encoding_of, is_binary, known_encoding
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables.table import Table, has_header, named

SEPARATORS = (",", ";", "\t", "|")
_START = 1 << 20
_SHOWN = {"\t": "tab"}
_MEANT = {"tab": "\t", "\\t": "\t"}

csv.field_size_limit(min(sys.maxsize, 2**31 - 1))


def open_separated(path: Path, name: str, source: Source) -> Table:
    """The table in a file. SourceError where it is none."""
    raw = path.open("rb")
    size = max(path.stat().st_size, 1)
    start = raw.read(_START)
    raw.seek(0)
    if is_binary(start) and not source.encoding:
        raw.close()
        raise SourceError("this is no table of text", name, "Choose another file, or give its encoding.")
    encoding = known_encoding(source.encoding) if source.encoding else encoding_of(start, len(start) == size)
    text = io.TextIOWrapper(raw, encoding, "replace", newline="")
    return _table(text, start.decode(encoding, "replace"), name, source, encoding, lambda: raw.tell() / size)


def open_pasted(source: Source) -> Table:
    """The table in a text that was pasted."""
    return _table(io.StringIO(source.pasted, newline=""), source.pasted[:_START], source.name, source, "", lambda: 0.5)


def _table(text: io.TextIOBase, start: str, name: str, source: Source, encoding: str, share: object) -> Table:
    separator = _MEANT.get(source.separator, source.separator)
    if len(separator) > 1:
        raise SourceError(f'the separator "{source.separator}" is longer than one character', name, "Such as , or tab.")
    if not separator:
        separator = "\t" if name.lower().endswith(".tsv") else separator_of(start)
    lines = (line.replace("\0", "\ufffd") for line in text) if "\0" in start else text
    reader = csv.reader(lines, delimiter=separator)
    first = list(itertools.islice(_checked(reader, name), 30))
    if source.header == "guess" and not any(cell.strip() for row in first[:1] for cell in row):
        raise SourceError("the table has no header row", name, "The first row must name the columns.")
    header = source.header == "yes" or (source.header == "guess" and has_header(first))
    width = len(first[0]) if first else 0
    columns = named(first[0] if header and first else [""] * width)
    table = Table(columns, iter(()), share)  # type: ignore[arg-type]
    table.settings = {
        "encoding": encoding.removesuffix("-sig"),
        "separator": _SHOWN.get(separator, separator),
        "header": "yes" if header else "no",
    }
    table.choices = {"separator": [_SHOWN.get(one, one) for one in SEPARATORS]}
    table.close = text.close
    table.rows = _rows(itertools.chain(first[header:], _checked(reader, name)), table, name)
    if not source.encoding and table.settings["encoding"] not in ("utf-8", ""):
        table.notices.append(f"{name} was read as {table.settings['encoding']}.")
    return table


def _checked(reader: Iterator[list[str]], name: str) -> Iterator[list[str]]:
    try:
        for row in reader:
            if row:
                yield row
    except csv.Error as error:
        line = getattr(reader, "line_num", 0)
        raise SourceError(f"the table is broken at line {line} ({error})", name) from error


def _rows(rows: Iterator[list[str]], table: Table, name: str) -> Iterator[Sequence[str]]:
    width, ragged, total = len(table.columns), 0, 0
    for row in rows:
        total += 1
        ragged += len(row) != width
        yield row
    if ragged:
        table.notices.append(f"{name}: {ragged:,} of {total:,} rows do not have {width} fields; gaps were left empty.")


def separator_of(start: str) -> str:
    """The separator that splits the first rows into the same number of fields, and into the most; a comma if none does."""
    lines = start[:65_536]

    def fitness(mark: str) -> tuple[float, int]:
        try:
            widths = [
                len(row) for row in itertools.islice(csv.reader(io.StringIO(lines, newline=""), delimiter=mark), 20)
            ]
        except csv.Error:
            return (0.0, 0)
        filled = [width for width in widths[:-1] or widths if width]
        if not filled or filled[0] == 1:
            return (0.0, 0)
        return (sum(width == filled[0] for width in filled) / len(filled), filled[0])

    best = max(SEPARATORS, key=fitness)
    return best if fitness(best)[1] else ","
