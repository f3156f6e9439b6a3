# SPDX-License-Identifier: GPL-3.0-or-later
"""Groups as tables."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import numpy as np

from jagged_lens.export.cells import Numbers, Table, write_table
from jagged_lens.group import CrossTable, Grouping, Holding, KeyTerms, Quality, Sweep, letter
from jagged_lens.terms import TermCounts
from jagged_lens.text_cells import guarded

_TOLD = 8


def write_groups(
    path: Path,
    grouping: Grouping,
    key_terms: KeyTerms,
    quality: Quality,
    holding: Holding,
    terms: TermCounts,
    keys: list[str],
    names: Mapping[int, tuple[str, str]],
) -> None:
    """Write the groups with what is known of each. names: name and note of those groups that have any."""
    g = len(grouping)
    told = ["; ".join(terms.shown[column] for column in key_terms.columns(group)[:_TOLD]) for group in range(g)]
    own = [names.get(group, (grouping.names[group] if grouping.names else "", "")) for group in range(g)]
    write_table(
        path,
        Table(
            ["group", "letter", "size", "tightness", "telling", "typical", "silhouette", "holding", "name", "note"],
            [
                [str(group) for group in range(g)],
                [letter(group) for group in range(g)],
                Numbers(grouping.sizes),
                Numbers(grouping.tightness),
                [guarded(words) for words in told],
                [keys[at] for at in key_terms.typical.tolist()],
                Numbers(quality.groups),
                Numbers(holding.groups) if holding.tries else [""] * g,
                [guarded(name) for name, _ in own],
                [guarded(note) for _, note in own],
            ],
        ),
    )


def write_memberships(path: Path, grouping: Grouping, quality: Quality, keys: list[str]) -> None:
    """Write of each document its group, and the next best."""
    write_table(
        path,
        Table(
            ["key", "group", "closeness", "next", "next_closeness", "silhouette"],
            [
                keys,
                Numbers(grouping.group),
                Numbers(grouping.closeness),
                Numbers(quality.next),
                Numbers(np.where(quality.next >= 0, quality.next_closeness, np.float32(np.nan))),
                Numbers(quality.silhouette),
            ],
        ),
    )


def write_centroids(path: Path, grouping: Grouping, columns: list[str], what: str) -> None:
    """Write the entries of all centroids that are not 0. columns: the name of each; what: they are, term or theme."""
    found = grouping.centroids
    write_table(
        path,
        Table(
            ["group", what, "weight"],
            [
                Numbers(np.repeat(np.arange(len(grouping)), np.diff(found.indptr))),
                [columns[at] for at in found.indices.tolist()],
                Numbers(found.data),
            ],
        ),
    )


def write_sweep(path: Path, sweep: Sweep) -> None:
    """Write what each number of groups came to."""
    curves = (sweep.tightness, sweep.silhouette, sweep.agreement, sweep.holding)
    write_table(
        path,
        Table(
            ["groups", "tightness", "silhouette", "agreement", "holding"],
            [Numbers(sweep.groups), *map(Numbers, curves)],
        ),
    )


def write_cross(path: Path, cross: CrossTable) -> None:
    """Write the groups against a label: a column a value, most frequent first."""
    columns = [Numbers(column) for column in cross.counts.T]
    header = ["group", *(guarded(value) for value in cross.values)]
    write_table(path, Table(header, [[str(group) for group in range(len(cross.counts))], *columns]))
