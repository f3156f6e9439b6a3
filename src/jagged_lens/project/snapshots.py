# SPDX-License-Identifier: GPL-3.0-or-later
"""The documents of a source as stored in a project file, and back."""

from __future__ import annotations

import datetime
import json
import math
import sqlite3
import typing
from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

import numpy as np

from jagged_lens.gather import NO_DATE, Corpus, Doubt, Label, Number, Page, Source, Unread, plain_source
from jagged_lens.strings import StringsBuilder


def snapshot(connection: sqlite3.Connection, stamp: str) -> Corpus | None:
    """The documents that were read of a source under a stamp; None where they are not there.

    What the file should not hold raises TypeError, ValueError, LookupError, AttributeError or ArithmeticError.
    """
    found = connection.execute(
        "SELECT id, labels, numbers, notices, unread, pages FROM snapshots WHERE stamp = ?", (stamp,)
    ).fetchone()
    if found is None:
        return None
    label_names, number_names, said = json.loads(found[1]), json.loads(found[2]), json.loads(found[3])
    keys, texts, titles, origins = (StringsBuilder() for _ in range(4))
    dates: list[int] = []
    labels: list[list[str]] = [[] for _ in label_names]
    numbers: list[list[float]] = [[] for _ in number_names]
    if not all(isinstance(name, str) for name in [*label_names, *number_names]):
        raise TypeError("a label has no name")
    for row in connection.execute(
        "SELECT key, title, text, origin, date, labels, numbers FROM documents WHERE snapshot = ? ORDER BY number",
        (found[0],),
    ):
        for builder, value in zip((keys, titles, texts, origins), row[:4], strict=True):
            builder.append(value)
        dates.append(NO_DATE if not row[4] else int(np.datetime64(row[4], "D").astype(int)))
        for column, label in zip(labels, json.loads(row[5]), strict=True):
            if not isinstance(label, str):
                raise TypeError("the value of a label is not text")
            column.append(label)
        for numbered, value in zip(numbers, json.loads(row[6]), strict=True):
            if not isinstance(value, (int, float, type(None))) or isinstance(value, bool):
                raise TypeError("a number is not a number")
            numbered.append(math.nan if value is None else float(value))
    return Corpus(
        keys.strings(),
        texts.strings(),
        titles.strings(),
        origins.strings(),
        tuple(Label.of(name, values) for name, values in zip(label_names, labels, strict=True)),
        tuple(one for one in said if isinstance(one, str)),
        np.array(dates, np.int32) if any(day != NO_DATE for day in dates) else np.zeros(0, np.int32),
        tuple(Number(name, np.array(values, float)) for name, values in zip(number_names, numbers, strict=True)),
        unread=tuple(of_texts(Unread, one) for one in json.loads(found[4])),
        pages=tuple(of_texts(Page, one) for one in json.loads(found[5])),
        doubts=tuple(
            Doubt(str(one["name"]), tuple((str(name), str(line)) for name, line in one["readings"]))
            for one in said
            if isinstance(one, dict)
        ),
    )


def keep_snapshot(connection: sqlite3.Connection, stamp: str, source: Source, corpus: Corpus) -> None:
    """Keep the documents that were read of a source under a stamp."""
    if connection.execute("SELECT 1 FROM snapshots WHERE stamp = ?", (stamp,)).fetchone():
        old = connection.execute("SELECT id FROM snapshots WHERE stamp = ?", (stamp,)).fetchone()[0]
        connection.execute("DELETE FROM documents WHERE snapshot = ?", (old,))
        connection.execute("DELETE FROM snapshots WHERE id = ?", (old,))
    number = connection.execute(
        "INSERT INTO snapshots (stamp, source, read_on, labels, numbers, notices, unread, pages) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        (
            stamp,
            _json(plain_source(source)),
            now(),
            _json([label.name for label in corpus.labels]),
            _json([one.name for one in corpus.numbers]),
            _json([*corpus.notices, *(asdict(one) for one in corpus.doubts)]),
            _json([asdict(one) for one in corpus.unread]),
            _json([asdict(page) for page in corpus.pages]),
        ),
    ).lastrowid
    # What is left of a snapshot that was given up may still stand under its number.
    connection.execute("DELETE FROM documents WHERE snapshot = ?", (number,))
    connection.executemany(
        "INSERT INTO documents VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", _as_table_rows(number or 0, corpus)
    )


def of_texts(kind: Any, values: Any) -> Any:
    """A data class of texts and whole numbers, made of values that are such. TypeError where they are not."""
    hints = typing.get_type_hints(kind)
    for name, value in values.items():
        if not isinstance(value, hints[name]) or isinstance(value, bool):
            raise TypeError(f"{name} is not valid")
    return kind(**values)


def _as_table_rows(snapshot: int, corpus: Corpus) -> Iterator[tuple[Any, ...]]:
    columns = [list(label.values) for label in corpus.labels]
    for row, (key, title, text, origin) in enumerate(
        zip(corpus.keys, corpus.titles, corpus.texts, corpus.origins, strict=True)
    ):
        labels = [values[label.codes[row]] for values, label in zip(columns, corpus.labels, strict=True)]
        numbers = [
            None if math.isnan(value) else value for one in corpus.numbers for value in (float(one.values[row]),)
        ]
        yield snapshot, row, key, title, text, origin, corpus.date(row), _json(labels), _json(numbers)


def _json(value: Any) -> str:
    # A name that is no UTF-8 holds what no text can: it is written as JSON writes it, \udcNN, and comes back as it was.
    return json.dumps(value, ensure_ascii=False).encode("utf-8", "backslashreplace").decode()


def now() -> str:
    """The time of now, ISO 8601, to the second."""
    return datetime.datetime.now(datetime.UTC).isoformat(timespec="seconds")
