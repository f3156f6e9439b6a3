"""CSV and TSV (RFC 4180, and the other separators found in the wild): each row becomes a document."""

from __future__ import annotations

import csv
import difflib
import io
import sys
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather.encoding import decoded
from jagged_lens.gather.records import Records
from jagged_lens.gather.settings import GatherSettings
from jagged_lens.progress import Progress

SEPARATORS = (",", ";", "\t", "|")
_GUESS_ROWS = 200

csv.field_size_limit(min(sys.maxsize, 2**31 - 1))


def read_table(path: Path, name: str, settings: GatherSettings, records: Records, progress: Progress) -> None:
    """Add each row of the table at `path`, known to the user as `name`.

    SourceError where there is no header, or where a named column is not in it.
    """
    text, encoding = decoded(path.read_bytes())
    if encoding != "utf-8":
        records.notices.append(f"{name} was read as {encoding}.")
    separator = "\t" if path.suffix.lower() == ".tsv" else _separator(text)
    rows = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
    try:
        header = [column.strip() for column in next(rows, [])]
        if not any(header):
            raise SourceError("the table has no header row", name, "The first row must name the columns.")
        body = [row for row in rows if row]
    except csv.Error as error:
        raise SourceError(f"the table is broken at line {rows.line_num} ({error})", name) from error
    if ragged := sum(len(row) != len(header) for row in body):
        records.notices.append(
            f"{name}: {ragged} of {len(body)} rows do not have {len(header)} fields; gaps were left empty."
        )
    place: dict[str, int] = {}
    for at, column in enumerate(header):  # of two columns with one name the first is meant
        if column:
            place.setdefault(column, at)
    texts = [_place(place, column, name) for column in settings.text] or [_wordiest(header, body)]
    title = _place(place, settings.title, name) if settings.title else place.get("title", -1)
    key = _place(place, settings.key, name) if settings.key else -1
    labels = {column: _place(place, column, name) for column in settings.labels}
    for number, row in enumerate(body, 1):
        if number % 1000 == 0:
            progress(number / len(body))
        if key >= 0 and not _field(row, key).strip():
            raise SourceError(
                f"row {number} has no key", name, f'Fill the column "{settings.key}", or leave key empty.'
            )
        own = _field(row, key).strip() if key >= 0 else f"{name}#{number}"
        parts = [part for at in texts if (part := _field(row, at)).strip()]
        records.add(
            own, "\n\n".join(parts), _field(row, title), name, {label: _field(row, at) for label, at in labels.items()}
        )


def _field(row: list[str], at: int) -> str:
    return row[at] if 0 <= at < len(row) else ""


def _place(place: dict[str, int], column: str, name: str) -> int:
    if column in place:
        return place[column]
    near = difflib.get_close_matches(column, place, 1)
    meant = f' Did you mean "{near[0]}"?' if near else ""
    raise SourceError(f'there is no column "{column}"', name, f"Its columns are: {', '.join(place)}.{meant}")


def _separator(text: str) -> str:
    """The separator that splits the first row into the most fields; a comma if none does."""
    start = text[:65_536]
    return max(SEPARATORS, key=lambda mark: len(next(csv.reader(io.StringIO(start, newline=""), delimiter=mark), [])))


def _wordiest(header: list[str], body: list[list[str]]) -> int:
    """The column with the most words in the first rows."""
    words = [sum(len(_field(row, at).split()) for row in body[:_GUESS_ROWS]) for at in range(len(header))]
    return max(range(len(header)), key=words.__getitem__)
