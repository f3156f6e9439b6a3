# SPDX-License-Identifier: GPL-3.0-or-later
"""The files that a run leaves: CSV (RFC 4180), Matrix Market, GraphML and JSON, all UTF-8; docs/formats.md lists their columns."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare import Families, Kind, Neighbours, Pairs
from jagged_lens.export.cells import Numbers, Table, write_table
from jagged_lens.export.groups import write_centroids, write_cross, write_groups, write_memberships, write_sweep
from jagged_lens.export.links import write_links
from jagged_lens.export.matrices import write_matrix
from jagged_lens.export.places import write_figures, write_suggestions
from jagged_lens.export.run_folder import RunFolder
from jagged_lens.export.themes import write_themes, write_vectors
from jagged_lens.export.trees import write_tree
from jagged_lens.gather import Corpus, Label
from jagged_lens.language import CODES, UNKNOWN
from jagged_lens.lens import (
    CORPUS,
    CROSS,
    FAMILIES,
    GROUPING,
    HOLDING,
    KEY_TERMS,
    LAYOUT,
    NEIGHBOURS,
    OVERVIEW,
    PAIRS,
    QUALITY,
    SPACE,
    SUGGESTIONS,
    SWEEP,
    TERMS,
    THEMES,
    TOKENS,
    TREE,
    Results,
)
from jagged_lens.map import MapLayout, separation
from jagged_lens.terms import TermCounts, WhyNot
from jagged_lens.text_cells import guarded
from jagged_lens.weigh import VectorSpace

_WHY_NOT = {reason.value: "" if reason == WhyNot.KEPT else reason.name.lower() for reason in WhyNot}


@dataclass(frozen=True)
class Given:
    """The user's additions to results. groups: name and note of those groups that have any. themes: names. labels: of the user's own, a
    value for each document of the corpus."""

    groups: Mapping[int, tuple[str, str]] = field(default_factory=dict)
    themes: Mapping[int, str] = field(default_factory=dict)
    labels: tuple[Label, ...] = ()


def write_run(folder: RunFolder, results: Results, neighbours_asked: int, given: Given | None = None) -> None:
    """Write all tables and matrices of a finished run into `folder`."""
    given = given or Given()
    corpus, space = results[CORPUS], results[SPACE]
    neighbours = results[NEIGHBOURS].nearest(neighbours_asked)
    terms: TermCounts = space.terms
    labels = (*corpus.labels, *given.labels)
    keys = document_keys(corpus, terms)
    write_table(
        folder / "documents.csv",
        _documents(results, neighbours, keys, labels),
    )
    write_terms(folder / "terms.csv", space)
    if terms.column is not None:
        write_table(folder / "columns.csv", _hashed(terms))
    write_matrix(folder / "counts.mtx", terms.counts, "integer")
    write_matrix(folder / "weights.mtx", space.weights, "real")
    pairs = results[PAIRS]
    write_table(folder / "pairs.csv", _pairs(pairs, keys))
    write_table(folder / "families.csv", _families(results[FAMILIES], keys))
    write_links(folder / "links.graphml", corpus, terms.rows, pairs, results[GROUPING].group, labels)
    write_table(folder / "neighbours.csv", _neighbours(neighbours, keys))
    _write_groups(folder, results, keys, given.groups)
    write_table(folder / "separation.csv", _separation(labels, terms, results[NEIGHBOURS], results[LAYOUT]))
    if results[THEMES].of_vectors:
        write_vectors(folder / "vectors.csv", results[THEMES], keys)
    elif len(results[THEMES]):
        write_themes(folder, results[THEMES], terms, keys, given.themes)
    if len(results[SUGGESTIONS]):
        write_suggestions(folder / "suggestions.csv", results[SUGGESTIONS], keys)
        write_figures(folder, results[SUGGESTIONS])


def _write_groups(folder: RunFolder, results: Results, keys: list[str], names: Mapping[int, tuple[str, str]]) -> None:
    grouping, quality, terms = results[GROUPING], results[QUALITY], results[TERMS]
    write_groups(folder / "groups.csv", grouping, results[KEY_TERMS], quality, results[HOLDING], terms, keys, names)
    write_memberships(folder / "memberships.csv", grouping, quality, keys)
    if len(results[THEMES]):
        columns, what = (
            [str(theme + 1) for theme in range(len(results[THEMES]))],
            "dimension" if results[THEMES].of_vectors else "theme",
        )
    else:
        columns, what = [guarded(term) for term in terms.terms], "term"
    write_centroids(folder / "centroids.csv", grouping, columns, what)
    if len(results[TREE]):
        write_tree(folder, results[TREE], keys)
    if len(results[SWEEP]):
        write_sweep(folder / "sweep.csv", results[SWEEP])
    if results[CROSS].values:
        write_cross(folder / "cross.csv", results[CROSS])


def document_keys(corpus: Corpus, terms: TermCounts) -> list[str]:
    """The keys of the documents of the lens, as they stand in a table."""
    return [guarded(key) for key in corpus.keys.take(terms.rows)]


def write_terms(path: Path, space: VectorSpace) -> None:
    """Write all terms, kept or not, with their weights over all documents."""
    write_table(path, _terms(space))


def write_named_matrix(path: Path, matrix: csr_array, field: str, rows: Sequence[str], columns: Iterable[str]) -> None:
    """Write a matrix (CSR), and beside it what its rows and its columns are: NAME.rows.csv and NAME.columns.csv, numbered from 1."""
    write_matrix(path, matrix, field)
    for kind, name, names in (("rows", "key", rows), ("columns", "term", [guarded(one) for one in columns])):
        numbered: list[Iterable[str]] = [Numbers(np.arange(1, len(names) + 1)), list(names)]
        write_table(path.with_name(f"{path.stem}.{kind}.csv"), Table([kind.removesuffix("s"), name], numbered))


def write_json(path: Path, content: dict[str, Any]) -> None:
    """A JSON file (RFC 8259) in UTF-8; what no UTF-8 can hold, of a name that is none, is written as \\udcNN."""
    path.write_bytes((json.dumps(content, indent=2, ensure_ascii=False) + "\n").encode("utf-8", "backslashreplace"))


def _documents(results: Results, neighbours: Neighbours, keys: list[str], labels: Sequence[Label]) -> Table:
    corpus, tokens, space = results[CORPUS], results[TOKENS], results[SPACE]
    grouping, layout = results[GROUPING], results[LAYOUT]
    rows = space.terms.rows
    n = len(rows)
    none = np.full(n, -1)
    nearest = neighbours.row[:, 0] if neighbours.row.shape[1] else none
    likeness = neighbours.similarity[:, 0] if neighbours.row.shape[1] else np.zeros(n, np.float32)
    header = ["row", "key", "title", "tokens", "terms", "group", "x", "y", "trust", "nearest", "nearest_similarity"]
    header.append("language")
    columns: list[Iterable[str]] = [
        Numbers(rows + 1),
        keys,
        [guarded(title) for title in corpus.titles.take(rows)],
        Numbers(tokens.kept_by_row()[rows]),
        Numbers(np.diff(space.terms.counts.indptr)),
        Numbers(grouping.group),
        Numbers(layout.positions[:, 0]),
        Numbers(layout.positions[:, 1]),
        Numbers(layout.trust),
        [keys[at] if at >= 0 else "" for at in nearest.tolist()],
        Numbers(np.where(nearest >= 0, likeness, np.float32(np.nan))),
        [CODES[code] if code != UNKNOWN else "" for code in results[OVERVIEW].language[rows].tolist()],
    ]
    for label in labels:
        header.append(f"label.{label.name}")
        values = [guarded(value) for value in label.values]
        columns.append([values[code] for code in label.codes[rows].tolist()])
    return Table(header, columns)


def _terms(space: VectorSpace) -> Table:
    vocabulary = space.terms.vocabulary
    across = np.full(len(vocabulary), np.nan)
    column = space.terms.column
    if column is None:
        across[space.terms.kept] = space.global_weights
    else:
        across[column >= 0] = space.global_weights[column[column >= 0]]
    return Table(
        ["term", "shown", "words", "times", "documents", "share", "global", "kept", "why_not"],
        [
            [guarded(term) for term in vocabulary.terms],
            [guarded(term) for term in space.terms.all_shown()],
            Numbers(vocabulary.lengths),
            Numbers(vocabulary.times),
            Numbers(vocabulary.documents),
            Numbers(vocabulary.documents / max(len(space.terms.rows), 1)),
            Numbers(across),
            ["no" if why else "yes" for why in vocabulary.why_not.tolist()],
            [_WHY_NOT[why] for why in vocabulary.why_not.tolist()],
        ],
    )


def _hashed(terms: TermCounts) -> Table:
    """The content of each column."""
    assert terms.column is not None
    rows = np.flatnonzero(terms.column >= 0)
    rows = rows[np.argsort(terms.column[rows], kind="stable")]
    return Table(
        ["column", "term", "times"],
        [
            Numbers(terms.column[rows] + 1),
            [guarded(term) for term in terms.vocabulary.terms.take(rows)],
            Numbers(terms.vocabulary.times[rows]),
        ],
    )


def _pairs(pairs: Pairs, keys: list[str]) -> Table:
    return Table(
        ["first", "second", "similarity", "kind", "family", "resemblance"],
        [
            [keys[at] for at in pairs.first.tolist()],
            [keys[at] for at in pairs.second.tolist()],
            Numbers(pairs.similarity),
            [Kind(kind).name.lower() for kind in pairs.kind.tolist()],
            [str(family + 1) if family >= 0 else "" for family in pairs.family.tolist()],
            Numbers(pairs.resemblance),
        ],
    )


def _families(families: Families, keys: list[str]) -> Table:
    """The members of each family, its standard first."""
    family = np.repeat(np.arange(len(families)), families.sizes)
    return Table(
        ["family", "key", "standard", "resemblance"],
        [
            Numbers(family + 1),
            [keys[at] for at in families.members.tolist()],
            ["yes" if own else "no" for own in (families.standard[family] == families.members).tolist()],
            Numbers(families.resemblance),
        ],
    )


def _neighbours(neighbours: Neighbours, keys: list[str]) -> Table:
    owner, rank = np.nonzero(neighbours.row >= 0)
    return Table(
        ["key", "rank", "neighbour", "similarity"],
        [
            [keys[at] for at in owner.tolist()],
            Numbers(rank + 1),
            [keys[at] for at in neighbours.row[owner, rank].tolist()],
            Numbers(neighbours.similarity[owner, rank]),
        ],
    )


def _separation(labels: Sequence[Label], terms: TermCounts, neighbours: Neighbours, layout: MapLayout) -> Table:
    """For each label a row for all its documents, with an empty value, then one a value, most frequent first."""
    names: list[str] = []
    shown: list[str] = []
    figures: list[list[NDArray[np.generic]]] = [[], [], [], []]
    for label in labels:
        found = separation(label.codes[terms.rows], label.none, neighbours, layout)
        names += [guarded(label.name)] * (len(found.values) + 1)
        shown += ["", *(guarded(label.values[value]) for value in found.values.tolist())]
        figures[0].append(np.concatenate(([found.documents.sum()], found.documents)))
        figures[1].append(np.concatenate(([found.all_space], found.space)))
        figures[2].append(np.concatenate(([found.all_map], found.on_map)))
        figures[3].append(np.concatenate(([found.all_chance], found.chance)))
    columns = [Numbers(np.concatenate(own)) if own else Numbers(np.zeros(0)) for own in figures]
    return Table(["label", "value", "documents", "space", "map", "chance"], [names, shown, *columns])
