# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts of Place: new documents, where they lie in the lens, and labels that are suggested."""

from __future__ import annotations

import numpy as np

from jagged_lens.clean import Known
from jagged_lens.compare import copy_families
from jagged_lens.gather import Corpus, Means, label_named, read_sources
from jagged_lens.lens.given import given_for, given_state
from jagged_lens.lens.job import Job
from jagged_lens.lens.part import Part, Work
from jagged_lens.lens.to_groups import GROUPING
from jagged_lens.lens.to_map import LAYOUT
from jagged_lens.lens.to_space import CORPUS, SHINGLES, SPACE, THEMES, TOKENS
from jagged_lens.parallel import threads
from jagged_lens.place import Lens, Placed, Suggestions, placed, suggestions_of
from jagged_lens.strings import Strings


def _new_sources(job: Job) -> object:
    return [(source, job.stamp(source)) for source in job.placing], job.recipe.gather.unit


def _arrivals(work: Work) -> Corpus:
    """The new documents; they are read, and not kept in the project."""
    job, sources = work.job, work.job.placing
    if not sources:
        nothing = Strings.of([])
        return Corpus(nothing, nothing, nothing, nothing)
    means = Means(job.folder, threads(), dict(job.passwords))
    return read_sources(sources, job.recipe.gather, means, work.progress)


def _placed(work: Work) -> Placed:
    recipe, space = work.job.recipe, work[SPACE]
    if not len(work[ARRIVALS]):
        return Placed.none(space.weights.shape[1])
    lens = Lens(
        work[CORPUS].texts.take(space.terms.rows),
        space,
        work[THEMES],
        work[GROUPING],
        work[LAYOUT].positions,
        recipe.compare.measure,
        Known.of(work[TOKENS]),
    )
    vectors = None
    if work[THEMES].given:
        new = work[ARRIVALS]
        found = given_for(work.job, list(new.keys), list(new.texts)).vectors
        vectors = found if found.shape[1] == len(work[THEMES]) else np.zeros((len(new), len(work[THEMES])), np.float32)
    return placed(
        work[ARRIVALS], lens, recipe.clean, recipe.terms, recipe.weigh, work.job.folder, work.progress, vectors
    )


def _learned_from(job: Job) -> object:
    return job.recipe.suggest, tuple(own for own in job.own if own[0] == job.recipe.suggest.label)


def _suggestions(work: Work) -> Suggestions:
    settings, space = work.job.recipe.suggest, work[SPACE]
    if not settings.label:
        return Suggestions.none(len(space.empty))
    label = label_named(work[CORPUS], settings.label, work.job.own, "[suggest] label").take(space.terms.rows)
    family = copy_families(work[SHINGLES], space.terms.rows)
    return suggestions_of(space, work[THEMES], label, settings, work.progress, family)


ARRIVALS = Part("arrivals", "place", (), _new_sources, _arrivals, on_demand=True)
PLACED = Part(
    "placed",
    "place",
    (CORPUS, TOKENS, SPACE, THEMES, GROUPING, LAYOUT, ARRIVALS),
    lambda job: (job.recipe.compare.measure, given_state(job)),
    _placed,
    on_demand=True,
)
SUGGESTIONS = Part(
    "suggestions", "suggest", (CORPUS, SPACE, SHINGLES, THEMES), _learned_from, _suggestions, on_demand=True
)
