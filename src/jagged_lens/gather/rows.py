# SPDX-License-Identifier: GPL-3.0-or-later
"""The rows of a table, each one a document."""

from __future__ import annotations

import difflib
import itertools
from collections.abc import Iterator, Sequence

from jagged_lens.errors import SourceError
from jagged_lens.gather.entries import parted
from jagged_lens.gather.records import Records
from jagged_lens.gather.roles import PREVIEW_ROWS, look_at
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables import Table
from jagged_lens.language import word_count
from jagged_lens.progress import Progress


def add_rows(table: Table, source: Source, name: str, records: Records, progress: Progress) -> None:
    """Add each row of a table, known to the user as `name`. SourceError where a column is not there, or a key is missing."""
    first = list(itertools.islice(table.rows, PREVIEW_ROWS))
    roles = Places(table.columns, source, name, first)
    for number, row in enumerate(itertools.chain(first, table.rows), 1):
        if number % 1000 == 0:
            progress(table.share())
        roles.add(row, roles.key_of(row, number), records)
    records.notices.extend(table.notices)
    records.doubts.extend(table.doubts)


class Places:
    """The positions of the columns that a source names, and the records that are made of rows."""

    def __init__(self, columns: Sequence[str], source: Source, name: str, first: Sequence[Sequence[str]]) -> None:
        self._name = name
        self._place = {column: at for at, column in enumerate(columns)}
        self._source = source
        self.key = self._at(source.key) if source.key else -1
        self.date = self._at(source.date) if source.date else -1
        self.title = self._at(source.title) if source.title else self._place.get("title", -1)
        self.labels = {column: self._at(column) for column in source.labels}
        self.numbers = {column: self._at(column) for column in source.numbers}
        self.texts = [self._at(column) for column in source.text] or [_wordiest(columns, first)]
        self.fixed = fixed_labels(source)

    def add(self, row: Sequence[str], key: str, records: Records, text: str | None = None, title: str = "") -> None:
        """Add a row as a document. text, title: of the page that it links to, in place of its own."""
        if text is None:
            text = "\n\n".join(part for at in self.texts if (part := _cell(row, at)).strip())
        records.add(
            key,
            text,
            _cell(row, self.title) or title,
            self._name,
            {**self.fixed, **{label: _cell(row, at) for label, at in self.labels.items()}},
            _cell(row, self.date),
            {column: cell for column, at in self.numbers.items() if (cell := _cell(row, at)).strip()},
        )

    def key_of(self, row: Sequence[str], number: int) -> str:
        """The key of the document in a row of the table."""
        own = _cell(row, self.key).strip() if self.key >= 0 else f"{self._name}#{number}"
        if not own:
            raise SourceError(
                f"row {number} has no key", self._name, f'Fill the column "{self._source.key}", or leave key empty.'
            )
        return own

    def _at(self, column: str) -> int:
        if column in self._place:
            return self._place[column]
        near = difflib.get_close_matches(column, self._place, 1)
        meant = f' Did you mean "{near[0]}"?' if near else ""
        raise SourceError(
            f'there is no column "{column}"', self._name, f"Its columns are: {', '.join(self._place)}.{meant}"
        )


def fixed_labels(source: Source) -> dict[str, str]:
    """The labels that all documents of a source have. SourceError where one is not written NAME = VALUE."""
    found = {}
    for entry in source.labelled:
        both = parted(entry)
        if both is None or not both[0].strip():
            raise SourceError(
                f'"{entry}" is not a label', source.name, "Write it as NAME = VALUE, for example origin = letters."
            )
        found[both[0]] = both[1]
    return found


def rows_with_links(table: Table, source: Source, name: str) -> Iterator[tuple[int, Sequence[str], str]]:
    """Number, cells and web address of each row that has one. The column is the one named, or the first with addresses."""
    from jagged_lens.gather.links import with_scheme

    first = list(itertools.islice(table.rows, PREVIEW_ROWS))
    column = source.column
    if not column:
        looks = look_at(table.columns, first)
        column = max(looks, key=lambda look: look.links).name
    if column not in table.columns:
        raise SourceError(f'there is no column "{column}"', name, f"Its columns are: {', '.join(table.columns)}.")
    at = table.columns.index(column)
    for number, row in enumerate(itertools.chain(first, table.rows), 1):
        if address := _cell(row, at).strip():
            yield number, row, with_scheme(address) or address


def _cell(row: Sequence[str], at: int) -> str:
    return row[at] if 0 <= at < len(row) else ""


def _wordiest(columns: Sequence[str], body: Sequence[Sequence[str]]) -> int:
    """The column with the most words in the first rows."""
    words = [sum(word_count(_cell(row, at)) for row in body) for at in range(len(columns))]
    return max(range(len(columns)), key=words.__getitem__)
