# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts of Compare and Map: pairs, families, neighbours, the layout of documents and of terms."""

from __future__ import annotations

import numpy as np

from jagged_lens.compare import (
    EXACT_TO,
    THRESHOLDS_FROM,
    Families,
    Neighbours,
    Pairs,
    families_of,
    find_pairs,
    nearest_neighbours,
    neighbours_by_lists,
    neighbours_by_thresholds,
    similarity_distribution,
)
from jagged_lens.gather import label_named
from jagged_lens.lens.job import Job
from jagged_lens.lens.part import Part, Work
from jagged_lens.lens.to_space import CORPUS, SHINGLES, SPACE, THEMES, nothing, vectors
from jagged_lens.map import NEAREST, Laid, TermPoints, lay_out, lay_out_links, pca, term_points, trusted


def _pair_settings(job: Job) -> object:
    c = job.recipe.compare
    named = [name for name in (c.pairs_across, c.pairs_within) if name]
    own = tuple(one for one in job.own if one[0] in named)
    return c.measure, c.pairs_from, c.copies_below, c.pairs_across, c.pairs_within, own


def _pairs(work: Work) -> Pairs:
    c, corpus, own = work.job.recipe.compare, work[CORPUS], work.job.own
    across, within = (
        label_named(corpus, name, own, f"[compare] {key}") if name else None
        for key, name in (("pairs-across", c.pairs_across), ("pairs-within", c.pairs_within))
    )
    return find_pairs(vectors(work), work[SHINGLES], c, across, within, work.progress)


def _families(work: Work) -> Families:
    rows, texts = work[SPACE].terms.rows, work[CORPUS].texts
    lengths = np.array([len(texts[row]) for row in rows.tolist()], np.int64)
    return families_of(work[PAIRS], work[SHINGLES], rows, lengths, work.progress)


def _wanted(job: Job) -> int:
    """So many neighbours serve the table, the trust of the map and its ties."""
    return max(job.recipe.compare.neighbours, NEAREST, job.recipe.map.near if job.recipe.map.by == "t-sne" else 0)


def _nearest(work: Work) -> Neighbours:
    compare, k = work.job.recipe.compare, _wanted(work.job)
    space, exact = vectors(work), compare.exact
    if len(work[THEMES]) or len(space.empty) <= EXACT_TO:
        return nearest_neighbours(space, compare.measure, k, work.progress)
    if exact:
        exactly = neighbours_by_thresholds if len(space.empty) >= THRESHOLDS_FROM else nearest_neighbours
        return exactly(space, compare.measure, k, work.progress)
    return neighbours_by_lists(space, compare.measure, k, work.progress)


def _laid(work: Work) -> Laid:
    recipe = work.job.recipe
    return lay_out(
        vectors(work),
        work[NEIGHBOURS],
        work[PROJECTION],
        recipe.compare.measure,
        recipe.map,
        work.progress,
        work.preview,
        work.enough,
        piled=True,
    )


def _rounds(laid: Laid) -> str:
    """The mark that distinguishes a stopped map from a complete one."""
    return f"{laid.rounds} rounds" if laid.stopped else ""


def _term_points(work: Work) -> TermPoints:
    recipe, space = work.job.recipe, work[SPACE]
    keys = work[CORPUS].keys.take(space.terms.rows)
    return term_points(space, keys, recipe.map, recipe.group, work.progress, work.preview, work.enough, work[THEMES])


def _map_settings(job: Job) -> object:
    settings = job.recipe.map
    own = {"t-sne": (settings.pull, settings.near, settings.seed), "scaling": (settings.seed,), "pca": ()}
    return settings.by, own[settings.by], job.recipe.compare.measure


PAIRS = Part(
    "pairs",
    "compare",
    (CORPUS, SPACE, THEMES, SHINGLES),
    _pair_settings,
    _pairs,
)
LINKS = Part(
    "links",
    "compare",
    (PAIRS,),
    nothing,
    lambda work: lay_out_links(work[PAIRS], work.progress, work.preview),
    on_demand=True,
)
FAMILIES = Part("families", "compare", (CORPUS, SPACE, SHINGLES, PAIRS), nothing, _families, on_demand=True)
NEIGHBOURS = Part(
    "neighbours",
    "compare",
    (SPACE, THEMES),
    lambda job: (job.recipe.compare.measure, job.recipe.compare.exact, _wanted(job)),
    _nearest,
)
PROJECTION = Part(
    "projection",
    "map",
    (SPACE, THEMES),
    lambda job: job.recipe.map.seed,
    lambda work: pca(vectors(work), work.job.recipe.map.seed, work.progress),
)
LAID = Part("laid", "map", (SPACE, THEMES, NEIGHBOURS, PROJECTION), _map_settings, _laid, unfinished=_rounds)
LAYOUT = Part(
    "layout",
    "map",
    (LAID, PROJECTION, NEIGHBOURS),
    nothing,
    lambda work: trusted(work[LAID], work[PROJECTION], work[NEIGHBOURS], work.progress),
)
TERM_POINTS = Part(
    "term_points",
    "map",
    (CORPUS, SPACE, THEMES),
    lambda job: (
        job.recipe.map,
        job.recipe.group.groups,
        job.recipe.group.group_size,
        job.recipe.group.starts,
        job.recipe.group.seed,
    ),
    _term_points,
    on_demand=True,
    unfinished=lambda points: _rounds(points.layout.laid),
)
DISTRIBUTION = Part(
    "distribution",
    "compare",
    (SPACE, THEMES),
    lambda job: job.recipe.compare.measure,
    lambda work: similarity_distribution(vectors(work), work.job.recipe.compare.measure, work.progress, work.preview),
    on_demand=True,
)
