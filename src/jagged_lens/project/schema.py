# SPDX-License-Identifier: GPL-3.0-or-later
"""The database of a project: its tables, how it is opened, and what is said where that does not work.

What survives a crash: each change is one SQLite transaction with a rollback journal and full synchronisation, so a file
holds either all of a change or nothing of it, at whatever moment the program or the machine stops.
"""

from __future__ import annotations

import contextlib
import os
import sqlite3
import struct
from collections.abc import Iterator
from pathlib import Path

from jagged_lens.errors import JaggedLensError
from jagged_lens.named_file import open_plain

APPLICATION = 0x4A4C454E  # "JLEN"
VERSION = 2
"""The newest format that is read. A project is written in format 1 until it gets vectors or findings."""
LATER_VERSION = 2
_FIRST_VERSION = 1
ENDING = ".jagged"
_PATIENCE = 30.0  # seconds that one writer waits for another
_SCHEMA = """
CREATE TABLE state (one INTEGER PRIMARY KEY CHECK (one = 1), saved TEXT NOT NULL, program TEXT NOT NULL, content TEXT NOT NULL);
CREATE TABLE window (one INTEGER PRIMARY KEY CHECK (one = 1), content TEXT NOT NULL);
CREATE TABLE snapshots (
    id INTEGER PRIMARY KEY, stamp TEXT NOT NULL UNIQUE, source TEXT NOT NULL, read_on TEXT NOT NULL,
    labels TEXT NOT NULL, numbers TEXT NOT NULL, notices TEXT NOT NULL, unread TEXT NOT NULL, pages TEXT NOT NULL);
CREATE TABLE documents (
    snapshot INTEGER NOT NULL REFERENCES snapshots (id), number INTEGER NOT NULL, key TEXT NOT NULL, title TEXT NOT NULL,
    text TEXT NOT NULL, origin TEXT NOT NULL, date TEXT NOT NULL, labels TEXT NOT NULL, numbers TEXT NOT NULL);
CREATE INDEX documents_of ON documents (snapshot, number);
CREATE TABLE pages (
    address TEXT PRIMARY KEY, landed TEXT NOT NULL, status INTEGER NOT NULL, kind TEXT NOT NULL, size INTEGER NOT NULL,
    day TEXT NOT NULL, content BLOB NOT NULL);
CREATE TABLE results (key TEXT PRIMARY KEY, part TEXT NOT NULL, used TEXT NOT NULL, size INTEGER NOT NULL, content BLOB NOT NULL);
"""


LATER_SCHEMA = """
CREATE TABLE IF NOT EXISTS vectors (
    name TEXT NOT NULL, number INTEGER NOT NULL, stamp TEXT NOT NULL, key_name TEXT NOT NULL, content BLOB NOT NULL,
    PRIMARY KEY (name, number));
CREATE TABLE IF NOT EXISTS answers (
    model TEXT NOT NULL, version TEXT NOT NULL, digest BLOB NOT NULL, parts INTEGER NOT NULL, vector BLOB NOT NULL,
    PRIMARY KEY (model, version, digest));
CREATE TABLE IF NOT EXISTS pictures (digest TEXT PRIMARY KEY, content BLOB NOT NULL)
"""
"""The tables that come with the first vector or finding."""

TABLES = ("state", "window", "snapshots", "documents", "pages", "results")
MADE_BY_SQLITE = {("index", f"sqlite_autoindex_{table}_1") for table in TABLES}
ENTRIES = {*(("table", table) for table in TABLES), ("index", "documents_of"), *MADE_BY_SQLITE}

LATER_TABLES = ("vectors", "answers", "pictures")
LATER = {("table", table) for table in LATER_TABLES} | {
    ("index", f"sqlite_autoindex_{table}_1") for table in LATER_TABLES
}


def _columns() -> dict[str, tuple[str, ...]]:
    with contextlib.closing(sqlite3.connect(":memory:")) as connection:
        connection.executescript(_SCHEMA + LATER_SCHEMA)
        return {
            table: tuple(row[1] for row in connection.execute(f"PRAGMA table_info({table})"))
            for table in (*TABLES, *LATER_TABLES)
        }


COLUMNS = _columns()
"""The names of the columns of each table."""


class ProjectError(JaggedLensError):
    """A project cannot be opened or saved."""


class NotWritableError(ProjectError):
    """A project can be read, but nothing can be kept in it."""


def has_table(connection: sqlite3.Connection, name: str) -> bool:
    """True if a project has a table of that name."""
    return bool(connection.execute("SELECT count(*) FROM sqlite_master WHERE name = ?", (name,)).fetchone()[0])


def make_later_tables(connection: sqlite3.Connection) -> None:
    """Make the tables that are not in a project from the first, where they are not there. Within a transaction."""
    for statement in filter(str.strip, LATER_SCHEMA.split(";")):
        connection.execute(statement)
    connection.execute(f"PRAGMA user_version = {LATER_VERSION}")


def check(path: Path) -> None:
    """ProjectError where a file is no project, is damaged at its head, or is from a newer version. Only reads its first bytes."""
    try:
        with open_plain(path) as file:
            head = file.read(100)
    except OSError as error:
        raise ProjectError(f"the project cannot be read ({error.strerror})", str(path)) from error
    if len(head) < 100 or not head.startswith(b"SQLite format 3\0"):
        raise ProjectError("this is not a Jagged Lens project, or it is damaged", path.name, "It was left unchanged.")
    version, application = struct.unpack(">i", head[60:64])[0], struct.unpack(">i", head[68:72])[0]
    if application != APPLICATION:
        raise ProjectError(
            "this is a database, but not a Jagged Lens project", path.name, "Add it as a source instead."
        )
    if version > VERSION:
        raise ProjectError(
            f"the project was written by a newer version (format {version}; this one reads up to {VERSION})",
            path.name,
            "Open it with a newer version of Jagged Lens. It was left unchanged.",
        )


def create(path: Path) -> None:
    """An empty project file; one that is there is replaced. ProjectError where it cannot be written."""
    new = path.with_name(f".{path.name}.new-{os.getpid()}")
    try:
        with contextlib.suppress(FileNotFoundError):
            new.unlink()
        path.parent.mkdir(parents=True, exist_ok=True)
        with contextlib.closing(sqlite3.connect(new, isolation_level=None)) as connection:
            connection.execute("PRAGMA auto_vacuum = INCREMENTAL")
            connection.execute("PRAGMA synchronous = FULL")
            connection.executescript(
                f"BEGIN; {_SCHEMA} PRAGMA application_id = {APPLICATION}; PRAGMA user_version = {_FIRST_VERSION}; COMMIT;"
            )
        os.replace(new, path)
    except (OSError, sqlite3.Error) as error:
        with contextlib.suppress(OSError):
            new.unlink()
        raise ProjectError(f"the project cannot be written ({reason(error)})", str(path)) from error


@contextlib.contextmanager
def writing(path: Path) -> Iterator[sqlite3.Connection]:
    """A transaction: all of it or nothing."""
    with contextlib.closing(connected(path)) as connection:
        connection.execute("BEGIN IMMEDIATE")
        try:
            yield connection
        except BaseException:
            with contextlib.suppress(sqlite3.Error):
                connection.execute("ROLLBACK")
            raise
        connection.execute("COMMIT")


def connected(path: Path) -> sqlite3.Connection:
    """A connection to a project file that is there."""
    # mode=rw: a file that has vanished is not silently made anew.
    connection = sqlite3.connect(
        f"{path.absolute().as_uri()}?mode=rw", uri=True, timeout=_PATIENCE, isolation_level=None
    )
    connection.execute("PRAGMA synchronous = FULL")
    connection.execute("PRAGMA trusted_schema = 0")
    connection.execute("PRAGMA cell_size_check = 1")
    return connection


_NOT_TO_BE_REACHED = {
    sqlite3.SQLITE_CANTOPEN,
    sqlite3.SQLITE_IOERR,
    sqlite3.SQLITE_BUSY,
    sqlite3.SQLITE_PERM,
    sqlite3.SQLITE_AUTH,
    sqlite3.SQLITE_FULL,
    sqlite3.SQLITE_NOMEM,
}
"""The messages of SQLite that do not blame the file: it is gone with its drive, or somebody else holds it."""


def unreadable(path: Path, error: Exception) -> ProjectError:
    """The message when a project could not be read: that it is damaged, or that it cannot be reached."""
    if isinstance(error, sqlite3.Error) and getattr(error, "sqlite_errorcode", 0) & 0xFF in _NOT_TO_BE_REACHED:
        return ProjectError(
            f"the project cannot be read ({reason(error)})", str(path), "Check that its drive is connected."
        )
    return damaged(path, reason(error))


def damaged(path: Path, reason: str) -> ProjectError:
    """That a project is damaged, and why."""
    return ProjectError(f"the project is damaged ({reason})", path.name, "It was left unchanged. Open an earlier copy.")


def reason(error: Exception) -> str:
    """The reason for a failure, in a few words for a sentence."""
    if isinstance(error, OSError) and error.strerror:
        return error.strerror.lower()
    return str(error).splitlines()[0] if str(error) else type(error).__name__


def damaged_vectors(name: str) -> ProjectError:
    """The error for vectors in a project that cannot be read."""
    return ProjectError("the vectors in the project are damaged", name, "Choose the file again.")
