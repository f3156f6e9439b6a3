# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts of Group: tree, groups, their key terms and quality, holding, sweep, cross table."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather import label_named
from jagged_lens.group import (
    CrossTable,
    Grouping,
    Holding,
    Sweep,
    Tree,
    by_label,
    by_theme,
    cross_table,
    filled_rows,
    from_tree,
    holding_of,
    ids_of,
    k_means,
    key_terms_of_groups,
    quality_of,
    sweep_of,
    tree_of,
)
from jagged_lens.lens.job import Job
from jagged_lens.lens.part import Part, Work
from jagged_lens.lens.to_space import CORPUS, SPACE, TERMS, THEMES, nothing, vectors


def _grouped_by(job: Job) -> object:
    """The settings by which documents get into groups; those of a tree are in the tree."""
    g = job.recipe.group
    if g.by == "label":
        return g.by, g.label, tuple(own for own in job.own if own[0] == g.label)
    if g.by == "theme":
        return g.by
    number = (g.by, g.groups if not g.group_size else 0, g.group_size)
    return number if g.by == "tree" else (*number, g.starts, g.seed)


def _grouping(work: Work) -> Grouping:
    settings, space = work.job.recipe.group, vectors(work)
    if settings.by == "label":
        return by_label(space, label_named(work[CORPUS], settings.label, work.job.own, "[group] label"), _ids(work))
    if settings.by == "theme":
        return by_theme(space, work[THEMES], _ids(work))
    if settings.by == "tree":
        return from_tree(space, work[TREE], settings, _ids(work))
    return k_means(space, settings, work.progress, _ids(work))


def _ids(work: Work) -> NDArray[np.uint64]:
    """The identifiers by which documents are drawn: their keys."""
    return ids_of(work[CORPUS].keys.take(work[SPACE].terms.rows))


def _tree(work: Work) -> Tree:
    return tree_of(vectors(work), work.job.recipe.group.linkage, work.progress)


def _by_tree(job: Job) -> bool:
    return job.recipe.group.by == "tree"


def _tried(job: Job) -> tuple[object, ...]:
    """The settings by which parts of the documents are grouped anew."""
    g = job.recipe.group
    return (g.by, g.linkage, g.seed) if g.by == "tree" else (g.by == "k-means", g.starts, g.seed)


def _holding(work: Work) -> Holding:
    settings, grouping = work.job.recipe.group, work[GROUPING]
    if not settings.holding:
        return Holding.none(len(grouping))
    return holding_of(vectors(work), grouping, settings, work.progress, work.preview, _ids(work))


def _sweep(work: Work) -> Sweep:
    settings = work.job.recipe.group
    tree = work[TREE] if settings.by == "tree" else None
    return sweep_of(vectors(work), settings, work.progress, work.preview, tree, _ids(work), work.enough)


def _cross(work: Work) -> CrossTable:
    name, rows = work.job.recipe.group.against, work[SPACE].terms.rows
    if not name:
        return CrossTable.none(work[GROUPING])
    return cross_table(work[GROUPING], label_named(work[CORPUS], name, work.job.own, "[group] against"), rows)


RIDGE = Part("ridge", "group", (SPACE, THEMES), lambda job: job.recipe.group.linkage, _tree, on_demand=True)
TREE = Part(
    "tree",
    "group",
    (SPACE, THEMES),
    lambda job: job.recipe.group.linkage if _by_tree(job) else "",
    lambda work: _tree(work) if _by_tree(work.job) else Tree.none(),
    remembered_as=lambda job: RIDGE.name if _by_tree(job) else "tree",
)
GROUPING = Part("grouping", "group", (CORPUS, SPACE, THEMES, TREE), _grouped_by, _grouping)
KEY_TERMS = Part(
    "key_terms", "group", (GROUPING, TERMS), nothing, lambda work: key_terms_of_groups(work[GROUPING], work[TERMS])
)
QUALITY = Part(
    "quality",
    "group",
    (SPACE, THEMES, GROUPING),
    nothing,
    lambda work: quality_of(filled_rows(vectors(work)), work[GROUPING], work.progress),
)
CROSS = Part(
    "cross",
    "group",
    (CORPUS, SPACE, GROUPING),
    lambda job: (job.recipe.group.against, tuple(own for own in job.own if own[0] == job.recipe.group.against)),
    _cross,
)
HOLDING = Part(
    "holding",
    "group",
    (CORPUS, SPACE, THEMES, GROUPING),
    lambda job: (job.recipe.group.holding, _tried(job)),
    _holding,
    on_demand=True,
)
SWEEP = Part(
    "sweep",
    "group",
    (CORPUS, SPACE, THEMES, TREE),
    lambda job: (job.recipe.group.sweep, _tried(job)),
    _sweep,
    on_demand=True,
    unfinished=lambda sweep: f"{len(sweep)} numbers" if sweep.stopped else "",
)
