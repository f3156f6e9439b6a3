# SPDX-License-Identifier: GPL-3.0-or-later
"""Pictures of findings in a project, compressed, each once under the digest of its content, so that saving the state does not write them anew."""

from __future__ import annotations

import hashlib
import sqlite3
import zlib
from collections.abc import Mapping

from jagged_lens.project.schema import has_table, make_later_tables

_MOST = 64_000_000
"""No picture is larger, in bytes; one that would be was not written by this program."""


def digest_of(content: bytes) -> str:
    """The name of a picture: the SHA-256 of its content, in hexadecimal.

    >>> digest_of(b"")[:8]
    'e3b0c442'
    """
    return hashlib.sha256(content).hexdigest()


def keep_pictures(connection: sqlite3.Connection, pictures: Mapping[str, bytes], findings: bool) -> None:
    """Keep these pictures and no others. findings: whether there are any; the table is made with the first. Within a transaction."""
    if findings:
        make_later_tables(connection)
    elif not has_table(connection, "pictures"):
        return
    there = {digest for (digest,) in connection.execute("SELECT digest FROM pictures")}
    connection.executemany("DELETE FROM pictures WHERE digest = ?", [(one,) for one in sorted(there - set(pictures))])
    for digest in sorted(set(pictures) - there):
        connection.execute("INSERT INTO pictures VALUES (?, ?)", (digest, zlib.compress(pictures[digest], 6)))


def kept_pictures(connection: sqlite3.Connection) -> dict[str, bytes]:
    """All pictures by their digest; one that is not what its digest says is left out."""
    if not has_table(connection, "pictures"):
        return {}
    found = {}
    for digest, packed in connection.execute("SELECT digest, content FROM pictures"):
        try:
            content = zlib.decompressobj().decompress(packed, _MOST)
        except (zlib.error, TypeError):
            continue
        if digest_of(content) == digest:
            found[digest] = content
    return found
