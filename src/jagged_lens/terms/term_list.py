# SPDX-License-Identifier: GPL-3.0-or-later
"""Lists of terms, to be kept, exchanged and reapplied: plain text with a term a line, or CSV with a column named term."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather import decoded
from jagged_lens.line_lists import entries_in, is_inside, text_of
from jagged_lens.named_file import path_of, small_file
from jagged_lens.text_cells import guarded, unguarded

_MOST_BYTES = 200_000_000  # the terms.csv of a run can hold a million terms


def read_terms(name: str, folder: Path) -> tuple[str, ...]:
    """The terms of a list, each once. Of a CSV with a column kept, only those that say yes: the terms.csv of a run is such.

    SourceError where it cannot be read, or holds nothing.
    """
    if is_inside(name):
        return tuple(dict.fromkeys(entries_in(name)))
    try:
        path = path_of(name, folder)
        text, _ = decoded(small_file(path, _MOST_BYTES))
    except OSError as error:
        raise SourceError(
            f"the list of terms cannot be read ({error.strerror})",
            name,
            "Choose it again under Lists on the Terms desk, or use no list.",
        ) from error
    separator = {".csv": ",", ".tsv": "\t"}.get(path.suffix.lower())
    found = _from_table(text, separator, name) if separator else entries_in(text)
    terms = tuple(dict.fromkeys(filter(None, found)))
    if not terms:
        raise SourceError(
            "the list contains no terms", name, "A list has one term per line, or the columns term and kept."
        )
    return terms


def _from_table(text: str, separator: str, name: str) -> list[str]:
    """The terms of a table in the order of its rows; lines may end in any way."""
    rows = csv.DictReader(io.StringIO(text, newline=""), delimiter=separator)
    try:
        if "term" not in (rows.fieldnames or ()):
            raise SourceError(
                'the table has no column "term"', name, "Rename the column, or use a text file with one term per line."
            )
        return [unguarded(row["term"] or "") for row in rows if row.get("kept", "yes") == "yes"]
    except csv.Error as error:
        raise SourceError(
            f"line {rows.reader.line_num} of the list is not valid CSV ({error})",
            name,
            "Or use a text file with one term per line.",
        ) from error


def write_terms(path: Path, terms: Iterable[str], times: Iterable[int]) -> None:
    """Write a list: CSV (RFC 4180) with term and times where the name says so, else a term a line."""
    if path.suffix.lower() == ".csv":
        with path.open("w", encoding="utf-8", newline="") as file:
            rows = csv.writer(file)
            rows.writerow(["term", "times"])
            rows.writerows((guarded(term), count) for term, count in zip(terms, times, strict=True))
    else:
        path.write_text(text_of(terms), "utf-8")
