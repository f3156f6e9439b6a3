# SPDX-License-Identifier: GPL-3.0-or-later
"""One source of documents, as a recipe names it: where it lies, how it is read, and which column is what."""

from __future__ import annotations

import dataclasses
import re
from pathlib import Path
from typing import Any, Literal
from urllib.parse import unquote, urlsplit

from pydantic import model_validator
from pydantic.dataclasses import dataclass

from jagged_lens.checking import checked
from jagged_lens.errors import RecipeError
from jagged_lens.expressions import expression
from jagged_lens.setting import STRICT, declared, setting

_ROLES = ("key", "text", "title", "labels", "date", "numbers")


@dataclass(frozen=True, config=STRICT)
class Source:
    """Exactly one of file, database, links and pasted says where the documents are."""

    file: str = setting(
        "", label="File", help="A table, a text, a folder, a zip archive, or a pattern such as notes/*.txt."
    )
    database: str = setting(
        "",
        label="Database",
        help="An SQLite file, or a PostgreSQL address: postgresql://user@host/name, without a password.",
    )
    links: str = setting(
        "", label="Links", help="A table or text file with web addresses, or the addresses themselves, one a line."
    )
    pasted: str = setting("", label="Pasted", help="The pasted text itself.")
    table: str = setting("", label="Table", help="Table of the database. If empty, the query is used.")
    query: str = setting("", label="Query", help="A SELECT that gives the rows.")
    column: str = setting("", label="Column", help="Column of the table with the web addresses.")
    key: str = setting("", label="Key", help="Column of unique document keys.")
    text: tuple[str, ...] = setting((), label="Text", help="Columns whose text is read, joined by a blank line.")
    title: str = setting("", label="Title", help="Column of titles.")
    labels: tuple[str, ...] = setting((), label="Labels", help="Columns whose values label the documents.")
    date: str = setting("", label="Date", help="Column of dates.")
    numbers: tuple[str, ...] = setting((), label="Numbers", help="Columns of numbers to keep with the documents.")
    encoding: str = setting(
        "",
        label="Encoding",
        help="For example utf-8 or cp1252. Separate several by commas: each file uses the first that fits it. If empty, it is detected.",
    )
    separator: str = setting("", label="Separator", help="Between the fields of a table. If empty, it is detected.")
    header: Literal["guess", "yes", "no"] = setting(
        "guess", label="Header", help="Whether the first row of a table names its columns."
    )
    sheet: str = setting("", label="Sheet", help="Sheet of a spreadsheet. If empty, the first that is not empty.")
    kinds: tuple[str, ...] = setting(
        (),
        label="Kinds",
        help='Endings of the files to read from a folder, such as "pdf". If empty, all that can be read.',
    )
    path_labels: tuple[str, ...] = setting(
        (), label="Path labels", help='Labels from the parts of the path, from the left; "" skips one.'
    )
    labelled: tuple[str, ...] = setting(
        (), label="Labelled", help='Labels for all its documents, such as "origin = letters".'
    )
    cut: Literal["no", "line", "blank-line", "at"] = setting(
        "no",
        label="Cut",
        help="Split one text into many documents: at each line, at blank lines, or where cut-at matches.",
    )
    cut_at: str = setting(
        "",
        label="Cut at",
        help="A line that separates two documents, such as ***; between slashes, a regular expression.",
    )
    replies: Literal["keep", "drop"] = setting(
        "keep", label="Quoted replies", help="Whether quoted replies in e-mail are read."
    )
    private: bool = setting(
        False, label="Private networks", help="Allow links to addresses of private networks and of this machine."
    )
    at_a_time: int = setting(4, label="At a time", help="Number of pages fetched at the same time.", low=1, high=16)
    page_seconds: int = setting(20, label="Seconds", help="Time limit for one page.", low=1, high=600, unit="s")
    page_megabytes: int = setting(10, label="Megabytes", help="Size limit for one page.", low=1, high=200, unit="MB")

    @model_validator(mode="after")
    def _one_place(self) -> Source:
        named = [kind for kind in ("file", "database", "links", "pasted") if getattr(self, kind)]
        if len(named) != 1:
            raise ValueError("a source needs exactly one of file, database, links and pasted")
        if self.database and bool(self.table) == bool(self.query):
            raise ValueError("a database needs a table or a query, not both")
        if "://" in self.database and _holds_password(self.database):
            raise ValueError(
                "a recipe must not contain a password: leave it out, and give it when asked, in PGPASSWORD or in ~/.pgpass"
            )
        if self.cut == "at" and not self.cut_at:
            raise ValueError('cut = "at" needs cut-at, the separator')
        self.cutter()
        return self

    @property
    def kind(self) -> str:
        """file, database, links or pasted."""
        return next(kind for kind in ("file", "database", "links", "pasted") if getattr(self, kind))

    @property
    def lists_links(self) -> bool:
        """True if the web addresses themselves are named, not a file that holds them."""
        return "://" in self.links or "\n" in self.links.strip() or self.links.lstrip().lower().startswith("www.")

    @property
    def name(self) -> str:
        """The name that the user knows."""
        if self.file:
            return Path(self.file).name or self.file
        if self.database:
            return f"{_database_name(self.database)}: {self.table or ' '.join(self.query.split())[:40]}"
        if self.links:
            return "pasted links" if self.lists_links else Path(self.links).name
        first = " ".join(self.pasted.split()[:4])
        return f"pasted: {first[:30]}…"

    def cutter(self) -> re.Pattern[str] | None:
        """The separator of documents; None if they are not split. ValueError where it is no regular expression."""
        if self.cut == "no":
            return None
        if self.cut == "line":
            return re.compile(r"\n")
        if self.cut == "blank-line":
            return re.compile(r"\n[^\S\n]*\n\s*")
        if self.has_expression:
            try:
                return expression(self.cut_at[1:-1], re.MULTILINE)
            except ValueError as error:
                raise ValueError(f"cut-at cannot be used: {error}") from None
        return re.compile(rf"^[^\S\n]*{re.escape(self.cut_at.strip())}[^\S\n]*$", re.MULTILINE)

    @property
    def has_expression(self) -> bool:
        """True if documents are cut by a regular expression of the user's own."""
        return self.cut == "at" and len(self.cut_at) > 2 and self.cut_at[0] == self.cut_at[-1] == "/"

    def with_roles_of(self, key: str, text: tuple[str, ...], title: str, labels: tuple[str, ...], date: str) -> Source:
        """This source with the roles of columns that it does not say itself."""
        return dataclasses.replace(
            self,
            key=self.key or key,
            text=self.text or text,
            title=self.title or title,
            labels=self.labels or labels,
            date=self.date or date,
        )


def _database_name(database: str) -> str:
    """The name of an SQLite file, or what an address names on its server. Of what is no address, all but what may be a password."""
    if "://" not in database:
        return Path(database).name
    try:
        return unquote(urlsplit(database).path.strip("/"))
    except ValueError:
        return database.partition("://")[2].rpartition("@")[2].partition("?")[0]


def is_secret(key: str) -> bool:
    """True if a field of a database's address is a password, or names where one lies."""
    return unquote(key).strip().lower() in ("password", "passfile", "sslpassword")


def _holds_password(address: str) -> bool:
    try:
        parts = urlsplit(address)
        named = parts.password is not None
    except ValueError:
        return "password" in address.lower() or ":" in address.partition("://")[2].rpartition("@")[0]
    return named or any(is_secret(field.partition("=")[0]) for field in parts.query.split("&"))


def parse_sources(value: Any, where: str) -> str | tuple[Source, ...]:
    """The value of `from` in a recipe: a path, a table that describes a source, or a list of these."""
    if isinstance(value, str):
        return value
    if isinstance(value, Source):
        return (value,)
    if isinstance(value, dict):
        return (_parse(value, where),)
    if isinstance(value, (list, tuple)):
        return tuple(_parse(one, f"{where}, source {number}") for number, one in enumerate(value, 1))
    raise RecipeError(f"{value!r} is not allowed", where, 'Allowed: a path, or a table such as {file = "notes.csv"}.')


def _parse(value: Any, where: str) -> Source:
    if isinstance(value, Source):
        return value
    if isinstance(value, str):
        value = {"file": value}
    if not isinstance(value, dict):
        raise RecipeError(
            f"{value!r} is not allowed", where, 'Allowed: a path, or a table such as {file = "notes.csv"}.'
        )
    source: Source = checked(where, Source, value)
    return source


def plain_sources(value: str | tuple[Source, ...]) -> Any:
    """Sources as a recipe writes them: only what is not the default."""
    return value if isinstance(value, str) else [plain_source(source) for source in value]


def plain_source(source: Source) -> dict[str, Any]:
    """A source as nested plain values, only what is not the default."""
    found = {}
    for key, one in declared(Source).items():
        value = getattr(source, one.name)
        if value != one.default:
            found[key] = list(value) if isinstance(value, tuple) else value
    return found


def source_of(values: dict[str, Any]) -> Source:
    """The source that plain values describe. RecipeError where they describe none."""
    return _parse(values, "source")


def is_plain_file(source: Source) -> bool:
    """True if a recipe can say this source as a path and roles alone."""
    return set(plain_source(source)) <= {"file", "key", "text", "title", "labels", "date"}
