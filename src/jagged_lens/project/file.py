# SPDX-License-Identifier: GPL-3.0-or-later
"""The project file: SQLite, one file, our own tables. docs/formats.md describes it.

A file that is damaged, or was written by a newer version, is refused before anything in it is touched. Nothing that is read from it
is ever executed.
"""

from __future__ import annotations

import contextlib
import datetime
import json
import math
import os
import sqlite3
import time
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jagged_lens import __version__
from jagged_lens.gather import Corpus, Page, Source
from jagged_lens.project import vectors_kept
from jagged_lens.project.pictures_kept import keep_pictures, kept_pictures
from jagged_lens.project.schema import (
    COLUMNS,
    ENTRIES,
    LATER,
    LATER_TABLES,
    MADE_BY_SQLITE,
    ProjectError,
    check,
    connected,
    damaged,
    reason,
    unreadable,
    writing,
)
from jagged_lens.project.snapshots import keep_snapshot, now, of_texts, snapshot
from jagged_lens.vectors import Answer, KeyedVectors

MOST_RESULTS = 300_000_000  # bytes of cached results
_LOOKED_THROUGH = 3.0  # seconds


class _Interrupted(Exception):  # noqa: N818
    """A look through a file took longer than it may."""


def _end_after(connection: sqlite3.Connection, seconds: float) -> None:
    """Have whatever the connection does be interrupted after some seconds."""
    until = time.monotonic() + seconds
    connection.set_progress_handler(lambda: int(time.monotonic() > until), 20_000)


def _uninterrupted(connection: sqlite3.Connection, query: str) -> str:
    try:
        return str(connection.execute(query).fetchone()[0])
    except sqlite3.OperationalError as error:
        if error.sqlite_errorcode == sqlite3.SQLITE_INTERRUPT:
            raise _Interrupted from error
        raise


@dataclass(frozen=True)
class ProjectFile:
    """A project file that is there. Each call opens it, does one thing whole, and closes it; any process may."""

    path: Path

    def verify(self) -> None:
        """ProjectError where the file is damaged or is not ours to open. Nothing in it is changed.

        A file that is so large that it cannot be looked through in a few seconds is looked through in part.
        """
        check(self.path)
        found = "ok"
        try:
            with contextlib.closing(connected(self.path)) as connection:
                _end_after(connection, _LOOKED_THROUGH)
                entries = connection.execute("SELECT type, name FROM sqlite_master").fetchall()
                if foreign := [f"{kind} {name}" for kind, name in entries if (kind, name) not in ENTRIES | LATER]:
                    raise damaged(self.path, f"it contains something that no project contains: {foreign[0][:80]}")
                if missing := ENTRIES - MADE_BY_SQLITE - set(entries):
                    raise damaged(self.path, f"it lacks {' '.join(min(missing))}")
                for table, columns in COLUMNS.items():
                    if table in LATER_TABLES and ("table", table) not in entries:
                        continue
                    if tuple(row[1] for row in connection.execute(f"PRAGMA table_info({table})")) != columns:
                        raise damaged(self.path, f"the table {table} has other columns")
                with contextlib.suppress(_Interrupted):
                    found = _uninterrupted(connection, "PRAGMA quick_check(1)")
        except (sqlite3.Error, ValueError) as error:
            raise unreadable(self.path, error) from error
        if found != "ok":
            raise damaged(self.path, str(found).splitlines()[0])

    # What the user can change.

    def state(self) -> dict[str, Any] | None:
        """The state as it was saved last, with the pictures of its findings by digest; None where none was."""
        content = self._content("state")
        if content is None or not content.get("report"):
            return content
        try:
            with contextlib.closing(connected(self.path)) as connection:
                return {**content, "pictures": kept_pictures(connection)}
        except sqlite3.Error as error:
            raise unreadable(self.path, error) from error

    def window(self) -> dict[str, Any]:
        """The state of the window."""
        return self._content("window") or {}

    def _content(self, table: str) -> dict[str, Any] | None:
        try:
            with contextlib.closing(connected(self.path)) as connection:
                found = connection.execute(f"SELECT content FROM {table}").fetchone()
            content = json.loads(found[0]) if found else None
        except (sqlite3.Error, ValueError, TypeError, RecursionError) as error:
            raise unreadable(self.path, error) from error
        if content is not None and not isinstance(content, dict):
            raise damaged(self.path, "its state cannot be read")
        return content

    def save(self, state: dict[str, Any], window: dict[str, Any] | None = None) -> None:
        """Save the state with its pictures, and what the window looks like. ProjectError where that fails; what was there before then stays."""
        content = {key: value for key, value in state.items() if key != "pictures"}
        with self._careful(), writing(self.path) as connection:
            connection.execute(
                "INSERT OR REPLACE INTO state VALUES (1, ?, ?, ?)",
                (now(), __version__, json.dumps(content)),
            )
            keep_pictures(connection, state.get("pictures", {}), bool(state.get("report")))
            if window is not None:
                connection.execute("INSERT OR REPLACE INTO window VALUES (1, ?)", (json.dumps(window),))

    @contextlib.contextmanager
    def _careful(self) -> Iterator[None]:
        try:
            yield
        except (sqlite3.Error, OSError, UnicodeError, OverflowError) as error:
            raise ProjectError(
                f"the project cannot be saved ({reason(error)})",
                str(self.path),
                "Nothing is lost while the window is open. Free some space, or save it elsewhere.",
            ) from error

    # Documents.

    def documents(self, stamp: str) -> Corpus | None:
        """The documents of a source under a stamp; None if they are not in the file."""
        if not stamp:
            return None
        with self._readable(), contextlib.closing(connected(self.path)) as connection:
            return snapshot(connection, stamp)

    @contextlib.contextmanager
    def _readable(self) -> Iterator[None]:
        try:
            yield
        except ProjectError:
            raise
        except (sqlite3.Error, ValueError, TypeError, LookupError, AttributeError, ArithmeticError) as error:
            raise unreadable(self.path, error) from error
        except RecursionError as error:
            raise damaged(self.path, "something in it is nested too deeply") from error

    def keep_documents(self, stamp: str, source: Source, corpus: Corpus) -> None:
        """Keep what was read of a source."""
        with self._careful(), writing(self.path) as connection:
            keep_snapshot(connection, stamp, source, corpus)

    def taken(self) -> dict[str, str]:
        """When each snapshot in the file was read, by its stamp."""
        with self._readable(), contextlib.closing(connected(self.path)) as connection:
            return dict(connection.execute("SELECT stamp, read_on FROM snapshots").fetchall())

    # Pages.

    def page(self, address: str) -> tuple[Page, bytes] | None:
        """A page and its content as it was fetched from an address; None where it is not there."""
        with self._readable(), contextlib.closing(connected(self.path)) as connection:
            found = connection.execute(
                "SELECT landed, status, kind, size, day, content FROM pages WHERE address = ?", (address,)
            ).fetchone()
            if found is None:
                return None
            fields = {"address": address, "landed": found[0], "status": found[1], "kind": found[2], "size": found[3]}
            return of_texts(Page, {**fields, "problem": "", "day": found[4]}), bytes(found[5])

    def keep_page(self, page: Page, content: bytes) -> None:
        """Keep a page and its content under its address."""
        with self._careful(), writing(self.path) as connection:
            connection.execute(
                "INSERT OR REPLACE INTO pages VALUES (?, ?, ?, ?, ?, ?, ?)",
                (page.address, page.landed, page.status, page.kind, page.size, page.day, content),
            )

    # Vectors.

    def vectors(self, name: str) -> tuple[str, KeyedVectors] | None:
        """The vectors of a file by its name, and the stamp of the file when it was read; None where there are none."""
        with self._readable(), contextlib.closing(connected(self.path)) as connection:
            return vectors_kept.kept_vectors(connection, name)

    def keep_vectors(self, name: str, stamp: str, found: KeyedVectors) -> None:
        """Keep the vectors of a file under its name."""
        with self._careful(), writing(self.path) as connection:
            vectors_kept.keep_vectors(connection, name, stamp, found)

    def version(self, model: str) -> str:
        """The newest version of a model of which there are answers; "" where there are none."""
        with self._readable(), contextlib.closing(connected(self.path)) as connection:
            return vectors_kept.version_of(connection, model)

    def answers(self, model: str, version: str, digests: Iterable[bytes]) -> dict[bytes, Answer]:
        """The answers of a model to some texts, by their digests."""
        with self._readable(), contextlib.closing(connected(self.path)) as connection:
            return vectors_kept.kept_answers(connection, model, version, digests)

    def keep_answers(self, model: str, version: str, found: Sequence[tuple[bytes, Answer]]) -> None:
        """Keep some answers of a model."""
        with self._careful(), writing(self.path) as connection:
            vectors_kept.keep_answers(connection, model, version, found)

    def state_of_answers(self, model: str) -> tuple[str, int]:
        """The newest version of a model, and how many answers of it there are."""
        with self._readable(), contextlib.closing(connected(self.path)) as connection:
            return vectors_kept.state_of_answers(connection, model)

    # Cached results.

    def result(self, key: str) -> bytes | None:
        """A kept result; that it was used is noted, since the oldest are given up first."""
        content = self._result(key)
        if content is not None:
            # A file that cannot be written can be read all the same.
            with contextlib.suppress(sqlite3.Error), contextlib.closing(connected(self.path)) as connection:
                connection.execute("PRAGMA busy_timeout = 200")
                connection.execute("UPDATE results SET used = ? WHERE key = ?", (_used_now(connection), key))
        return content

    def _result(self, key: str) -> bytes | None:
        with self._readable(), contextlib.closing(connected(self.path)) as connection:
            found = connection.execute("SELECT content FROM results WHERE key = ?", (key,)).fetchone()
            return found[0] if found is not None and isinstance(found[0], bytes) else None

    def keep_result(self, key: str, part: str, content: bytes) -> None:
        """Keep a result; the oldest are given up where all together grow too large. One that is too large by itself is not
        kept, so that it does not push out all others."""
        if len(content) > MOST_RESULTS:
            return
        with self._careful(), writing(self.path) as connection:
            connection.execute(
                "INSERT OR REPLACE INTO results VALUES (?, ?, ?, ?, ?)",
                (key, part, _used_now(connection), len(content), content),
            )
            while True:
                size, oldest = connection.execute("SELECT sum(size), min(used) FROM results").fetchone()
                if size <= MOST_RESULTS or connection.execute("SELECT count(*) FROM results").fetchone()[0] == 1:
                    return
                connection.execute(
                    "DELETE FROM results WHERE rowid = (SELECT min(rowid) FROM results WHERE used = ?)", (oldest,)
                )

    # The file as a whole.

    def prune(self, stamps: set[str], seconds: float = math.inf) -> bool:
        """Give up the documents and pages that no state needs any more: those of other stamps. False where the time was over
        before all was given up; what is left is given up another time."""
        until = time.monotonic() + seconds
        with self._careful():
            with writing(self.path) as connection:
                found = connection.execute("SELECT id, stamp, pages FROM snapshots").fetchall()
                with self._readable():
                    pages = [json.loads(pages) for _, stamp, pages in found if stamp in stamps]
                    addresses = {page["address"] for of_one in pages for page in of_one}
                gone = [(number,) for number, stamp, _ in found if stamp not in stamps]
                connection.executemany("DELETE FROM snapshots WHERE id = ?", gone)
                for (address,) in connection.execute("SELECT address FROM pages").fetchall():
                    if address not in addresses:
                        connection.execute("DELETE FROM pages WHERE address = ?", (address,))
            with contextlib.closing(connected(self.path)) as connection:
                numbers = {number for (number,) in connection.execute("SELECT DISTINCT snapshot FROM documents")}
                known = {number for (number,) in connection.execute("SELECT id FROM snapshots")}
                for number in sorted(numbers - known):
                    some = "SELECT rowid FROM documents WHERE snapshot = ? LIMIT ?"
                    while connection.execute(
                        f"DELETE FROM documents WHERE rowid IN ({some})", (number, 2_000)
                    ).rowcount:
                        if time.monotonic() > until:
                            return False
                while connection.execute("PRAGMA freelist_count").fetchone()[0]:
                    connection.executescript("PRAGMA incremental_vacuum(2000);")  # execute() would free a single page
                    if time.monotonic() > until:
                        return False
        return True

    def copy_to(self, path: Path) -> None:
        """A copy under another name; one that is there is replaced in one move, or stays whole."""
        new = path.with_name(f".{path.name}.new-{os.getpid()}")
        try:
            with (
                contextlib.closing(connected(self.path)) as here,
                contextlib.closing(sqlite3.connect(new, isolation_level=None)) as there,
            ):
                here.backup(there)
            with new.open("rb") as file:
                os.fsync(file.fileno())
            os.replace(new, path)
        except (OSError, sqlite3.Error) as error:
            with contextlib.suppress(OSError):
                new.unlink()
            raise ProjectError(f"the project was not saved ({reason(error)})", str(path)) from error


class Reading(ProjectFile):
    """A project that is only read: what a run computes is not kept in it, since a window may have it open."""

    def keep_documents(self, stamp: str, source: Source, corpus: Corpus) -> None:
        """A run writes nothing into a project."""
        return

    def keep_page(self, page: Page, content: bytes) -> None:
        """A run writes nothing into a project."""
        return

    def keep_vectors(self, name: str, stamp: str, found: KeyedVectors) -> None:
        """A run writes nothing into a project."""
        return

    def keep_answers(self, model: str, version: str, found: Sequence[tuple[bytes, Answer]]) -> None:
        """A run writes nothing into a project."""
        return

    def result(self, key: str) -> bytes | None:
        """A kept result; that it was used is not noted."""
        return self._result(key)

    def keep_result(self, key: str, part: str, content: bytes) -> None:
        """A run writes nothing into a project."""
        return


def _used_now(connection: sqlite3.Connection) -> str:
    """The time of now, or one just behind the newest use in the file: what is used now is the newest, even where the clock
    went back."""
    used = datetime.datetime.now(datetime.UTC)
    (newest,) = connection.execute("SELECT max(used) FROM results").fetchone()
    with contextlib.suppress(ValueError, TypeError, OverflowError):
        used = max(used, datetime.datetime.fromisoformat(newest) + datetime.timedelta(microseconds=1))
    return used.isoformat(timespec="microseconds")
