# SPDX-License-Identifier: GPL-3.0-or-later
"""New documents, and labels that are suggested, as tables."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Kind
from jagged_lens.export.cells import Numbers, Table, write_table
from jagged_lens.export.run_folder import RunFolder
from jagged_lens.lens import CORPUS, PLACED, SPACE, Results
from jagged_lens.place import Part, Suggestions
from jagged_lens.text_cells import guarded

_PARTS = {Part.TRAINING: "training", Part.HELD_OUT: "held-out", Part.NEW: "new"}


def write_placed(path: Path, results: Results) -> None:
    """Write of each new document where it lies in the lens."""
    found, rows = results[PLACED], results[SPACE].terms.rows
    keys = [guarded(key) for key in results[CORPUS].keys.take(rows)]
    near = found.nearest.row[:, 0] if found.nearest.row.shape[1] else np.full(len(found), -1)
    alike = found.nearest.similarity[:, 0] if found.nearest.row.shape[1] else np.zeros(len(found), np.float32)
    write_table(
        path,
        Table(
            [
                *("key", "title", "nearest", "similarity", "kind", "group", "group_similarity", "x", "y", "unknown"),
                *("copy_of", "copy_kind"),
            ],
            [
                [guarded(key) for key in found.corpus.keys],
                [guarded(title) for title in found.corpus.titles],
                [keys[at] if at >= 0 else "" for at in near.tolist()],
                Numbers(np.where(near >= 0, alike, np.float32(np.nan))),
                [
                    Kind(kind).name.lower() if at >= 0 else ""
                    for at, kind in zip(near.tolist(), found.kind.tolist(), strict=True)
                ],
                [str(group) if group >= 0 else "" for group in found.group.tolist()],
                Numbers(np.where(found.group >= 0, found.closeness, np.float32(np.nan))),
                Numbers(found.positions[:, 0]),
                Numbers(found.positions[:, 1]),
                Numbers(found.through.unknown_share),
                [keys[at] if at >= 0 else "" for at in found.copy_of.tolist()],
                [
                    Kind(kind).name.lower() if at >= 0 else ""
                    for at, kind in zip(found.copy_of.tolist(), found.copy_kind.tolist(), strict=True)
                ],
            ],
        ),
    )


def write_suggestions(path: Path, found: Suggestions, keys: list[str]) -> None:
    """Write of each document the value that it has, the one that is suggested, with which probability, and whether it counts in the
    figures. keys: of its documents."""
    values = [*(guarded(value) for value in found.values), ""]
    counted = found.counted(Part.TRAINING) | found.counted(Part.HELD_OUT)
    write_table(
        path,
        Table(
            ["key", "given", "suggested", "probability", "part", "counted"],
            [
                keys,
                [values[code] for code in found.given.tolist()],
                [values[code] for code in found.suggested.tolist()],
                Numbers(np.where(found.suggested >= 0, found.probability, np.float32(np.nan))),
                [_PARTS[Part(part)] for part in found.part.tolist()],
                ["yes" if own else "no" for own in counted.tolist()],
            ],
        ),
    )


def write_figures(folder: RunFolder | Path, found: Suggestions) -> None:
    """Write confusion.csv, of what there are documents, and scores.csv."""
    values = [guarded(value) for value in found.values]
    confusion: list[list[str]] = [[], [], []]
    counted: list[NDArray[np.generic]] = []
    scores: list[list[str]] = [[], []]
    measured: list[list[NDArray[np.generic]]] = [[], [], [], []]
    for part in (Part.TRAINING, Part.HELD_OUT):
        own = found.figures(part)
        given, suggested = np.nonzero(own.counts)
        confusion[0] += [_PARTS[part]] * len(given)
        confusion[1] += [values[code] for code in given.tolist()]
        confusion[2] += [values[code] for code in suggested.tolist()]
        counted.append(own.counts[given, suggested])
        scores[0] += [_PARTS[part]] * len(values)
        scores[1] += values
        for column, figures in zip(measured, (own.precision, own.recall, own.f1, own.documents), strict=True):
            column.append(figures)
    documents = Numbers(np.concatenate(counted))
    write_table(folder / "confusion.csv", Table(["part", "given", "suggested", "documents"], [*confusion, documents]))
    figures_of_all = [Numbers(np.concatenate(column)) for column in measured]
    write_table(
        folder / "scores.csv",
        Table(["part", "value", "precision", "recall", "f1", "documents"], [*scores, *figures_of_all]),
    )
