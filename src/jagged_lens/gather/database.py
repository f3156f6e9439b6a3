# SPDX-License-Identifier: GPL-3.0-or-later
"""Databases: an SQLite file or a PostgreSQL server, opened read-only; the rows of a table or of a query are streamed."""

from __future__ import annotations

import contextlib
import os
import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any
from urllib.parse import quote, unquote

from jagged_lens.errors import SourceError
from jagged_lens.gather.source import Source, is_secret
from jagged_lens.gather.tables.table import Table, cell_text, checked_width, named
from jagged_lens.named_file import open_plain, path_of, plain_file

if TYPE_CHECKING:
    from sqlalchemy import Connection, Engine

_AT_ONCE = 500
_PATIENCE = 10  # seconds for a connection
_REFUSED = (sqlite3.SQLITE_ATTACH, sqlite3.SQLITE_DETACH)


def tables_in(database: str, folder: Path, passwords: Mapping[str, str] = {}) -> list[str]:
    """The names of the tables and views, in order; with their schema in front where that is not the usual one."""
    import sqlalchemy

    with _connected(database, folder, passwords) as connection:
        look = sqlalchemy.inspect(connection)
        if connection.dialect.name == "sqlite":
            return sorted([*look.get_table_names(), *look.get_view_names()])
        usual = look.default_schema_name
        found = []
        for schema in look.get_schema_names():
            if schema.startswith("pg_") or schema == "information_schema":
                continue
            for name in [*look.get_table_names(schema), *look.get_view_names(schema)]:
                found.append(name if schema == usual else f"{schema}.{name}")
        return sorted(found)


@contextmanager
def opened_table(source: Source, folder: Path, passwords: Mapping[str, str]) -> Iterator[Table]:
    """The rows that a source asks for, as long as the connection is open. SourceError where it cannot be asked."""
    with _connected(source.database, folder, passwords) as connection:
        query = source.query or _all_of(connection, source)
        result = connection.execution_options(
            stream_results=True, yield_per=_AT_ONCE, no_parameters=True
        ).exec_driver_sql(query)
        if not result.returns_rows:
            raise SourceError("the query returns no rows", source.name, "Use a SELECT.")
        columns = named(list(result.keys()))
        checked_width(columns, source.name)
        yield Table(columns, (tuple(map(cell_text, row)) for row in result), lambda: 0.5)


def _all_of(connection: Connection, source: Source) -> str:
    import sqlalchemy

    look = sqlalchemy.inspect(connection)
    schema, _, name = source.table.rpartition(".")
    known = {*look.get_table_names(schema or None), *look.get_view_names(schema or None)}
    if name not in known and source.table in {*look.get_table_names(), *look.get_view_names()}:
        schema, name = "", source.table
    elif name not in known:
        listed = ", ".join(sorted(known)[:20]) or "none"
        raise SourceError(f'there is no table "{source.table}"', source.name, f"Its tables are: {listed}.")
    quoted = connection.dialect.identifier_preparer.quote_identifier
    place = f"{quoted(schema)}.{quoted(name)}" if schema else quoted(name)
    # A server gives rows in any order it likes; the primary key makes it the same one each time.
    keys = look.get_pk_constraint(name, schema or None).get("constrained_columns", []) if name in known else []
    order = f" ORDER BY {', '.join(map(quoted, keys))}" if keys else ""
    return f"SELECT * FROM {place}{order}"


@contextmanager
def _connected(database: str, folder: Path, passwords: Mapping[str, str]) -> Iterator[Connection]:
    from sqlalchemy.exc import SQLAlchemyError

    name = shown(database)
    engine = _server(database, passwords) if "://" in database else _file(database, folder)
    try:
        with engine.connect() as connection:
            if connection.dialect.name == "postgresql":
                connection = connection.execution_options(postgresql_readonly=True)
                _ready_server(connection)
            yield connection
    except SQLAlchemyError as error:
        raise SourceError(_reason(error, database), name, _remedy(error, database)) from None
    finally:
        engine.dispose()


def _server(database: str, passwords: Mapping[str, str]) -> Engine:
    import sqlalchemy
    from sqlalchemy.exc import ArgumentError

    try:
        url = sqlalchemy.make_url(database)
    except (ArgumentError, ValueError):
        raise SourceError(
            "this is not the address of a database", shown(database), "An example: postgresql://reader@host:5432/name."
        ) from None
    if url.get_backend_name() != "postgresql":
        raise SourceError(
            f'databases of kind "{url.drivername}" are not supported',
            shown(database),
            "Use an SQLite file or PostgreSQL.",
        )
    url = url.set(drivername="postgresql+psycopg")
    if password := passwords.get(database):
        url = url.set(password=password)
    return sqlalchemy.create_engine(
        url, connect_args={"connect_timeout": _PATIENCE}, poolclass=sqlalchemy.pool.NullPool, hide_parameters=True
    )


def _ready_server(connection: Connection) -> None:
    """Have a server end a query whose asker is gone, and give dates that Python has no room for (infinity) as their text."""
    import psycopg.errors
    from psycopg.types.datetime import DateLoader, TimestampLoader, TimestamptzLoader

    driver: Any = connection.connection.driver_connection
    for kind, loader in (("date", DateLoader), ("timestamp", TimestampLoader), ("timestamptz", TimestamptzLoader)):
        driver.adapters.register_loader(kind, _lenient(loader))
    with contextlib.suppress(psycopg.errors.Error):  # servers before version 14 cannot look
        driver.execute("SET client_connection_check_interval = '2s'")
    driver.rollback() if driver.info.transaction_status == psycopg.pq.TransactionStatus.INERROR else driver.commit()


def _lenient(kind: type) -> type:
    import psycopg

    class Lenient(kind):  # type: ignore[misc]
        def load(self, data: Any) -> Any:
            try:
                return super().load(data)
            except (psycopg.DataError, ValueError, OverflowError):
                return bytes(data).decode("utf-8", "replace")

    return Lenient


def _file(name: str, folder: Path) -> Engine:
    try:
        path = path_of(name, folder)
        plain_file(path)
        with open_plain(path) as file:
            start = file.read(16)
    except OSError as error:
        raise SourceError(f"it cannot be read ({error.strerror})", name) from error
    if start != b"SQLite format 3\0":
        raise SourceError("this is not an SQLite file", name, "Choose an SQLite file, or give the address of a server.")

    import sqlalchemy

    def connect() -> sqlite3.Connection:
        connection = sqlite3.connect(
            f"file:{quote(os.fsencode(path.absolute()))}?mode=ro", uri=True, check_same_thread=False
        )
        connection.execute("PRAGMA query_only = 1")
        connection.execute("PRAGMA trusted_schema = 0")
        connection.text_factory = lambda data: data.decode("utf-8", "replace")
        connection.set_authorizer(_allowed)
        return connection

    return sqlalchemy.create_engine(
        sqlalchemy.URL.create("sqlite"), creator=connect, poolclass=sqlalchemy.pool.NullPool
    )


def _allowed(action: int, *_: Any) -> int:
    return sqlite3.SQLITE_DENY if action in _REFUSED else sqlite3.SQLITE_OK


def shown(database: str) -> str:
    """A database address without a password, for whoever reads it."""
    return split_password(database)[0]


def split_password(database: str) -> tuple[str, str]:
    """An address without its password, and the password, so that the first can be kept and the second cannot leak."""
    before, mark, rest = database.partition("://")
    if not mark:
        return database, ""
    place, slash, path = rest.partition("/")
    user, at, host = place.rpartition("@")
    name, colon, password = user.partition(":")
    path, question, query = path.partition("?")
    fields = [field.partition("=") for field in query.split("&") if field]
    secret = next((unquote(value) for key, _, value in fields if is_secret(key)), "")
    left = "&".join("".join(field) for field in fields if not is_secret(field[0]))
    return f"{before}://{name}{at}{host}{slash}{path}{question if left else ''}{left}", (
        unquote(password) if colon else secret
    )


def _reason(error: Exception, database: str) -> str:
    """The message of the database, in one line, without the query or a password."""
    said = str(getattr(error, "orig", None) or error).strip()
    lines: Sequence[str] = [line.strip() for line in said.splitlines() if line.strip()]
    return f"the database says: {lines[0]}" if lines else "the database cannot be queried"


def _remedy(error: Exception, database: str) -> str:
    said = str(getattr(error, "orig", "")).lower()
    if "password" in said or "no password supplied" in said:
        return "Give the password when asked, or set PGPASSWORD or ~/.pgpass."
    if "read-only" in said or "readonly" in said or "not authorized" in said:
        return "Only queries that read are allowed."
    return ""
