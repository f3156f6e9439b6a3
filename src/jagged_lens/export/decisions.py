# SPDX-License-Identifier: GPL-3.0-or-later
"""Decisions on near-duplicates as a table."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from jagged_lens.export.cells import Table, write_table
from jagged_lens.project import Decision
from jagged_lens.text_cells import guarded


def write_decisions(path: Path, decisions: Iterable[tuple[Decision, str]]) -> None:
    """Write decisions with how each stands, in words."""
    rows = [
        [
            guarded(one.first),
            guarded(one.second),
            one.choice,
            guarded(one.kept) if one.kept else "",
            guarded(one.dropped) if one.dropped else "",
            state,
        ]
        for one, state in decisions
    ]
    columns: list[Iterable[str]] = [[row[at] for row in rows] for at in range(6)]
    write_table(path, Table(["first", "second", "decision", "kept", "dropped", "state"], columns))
