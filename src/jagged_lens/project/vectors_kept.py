# SPDX-License-Identifier: GPL-3.0-or-later
"""Vectors in a project: those of files, in blocks, and the answers of services, each under the digest of its text.

Their tables are made when the first vector comes, so that a project without any stays one that older versions read.
"""

from __future__ import annotations

import io
import sqlite3
from collections.abc import Iterable, Sequence

import numpy as np

from jagged_lens.project.schema import damaged_vectors, has_table, make_later_tables
from jagged_lens.strings import Strings
from jagged_lens.vectors import Answer, KeyedVectors

_ROWS_AT_ONCE = 8_000
_ASKED_AT_ONCE = 500


def kept_vectors(connection: sqlite3.Connection, name: str) -> tuple[str, KeyedVectors] | None:
    """The vectors of a file, by its name in the recipe, and the stamp of the file when it was read; None where there are none."""
    if not has_table(connection, "answers"):
        return None
    blocks = connection.execute(
        "SELECT stamp, key_name, content FROM vectors WHERE name = ? ORDER BY number", (name,)
    ).fetchall()
    if not blocks:
        return None
    keys, rows = [], []
    for _, _, content in blocks:
        with np.load(io.BytesIO(content), allow_pickle=False) as archive:
            keys.append(Strings(archive["data"], archive["starts"]))
            rows.append(archive["vectors"])
    vectors = np.concatenate(rows)
    if vectors.ndim != 2 or vectors.dtype != np.float32 or len(vectors) != sum(map(len, keys)):
        raise damaged_vectors(name)
    return blocks[0][0], KeyedVectors(Strings.joined(keys), vectors, blocks[0][1])


def keep_vectors(connection: sqlite3.Connection, name: str, stamp: str, found: KeyedVectors) -> None:
    """Keep the vectors of a file in place of those that were there under its name. Within a transaction."""
    make_later_tables(connection)
    connection.execute("DELETE FROM vectors WHERE name = ?", (name,))
    for number, at in enumerate(range(0, len(found.keys), _ROWS_AT_ONCE)):
        some = slice(at, min(at + _ROWS_AT_ONCE, len(found.keys)))
        keys = Strings.of(found.keys[some])
        out = io.BytesIO()
        with np.errstate(over="ignore"):
            vectors = np.asarray(found.vectors[some], np.float32)
        np.savez(out, allow_pickle=False, data=keys.data, starts=keys.starts, vectors=vectors)
        connection.execute(
            "INSERT INTO vectors VALUES (?, ?, ?, ?, ?)", (name, number, stamp, found.key_name, out.getvalue())
        )


def version_of(connection: sqlite3.Connection, model: str) -> str:
    """The newest version of a model of which there are answers; "" where there are none."""
    found = (
        has_table(connection, "answers")
        and connection.execute(
            "SELECT version FROM answers WHERE model = ? ORDER BY rowid DESC LIMIT 1", (model,)
        ).fetchone()
    )
    return str(found[0]) if found else ""


def kept_answers(
    connection: sqlite3.Connection, model: str, version: str, digests: Iterable[bytes]
) -> dict[bytes, Answer]:
    """The answers to some texts, by their digests."""
    found: dict[bytes, Answer] = {}
    if not has_table(connection, "answers"):
        return found
    asked = list(digests)
    for at in range(0, len(asked), _ASKED_AT_ONCE):
        some = asked[at : at + _ASKED_AT_ONCE]
        marks = ", ".join("?" * len(some))
        query = f"SELECT digest, parts, vector FROM answers WHERE model = ? AND version = ? AND digest IN ({marks})"
        for digest, parts, vector in connection.execute(query, (model, version, *some)):
            found[digest] = Answer(np.frombuffer(vector, "<f4").astype(np.float32), int(parts))
    return found


def keep_answers(
    connection: sqlite3.Connection, model: str, version: str, found: Sequence[tuple[bytes, Answer]]
) -> None:
    """Keep some answers. Within a transaction."""
    make_later_tables(connection)
    connection.executemany(
        "INSERT OR REPLACE INTO answers VALUES (?, ?, ?, ?, ?)",
        [(model, version, digest, one.parts, one.vector.astype("<f4").tobytes()) for digest, one in found],
    )


def state_of_answers(connection: sqlite3.Connection, model: str) -> tuple[str, int]:
    """The newest version of a model, and how many answers of it there are: another pair, other answers."""
    version = version_of(connection, model)
    if not has_table(connection, "answers"):
        return version, 0
    (count,) = connection.execute(
        "SELECT count(*) FROM answers WHERE model = ? AND version = ?", (model, version)
    ).fetchone()
    return version, int(count)
