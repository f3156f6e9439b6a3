# SPDX-License-Identifier: GPL-3.0-or-later
"""Themes as tables."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import numpy as np

from jagged_lens.export.cells import Numbers, Table, write_table
from jagged_lens.export.run_folder import RunFolder
from jagged_lens.terms import TermCounts
from jagged_lens.text_cells import guarded
from jagged_lens.weigh import Themes

_ENDS = 10  # terms at either end of a theme


def write_vectors(path: Path, vectors: Themes, keys: list[str]) -> None:
    """Write the vectors of documents: key, then a column for each dimension."""
    names = [str(dimension + 1) for dimension in range(len(vectors))]
    write_table(path, Table(["key", *names], [keys, *(Numbers(column) for column in vectors.documents.T)]))


def write_themes(
    folder: RunFolder | Path, themes: Themes, terms: TermCounts, keys: list[str], named: Mapping[int, str] | None = None
) -> None:
    """Write shares and both ends of each theme, and what of it each document and each term has. named: the names that themes were given."""
    given = named or {}
    shares, names = themes.shares, [str(theme + 1) for theme in range(len(themes))]
    order = np.argsort(-themes.terms, axis=0, kind="stable")
    high = [[at for at in order[:_ENDS, theme] if themes.terms[at, theme] > 0] for theme in range(len(themes))]
    low = [[at for at in order[::-1][:_ENDS, theme] if themes.terms[at, theme] < 0] for theme in range(len(themes))]
    write_table(
        folder / "themes.csv",
        Table(
            ["theme", "share", "cumulative", "high", "low", "name"],
            [
                names,
                Numbers(shares),
                Numbers(np.cumsum(shares)),
                *([guarded("; ".join(terms.shown[int(at)] for at in ends)) for ends in side] for side in (high, low)),
                [guarded(given.get(theme, "")) for theme in range(len(themes))],
            ],
        ),
    )
    term_names = [guarded(term) for term in terms.terms]
    for name, first, own, rows in (
        ("document_themes.csv", "key", keys, themes.shown),
        ("term_themes.csv", "term", term_names, themes.terms),
    ):
        write_table(folder / name, Table([first, *names], [own, *(Numbers(column) for column in rows.T)]))
