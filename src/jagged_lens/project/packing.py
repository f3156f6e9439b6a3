# SPDX-License-Identifier: GPL-3.0-or-later
"""A project packed for a colleague: a new file with what is to be handed on, and a word on what is not."""

from __future__ import annotations

import contextlib
import dataclasses
import os
import sqlite3
from collections.abc import Collection
from pathlib import Path

from jagged_lens.project.file import ProjectFile
from jagged_lens.project.findings import Finding
from jagged_lens.project.plain_state import with_pictures
from jagged_lens.project.schema import ProjectError, connected, create, reason
from jagged_lens.project.state import ProjectState

TEXTS, PAGES, DECISIONS, NOTES = "texts", "web pages", "decisions", "notes"
PACKED = {
    TEXTS: "The documents as they were read, and the texts in findings",
    PAGES: "Web pages as they were fetched",
    DECISIONS: "Decisions on pairs, and documents that were set aside",
    NOTES: "Findings, labels, names and notes, kept picks",
}
"""The parts that can be left out when a project is packed, with what they are."""
_OF_TEXTS = ("snapshots", "documents", "vectors", "answers")


def pack(file: ProjectFile, state: ProjectState, path: Path, keep: Collection[str]) -> None:
    """Write a project file at a path with some of the parts in PACKED; one that is there is replaced in one move. Settings are always in it; results
    are not, since they are computed again. ProjectError where it cannot be written; what was there before then stays.
    """
    new = path.with_name(f".{path.name}.new-{os.getpid()}")
    try:
        create(new)
        ProjectFile(new).save(with_pictures(packed_state(state, keep)))
        tables = [*(_OF_TEXTS if TEXTS in keep else ()), *(("pages",) if PAGES in keep else ())]
        with contextlib.closing(connected(new)) as connection:
            connection.execute("ATTACH DATABASE ? AS old", (str(file.path),))
            there = {name for (name,) in connection.execute("SELECT name FROM old.sqlite_master WHERE type = 'table'")}
            own = {name for (name,) in connection.execute("SELECT name FROM main.sqlite_master WHERE type = 'table'")}
            connection.execute("BEGIN IMMEDIATE")
            for table in tables:
                if table in there & own:
                    connection.execute(f"INSERT INTO main.{table} SELECT * FROM old.{table}")
            connection.execute("COMMIT")
        with new.open("rb") as written:
            os.fsync(written.fileno())
        os.replace(new, path)
    except (OSError, sqlite3.Error) as error:
        with contextlib.suppress(OSError):
            new.unlink()
        raise ProjectError(f"the project was not packed ({reason(error)})", str(path)) from error


def packed_state(state: ProjectState, keep: Collection[str]) -> ProjectState:
    """The state that a colleague gets: without the parts that are not kept; files are named without their folders."""
    named = {
        source: dataclasses.replace(source, file=Path(source.file).name) for source in state.sources if source.file
    }
    if len(set(named.values())) == len(named):
        state = state.with_sources(tuple(named.get(source, source) for source in state.sources))
        stamps = tuple((named.get(source, source), stamp) for source, stamp in state.stamps)
        state = dataclasses.replace(state, stamps=stamps)
    changes: dict[str, object] = {
        "folder": Path(),
        "without": tuple(name for name in PACKED if name not in keep),
    }
    if DECISIONS not in keep:
        changes |= {"decisions": (), "aside": ()}
    if NOTES not in keep:
        changes |= {"report": (), "labels": (), "groups": (), "themes": (), "kept": (), "refused": frozenset()}
    elif TEXTS not in keep:
        changes["report"] = tuple(
            dataclasses.replace(entry, quotes=()) if isinstance(entry, Finding) else entry for entry in state.report
        )
    if TEXTS not in keep:
        changes |= {"stamps": ()}
    return dataclasses.replace(state, **changes)  # type: ignore[arg-type]


def said_without(without: Collection[str]) -> str:
    """A sentence on what is not in a project; "" where everything is.

    >>> said_without(["texts", "notes"])
    'This project was packed without texts and notes.'
    """
    if not without:
        return ""
    *first, last = without
    return f"This project was packed without {', '.join(first)}{' and ' if first else ''}{last}."
