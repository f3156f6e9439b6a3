"""The project file: SQLite, one file, our own tables. docs/formats.md describes it.

What survives a crash: each change is one SQLite transaction with a rollback journal and full synchronisation, so a file
holds either all of a change or nothing of it, at whatever moment the program or the machine stops. A file that is damaged, or was
written by a newer version, is refused before anything in it is touched. Nothing that is read from it is ever executed.
"""

from __future__ import annotations

import contextlib
import datetime
import json
import math
import os
import sqlite3
import struct
import time
import typing
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np

from jagged_lens import __version__
from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import NO_DATE, Corpus, Doubt, Label, Number, Page, Source, Unread, plain_source
from jagged_lens.strings import StringsBuilder

APPLICATION = 0x4A4C454E  # "JLEN"
VERSION = 1
ENDING = ".jagged"
MOST_RESULTS = 300_000_000  # bytes of cached results
_LOOKED_THROUGH = 3.0  # seconds
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


_TABLES = ("state", "window", "snapshots", "documents", "pages", "results")
_MADE_BY_SQLITE = {("index", f"sqlite_autoindex_{table}_1") for table in _TABLES}
_ENTRIES = {*(("table", table) for table in _TABLES), ("index", "documents_of"), *_MADE_BY_SQLITE}


def _columns() -> dict[str, tuple[str, ...]]:
    with contextlib.closing(sqlite3.connect(":memory:")) as connection:
        connection.executescript(_SCHEMA)
        return {table: tuple(row[1] for row in connection.execute(f"PRAGMA table_info({table})")) for table in _TABLES}


_COLUMNS = _columns()
"""The names of the columns of each table."""


class ProjectError(JaggedLensError):
    """A project cannot be opened or saved."""


def check(path: Path) -> None:
    """ProjectError where a file is no project, is damaged at its head, or is from a newer version. Only reads its first bytes."""
    try:
        with path.open("rb") as file:
            head = file.read(100)
    except OSError as error:
        raise ProjectError(f"the project cannot be read ({error.strerror})", str(path)) from error
    if len(head) < 100 or not head.startswith(b"SQLite format 3\0"):
        raise ProjectError("this is no project of Jagged Lens, or it is damaged", path.name, "It was left as it is.")
    version, application = struct.unpack(">i", head[60:64])[0], struct.unpack(">i", head[68:72])[0]
    if application != APPLICATION:
        raise ProjectError(
            "this is a database, but no project of Jagged Lens", path.name, "Add it as a source instead."
        )
    if version > VERSION:
        raise ProjectError(
            f"the project was written by a newer version (format {version}; this one reads up to {VERSION})",
            path.name,
            "Open it with a newer Jagged Lens. It was left as it is.",
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
                f"BEGIN; {_SCHEMA} PRAGMA application_id = {APPLICATION}; PRAGMA user_version = {VERSION}; COMMIT;"
            )
        os.replace(new, path)
    except (OSError, sqlite3.Error) as error:
        with contextlib.suppress(OSError):
            new.unlink()
        raise ProjectError(f"the project cannot be written ({reason(error)})", str(path)) from error


@contextlib.contextmanager
def _writing(path: Path) -> Iterator[sqlite3.Connection]:
    """A transaction: all of it or nothing."""
    with contextlib.closing(_connected(path)) as connection:
        connection.execute("BEGIN IMMEDIATE")
        try:
            yield connection
        except BaseException:
            with contextlib.suppress(sqlite3.Error):
                connection.execute("ROLLBACK")
            raise
        connection.execute("COMMIT")


def _connected(path: Path) -> sqlite3.Connection:
    # mode=rw: a file that has vanished is not silently made anew.
    connection = sqlite3.connect(
        f"{path.absolute().as_uri()}?mode=rw", uri=True, timeout=_PATIENCE, isolation_level=None
    )
    connection.execute("PRAGMA synchronous = FULL")
    connection.execute("PRAGMA trusted_schema = 0")
    connection.execute("PRAGMA cell_size_check = 1")
    return connection


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


def _of_texts(kind: Any, values: Any) -> Any:
    """A data class of texts and whole numbers, made of values that are such. TypeError where they are not."""
    hints = typing.get_type_hints(kind)
    for name, value in values.items():
        if not isinstance(value, hints[name]) or isinstance(value, bool):
            raise TypeError(f"{name} is not what it should be")
    return kind(**values)


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
            with contextlib.closing(_connected(self.path)) as connection:
                _end_after(connection, _LOOKED_THROUGH)
                entries = connection.execute("SELECT type, name FROM sqlite_master").fetchall()
                if foreign := [f"{kind} {name}" for kind, name in entries if (kind, name) not in _ENTRIES]:
                    raise self._damaged(f"it holds what no project holds: {foreign[0][:80]}")
                if missing := _ENTRIES - _MADE_BY_SQLITE - set(entries):
                    raise self._damaged(f"it lacks the {' '.join(min(missing))}")
                for table, columns in _COLUMNS.items():
                    if tuple(row[1] for row in connection.execute(f"PRAGMA table_info({table})")) != columns:
                        raise self._damaged(f"the table {table} has other columns")
                with contextlib.suppress(_Interrupted):
                    found = _uninterrupted(connection, "PRAGMA quick_check(1)")
        except (sqlite3.Error, ValueError) as error:
            raise self._damaged(reason(error)) from error
        if found != "ok":
            raise self._damaged(str(found).splitlines()[0])

    def _damaged(self, reason: str) -> ProjectError:
        return ProjectError(
            f"the project is damaged ({reason})", self.path.name, "It was left as it is; open a copy from before."
        )

    # What the user can change.

    def state(self) -> dict[str, Any] | None:
        """The state as it was saved last; None where none was."""
        return self._content("state")

    def window(self) -> dict[str, Any]:
        """What the window looked like."""
        return self._content("window") or {}

    def _content(self, table: str) -> dict[str, Any] | None:
        try:
            with contextlib.closing(_connected(self.path)) as connection:
                found = connection.execute(f"SELECT content FROM {table}").fetchone()
            content = json.loads(found[0]) if found else None
        except (sqlite3.Error, ValueError, TypeError, RecursionError) as error:
            raise self._damaged(reason(error)) from error
        if content is not None and not isinstance(content, dict):
            raise self._damaged("its state is not readable")
        return content

    def save(self, state: dict[str, Any], window: dict[str, Any] | None = None) -> None:
        """Save the state, and what the window looks like. ProjectError where that fails; what was there before then stays."""
        with self._careful(), _writing(self.path) as connection:
            connection.execute(
                "INSERT OR REPLACE INTO state VALUES (1, ?, ?, ?)",
                (_now(), __version__, json.dumps(state)),
            )
            if window is not None:
                connection.execute("INSERT OR REPLACE INTO window VALUES (1, ?)", (json.dumps(window),))

    @contextlib.contextmanager
    def _careful(self) -> Iterator[None]:
        try:
            yield
        except (sqlite3.Error, OSError, UnicodeError) as error:
            raise ProjectError(
                f"the project cannot be saved ({reason(error)})",
                str(self.path),
                "Nothing is lost as long as the window is open: make room, or save it elsewhere.",
            ) from error

    # Documents.

    def documents(self, stamp: str) -> Corpus | None:
        """What was read of a source under a stamp; None where it is not in the file."""
        if not stamp:
            return None
        with self._readable(), contextlib.closing(_connected(self.path)) as connection:
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
                        raise TypeError("the value of a label is no text")
                    column.append(label)
                for numbered, value in zip(numbers, json.loads(row[6]), strict=True):
                    if not isinstance(value, (int, float, type(None))) or isinstance(value, bool):
                        raise TypeError("a number is none")
                    numbered.append(math.nan if value is None else float(value))
            return Corpus(
                keys.strings(),
                texts.strings(),
                titles.strings(),
                origins.strings(),
                tuple(Label.of(name, values) for name, values in zip(label_names, labels, strict=True)),
                tuple(one for one in said if isinstance(one, str)),
                np.array(dates, np.int32) if any(day != NO_DATE for day in dates) else np.zeros(0, np.int32),
                tuple(
                    Number(name, np.array(values, float)) for name, values in zip(number_names, numbers, strict=True)
                ),
                unread=tuple(_of_texts(Unread, one) for one in json.loads(found[4])),
                pages=tuple(_of_texts(Page, one) for one in json.loads(found[5])),
                doubts=tuple(
                    Doubt(str(one["name"]), tuple((str(name), str(line)) for name, line in one["readings"]))
                    for one in said
                    if isinstance(one, dict)
                ),
            )

    @contextlib.contextmanager
    def _readable(self) -> Iterator[None]:
        try:
            yield
        except ProjectError:
            raise
        except (sqlite3.Error, ValueError, TypeError, LookupError, AttributeError, ArithmeticError) as error:
            raise self._damaged(reason(error)) from error
        except RecursionError as error:
            raise self._damaged("something in it is nested too deep") from error

    def keep_documents(self, stamp: str, source: Source, corpus: Corpus) -> None:
        """Keep what was read of a source."""
        with self._careful(), _writing(self.path) as connection:
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
                    _now(),
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
                "INSERT INTO documents VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", _rows(number or 0, corpus)
            )

    def taken(self) -> dict[str, str]:
        """When each snapshot in the file was read, by its stamp."""
        with self._readable(), contextlib.closing(_connected(self.path)) as connection:
            return dict(connection.execute("SELECT stamp, read_on FROM snapshots").fetchall())

    # Pages.

    def page(self, address: str) -> tuple[Page, bytes] | None:
        """A page and its content as it was fetched from an address; None where it is not there."""
        with self._readable(), contextlib.closing(_connected(self.path)) as connection:
            found = connection.execute(
                "SELECT landed, status, kind, size, day, content FROM pages WHERE address = ?", (address,)
            ).fetchone()
            if found is None:
                return None
            fields = {"address": address, "landed": found[0], "status": found[1], "kind": found[2], "size": found[3]}
            return _of_texts(Page, {**fields, "problem": "", "day": found[4]}), bytes(found[5])

    def keep_page(self, page: Page, content: bytes) -> None:
        """Keep a page and its content under its address."""
        with self._careful(), _writing(self.path) as connection:
            connection.execute(
                "INSERT OR REPLACE INTO pages VALUES (?, ?, ?, ?, ?, ?, ?)",
                (page.address, page.landed, page.status, page.kind, page.size, page.day, content),
            )

    # Cached results.

    def result(self, key: str) -> bytes | None:
        """A kept result; that it was used is noted, since the oldest are given up first."""
        with self._readable(), contextlib.closing(_connected(self.path)) as connection:
            found = connection.execute("SELECT content FROM results WHERE key = ?", (key,)).fetchone()
            if found is None or not isinstance(found[0], bytes):
                return None
            with contextlib.suppress(sqlite3.Error):  # a file that cannot be written can be read all the same
                connection.execute("PRAGMA busy_timeout = 200")
                connection.execute("UPDATE results SET used = ? WHERE key = ?", (_now(), key))
            return found[0]

    def keep_result(self, key: str, part: str, content: bytes) -> None:
        """Keep a result; the oldest are given up where all together grow too large."""
        with self._careful(), _writing(self.path) as connection:
            connection.execute(
                "INSERT OR REPLACE INTO results VALUES (?, ?, ?, ?, ?)", (key, part, _now(), len(content), content)
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
            with _writing(self.path) as connection:
                found = connection.execute("SELECT id, stamp, pages FROM snapshots").fetchall()
                with self._readable():
                    pages = [json.loads(pages) for _, stamp, pages in found if stamp in stamps]
                    addresses = {page["address"] for of_one in pages for page in of_one}
                gone = [(number,) for number, stamp, _ in found if stamp not in stamps]
                connection.executemany("DELETE FROM snapshots WHERE id = ?", gone)
                for (address,) in connection.execute("SELECT address FROM pages").fetchall():
                    if address not in addresses:
                        connection.execute("DELETE FROM pages WHERE address = ?", (address,))
            with contextlib.closing(_connected(self.path)) as connection:
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
                contextlib.closing(_connected(self.path)) as here,
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

    def keep_result(self, key: str, part: str, content: bytes) -> None:
        """A run writes nothing into a project."""
        return


def _rows(snapshot: int, corpus: Corpus) -> Iterator[tuple[Any, ...]]:
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


def _now() -> str:
    return datetime.datetime.now(datetime.UTC).isoformat(timespec="seconds")


def reason(error: Exception) -> str:
    """Why something did not work, in a few words for a sentence."""
    if isinstance(error, OSError) and error.strerror:
        return error.strerror.lower()
    return str(error).splitlines()[0] if str(error) else type(error).__name__
